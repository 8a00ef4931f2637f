"""A model on its way from the file to the partings: named bodies, each a surface and, where it closes, a solid."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from hinoki.core.errors import OpenSurface
from hinoki.core.geometry.mesh import Mesh, Points, stacked
from hinoki.core.geometry.solid import Solid


class Body:
    """One named object. Made from a mesh, or from a solid; the other is worked out when asked for."""

    def __init__(self, name: str, mesh: Mesh | None = None, solid: Solid | None = None) -> None:
        self.name, self._given, self._made = name, mesh, solid

    @cached_property
    def mesh(self) -> Mesh:
        """The surface."""
        if self._given is not None:
            return self._given
        return self._made.mesh if self._made is not None else Mesh(np.zeros((0, 3)), np.zeros((0, 3), np.int64))

    @cached_property
    def solid(self) -> Solid | None:
        """The solid inside, or None where the surface does not close or is inside out."""
        return self._made if self._made is not None else closed_solid(self.mesh)

    def moved(self, matrix: Points) -> "Body":
        """The body under a (3, 4) matrix; faces are turned round where it mirrors."""
        if self._made is not None:
            return Body(self.name, solid=self._made.placed(matrix))
        return Body(self.name, self.mesh.placed(matrix))

    def changed(self, solid: Solid) -> "Body":
        """The same body with another solid."""
        return Body(self.name, solid=solid)


@dataclass(frozen=True)
class Shape:
    """All bodies of a model, in millimetres."""

    bodies: tuple[Body, ...]

    @cached_property
    def mesh(self) -> Mesh:
        """All surfaces as one mesh."""
        return stacked([b.mesh for b in self.bodies])

    @cached_property
    def solid(self) -> Solid | None:
        """Everything as one solid, or None where any body does not close."""
        if len(self.bodies) == 1:
            return self.bodies[0].solid
        if any(b.solid is None for b in self.bodies):
            return None
        return closed_solid(self.mesh)

    @property
    def bounds(self) -> tuple[Points, Points]:
        """Lowest and highest corner of everything, (3,) each."""
        boxes = [b._made.bounds if b._made is not None else b.mesh.bounds for b in self.bodies]
        return np.min([low for low, _ in boxes], axis=0), np.max([high for _, high in boxes], axis=0)

    @property
    def volume_mm3(self) -> float:
        """Enclosed volume; of an open surface only an idea."""
        return self.solid.volume_mm3 if self.solid is not None else abs(self.mesh.volume_mm3)

    @property
    def weight(self) -> int:
        """Size for the cache."""
        return sum(b._made.triangles if b._made is not None else len(b.mesh.faces) for b in self.bodies)

    def moved(self, matrix: Points) -> "Shape":
        """Everything under a (3, 4) matrix."""
        return Shape(tuple(b.moved(matrix) for b in self.bodies))

    def each(self, change: Callable[[Solid], Solid]) -> "Shape":
        """Every body's solid changed; bodies of which nothing is left are gone."""
        out = []
        for body in self.bodies:
            if body.solid is None:
                out.append(body)
                continue
            solid = change(body.solid)
            if not solid.empty:
                out.append(body.changed(solid))
        return Shape(tuple(out))

    @property
    def settling(self) -> Points:
        """How far `settled` moves it, (3,), mm."""
        low, high = self.bounds
        return -np.array([(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, low[2]])

    def settled(self) -> "Shape":
        """Centred at X 0, Y 0, its lowest point at Z 0."""
        shift = self.settling
        return self if np.abs(shift).max() < 1e-9 else self.moved(np.column_stack([np.eye(3), shift]))


def closed_solid(mesh: Mesh) -> Solid | None:
    """The solid inside a surface that closes and looks outwards, or None."""
    try:
        solid = Solid.from_mesh(mesh, model=True)
    except OpenSurface:
        return None
    return solid if solid.volume_mm3 > 0 else None


def mesh_of(body: Mesh | Solid) -> Mesh:
    """The surface of a solid, or an open one as it is."""
    return body.mesh if isinstance(body, Solid) else body

"""A piece of a build: its body with its joints, its name and number, and the side it lies on."""

from dataclasses import dataclass

import numpy as np

from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.shape import mesh_of
from hinoki.core.geometry.solid import Solid
from hinoki.core.orient.resting.resting_faces import Rest
from hinoki.core.workshop.printers import over_by


@dataclass(frozen=True)
class Piece:
    """A piece as it is printed. `key` stays the same while the plan around it changes; `shape` is another once it is printed
    out of date; `made_by` is the hash of what made its body."""

    key: str
    number: int
    name: str
    body: Solid | Mesh
    made_by: str
    shape: str
    bare_mm3: float
    """its volume before joints"""
    rest: Rest
    """the side it lies on"""
    chosen: bool
    """whether the maker chose that side"""
    room_mm: Points
    """of its printer, (3,)"""
    neighbours: tuple[int, ...] = ()
    prints_with: tuple[int, ...] = ()
    """numbers of pieces that come off the bed as one with it"""

    @property
    def solid(self) -> Solid | None:
        """Its solid; None for an open surface."""
        return self.body if isinstance(self.body, Solid) else None

    @property
    def mesh(self) -> Mesh:
        """Its surface."""
        return mesh_of(self.body)

    @property
    def triangles(self) -> int:
        """How many triangles its surface has."""
        return self.body.triangles if isinstance(self.body, Solid) else len(self.body.faces)

    @property
    def bounds(self) -> tuple[Points, Points]:
        """The low and high corners (3,) of its box, in model coordinates."""
        return self.body.bounds

    @property
    def size_mm(self) -> Points:
        """The size (3,) of its box."""
        low, high = self.bounds
        return np.asarray(high - low)

    @property
    def volume_mm3(self) -> float:
        """The volume of its body."""
        return self.body.volume_mm3

    @property
    def fits(self) -> bool:
        """Whether it fits its printer as it lies."""
        return self.rest.fits

    @property
    def over_mm(self) -> Points:
        """By how much (3,) it is over its printer's room as it lies."""
        return over_by(self.rest.size_mm, self.room_mm)

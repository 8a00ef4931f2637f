"""Cable way: a tunnel for wire through several pieces."""

import math
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.polygons import round_sides
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channels.base import Across, Spot, WayBase, along

ARC_DEG = 5.0
"""steps in which a bend is drawn"""


class CableWay(WayBase, frozen=True):
    """A tunnel for a wire: straight between its points, each bend rounded."""

    form: ClassVar[Form] = Form("Cable way", "a cable way", ("start_mm", "end_mm", "diameter_mm", "bend_mm"))

    kind: Literal["cable"] = "cable"
    via_mm: tuple[Spot, ...] = Field((), max_length=30, title="By way of", description="points it bends at, mm")
    diameter_mm: Across = Field(5.0, title="Diameter", description="of the tunnel, mm")
    bend_mm: Across = Field(12.0, title="Bend radius", description="least, of its middle line, mm")

    def _corners(self) -> Points:
        return np.array([self.start_mm, *self.via_mm, self.end_mm], dtype=np.float64)

    def _bends(self) -> list[tuple[Points, Points, Points, float, float]]:
        """For every inner corner: it, the ways back and on, the angle it turns by, and the radius it can have."""
        corners = self._corners()
        found = []
        for before, at, after in zip(corners[:-2], corners[1:-1], corners[2:], strict=True):
            back, on = before - at, after - at
            room = min(float(np.linalg.norm(back)), float(np.linalg.norm(on))) / 2
            back, on = back / max(1e-9, np.linalg.norm(back)), on / max(1e-9, np.linalg.norm(on))
            turn = math.pi - math.acos(float(np.clip(back @ on, -1.0, 1.0)))
            most = room / math.tan(turn / 2) if turn > 1e-6 else math.inf
            found.append((at, back, on, turn, min(self.bend_mm, most)))
        return found

    def path(self) -> Points:
        """Its middle line, bends drawn as arcs."""
        points = [np.array(self.start_mm, dtype=np.float64)]
        for at, back, on, turn, radius in self._bends():
            if turn < 1e-6:
                continue
            away = radius * math.tan(turn / 2)
            towards = (back + on) / np.linalg.norm(back + on)
            centre = at + towards * radius / math.cos(turn / 2)
            first = at + away * back - centre
            axis = np.cross(first, -back)
            axis = axis / np.linalg.norm(axis)
            steps = max(2, math.ceil(math.degrees(turn) / ARC_DEG) + 1)
            for angle in np.linspace(0.0, turn, steps):
                points.append(centre + first * math.cos(angle) + np.cross(axis, first) * math.sin(angle))
        points.append(np.array(self.end_mm, dtype=np.float64))
        return np.array(points)

    def tight_mm(self) -> float | None:
        """The smallest bend where its points lie too near each other for the radius wished."""
        least = min((radius for *_, radius in self._bends()), default=self.bend_mm)
        return least if least < self.bend_mm - 1e-3 else None

    def bore(self, clearance_mm: float, more_mm: float = 0.0) -> Solid:  # noqa: ARG002 - a tunnel has no fit
        """The tunnel, open beyond its ends."""
        return _tube(self.path(), self.diameter_mm / 2 + more_mm, self.diameter_mm)

    def body(self) -> Solid:
        """A wire of half its width."""
        return _tube(self.path(), self.diameter_mm / 4, 0.0)

    def label(self) -> str:
        """Such as “cable way ø5, 130 long”."""
        return f"cable way ø{self.diameter_mm:g}, {self.long_mm:.0f} long"


def _tube(path: Points, radius: float, beyond: float) -> Solid:
    """A tube along a path (n, 3), drawn around its circle, led on straight by `beyond` at both ends."""
    ways = np.diff(path, axis=0)
    keep = np.concatenate([[True], np.linalg.norm(ways, axis=1) > 1e-6])
    path = path[keep]
    ways = np.diff(path, axis=0)
    ways = ways / np.linalg.norm(ways, axis=1, keepdims=True)
    path = np.vstack([path[0] - beyond * ways[0], path[1:-1], path[-1] + beyond * ways[-1]])
    mean = np.vstack([ways[:1], ways[:-1] + ways[1:], ways[-1:]])
    mean = mean / np.linalg.norm(mean, axis=1, keepdims=True)
    n = round_sides(radius)
    turn = 2 * np.pi * np.arange(n) / n
    first = along(path[0], path[0] + mean[0])[:, :2]
    rings = []
    u = first[:, 0]
    for at, way in zip(path, mean, strict=True):
        u = u - way * (u @ way)  # turned along as little as can be
        u = u / np.linalg.norm(u)
        v = np.cross(way, u)
        rings.append(at + radius / math.cos(math.pi / n) * (np.cos(turn)[:, None] * u + np.sin(turn)[:, None] * v))
    points = np.vstack([*rings, path[:1], path[-1:]])
    many, k = len(path), np.arange(n)
    after = (k + 1) % n
    faces = [np.column_stack([r * n + k, r * n + after, (r + 1) * n + after]) for r in range(many - 1)]
    faces += [np.column_stack([r * n + k, (r + 1) * n + after, (r + 1) * n + k]) for r in range(many - 1)]
    faces.append(np.column_stack([after, k, np.full(n, many * n)]))
    faces.append(np.column_stack([(many - 1) * n + k, (many - 1) * n + after, np.full(n, many * n + 1)]))
    return Solid.from_mesh(Mesh(points, np.vstack(faces).astype(np.int64)))

"""Ways through several pieces: straight bores for rods, and tunnels for cables."""

import math
from abc import abstractmethod
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, Field, model_validator

from hinoki.core.fits import Fit
from hinoki.core.hardware import Hardware
from hinoki.core.mesh import Mesh, Points
from hinoki.core.solid import Solid, round_sides

Length = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
Spot = tuple[Length, Length, Length]
Across = Annotated[float, Field(ge=0.5, le=200, allow_inf_nan=False)]
END_GAP_MM = 0.5
"""a rod's bore is longer than the rod by this at either end"""
ARC_DEG = 5.0
"""steps in which a bend is drawn"""


class WayBase(BaseModel, frozen=True):
    """Something that runs through the model, whatever pieces it meets."""

    kind: str
    id: str = Field(pattern=r"^w[1-9][0-9]{0,3}$", title="Name")
    start_mm: Spot = Field(title="From", description="a point in the model, mm")
    end_mm: Spot = Field(title="To", description="a point in the model, mm")
    diameter_mm: Across = Field(4.0, title="Diameter", description="across flats for a square one, mm")

    @model_validator(mode="after")
    def _goes_somewhere(self) -> "WayBase":
        if math.dist(self.start_mm, self.end_mm) < 1.0:
            raise ValueError("its two ends lie in one place")
        return self

    @abstractmethod
    def path(self) -> Points:
        """Its middle line (n, 3)."""

    @abstractmethod
    def bore(self, clearance_mm: float, more_mm: float = 0.0) -> Solid:
        """What is cut out of the pieces, grown sideways by `more_mm`."""

    @abstractmethod
    def body(self) -> Solid:
        """What lies in it, to be shown."""

    @abstractmethod
    def label(self) -> str:
        """Such as “rod ø4, 212 long”."""

    @property
    def long_mm(self) -> float:
        """Length of its middle line."""
        return float(np.linalg.norm(np.diff(self.path(), axis=0), axis=1).sum())

    def hardware(self) -> list[Hardware]:
        """What is bought for it."""
        return []

    @property
    def fits_by(self) -> Fit:
        """The fit its clearance is of."""
        return "sliding"

    @property
    def ends_inside(self) -> bool:
        """Whether its ends are to lie in the model, or on its surface: a wire may begin in the open."""
        return False

    def tight_mm(self) -> float | None:
        """The bend radius it can have where that is less than wished; None where all is well."""
        return None


class RodWay(WayBase, frozen=True):
    """A straight rod of metal, wood or carbon in a bore."""

    kind: Literal["rod"] = "rod"
    shape: Literal["round", "square"] = Field("round", title="Shape")
    of: str = Field("steel", max_length=40, title="Made of")
    fit: Fit = Field("sliding", title="Fit")

    @property
    def fits_by(self) -> Fit:
        """As chosen."""
        return self.fit

    @property
    def ends_inside(self) -> bool:
        """A rod that stands out would be seen."""
        return True

    def path(self) -> Points:
        """From end to end."""
        return np.array([self.start_mm, self.end_mm], dtype=np.float64)

    def _bar(self, half: float, more: float, around: bool) -> Solid:
        long = math.dist(self.start_mm, self.end_mm)
        if self.shape == "square":
            bar = Solid.box([-half, -half, -more], [half, half, long + more])
        else:
            bar = Solid.cylinder(half, -more, long + more, around)
        return bar.placed(_along(*self.path()))

    def bore(self, clearance_mm: float, more_mm: float = 0.0) -> Solid:
        """Wider by the clearance, longer by a gap at either end."""
        return self._bar(self.diameter_mm / 2 + clearance_mm + more_mm, END_GAP_MM + more_mm, around=True)

    def body(self) -> Solid:
        """The rod."""
        return self._bar(self.diameter_mm / 2, 0.0, around=False)

    def hardware(self) -> list[Hardware]:
        """The rod, cut to length."""
        square = "square " if self.shape == "square" else ""
        return [Hardware(f"{square}rod {'□' if square else 'ø'}{self.diameter_mm:g}, {self.of}", 1, round(self.long_mm, 1))]

    def label(self) -> str:
        """Such as “rod ø4, 212 long”."""
        return f"rod {'□' if self.shape == 'square' else 'ø'}{self.diameter_mm:g}, {self.long_mm:.0f} long"


class CableWay(WayBase, frozen=True):
    """A tunnel for a wire: straight between its points, each bend rounded."""

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


Way = Annotated[RodWay | CableWay, Field(discriminator="kind")]


def _along(start: Points, end: Points) -> Points:
    """The (3, 4) matrix that lays Z along the way from `start` to `end`."""
    z = (end - start) / np.linalg.norm(end - start)
    side = np.array([1.0, 0.0, 0.0]) if abs(z[0]) < 0.9 else np.array([0.0, 1.0, 0.0])
    y = np.cross(z, side)
    y = y / np.linalg.norm(y)
    return np.column_stack([np.cross(y, z), y, z, start])


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
    first = _along(path[0], path[0] + mean[0])[:, :2]
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

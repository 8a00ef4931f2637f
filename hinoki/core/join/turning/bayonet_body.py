"""Bodies of a bayonet about Z: lugs, the channel they turn in, the ridges by which they click.

A profile is drawn in (r, z); a sector of it is turned about Z. Lugs and the sides of their channel slope by 45° on both sides,
so that they print upright either way round.
"""

import math
from dataclasses import dataclass

import numpy as np
from shapely.geometry import Polygon

from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.polygons import round_sides
from hinoki.core.geometry.solid import Solid, triangulated

WITHIN_MM = 0.4
"""how far a lug reaches into its plug, so that the two become one"""
LAND_MM = 1.2
"""flat of a lug between its slopes"""
LEAST_LEDGE_MM = 1.2
"""what lugs catch behind is at least as thick (common practice: three layers or more)"""
RIDGE_MM = 0.8
"""flat of a ridge between its slopes"""


def lug_high_mm(out_mm: float) -> float:
    """Height at its root of a lug that stands out so far."""
    return 2 * out_mm + LAND_MM


@dataclass(frozen=True)
class Lug:
    """A lug on a core of `core_mm` radius: how far it stands out, where it ends, how wide it is, and its ridge; in mm, rad."""

    core_mm: float
    out_mm: float
    top_mm: float
    wide_rad: float
    ridge_mm: float

    @property
    def high_mm(self) -> float:
        """At its root."""
        return lug_high_mm(self.out_mm)

    @property
    def low_mm(self) -> float:
        """Where it begins."""
        return self.top_mm - self.high_mm

    def ledge_mm(self, gap_mm: float) -> float:
        """What it catches behind, at its thinnest, with a gap all round it."""
        return self.low_mm - gap_mm

    def shear_mm2(self, gap_mm: float) -> float:
        """The area that shears where it is pulled off: at its root, or of what it catches behind."""
        return self.wide_rad * self.core_mm * max(0.0, min(self.high_mm, self.ledge_mm(gap_mm)))

    def profile(self) -> Polygon:
        """Its profile in (r, z)."""
        r, out, low = self.core_mm, self.core_mm + self.out_mm, self.low_mm
        flat = low + self.out_mm
        return Polygon(
            [(r - WITHIN_MM, low), (r, low), (out, flat), (out, flat + LAND_MM), (r, self.top_mm), (r - WITHIN_MM, self.top_mm)]
        )

    def body(self, at_rad: float) -> Solid:
        """The lug without its ridge, its middle at an angle about Z."""
        half = self.wide_rad / 2
        return turned_sector(self.profile(), at_rad - half, at_rad + half)

    def ridge(self, at_rad: float, grown_mm: float = 0.0, low: float | None = None) -> Solid:
        """The ridge on its flat, along Z; grown all round, from `low` where that is told."""
        out, up = self.core_mm + self.out_mm, self.ridge_mm
        inner, side = out - WITHIN_MM, RIDGE_MM / 2
        section = Polygon(
            [(inner, -side - up - WITHIN_MM), (out + up, -side), (out + up, side), (inner, side + up + WITHIN_MM)]
        ).buffer(grown_mm, join_style="mitre")
        ring = np.asarray(section.exterior.coords)[:-1]
        cos, sin = math.cos(at_rad), math.sin(at_rad)
        turned = ring @ np.array([[cos, sin], [-sin, cos]])
        flat = self.low_mm + self.out_mm
        return Solid.drawn_ring(turned, flat - grown_mm if low is None else low, flat + LAND_MM + grown_mm)

    def channel(self, from_rad: float, to_rad: float, gap_mm: float) -> Solid:
        """What a lug needs to turn from one angle to another, with a gap all round it."""
        # the gap at its ends is kept at its core, where an angle is shortest
        half = self.wide_rad / 2 + math.asin(min(0.5, gap_mm / self.core_mm))
        profile = self.profile().buffer(gap_mm, join_style="mitre")
        return turned_sector(profile, min(from_rad, to_rad) - half, max(from_rad, to_rad) + half, around=True)

    def slot(self, at_rad: float, gap_mm: float, low: float) -> Solid:
        """The way in for a lug, from `low` to its channel."""
        half = self.wide_rad / 2 + math.asin(min(0.5, gap_mm / self.core_mm))
        r, out, top = self.core_mm - WITHIN_MM, self.core_mm + self.out_mm + gap_mm, self.low_mm + self.out_mm + LAND_MM
        return turned_sector(Polygon([(r, low), (out, low), (out, top), (r, top)]), at_rad - half, at_rad + half, around=True)


def turned_sector(profile: Polygon, from_rad: float, to_rad: float, around: bool = False) -> Solid:
    """A convex profile in (r, z) turned about Z from one angle to another; inside its round surfaces, or `around` them."""
    ring = np.asarray(profile.exterior.coords)[:-1]
    if profile.exterior.is_ccw is False:
        ring = ring[::-1]
    steps = max(1, math.ceil((to_rad - from_rad) / (2 * math.pi / round_sides(float(ring[:, 0].max())))))
    angles = np.linspace(from_rad, to_rad, steps + 1)
    wide = 1 / math.cos((to_rad - from_rad) / steps / 2) if around else 1.0
    points = np.stack(
        [
            np.column_stack([wide * ring[:, 0] * math.cos(a), wide * ring[:, 0] * math.sin(a), ring[:, 1]])
            for a in angles
        ]
    ).reshape(-1, 3)  # fmt: skip
    return Solid.from_mesh(Mesh(points, _faces(ring, steps)))


def _faces(ring: Points, steps: int) -> np.ndarray:
    """Triangles (m, 3) between `steps` + 1 turned copies of a ring, and its two ends."""
    n = len(ring)
    k = np.arange(n)
    after = (k + 1) % n
    sides = []
    for step in range(steps):
        a, b = step * n, (step + 1) * n
        sides += [np.column_stack([a + after, a + k, b + k]), np.column_stack([a + after, b + k, b + after])]
    end = triangulated(ring)
    return np.vstack([end, *sides, end[:, ::-1] + steps * n]).astype(np.int64)

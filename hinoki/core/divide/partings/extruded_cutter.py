"""A line in a plane, drawn out straight along the plane's normal: the knife of profile and lap partings."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import LineString, MultiPolygon, Point, Polygon

from hinoki.core.divide.partings.base import SKIN_MM, Cut, Remark
from hinoki.core.geometry.filmless_cut import cut_out
from hinoki.core.geometry.frames import Frame, plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid

SWING_DEG = (0.0, 15.0, -15.0, 30.0, -30.0, 45.0, -45.0, 60.0, -60.0, 75.0, -75.0, 90.0, -90.0)


@dataclass(frozen=True)
class Line:
    """A line (n, 2) in the plane of `frame`, whose ends reach beyond all that is to be cut; `straight` lists the pieces of it
    that are straight and long enough for a mating face, as (first point, last point)."""

    frame: Frame
    points: Points
    straight: tuple[tuple[int, int], ...]

    def planes(self) -> list[Frame]:
        """The plane of every straight piece, in the stable frame of its direction; it looks to the left of the line."""
        out = []
        for first, last in self.straight:
            start, end = self.points[first], self.points[last]
            along = (end - start) / np.linalg.norm(end - start)
            normal = self.frame.u * -along[1] + self.frame.v * along[0]
            normal = np.where(np.abs(normal) < 1e-12, 0.0, normal)
            # the foot of the model's origin, so that the frame depends on the plane alone
            out.append(plane_frame(normal * float(self.frame.world(start)[0] @ normal), normal))
        return out

    def in_planes(self, frames: Sequence[Frame]) -> "Line":
        """The line with its straight pieces moved into the planes of `frames`: those of `planes`, settled into faces of the
        model a hair off."""
        pulls: dict[int, list[tuple[Points, float]]] = defaultdict(list)
        for ends, own, wanted in zip(self.straight, self.planes(), frames, strict=True):
            normal = np.array([own.n @ self.frame.u, own.n @ self.frame.v])
            for end in ends:
                pulls[end].append((normal, wanted.offset - own.offset))
        points = self.points.copy()
        for end, wanted_here in pulls.items():
            normals, shifts = np.array([n for n, _ in wanted_here]), np.array([s for _, s in wanted_here])
            if shifts.any():
                points[end] += np.linalg.lstsq(normals, shifts, rcond=1e-6)[0]
        return Line(self.frame, points, self.straight)


def cut_along(solid: Solid, line: Line, off: tuple[float, float, float] | None = None) -> list[Cut]:
    """The parts right (`-`) and left (`+`) of the line, seen with the normal towards the eye; fewer where one is empty.

    `off` is a direction in which the left part comes off the right one.
    """
    low, high = solid.placed(line.frame.to_frame).bounds
    left = _left_of(line.points, low[:2], high[:2])
    plus, minus = cut_out(solid, as_multi(left), LineString(line.points), line.frame)
    cuts = []
    numbers = range(len(line.straight))
    if not minus.empty and not _skin(minus, line):
        cuts.append(Cut("-", minus, tuple((k, -1) for k in numbers)))
    if not plus.empty and not _skin(plus, line):
        cuts.append(Cut("+", plus, tuple((k, 1) for k in numbers), off=off))
    return cuts


def reaching_out(points: Points, shadow: MultiPolygon) -> tuple[Points | None, Remark | None]:
    """The line (n, 2) with both ends led straight out of the shadow (and beyond it), or why that cannot be done."""
    shapely.prepare(shadow)
    far = 2.0 * float(np.linalg.norm(np.ptp(np.vstack([np.reshape(shadow.bounds, (2, 2)), points]), axis=0))) + 10
    line = LineString(points)
    made = points
    for first in (True, False):
        end, before = (points[0], points[1]) if first else (points[-1], points[-2])
        which = "first" if first else "last"
        if shapely.contains(shadow, Point(end)):
            return None, Remark("must-fix", "line-ends-inside", {"end": which, "case": "inside"})
        out = _way_out(end, end - before, shadow, line, far)
        if out is None:
            return None, Remark("must-fix", "line-ends-inside", {"end": which, "case": "no way"})
        made = np.vstack([out, made]) if first else np.vstack([made, out])
    if not LineString(made).is_simple:
        return None, Remark("must-fix", "line-crosses-itself")
    return made, None


def _way_out(end: Points, along: Points, shadow: MultiPolygon, line: LineString, far: float) -> Points | None:
    """A point far away to which a straight way leads from `end` past the shadow and the line, as straight on as can be."""
    heading = along / max(float(np.linalg.norm(along)), 1e-9)
    for swing in SWING_DEG:
        turn = np.radians(swing)
        way = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]]) @ heading
        free = LineString([end + way * SKIN_MM, end + way * far])
        if not shapely.intersects(shadow, free) and not shapely.intersects(line, free):
            return np.asarray(end + way * far)
    return None


def _left_of(points: Points, low: Points, high: Points) -> Polygon:
    """What lies left of the line within a box about everything, as a polygon that is closed around the outside."""
    low, high = np.minimum(low, points.min(axis=0)) - 1, np.maximum(high, points.max(axis=0)) + 1
    middle = (low + high) / 2
    radius = float(np.linalg.norm(high - low)) * 2
    start, end = (p - middle for p in (points[0], points[-1]))
    a, b = float(np.arctan2(end[1], end[0])), float(np.arctan2(start[1], start[0]))
    # from the end round to the start, counter-clockwise: the left side of the line
    angles = np.linspace(a, b if b > a else b + 2 * np.pi, 64)
    round_it = middle + radius * np.column_stack([np.cos(angles), np.sin(angles)])
    return Polygon(np.vstack([points, round_it]))


def _skin(part: Solid, line: Line) -> bool:
    """Whether a part is but a skin along the line: nowhere further from it than SKIN_MM, seen along the normal."""
    if part.volume_mm3 > SKIN_MM * float(np.linalg.norm(part.size)) ** 2:
        return False
    flat = shapely.points(line.frame.flat(part.mesh.vertices))
    return float(shapely.distance(flat, LineString(line.points)).max()) < SKIN_MM

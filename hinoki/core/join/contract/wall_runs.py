"""Walls as lines: along which line a wall of a face runs, how thick it is there, and places evenly along it."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from shapely.geometry import LinearRing, MultiPolygon, Polygon

from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import usual_wall
from hinoki.core.join.contract.outline import spots_on
from hinoki.core.join.contract.terms import Place

STEP_MM, LEAST_STEPS, MOST_STEPS = 1.0, 48, 600
"""how close a wall is looked at along its outline"""
THICKER = 1.6
"""what is so many times as thick as the wall usually is is a corner, a branch or an end of it"""
SAME_WALL = 0.75
"""of its thickness: lines closer than that to one that was found are its other side"""
BACK = -0.5
"""cosine of how much an outline turns, over twice the thickness of its wall, where it turns back"""
FAR_MM = 1e4
JUST_OFF_MM = 1e-3
LINE_MM = 0.05
"""half the width of an area that stands for a line"""


@dataclass(frozen=True)
class WallRun:
    """A stretch of wall: the `middles` (n, 2) of its thickness in order, the unit direction `along` it (n, 2) and the way
    `inward` (n, 2) from its outline, its thickness `thick_mm` (n,), and whether it ends where it begins."""

    middles: Points
    along: Points
    inward: Points
    thick_mm: Points
    closed: bool

    @property
    def length_mm(self) -> float:
        """Along its middle."""
        return float(self.marks_mm[-1]) if len(self.middles) > 1 else 0.0

    @property
    def marks_mm(self) -> Points:
        """How far each middle is along the run, (n,)."""
        return np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(self.middles, axis=0), axis=1))])

    def off_ends_mm(self) -> Points:
        """How far each middle is from the nearer end, (n,); far for a run that has none."""
        marks = self.marks_mm
        return np.full(len(marks), FAR_MM) if self.closed else np.minimum(marks, marks[-1] - marks)


@lru_cache(maxsize=64)
def wall_runs(shape: MultiPolygon) -> tuple[WallRun, ...]:
    """The walls of a face, the longest first; of every wall the line in its middle once. Nothing for a full face."""
    usual = usual_wall(shape)
    if usual is None:
        return ()
    found = [run for part in shape.geoms for ring in (part.exterior, *part.interiors) for run in _along(ring, part, usual)]
    kept: list[WallRun] = []
    for run in sorted(found, key=lambda r: -r.length_mm):
        if kept:
            before = shapely.multipoints(np.concatenate([k.middles for k in kept]))
            new = shapely.distance(shapely.points(run.middles), before) > SAME_WALL * usual
            kept += [_part(run, span) for span in _spans(new, cyclic=False)]
        else:
            kept.append(run)
    return tuple(sorted(kept, key=lambda r: -r.length_mm))


def _along(ring: LinearRing, part: Polygon, usual: float) -> list[WallRun]:
    """The stretches of an outline at which a wall stands."""
    turned = shapely.geometry.polygon.orient(part)
    line = next(r for r in (turned.exterior, *turned.interiors) if r.equals(ring))
    steps = int(np.clip(line.length / STEP_MM, LEAST_STEPS, MOST_STEPS))
    spots = spots_on(line, np.arange(steps) / steps * line.length, STEP_MM / 4)
    starts = spots.at + JUST_OFF_MM * spots.inward
    rays = shapely.linestrings(np.stack([starts, starts + FAR_MM * spots.inward], axis=1))
    thick = shapely.distance(shapely.points(starts), shapely.intersection(rays, part.boundary))
    thin = np.nan_to_num(thick, nan=np.inf) <= THICKER * usual
    # where the outline turns back a wall ends, as at an end that is cut slantwise
    beside = max(1, round(usual * steps / line.length))
    thin &= np.einsum("ij,ij->i", np.roll(spots.along, beside, axis=0), np.roll(spots.along, -beside, axis=0)) > BACK
    whole = WallRun(spots.at + thick[:, None] / 2 * spots.inward, spots.along, spots.inward, thick, closed=bool(thin.all()))
    if whole.closed:
        return [_part(whole, np.arange(steps + 1) % steps)]
    return [_part(whole, span) for span in _spans(thin, cyclic=True)]


def _spans(there: "np.ndarray", cyclic: bool) -> list["np.ndarray"]:
    """Indices of the stretches, two or more long, in which all are true; one over the end of what is `cyclic` is one."""
    many = len(there)
    if cyclic and not there.all() and there.any():
        first = int(np.argmin(there))
        order = (np.arange(many) + first) % many
    else:
        order = np.arange(many)
    edges = np.flatnonzero(np.diff(np.concatenate([[0], there[order].astype(int), [0]])))
    return [order[a:b] for a, b in zip(edges[::2], edges[1::2], strict=True) if b - a >= 2]


def _part(run: WallRun, which: "np.ndarray") -> WallRun:
    closed = run.closed and len(which) > 1 and bool(which[0] == which[-1])
    return WallRun(run.middles[which], run.along[which], run.inward[which], run.thick_mm[which], closed)


def as_area(lines: Sequence[Points]) -> MultiPolygon:
    """Lines (n, 2) as areas a hair wide: what is chosen from as from any other room."""
    drawn = [shapely.LineString(line).buffer(LINE_MM, cap_style="flat") for line in lines if len(line) > 1]
    merged = shapely.union_all(drawn)
    return MultiPolygon([p for p in getattr(merged, "geoms", [merged]) if isinstance(p, Polygon) and not p.is_empty])


def even_places(room: MultiPolygon, count: int, apart_mm: float) -> list[Place]:
    """Up to `count` places at equal distances along a room of lines (`as_area`), at least `apart_mm` from each other."""
    lines = [_line_of(part) for part in room.geoms]
    long = sum(line.length for line in lines)
    if not lines or count < 1:
        return []
    # a line of its own length bears one place, and one more for every step
    many = max(1, min(count, int(long / apart_mm) if apart_mm > 0 else count))
    found: list[Place] = []
    for where in (np.arange(many) + 0.5) * long / many:
        left = float(where)
        for line in lines:
            if left <= line.length:
                point = line.interpolate(left)
                found.append((round(point.x, 2) + 0.0, round(point.y, 2) + 0.0))
                break
            left -= line.length
    return found


def _line_of(area: Polygon) -> shapely.LineString:
    """The line that an area a hair wide stands for: its outline where it runs round something, else half of it."""
    ring, steps = area.exterior, 128
    if area.interiors:
        return shapely.LineString(ring.coords)
    # at an end of the line both ways along the outline lead beside each other
    marks = np.arange(steps) / steps * ring.length
    points = shapely.get_coordinates(shapely.line_interpolate_point(ring, marks))
    ways = np.arange(1, steps // 2)
    k = np.arange(steps)[:, None]
    beside = np.linalg.norm(points[(k + ways) % steps] - points[(k - ways) % steps], axis=2).sum(axis=1)
    start = float(marks[int(np.argmin(beside))])
    along = (start + np.linspace(0.0, ring.length / 2, steps)) % ring.length
    return shapely.LineString(shapely.get_coordinates(shapely.line_interpolate_point(ring, along)))


@dataclass(frozen=True)
class WallBox:
    """Boxes about a middle of a wall, along it and across it."""

    at: Points
    along: Points
    inward: Points

    def __call__(self, half: float, low: float, high: float | None = None) -> Polygon:
        """From −`half` to `half` along the wall, and from `low` to `high` across it (from −`low` where that is not told)."""
        low, high = (-low, low) if high is None else (low, high)
        corners = ((-half, low), (half, low), (half, high), (-half, high))
        return Polygon([self.at + x * self.along + y * self.inward for x, y in corners])

    def across(self, shape: shapely.Geometry) -> tuple[float, float]:
        """From where to where a shape reaches across the wall."""
        seen = (shapely.get_coordinates(shape) - self.at) @ self.inward
        return float(seen.min()), float(seen.max())


def towards(place: Place, lines: shapely.Geometry) -> tuple[WallBox, float]:
    """Boxes about a place, across being the way to the nearest of some lines, and how far that is; on a line any way is."""
    at = np.array(place)
    way = shapely.get_coordinates(shapely.shortest_line(shapely.Point(place), lines))[-1] - at
    long = float(np.linalg.norm(way))
    across = way / long if long > 0 else np.array([0.0, 1.0])
    return WallBox(at, np.array([-across[1], across[0]]), across), long


def touching(shape: shapely.Geometry, what: shapely.Geometry) -> Polygon | None:
    """The parts of a shape that meet something, as one; None where there are none."""
    parts = [p for p in as_multi(shape, 1e-6).geoms if p.intersects(what)]
    joined = shapely.union_all(parts)
    return joined if isinstance(joined, Polygon) and not joined.is_empty else max(parts, key=lambda p: p.area, default=None)


def wall_at(shape: MultiPolygon, place: Place) -> tuple[WallBox, float] | None:
    """The wall nearest to a place, boxes about its middle there, and its thickness; None on a full face."""
    runs = wall_runs(shape)
    if not runs:
        return None
    near = [(np.linalg.norm(run.middles - np.array(place), axis=1), run) for run in runs]
    far, run = min(near, key=lambda pair: float(pair[0].min()))
    k = int(np.argmin(far))
    # between two middles the place itself counts, moved across the wall only
    off = np.array(place) - run.middles[k]
    at = run.middles[k] + float(off @ run.along[k]) * run.along[k]
    return WallBox(at, run.along[k], run.inward[k]), float(run.thick_mm[k])

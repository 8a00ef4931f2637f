"""What of a section is narrower than a width: found by offsetting it inwards and out again; and made as wide."""

import shapely
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.progress import Tell

ARC = 8
ROUNDED = 0.25
"""of a width: a corner that comes out rounder by less than this is no loss; a square one is by a fifth of half of it"""
CRUMB_MM2 = 1e-5
SLIM_MM = 0.005
ROUNDS = 6
SPARE_MM = 0.005
MOST_LAYERS = 2000


def layer_at(body: Solid, height: float) -> MultiPolygon:
    """The section of a body at a height, a hair simplified, without crumbs."""
    return as_multi(shapely.simplify(body.slice(height), SLIM_MM), CRUMB_MM2)


def what_prints(drawn: MultiPolygon, line_mm: float) -> tuple[MultiPolygon, MultiPolygon]:
    """What of a section lines of a width fill, and what is too narrow for them. Corners that come out a little rounder are
    neither: they stay."""
    inner = drawn.buffer(-line_mm / 2, quad_segs=ARC)
    opened = inner.buffer(line_mm / 2, quad_segs=ARC)
    missing = as_multi(shapely.difference(drawn, opened), CRUMB_MM2)
    lost = [part for part in missing.geoms if reach(part, opened) > ROUNDED * line_mm]
    if not lost:
        return drawn, MultiPolygon()
    gone = MultiPolygon(lost)
    return as_multi(shapely.difference(drawn, gone), CRUMB_MM2), gone


def reach(part: Polygon, prints: shapely.Geometry) -> float:
    """How far a lost part reaches from what prints; half its outline where it hangs on nothing of that."""
    alone = float(part.length) / 2
    if prints.is_empty:
        return alone
    corners = shapely.points(shapely.get_coordinates(part.exterior))
    return min(alone, float(shapely.distance(corners, prints).max()))


def widened(drawn: MultiPolygon, line_mm: float) -> MultiPolygon:
    """A section in which what is narrower than a width is made that wide, by half of what it lacks on each side; its mean width
    is 2 A / P, so it is looked at again, a few times."""
    now = drawn
    for _ in range(ROUNDS):
        _, lost = what_prints(now, line_mm)
        if lost.is_empty:
            break
        wide = [p.buffer(max(0.0, (line_mm - 2 * p.area / p.length) / 2) + SPARE_MM, quad_segs=ARC) for p in lost.geoms]
        now = as_multi(shapely.union_all([now, *wide]), CRUMB_MM2)
    return now


def bolder(body: Solid, line_mm: float, layer_mm: float, tell: Tell) -> tuple[Solid, float]:
    """A body whose thin places are made as wide as a width level by level, as it stands; and the volume that was added, mm³."""
    low, high = float(body.bounds[0][2]), float(body.bounds[1][2])
    count = max(1, min(MOST_LAYERS, round((high - low) / layer_mm)))
    step = (high - low) / count
    more = []
    for k in range(count):
        if k % 20 == 0:
            tell(k / count, f"Level {k + 1} of {count}")
        drawn = layer_at(body, low + (k + 0.5) * step)
        wide = widened(drawn, line_mm)
        if wide is not drawn:
            more.append(Solid.drawn(wide, low + k * step, low + (k + 1) * step))
    if not more:
        return body, 0.0
    after = body.plus([Solid.united(more)])
    return after, after.volume_mm3 - body.volume_mm3

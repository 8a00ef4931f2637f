"""Collars: what both pieces gain on the hidden inner side of a face, where the wall of a shell is too thin to hold a joint.

A collar follows the inner wall and ends in a cone of 45°, so that it prints without support. It lies in the hollow only: the
outside of the model stays as it was. The hollow is what the sections of the whole model enclose and is not material; that of an
open wall, as of a bowl, is what is walled for the most part, and its collar stops before the ends of the wall.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import shapely
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.geometry.enclosed import enclosed
from hinoki.core.geometry.filmless_cut import split_at
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import FramedSolid, box_sides
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import NOWHERE, ROOT_MM, CollarWish, SideName

SLICE_MM = 0.5
"""height of the slices in which a collar follows a wall that leans"""
LAYER_MM = 0.4
"""height of the steps of its cone: each ledge is narrower than a printed line"""
COARSE_MM = 0.03
"""how far its outlines may be off: less than it reaches into the wall"""
INNER_MM = 0.06
"""the same for the side that looks into the hollow"""
ARC = 6
"""straight pieces to a quarter turn round a corner"""
SAME_MM2 = 0.05
"""slices that differ by less are one"""
JUST_OFF_MM = 0.01
LEAST_WALLED = 0.55
"""of the outline of what an open wall has within it: two legs beside each other have no hollow between them"""
BESIDE_MM = 1.0
"""what it stays from what a seam that crosses may have gained"""
OFF_ENDS_MM = 2.0
"""what a collar stays from the ends of an open wall"""


@dataclass(frozen=True)
class Bounds:
    """Where a piece may gain material: its sides of these planes, −1 below and 1 above, and not where other pieces are."""

    planes: Sequence[tuple[Frame, int]]
    others: Sequence[Solid]
    crossed: shapely.Geometry = NOWHERE
    """lines on the face at which other seams end it: what open walls gain there would meet what they gain at those"""


def collar(wish: CollarWish, whole: FramedSolid, frame: Frame, side: SideName, shape: MultiPolygon, bounds: Bounds) -> Solid:
    """The collar of the piece on `side` of a face of outline `shape`, in the world; nothing where the face has no hollow
    beside it that is wide enough."""
    deep = wish.deep_mm[side]
    up = 1.0 if side == "b" else -1.0
    at_face = whole.section(up * JUST_OFF_MM)
    around = hollow_beside(at_face, shape, wish.thick_mm)
    if around.is_empty:
        return Solid.nothing()
    _, mouths = _rooms(at_face)
    slices = _slices(lambda d: whole.section(up * max(d, JUST_OFF_MM)), around, mouths, wish.thick_mm, deep)
    if not mouths.is_empty:
        beside = bounds.crossed.buffer(max(wish.deep_mm.values()) + wish.thick_mm + BESIDE_MM)
        slices = [(as_multi(shapely.difference(area, beside), 1e-3), low, high) for area, low, high in slices]
    body = Solid.united([Solid.drawn(area, *sorted((up * low, up * high))) for area, low, high in slices if not area.is_empty])
    return _within(body.placed(frame.to_world), bounds)


def hollow_beside(section: MultiPolygon, shape: MultiPolygon, thick_mm: float) -> MultiPolygon:
    """The hollows in a section that touch the face `shape` and still leave a way through with a collar in them."""
    near, (rooms, mouths) = shape.buffer(2 * JUST_OFF_MM), _rooms(section)
    wide = [room for room in rooms if shapely.intersects(room, near) and not room.buffer(-thick_mm).is_empty]
    return as_multi(_off(mouths, shapely.difference(shapely.union_all(wide), section))) if wide else MultiPolygon()


def _rooms(section: MultiPolygon) -> tuple[list[Polygon], shapely.Geometry]:
    """All holes and the room of open walls, and across which lines those are open."""
    holes = [Polygon(ring) for part in section.geoms for ring in part.interiors]
    room, mouths = enclosed(section, LEAST_WALLED, several=True)
    return (holes if mouths.is_empty else [*holes, *room.geoms]), mouths


def _off(mouths: shapely.Geometry, area: shapely.Geometry) -> shapely.Geometry:
    return area if mouths.is_empty else shapely.difference(area, mouths.buffer(OFF_ENDS_MM))


def _slices(
    section: Callable[[float], MultiPolygon], around: MultiPolygon, mouths: shapely.Geometry, thick: float, deep: float
) -> list[tuple[MultiPolygon, float, float]]:
    """Areas with the depths they reach from and to: straight down to `deep`, then ever thinner until the wall is met."""
    around = as_multi(shapely.simplify(around, COARSE_MM))
    # a collar is along walls, not along where there is none
    beyond = mouths.buffer(2 * thick + OFF_ENDS_MM, cap_style="flat")
    walled = around if mouths.is_empty else as_multi(shapely.union(around, beyond))
    steps = max(1, round(deep / SLICE_MM))
    levels = [(deep * k / steps, deep * (k + 1) / steps, thick) for k in range(steps)]
    # beyond where the wall stood at the face, too, since it may lean away
    levels += [
        (deep + k * LAYER_MM, deep + (k + 1) * LAYER_MM, thick - (k + 1) * LAYER_MM) for k in range(round(2 * thick / LAYER_MM))
    ]
    found: list[tuple[MultiPolygon, float, float]] = []
    above = _level(section(0.0))
    for low, high, left in levels:
        below = _level(section(high))
        free = shapely.simplify(shapely.union(above.hollow, below.hollow), COARSE_MM)
        free = free.buffer(ROOT_MM, join_style="mitre")
        for there in (above, below):  # where the wall leans, no further than its outside
            free = shapely.intersection(free, there.outline)
        inner = shapely.simplify(walled.buffer(-left, quad_segs=ARC), INNER_MM)
        ring = shapely.difference(around.buffer(high + ROOT_MM, quad_segs=ARC), inner)
        area = as_multi(shapely.intersection(free, ring), 1e-3)
        above = below
        if area.is_empty:
            break
        if found and shapely.symmetric_difference(found[-1][0], area).area < SAME_MM2:
            found[-1] = found[-1][0], found[-1][1], high
        else:
            found.append((area, low, high))
    return found


class _Level(NamedTuple):
    """What a section leaves hollow within itself, and all within its outside."""

    hollow: shapely.Geometry
    outline: shapely.Geometry


def _level(section: MultiPolygon) -> _Level:
    rooms, mouths = _rooms(section)
    within = [] if mouths.is_empty else rooms
    outline = shapely.union_all([*(Polygon(part.exterior) for part in section.geoms), *within])
    return _Level(_off(mouths, shapely.difference(shapely.union_all(rooms), section)), outline)


def _within(body: Solid, bounds: Bounds) -> Solid:
    for frame, side in bounds.planes:
        low, high = box_sides(body, frame)
        if (low if side > 0 else -high) >= 0:  # all of it lies there
            continue
        above, below = split_at(body, frame)
        body = above if side > 0 else below
    return body.minus([other for other in bounds.others if other.box_meets(body)])

"""What outlines enclose: their holes, and the room inside an open wall, as that of a bowl cut in two."""

from typing import NamedTuple

import shapely
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.geometry.polygons import as_multi

LEAST_WALLED = 0.3
"""an open wall encloses what has wall around it for at least this share; of a half circle it is 0.61"""
MOST_BESIDE = 1 / 3
"""and no other hollow of its outline is nearly as large: else none of them is the inside"""
LEAST_HOLE = 0.25
"""the outline of a hole that makes a wall closed, by that around it: smaller ones are openings in it"""
TOUCH_MM = 1e-3


class Enclosed(NamedTuple):
    """The room within outlines, and the lines across which open ones have no wall: from one end of the wall to the other."""

    room: MultiPolygon
    mouths: shapely.Geometry


def is_closed(wall: Polygon) -> bool:
    """Whether a wall runs all round something."""
    return any(ring.length >= LEAST_HOLE * wall.exterior.length for ring in wall.interiors)


def enclosed(shape: MultiPolygon, least_walled: float = LEAST_WALLED) -> Enclosed:
    """The holes of closed walls, and the room that the other parts of a flat shape enclose: what their convex hull has beside
    them, where at least so much of its outline is walled."""
    closed = [part for part in shape.geoms if is_closed(part)]
    holes = [Polygon(ring) for part in closed for ring in part.interiors]
    walls = MultiPolygon([Polygon(part.exterior) for part in shape.geoms if not is_closed(part)])
    within, mouths = _within_open(walls, least_walled)
    return Enclosed(as_multi(shapely.union_all([*holes, within])), mouths)


def ends_somewhere(shape: MultiPolygon) -> bool:
    """Whether walls enclose a room and leave it open."""
    return not enclosed(shape).mouths.is_empty


def _within_open(walls: MultiPolygon, least_walled: float) -> tuple[shapely.Geometry, shapely.Geometry]:
    nothing = MultiPolygon(), shapely.MultiLineString()
    rooms = sorted(as_multi(shapely.difference(walls.convex_hull, walls), 1e-3).geoms, key=lambda p: -p.area)
    if not rooms or (len(rooms) > 1 and rooms[1].area > MOST_BESIDE * rooms[0].area):
        return nothing
    mouths = shapely.difference(rooms[0].exterior, walls.buffer(TOUCH_MM))
    if mouths.length > (1 - least_walled) * rooms[0].exterior.length:
        return nothing
    return rooms[0], mouths

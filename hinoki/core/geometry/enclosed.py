"""What outlines enclose: their holes, and the room inside an open wall, as that of a bowl cut in two."""

from typing import NamedTuple

import numpy as np
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
SAME_WAY = 0.9
"""cosine between the ways in which rooms beside each other are open"""


class Enclosed(NamedTuple):
    """The room within outlines, and the lines across which open ones have no wall: from one end of the wall to the other."""

    room: MultiPolygon
    mouths: shapely.Geometry


def is_closed(wall: Polygon) -> bool:
    """Whether a wall runs all round something."""
    return any(ring.length >= LEAST_HOLE * wall.exterior.length for ring in wall.interiors)


def enclosed(shape: MultiPolygon, least_walled: float = LEAST_WALLED, several: bool = False) -> Enclosed:
    """The holes of closed walls, and the room that the other parts of a flat shape enclose: what their convex hull has beside
    them, where at least so much of its outline is walled. With `several` there may be many rooms that are open to the same
    side, as those of a tray with compartments cut through."""
    closed = [part for part in shape.geoms if is_closed(part)]
    holes = [Polygon(ring) for part in closed for ring in part.interiors]
    walls = MultiPolygon([Polygon(part.exterior) for part in shape.geoms if not is_closed(part)])
    within, mouths = _within_open(walls, least_walled, several)
    return Enclosed(as_multi(shapely.union_all([*holes, within])), mouths)


def ends_somewhere(shape: MultiPolygon) -> bool:
    """Whether walls enclose a room and leave it open."""
    return not enclosed(shape).mouths.is_empty


def _within_open(walls: MultiPolygon, least_walled: float, several: bool) -> tuple[shapely.Geometry, shapely.Geometry]:
    nothing = MultiPolygon(), shapely.MultiLineString()
    rooms = sorted(as_multi(shapely.difference(walls.convex_hull, walls), 1e-3).geoms, key=lambda p: -p.area)
    rooms = [room for room in rooms if room.area > MOST_BESIDE * rooms[0].area]
    if not rooms or (len(rooms) > 1 and not several):
        return nothing
    around = walls.buffer(TOUCH_MM)
    mouths = [shapely.difference(room.exterior, around) for room in rooms]
    if any(m.length > (1 - least_walled) * r.exterior.length for r, m in zip(rooms, mouths, strict=True)):
        return nothing
    if len(rooms) > 1 and not _one_way(rooms, mouths):
        return nothing
    return shapely.union_all(rooms), shapely.union_all(mouths)


def _one_way(rooms: list[Polygon], mouths: list[shapely.Geometry]) -> bool:
    """Whether rooms are open to the same side."""
    if any(mouth.is_empty for mouth in mouths):
        return False
    ways = np.array([shapely.get_coordinates(m.centroid)[0] for m in mouths])
    ways = ways - np.array([shapely.get_coordinates(r.centroid)[0] for r in rooms])
    ways = ways / np.linalg.norm(ways, axis=1)[:, None]
    return bool((ways @ ways[0] > SAME_WAY).all())

"""Only one way: whether pieces could be put together turned about the normal of their face, and patterns that forbid it.

A piece cannot be mirrored in the hand, and its mating face always looks at the other; so what is left to be tried are turns
about the face's middle that bring the face onto itself.
"""

from collections.abc import Sequence

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import MultiPolygon, Point

from hinoki.core.joints.base import JointBase, Place, Standing
from hinoki.core.joints.spreading import points_over

SAME_MM = 0.5
"""two outlines nearer than this everywhere are one (geometry notes)"""
SLACK_MM = 0.3
"""what more than its clearance a male part may be off and still be forced in"""
APART_DEG = 2.0
"""turns nearer to each other than this are one"""
OFF_MM = 1.5
"""how far at least a place must lie from where it would serve a turn"""


def turns_of(shape: MultiPolygon, taken: Sequence[shapely.Geometry], clearance_mm: float) -> list[float]:
    """Angles in degrees, 0 left out, by which a piece can be turned so that its face lies on the other's outline and what the
    joints take of it (`taken`, one shape for each element) still finds its like. Empty without joints."""
    elements = [t for t in taken if not t.is_empty]
    if not elements:
        return []
    middle = shape.centroid
    whole = shapely.union_all(elements)
    room = whole.buffer(clearance_mm + SLACK_MM)
    found: list[float] = []
    for angle in _candidates(elements, middle):
        turned = affinity.rotate(whole, angle, origin=middle)
        if found and angle - found[-1] < APART_DEG:
            continue
        if shapely.covers(room, turned) and _same(shape, affinity.rotate(shape, angle, origin=middle)):
            found.append(angle)
    return found


def asymmetric(
    joint: JointBase, standing: Standing, places: Sequence[Place], room: MultiPolygon, apart_mm: float
) -> list[Place]:
    """The places with one of them moved as little as can be, within `room`, so that no turn is possible; as they were where
    none is possible already or nothing helps."""
    shape, gap = standing.shape, standing.clearance_mm

    def turns(now: Sequence[Place]) -> list[float]:
        return turns_of(shape, [joint.footprint(standing, p) for p in now], gap + OFF_MM)

    if not places or room.is_empty or not turns(places):
        return list(places)
    tried: list[tuple[float, int, Place]] = []
    for index in reversed(range(len(places))):
        others = [p for k, p in enumerate(places) if k != index]
        for point in points_over(room):
            if all(np.hypot(point[0] - o[0], point[1] - o[1]) >= apart_mm for o in others):
                way = float(np.hypot(point[0] - places[index][0], point[1] - places[index][1]))
                if way >= OFF_MM:
                    tried.append((round(way, 3), index, point))
    for _, index, point in sorted(tried, key=lambda t: (t[0], -t[1], t[2])):
        now = [*places[:index], point, *places[index + 1 :]]
        if not turns(now):
            return now
    return list(places)


def _candidates(elements: Sequence[shapely.Geometry], middle: Point) -> list[float]:
    """Whole shares of a turn, and the turns that bring one element to the place of another of its size."""
    angles = {round(360.0 * k / n, 4) for n in range(2, 13) for k in range(1, n)}
    seen = [(e.centroid.x - middle.x, e.centroid.y - middle.y, e.area) for e in elements]
    for x, y, area in seen:
        for p, q, other in seen:
            if abs(np.hypot(x, y) - np.hypot(p, q)) < SAME_MM and abs(area - other) < 0.02 * max(area, other):
                angles.add(round(float(np.degrees(np.arctan2(q, p) - np.arctan2(y, x))) % 360, 4))
    return sorted(a for a in angles if 1.0 < a < 359.0)


def _same(one: MultiPolygon, two: MultiPolygon) -> bool:
    return bool(shapely.hausdorff_distance(one.boundary, two.boundary, densify=0.25) < SAME_MM)

"""Whether a face can be turned onto itself, with what joints take of it: turns about the normal through its middle.

A piece cannot be mirrored in the hand, and its mating face always looks at the other; so turns are all there is to be tried.
"""

from collections.abc import Sequence

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import MultiPolygon, Point

SAME_MM = 0.5
"""two outlines nearer than this everywhere are one (geometry notes)"""
SLACK_MM = 0.3
"""what more than its clearance a male part may be off and still be forced in"""
APART_DEG = 2.0
"""turns nearer to each other than this are one"""


def turns_of(
    shape: MultiPolygon, taken: Sequence[shapely.Geometry], clearance_mm: float, sorts: Sequence[str] | None = None
) -> list[float]:
    """Angles in degrees, 0 left out, by which a piece can be turned so that its face lies on the other's outline and what the
    joints take of it (`taken`, one shape for each element) still finds its like: another of the same sort, where `sorts`
    tells them apart, as poles do. Empty without joints."""
    sorts = sorts or [""] * len(taken)
    by_sort = {s: shapely.union_all([t for t, own in zip(taken, sorts, strict=True) if own == s]) for s in sorts}
    elements = [t for t in taken if not t.is_empty]
    if not elements:
        return []
    middle = shape.centroid
    rooms = {s: whole.buffer(clearance_mm + SLACK_MM) for s, whole in by_sort.items()}
    found: list[float] = []
    for angle in _candidates(elements, middle):
        if found and angle - found[-1] < APART_DEG:
            continue
        meets = all(shapely.covers(rooms[s], affinity.rotate(whole, angle, origin=middle)) for s, whole in by_sort.items())
        if meets and _same(shape, affinity.rotate(shape, angle, origin=middle)):
            found.append(angle)
    return found


def _candidates(elements: Sequence[shapely.Geometry], middle: Point) -> list[float]:
    """Whole shares of a turn, and the turns that bring one element to the place of another of its size."""
    angles = {round(360.0 * k / n, 4) for n in range(2, 13) for k in range(1, n)}
    seen = [(e.centroid.x - middle.x, e.centroid.y - middle.y, e.area) for e in elements]
    for x, y, area in seen:
        for p, q, other in seen:
            if abs(np.hypot(x, y) - np.hypot(p, q)) < SAME_MM and abs(area - other) < 0.02 * max(area, other):
                angles.add(round(float(np.degrees(np.arctan2(q, p) - np.arctan2(y, x))) % 360, 4))
    return sorted(a for a in angles if 1.0 < a < 359.0)


def _same(multi_polygon: MultiPolygon, two: MultiPolygon) -> bool:
    return bool(shapely.hausdorff_distance(multi_polygon.boundary, two.boundary, densify=0.25) < SAME_MM)

"""Spreading places over the room there is: the first two far apart, every further one as far from the others as can be."""

import math

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import largest_circle
from hinoki.core.join.contract.terms import Place, Standing

OPPOSITE = 2 / 3
"""of the way from a hinge to the farthest room"""

MOST_CANDIDATES = 250
OPENED, STRIP = 1.1, 4.0
"""how much further than the inset what is wide enough is taken to reach; the area of a strip in squares of the inset"""
LEAST_INSET_MM = 0.1


def spread(room: MultiPolygon, count: int, apart_mm: float, edge_mm: float = math.inf) -> list[Place]:
    """Up to `count` places in `room`, at least `apart_mm` from each other; several of them keep `edge_mm` off its edge, half
    its largest radius at most, and in what is narrower than that half of its own.

    One place stands at the centre of the largest circle; the first two of several at the far ends of the longest
    chord, every further one as far from the others as can be (farthest-point choice).
    """
    if room.is_empty or count < 1:
        return []
    radius, centre = largest_circle(room)
    if count == 1:
        return [_round(centre)]
    inner = _off_edges(room, radius, edge_mm)
    points = _candidates(inner if not inner.is_empty else room)
    between = np.linalg.norm(points[:, None, :] - points[None, :, :], axis=2)
    level = np.abs(points[:, None, 1] - points[None, :, 1])
    first, second = np.unravel_index(int(np.argmax(np.round(between, 1) - 1e-3 * level)), between.shape)
    if between[first, second] < apart_mm:
        return [_round(centre)]
    chosen = sorted([int(first), int(second)], key=lambda i: points[i, 0])
    while len(chosen) < count:
        nearest = between[:, chosen].min(axis=1)
        best = int(np.argmax(np.round(nearest, 1) + 1e-6 * points[:, 1]))
        if nearest[best] < apart_mm:
            break
        chosen.append(best)
    return [_round(points[i]) for i in chosen]


def _off_edges(room: MultiPolygon, radius: float, edge_mm: float) -> MultiPolygon:
    """What of a room, `radius` wide at its widest, keeps off its edge; of narrower strips, too."""
    inset = min(radius * 0.5, edge_mm)
    inner = room.buffer(-inset)
    left = as_multi(shapely.difference(room, inner.buffer(OPENED * inset)), STRIP * inset**2)
    strips = [MultiPolygon([strip]) for strip in left.geoms] if inset > LEAST_INSET_MM else []
    return as_multi(shapely.union_all([inner, *(_off_edges(s, largest_circle(s)[0], edge_mm) for s in strips)]))


def _scattered(room: MultiPolygon, step: float) -> Points:
    """Points (n, 2) on the outlines of `room` and on a grid inside it, about `step` from each other."""
    x0, y0, x1, y1 = room.bounds
    outline = shapely.get_coordinates(shapely.segmentize(room.boundary, step))
    along = [np.arange(low + step / 2, high, step) for low, high in ((x0, x1), (y0, y1))]
    grid = np.array(np.meshgrid(*along)).reshape(2, -1).T
    inside = grid[shapely.contains_xy(room, grid)] if len(grid) else grid
    return np.concatenate([outline, inside.reshape(-1, 2)])


def points_over(room: MultiPolygon, about: int = 300) -> list[Place]:
    """Places over a room, on its outlines too, in a fixed order."""
    step = max(0.5, float(np.sqrt(room.area / about)), float(room.length / about))
    return sorted({_round(point) for point in _scattered(room, step)})


def _candidates(room: MultiPolygon, about: int = 120) -> Points:
    """Points on the outlines of `room` and on a grid inside it, in a fixed order."""
    step = max(0.2, float(np.sqrt(room.area / about)), float(room.length / about))
    scattered = _scattered(room, step)
    fine = np.round(scattered * 1000).astype(np.int64)
    wide = int(np.ptp(fine[:, 1])) + 1
    codes = np.unique((fine[:, 0] - fine[:, 0].min()) * wide + fine[:, 1] - fine[:, 1].min())
    points = np.column_stack([codes // wide + fine[:, 0].min(), codes % wide + fine[:, 1].min()]) / 1000
    return points if len(points) <= MOST_CANDIDATES else points[:: len(points) // MOST_CANDIDATES + 1]


def _round(point: Points) -> Place:
    return round(float(point[0]), 2) + 0.0, round(float(point[1]), 2) + 0.0


def opposite_the_hinge(room: shapely.Geometry, standing: Standing) -> shapely.Geometry:
    """The part of a room, or of a line, that is farthest from the hinge of the face: there little force holds a lid; all of it
    where there is no hinge."""
    if room.is_empty or shapely.is_empty(standing.kept):
        return room
    hinge, middle = (np.array(shapely.centroid(shape).coords[0]) for shape in (standing.kept, standing.shape))
    away = (middle - hinge) / (float(np.linalg.norm(middle - hinge)) or 1.0)
    across = np.array([-away[1], away[0]])
    seen = (shapely.get_coordinates(room) - hinge) @ np.column_stack([away, across])
    (far, wide), (_, low) = seen.max(axis=0), seen.min(axis=0)
    corners = ((OPPOSITE * far, low - 1), (far + 1, low - 1), (far + 1, wide + 1), (OPPOSITE * far, wide + 1))
    return shapely.intersection(room, shapely.Polygon([hinge + x * away + y * across for x, y in corners]))

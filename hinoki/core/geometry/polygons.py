"""Flat shapes: polygons with holes from the rings of sections, and how many sides a circle is drawn with."""

import math
from collections import defaultdict
from collections.abc import Sequence

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.geometry.mesh import Points

SAGITTA_MM = 0.01
"""how far a round bore may be from round (geometry notes: choose n so that r(1 − cos(π/n)) is at most this)"""


def round_sides(radius_mm: float) -> int:
    """Sides of a polygon close enough to a circle: sagitta r(1 − cos(π/n)) ≤ SAGITTA_MM, a multiple of four, 16 to 256."""
    if radius_mm <= SAGITTA_MM:
        return 16
    n = math.pi / math.acos(1 - SAGITTA_MM / radius_mm)
    return min(256, max(16, 4 * math.ceil(n / 4)))


def polygons_of(rings: Sequence[Points]) -> MultiPolygon:
    """Polygons with holes from the rings (n, 2) of a kernel section, which never cross: outlines turn left, holes turn right.

    Each hole belongs to the smallest outline around it.
    """
    turned = [(r, _turned_area(r)) for r in rings if len(r) >= 3]
    outlines = [Polygon(r) for r, area in turned if area > 1e-9]
    holes = [r for r, area in turned if area < -1e-9]
    if not outlines:
        return MultiPolygon()
    inside: dict[int, list[Points]] = defaultdict(list)
    if holes:
        middles = shapely.point_on_surface(shapely.make_valid(np.array([Polygon(r) for r in holes])))
        which, around = shapely.STRtree(outlines).query(middles, predicate="within")
        areas = shapely.area(outlines)
        for hole, ring in enumerate(holes):
            of = around[which == hole]
            of = of[areas[of] > -_turned_area(ring)]  # an island within the hole is not around it
            if len(of):
                inside[int(of[np.argmin(areas[of])])].append(ring)
    made = [Polygon(outline.exterior, inside[k]) if k in inside else outline for k, outline in enumerate(outlines)]
    for k in np.flatnonzero(~shapely.is_valid(made)):  # a hole touches its outline, or an outline itself
        holes_of = [shapely.make_valid(Polygon(r)) for r in inside.get(int(k), ())]
        made[k] = shapely.difference(shapely.make_valid(outlines[k]), shapely.union_all(holes_of))
    return as_multi(shapely.union_all(made))


def _turned_area(ring: Points) -> float:
    """The area within a ring (n, 2), below zero where it turns right."""
    x, y = (ring - ring[0]).T
    return float(x[:-1] @ y[1:] - y[:-1] @ x[1:]) / 2


def as_multi(shape: shapely.Geometry, least_area: float = 1e-9) -> MultiPolygon:
    """Only the areas of any shapely result, as a MultiPolygon."""
    parts = [g for g in shapely.get_parts(shape, return_index=False) if g.geom_type in ("Polygon", "MultiPolygon")]
    flat = [p for g in parts for p in (shapely.get_parts(g) if g.geom_type == "MultiPolygon" else [g])]
    return MultiPolygon([p for p in flat if p.area > least_area])


def rectangle_sides(shape: shapely.Geometry) -> tuple[Points, Points]:
    """Two sides (2,) of the smallest rectangle around a shape, the longer one first; of no length where it has no area."""
    corners = shapely.get_coordinates(shapely.minimum_rotated_rectangle(shape))[:3]
    if len(corners) < 3:
        return np.zeros(2), np.zeros(2)
    first, second = corners[1] - corners[0], corners[2] - corners[1]
    return (first, second) if np.linalg.norm(first) >= np.linalg.norm(second) else (second, first)

"""What sizes rest on: how long and wide a mating face is, how many elements suit it, and which sizes find room."""

import math
from collections.abc import Iterator

import numpy as np
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.polygons import rectangle_sides
from hinoki.core.join.joints import Joint, Standing
from hinoki.core.join.placing import Depths, auto_places

REACH_MM, MOST_ELEMENTS = 80.0, 12
"""a seam is held by an element this far along it, half to either side (common practice)"""


def with_room(sizes: Iterator[Joint], depths: Depths, standing: Standing) -> Iterator[Joint]:
    """Those of `sizes` for which there are two places (or all that were wanted), then those with one."""
    single: list[Joint] = []
    for joint in sizes:
        places, _ = auto_places(joint, depths, standing)
        if len(places) >= min(2, joint.wanted):
            yield joint.model_copy(update={"count": len(places)})
        elif places:
            single.append(joint.model_copy(update={"count": 1}))
    yield from single


def count_for(extent: float) -> int:
    """How many elements suit a face so long, in mm: at least two, and none further from the next than REACH_MM."""
    return min(MOST_ELEMENTS, max(2, math.ceil(extent / REACH_MM) + 1 if extent >= REACH_MM else 2))


def measures(shape: MultiPolygon) -> tuple[float, float, float]:
    """Length and width of the smallest rectangle around a face, and the direction of its length in whole degrees."""
    longer, shorter = rectangle_sides(shape)
    angle = round(float(np.degrees(np.arctan2(longer[1], longer[0]))))
    angle = angle - 180 if angle > 90 else angle + 180 if angle <= -90 else angle
    return float(np.linalg.norm(longer)), float(np.linalg.norm(shorter)), float(angle) + 0.0

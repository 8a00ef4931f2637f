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

MUCH_SHARE = 0.5
"""of what few large elements cover of a face, that as many as are wanted must"""
SMALL_MM2 = 7.0
"""a peg under 3 mm breaks off in the hand (common practice): few larger ones are better than many of those"""


def with_room(sizes: Iterator[Joint], depths: Depths, standing: Standing) -> Iterator[Joint]:
    """Those of `sizes`, the largest first, for which there are all places that were wanted, then those with two or more, then
    those with one. Many small ones go before few large ones as long as they cover half as much of the face."""
    fewer, single = list[Joint](), list[Joint]()
    looking, least = True, 0.0  # for all that are wanted, while they cover enough
    for joint in sizes:
        each = float(joint.footprint(standing, (0.0, 0.0)).area) if looking else 0.0
        if fewer and (joint.wanted * each < least or each < SMALL_MM2):  # those that follow are smaller still
            looking = False
            yield from fewer
            fewer = []
        places, _ = auto_places(joint, depths, standing)
        if len(places) >= min(2, joint.wanted):
            one = joint.model_copy(update={"count": len(places)})
            if looking and len(places) < joint.wanted:
                fewer.append(one)
                least = least or MUCH_SHARE * len(places) * each
            else:
                yield one
        elif places:
            single.append(joint.model_copy(update={"count": 1}))
    yield from fewer
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

"""Only one way: patterns of places that forbid putting pieces together turned about the normal of their face."""

from collections.abc import Sequence

import numpy as np
from shapely.geometry import MultiPolygon

from hinoki.core.join.contract.base import JointBase
from hinoki.core.join.contract.point_spacing import points_over
from hinoki.core.join.contract.terms import Place, Standing
from hinoki.core.symmetry.rotational_symmetry import turns_of

OFF_MM = 1.5
"""how far at least a place must lie from where it would serve a turn"""


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

"""How near two moved bodies come: exact distances of triangles by `fcl` (only this file imports it)."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from hinoki.core.geometry.mesh import Points
from hinoki.core.moving.bodies import Body
from hinoki.core.moving.mechanism import place_of

FAR_MM = 6.0
"""farther apart it is not measured how far"""


@dataclass(frozen=True)
class Gap:
    """The distance between two bodies, mm, and the point (3,) in the middle of it; of what is far apart no point, and what the
    distance is at the least. 0 where they touch or overlap."""

    mm: float
    at: Points | None


class Nearness:
    """Distances between bodies wherever they are moved to."""

    def __init__(self) -> None:
        self._shapes: dict[str, Any] = {}

    def gap(self, one: Body, other: Body, places: Mapping[str, Points]) -> Gap:
        """Of two bodies where movements are, by rigid (3, 4) matrices from where they are at rest."""
        import fcl

        to, other_to = (place_of(body.movement, places) for body in (one, other))
        between = _between(one, to, other, other_to)
        if between > FAR_MM:
            return Gap(between, None)
        a, b = (self._object(body, matrix) for body, matrix in ((one, to), (other, other_to)))
        found = fcl.DistanceResult()
        mm = float(fcl.distance(a, b, fcl.DistanceRequest(True), found))
        if mm <= 0:
            return Gap(0.0, None)
        # its nearest points are told where the bodies are now
        return Gap(mm, np.asarray(np.mean(found.nearest_points, axis=0)))

    def _object(self, body: Body, matrix: Points) -> Any:
        import fcl

        shape = self._shapes.get(body.id)
        if shape is None:
            mesh = body.mesh
            shape = fcl.BVHModel()
            shape.beginModel(len(mesh.vertices), len(mesh.faces))
            shape.addSubModel(mesh.vertices, mesh.faces)
            shape.endModel()
            self._shapes[body.id] = shape
        return fcl.CollisionObject(shape, fcl.Transform(np.ascontiguousarray(matrix[:, :3]), matrix[:, 3]))


def _between(one: Body, to: Points, other: Body, other_to: Points) -> float:
    """What the distance of two bodies is at the least, by the balls that hold them."""
    (a, first), (b, second) = one.balls, other.balls
    a, b = (middles @ matrix[:, :3].T + matrix[:, 3] for middles, matrix in ((a, to), (b, other_to)))
    apart = np.sqrt(((a[:, None] - b[None]) ** 2).sum(axis=2))
    return float((apart - first[:, None] - second[None]).min())

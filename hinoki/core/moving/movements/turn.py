"""Turn: about an axis, as wheels, levers, doors and gears do."""

import math
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.frames import Frame, plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.moving.movements.base import DRIVEN_WORDS, PLAYS, TRAVEL, TRAVEL_ONLY_IF, Point, Travel, Unit, Way


class TurnMovement(Travel, frozen=True):
    """About a line through `at_mm` along `along`, by degrees to the left seen against it (the right-hand rule)."""

    form: ClassVar[Form] = Form(
        "Turn",
        "about an axis",
        ("at_mm", "along", "on", *TRAVEL, *PLAYS),
        words={"driven": DRIVEN_WORDS},
        only_if=TRAVEL_ONLY_IF,
        picks=("at_mm",),
    )
    unit: ClassVar[Unit] = "°"

    kind: Literal["turn"] = "turn"
    at_mm: Point = Field((0.0, 0.0, 0.0), title="Axis at", description="a point of the axis, mm")
    along: Way = Field((0.0, 0.0, 1.0), title="Axis along", description="its direction")

    @property
    def frame(self) -> Frame:
        """The axis as the normal of a frame."""
        return plane_frame(np.array(self.at_mm), np.array(self.along) / np.linalg.norm(self.along))

    def moved(self, value: float) -> Points:
        """Turned about the axis (Rodrigues)."""
        axis = np.array(self.along) / np.linalg.norm(self.along)
        angle, (x, y, z) = math.radians(value), axis
        cross = np.array([[0.0, -z, y], [z, 0.0, -x], [-y, x, 0.0]])
        turn = np.eye(3) + math.sin(angle) * cross + (1 - math.cos(angle)) * cross @ cross
        at = np.array(self.at_mm)
        return np.column_stack([turn, at - turn @ at])

    def speed(self, reach_mm: float) -> float:
        """r · π/180."""
        return reach_mm * math.pi / 180

    def far_from(self, points: Points) -> float:
        """From the axis."""
        seen = self.frame.seen(points)
        return float(np.hypot(seen[:, 0], seen[:, 1]).max(initial=0.0))

    def pulled(self, point: Points, other: Points, long_mm: float, like: Points) -> float | None:
        """By the law of cosines in the plane of the axis: L² = ρ² + r² − 2 ρ r cos δ + h²."""
        (x, y, z), (px, py, pz), (lx, ly, _) = self.frame.seen(np.array([point, other, like]))
        own, far = math.hypot(x, y), math.hypot(px, py)
        if own * far < 1e-12:
            return None
        cosine = (own**2 + far**2 + (z - pz) ** 2 - long_mm**2) / (2 * own * far)
        if abs(cosine) > 1 + 1e-12:
            return None
        begins = math.atan2(y, x)
        side = math.copysign(1.0, math.sin(begins - math.atan2(ly, lx)))
        value = math.degrees(math.atan2(py, px) + side * math.acos(max(-1.0, min(1.0, cosine))) - begins)
        return (value + 180.0) % 360.0 - 180.0

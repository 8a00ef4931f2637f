"""Rail: along a line of points, upright all the way, as what runs in a bent groove does."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.frames import shifted
from hinoki.core.geometry.mesh import Points
from hinoki.core.moving.movements.base import DRIVEN_WORDS, PLAYS, TRAVEL, TRAVEL_ONLY_IF, Point, Travel, Unit


class RailMovement(Travel, frozen=True):
    """By mm along a line through points, which begins where it is at rest; beyond its ends straight on."""

    form: ClassVar[Form] = Form(
        "Rail",
        "along a bent line",
        ("through", "on", *TRAVEL, *PLAYS),
        words={"driven": {k: v for k, v in DRIVEN_WORDS.items() if k != "rod"}},
        only_if=TRAVEL_ONLY_IF,
    )
    unit: ClassVar[Unit] = " mm"

    kind: Literal["rail"] = "rail"
    through: Annotated[tuple[Point, ...], Field(min_length=2, max_length=500)] = Field(
        ((0.0, 0.0, 0.0), (50.0, 0.0, 0.0)), title="Through", description="points of the rail, mm; the first is where it rests"
    )

    def moved(self, value: float) -> Points:
        """As far along the line, from its first point."""
        points = np.array(self.through)
        legs = np.diff(points, axis=0)
        long = np.linalg.norm(legs, axis=1)
        legs, long = legs[long > 1e-9], long[long > 1e-9]
        if not len(long):
            return shifted(0.0, 0.0, 0.0)
        ends = np.cumsum(long)
        k = int(np.clip(np.searchsorted(ends, value, side="left"), 0, len(long) - 1))
        gone = points[0] + legs[:k].sum(axis=0) + legs[k] / long[k] * (value - (ends[k] - long[k]))
        return shifted(*(gone - points[0]).tolist())

    def speed(self, reach_mm: float) -> float:  # noqa: ARG002 - all of it alike
        """As fast as itself."""
        return 1.0

    def far_from(self, points: Points) -> float:  # noqa: ARG002 - does not matter
        """It does not matter."""
        return 0.0

"""Slide: straight along a way, as drawers, bolts and pistons do."""

import math
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.frames import shifted
from hinoki.core.geometry.mesh import Points
from hinoki.core.moving.movements.base import DRIVEN_WORDS, PLAYS, TRAVEL, TRAVEL_ONLY_IF, Travel, Unit, Way


class SlideMovement(Travel, frozen=True):
    """By mm along `along`."""

    form: ClassVar[Form] = Form(
        "Slide", "along a line", ("along", "on", *TRAVEL, *PLAYS), words={"driven": DRIVEN_WORDS}, only_if=TRAVEL_ONLY_IF
    )
    unit: ClassVar[Unit] = " mm"

    kind: Literal["slide"] = "slide"
    along: Way = Field((1.0, 0.0, 0.0), title="Along", description="the way it slides")

    @property
    def _way(self) -> Points:
        return np.asarray(np.array(self.along) / np.linalg.norm(self.along))

    def moved(self, value: float) -> Points:
        """Shifted."""
        return shifted(*(value * self._way).tolist())

    def speed(self, reach_mm: float) -> float:  # noqa: ARG002 - all of it alike
        """As fast as itself."""
        return 1.0

    def far_from(self, points: Points) -> float:  # noqa: ARG002 - does not matter
        """It does not matter."""
        return 0.0

    def pulled(self, point: Points, other: Points, long_mm: float, like: Points) -> float | None:
        """Where the sphere of the rod meets its line: v = −w·d ± √((w·d)² − w² + L²)."""
        way = self._way
        off = point - other
        along = float(off @ way)
        under = along**2 - float(off @ off) + long_mm**2
        if under < -1e-9:
            return None
        side = math.copysign(1.0, float((point - like) @ way))
        return -along + side * math.sqrt(max(0.0, under))

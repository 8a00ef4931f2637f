"""What dovetails and rails share: a tail that widens away from its face, and the groove of the same section."""

from collections.abc import Mapping
from math import atan2, degrees, hypot
from typing import ClassVar, Self

import numpy as np
from pydantic import Field, model_validator

from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.mesh import Points
from hinoki.core.join.contract.base import scaled
from hinoki.core.join.contract.sliding_profile import SHARP, RunningJoint
from hinoki.core.join.contract.terms import ROOT_MM, Problem, Standing

LEAST_FLANK_DEG = 45.0
"""a flank nearer to the face than this leans too far to print without support (common practice)"""


class TailJoint(RunningJoint, frozen=True):
    """A tail `neck_mm` wide at the face and `head_mm` at its end, `height_mm` high."""

    words: ClassVar[Mapping[str, str]] = {
        "joint-leans": (
            "has flanks at {flank_deg:.0f}° to the face, which need support. Make the head narrower or the depth greater."
        ),
        "joint-under-line": "has a neck of {neck_mm:g} mm, under two printed lines. Make it wider.",
    }

    takes_glue: ClassVar[bool] = False
    pulls: ClassVar[bool] = True

    neck_mm: Measure = Field(5.0, title="Neck", description="width at the face, mm")
    head_mm: Measure = Field(10.0, title="Head", description="width at its end, mm")
    height_mm: Measure = Field(3.0, title="Depth", description="mm")

    @model_validator(mode="after")
    def _widens(self) -> Self:
        if self.head_mm < self.neck_mm + 0.2:
            raise ValueError(f"the head of a {self.kind} must be wider than its neck, by 0.2 mm at least")
        return self

    @property
    def half_mm(self) -> float:
        """Half the head."""
        return self.head_mm / 2

    @property
    def flank_deg(self) -> float:
        """The angle between a flank and the face."""
        return degrees(atan2(self.height_mm, (self.head_mm - self.neck_mm) / 2))

    def male_ring(self) -> Points:
        """The tail's section (n, 2), its head's corners broken."""
        a, b, d = self.neck_mm / 2, self.head_mm / 2, self.height_mm
        long = hypot(b - a, d)
        edge = min(self.edge_mm, 0.4 * long, 0.8 * b)
        under = b - edge * (b - a) / long, d - edge * d / long
        right = [(a, -ROOT_MM), (a, 0.0), under, (b - edge, d)] if edge > 1e-6 else [(a, -ROOT_MM), (a, 0.0), (b, d)]
        return np.array([*right, *((-x, y) for x, y in reversed(right))])

    def groove_ring(self, grown: float, low: float, lead: float = 0.0) -> Points:
        """The groove's section (n, 2): flanks and floor `grown` off the tail, from `low` up; with `low` below the face its
        mouth is broken. `lead` widens all of it."""
        lean = (self.head_mm - self.neck_mm) / 2 / self.height_mm
        mouth = self.neck_mm / 2 + grown * hypot(lean, 1.0) + lead
        floor = self.height_mm + grown + lead
        edge = min(self.edge_mm, 0.4 * self.height_mm)
        if low >= 0:
            right = [(mouth + lean * low, low)]
        elif edge > 1e-6:
            right = [(mouth + edge, low), (mouth + edge, 0.0), (mouth + lean * edge, edge)]
        else:
            right = [(mouth, low), (mouth, 0.0)]
        right.append((mouth + lean * floor, floor))
        return np.array([*right, *((-x, y) for x, y in reversed(right))])

    def tail_problems(self, standing: Standing) -> list[Problem]:
        """Sharp edges, flanks that lean too far, a neck too thin to print."""
        found = []
        if self.edge_mm < 0.1:
            found.append(SHARP)
        if self.flank_deg < LEAST_FLANK_DEG:
            found.append(Problem("joint-leans", {"flank_deg": self.flank_deg}))
        if self.neck_mm < 2 * standing.line_mm:
            found.append(Problem("joint-under-line", {"neck_mm": self.neck_mm}, "must-fix"))
        return found

    def slimmer(self, by_mm: float) -> dict[str, float] | None:
        """Its measures with its flanks moved inwards, leaning as they do, and its head lower; None where it would be gone."""
        lean = (self.head_mm - self.neck_mm) / 2 / self.height_mm
        low, neck = self.height_mm - by_mm, self.neck_mm - 2 * by_mm * hypot(lean, 1.0)
        if low < 0.8 or neck < 0.8:
            return None
        sizes = {"neck_mm": neck, "head_mm": neck + 2 * lean * low, "height_mm": low}
        return {name: round(size, 6) for name, size in sizes.items()}

    def smaller(self) -> Self | None:
        """Four fifths of its measures, in steps of 0.1 mm."""
        return scaled(self, ("neck_mm", "head_mm", "height_mm"), 1.0)

"""Dovetail: a tail that widens away from its face slides into a groove of the same section and cannot be pulled off."""

from collections.abc import Mapping, Sequence
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.base import Small
from hinoki.core.join.contract.sliding_profile import Run, jams
from hinoki.core.join.contract.strength import ACROSS_LAYERS, Strength, Stuff
from hinoki.core.join.contract.tail_section import TailJoint
from hinoki.core.join.contract.terms import (
    JUST_INSIDE_MM,
    OPENING_MM,
    Direction,
    Place,
    Problem,
    Sections,
    Standing,
    Tool,
    Tools,
    direction_of,
)

OVER_MM = 0.002
"""how far parts of a cut reach into each other, so that rounding leaves no film between them"""


class DovetailJoint(TailJoint, frozen=True):
    """A tail `neck_mm` wide at the face and `head_mm` at its end, `depth_mm` high.

    Open at both ends, or closed at one: then piece B slides along `along_deg` up to the stop. Over the last `lock_mm` before
    that end there is no clearance, so that it locks.
    """

    words: ClassVar[Mapping[str, str]] = {
        "joint-slide-short": (
            "slides over {length_mm:.1f} mm only and is {head_mm:g} mm wide: it tips and jams. Make it narrower, or run it "
            "along the longer side."
        ),
        **TailJoint.words,
    }

    form: ClassVar[Form] = Form(
        "Dovetail",
        "Dovetail, slides in",
        (
            "count", "neck_mm", "head_mm", "height_mm", "along_deg", "ends", "stop_mm", "lock_mm", "lead_mm", "edge_mm", "on",
        ),
        when="Holds without glue. Where the pieces can slide past each other.",
        words={"ends": {"through": "Open at both ends", "closed": "Closed at one end"}},
        only_if={"stop_mm": {"ends": ("closed",)}},
        beside_fit=("count", "along_deg", "ends", "stop_mm", "on"),
    )  # fmt: skip

    kind: Literal["dovetail"] = "dovetail"
    ends: Literal["through", "closed"] = Field("through", title="Ends", description="closed: it stops at one end")
    lock_mm: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] = Field(
        3.0, title="Locks over", description="last part without clearance, mm"
    )
    lead_mm: Small = Field(0.1, title="Lead-in", description="chamfer at the mouth, mm")

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """Tension of the necks, between their layers: F = σ · neck · length."""
        runs = [run for place in places if (run := self.run(standing, place))]
        area = self.neck_mm * sum(run.length for run in runs)
        return Strength(ACROSS_LAYERS * stuff.tension_mpa * area, "necks in tension, σ·A")

    def stops(self) -> tuple[bool, bool]:
        """A closed one stops where it arrives: at its start on piece A, at its end on piece B."""
        closed = self.ends == "closed"
        return closed and self.on == "a", closed and self.on == "b"

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """A tail on one side and its groove in the other, for each place."""
        each: list[Tool] = []
        for index, place in enumerate(places):
            run = self.run(standing, place)
            if run is None:
                continue
            each += self._one(index, standing, run, self.matrix(standing.frame, place))
        return Tools(each)

    def _one(self, index: int, standing: Standing, run: Run, matrix: Points) -> list[Tool]:
        gap, wall = standing.clearance_mm, standing.least_wall_mm
        # seen from the end where it arrives, whichever that is, `far` is where it locks
        arrives_at_start = self.on == "a"
        start, end = run.start - run.before, run.end + run.after
        tail = self.body(self.male_ring(), start, end, matrix)
        free = self.groove_ring(gap, -OPENING_MM)
        closed = self.ends == "closed"
        lock = min(self.lock_mm, run.length / 2) if gap > 0 else 0.0
        s0 = (run.start - gap if closed else start) if arrives_at_start else start
        s1 = end if arrives_at_start else (run.end + gap if closed else end)
        cuts = []
        if lock > 0:  # the last part has no clearance; its mouth is as wide, for it is broken
            tight = self.groove_ring(0.0, -OPENING_MM)
            low, high = (s0, run.start + lock + OVER_MM) if arrives_at_start else (run.end - lock - OVER_MM, s1)
            cuts.append(self.body(tight, low, high, matrix))
            s0, s1 = (run.start + lock, s1) if arrives_at_start else (s0, run.end - lock)
        cuts.append(self.body(free, s0, s1, matrix))
        if self.lead_mm > 0:
            cuts.append(self._mouth(gap, run, arrives_at_start, matrix))
        inside, outside = self.inner(run, standing)
        floor = self.height_mm + gap
        ring = self.groove_ring(gap, JUST_INSIDE_MM)
        grown = self.groove_ring(gap + wall, JUST_INSIDE_MM)
        grown = np.column_stack([grown[:, 0], np.minimum(grown[:, 1], floor)])
        half = float(ring[:, 0].max())
        below = np.array([[-half, floor], [half, floor], [half, floor + wall], [-half, floor + wall]])
        bare = self.male_ring()
        bare = np.column_stack([bare[:, 0], np.maximum(bare[:, 1], 0.0)])
        first, last = (run.start + lock + 0.5, run.end) if arrives_at_start else (run.start, run.end - lock - 0.5)
        return [
            Tool(
                self.on,
                index,
                add=tail,
                clipped=True,
                probe=self.body(bare, first, last - self.lead_mm, matrix) if last - first > 1.0 else None,
            ),
            Tool(
                self.female,
                index,
                cut=Solid.united(cuts),
                bore=self.body(ring, inside, outside, matrix),
                around=self.body(grown, inside, outside, matrix),
                beyond=self.body(below, inside, outside, matrix),
            ),
        ]

    def _mouth(self, gap: float, run: Run, arrives_at_start: bool, matrix: Points) -> Solid:
        """The groove widened towards the end where the tail comes in."""
        narrow, wide = self.groove_ring(gap, -OPENING_MM), self.groove_ring(gap, -OPENING_MM, self.lead_mm)
        if arrives_at_start:
            low, high, beyond = run.end - self.lead_mm, run.end, (run.end - OVER_MM, run.end + run.after)
            cone = Solid.frustum(narrow, wide, low, high)
        else:
            low, high, beyond = run.start, run.start + self.lead_mm, (run.start - run.before, run.start + OVER_MM)
            cone = Solid.frustum(wide, narrow, low, high)
        more = [Solid.drawn_ring(wide, *beyond)] if beyond[1] - beyond[0] > 2 * OVER_MM else []
        return cone.plus(more).placed(matrix)

    def motions(self, standing: Standing) -> tuple[Direction, ...]:
        """Along the tail; one way only where it is closed or locks at its end."""
        way = direction_of(self.way(standing.frame))
        return (way,) if self.ends == "closed" or self.lock_mm > 0 else super().motions(standing)

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """Short slides, sharp edges, flanks that lean too far, a neck too thin to print."""
        found = self.tail_problems(standing)
        runs = [(place, run) for place in places if (run := self.run(standing, place)) is not None]
        for place, run in runs:
            if jams(run.length, self.head_mm):
                found.append(Problem("joint-slide-short", {"length_mm": run.length, "head_mm": self.head_mm}, at=place))
        return found

    def thinner(self, by_mm: float) -> Self | None:
        """Its flanks moved inwards, leaning as they do, and its head lower."""
        sizes = self.slimmer(by_mm)
        return self.model_copy(update={**sizes, "stop_mm": round(self.stop_mm + by_mm, 6)}) if sizes else None

    def label(self) -> str:
        """Such as “dovetail 5/10 × 3”."""
        many = f"{self.wanted} dovetails" if self.wanted != 1 else "dovetail"
        return f"{many} {self.neck_mm:g}/{self.head_mm:g} × {self.height_mm:g}"

"""Tongue: a ridge along a line of the face in a groove, for panels and walls that slide together."""

from collections.abc import Mapping, Sequence
from math import cos, radians, tan
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.closures.rail_bodies import bump
from hinoki.core.join.contract.base import scaled, thinned
from hinoki.core.join.contract.sliding_profile import SHARP, Run, RunningJoint
from hinoki.core.join.contract.strength import ACROSS_LAYERS, Bears, Strength, Stuff
from hinoki.core.join.contract.terms import (
    HAIR_MM,
    JUST_INSIDE_MM,
    OPENING_MM,
    ROOT_MM,
    Direction,
    Place,
    Problem,
    Sections,
    Standing,
    Tool,
    Tools,
    direction_of,
)

OFF_END_MM = 1.0
"""how far the slope of a catch keeps off the end of its ridge"""


class TongueJoint(RunningJoint, frozen=True):
    """A ridge `width_mm` wide and `height_mm` high; `taper_deg` leans its flanks inwards."""

    words: ClassVar[Mapping[str, str]] = {
        "joint-catch-short": "is too short for a catch of {catch_mm:g} mm and its slopes. Make it smaller, or leave it out.",
        "joint-under-line": "is {top_mm:.1f} mm wide at its top, under two printed lines. Make it wider or less tapered.",
    }

    form: ClassVar[Form] = Form(
        "Tongue",
        "Tongue and groove",
        (
            "count",
            "width_mm",
            "height_mm",
            "taper_deg",
            "along_deg",
            "ends",
            "stop_mm",
            "catch_mm",
            "catch_at",
            "edge_mm",
            "on",
        ),
        when="Panels and long walls.",
        words={
            "ends": {"through": "Open at both ends", "stopped": "Stop inside the face"},
            "catch_at": {"end": "the end it runs to", "start": "the end it comes from"},
        },
        only_if={"stop_mm": {"ends": ("stopped",)}, "catch_mm": {"ends": ("through",)}, "catch_at": {"ends": ("through",)}},
        beside_fit=("count", "along_deg", "ends", "stop_mm", "catch_mm", "catch_at", "on"),
    )

    kind: Literal["tongue"] = "tongue"
    width_mm: Measure = Field(3.0, title="Width", description="at the face, mm")
    taper_deg: Annotated[float, Field(ge=0, le=40, allow_inf_nan=False)] = Field(
        0.0, title="Taper", description="lean of each flank, degrees; 0: square"
    )
    ends: Literal["through", "stopped"] = Field("stopped", title="Ends", description="stopped: not seen from outside")

    catch_mm: Annotated[float, Field(ge=0, le=2, allow_inf_nan=False)] = Field(
        0.0, title="Catch", description="how far a bump on the ridge catches in the groove, mm; 0: none"
    )
    catch_at: Literal["start", "end"] = Field("end", title="Catch near", description="where the panel slides out")

    @property
    def half_mm(self) -> float:
        """Half the width."""
        return self.width_mm / 2

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """Shear of the ridges across their line, between their layers: F = τ · width · length."""
        runs = [run for place in places if (run := self.run(standing, place))]
        area = self.width_mm * sum(run.length for run in runs)
        return Strength(ACROSS_LAYERS * stuff.shear_mpa * area, "ridges in shear, τ·A")

    def bears(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Bears | None:
        """Bending of the ridges across their line, between their layers: M = σ · length · width²/6."""
        long = sum(run.length for place in places if (run := self.run(standing, place)))
        return Bears(ACROSS_LAYERS * stuff.tension_mpa * long * self.width_mm**2 / 6, "ridges in bending, σ·Z")

    def stops(self) -> tuple[bool, bool]:
        """Both ends or none."""
        return (self.ends == "stopped",) * 2

    @property
    def top_mm(self) -> float:
        """Width at its top; a taper never closes it."""
        return max(0.4, self.width_mm - 2 * self.height_mm * tan(radians(self.taper_deg)))

    def male_ring(self) -> Points:
        """The ridge's section (n, 2), its upper corners broken."""
        a, t, h = self.half_mm, self.top_mm / 2, self.height_mm
        edge = min(self.edge_mm, 0.4 * t, 0.4 * h)
        lean = (a - t) / h
        right = [(a, -ROOT_MM), (a, 0.0), (t + lean * edge, h - edge), (t - edge, h)]
        if edge < 1e-6:
            right = [(a, -ROOT_MM), (a, 0.0), (t, h)]
        return np.array([*right, *((-x, y) for x, y in reversed(right))])

    def groove_ring(self, grown: float, low: float, floor: float) -> Points:
        """The groove's section (n, 2): flanks `grown` off the ridge, from `low` up to `floor`, its mouth broken."""
        lean = (self.half_mm - self.top_mm / 2) / self.height_mm
        mouth = self.half_mm + grown * float(np.hypot(lean, 1.0))
        edge = min(self.edge_mm, 0.4 * self.height_mm)
        right = [(mouth - lean * max(low, 0.0), low)]
        if low < 0:
            right = [(mouth + edge, low), (mouth + edge, 0.0), (mouth - lean * edge, edge)]
        top = max(0.05, mouth - lean * floor)
        right.append((top, floor))
        return np.array([*right, *((-x, y) for x, y in reversed(right))])

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """A ridge on one side and its groove in the other, for each place."""
        each: list[Tool] = []
        for index, place in enumerate(places):
            run = self.run(standing, place)
            if run is not None:
                matrix = self.matrix(standing.frame, place)
                each += [*self._one(index, standing, run, matrix), *self._catch(index, standing, run, matrix)]
        return Tools(each)

    @property
    def catches_at_end(self) -> bool:
        """Whether a bump holds it: where it is open only, since what stops inside the face does not slide."""
        return self.ends == "through" and self.catch_mm > 0

    def cut_depth_mm(self, standing: Standing, places: Sequence[Place]) -> float:
        """The notch of a catch is deeper than its groove."""
        more = self.catch_mm + standing.clearance_mm if self.catches_at_end else 0.0
        return super().cut_depth_mm(standing, places) + more

    def _catch(self, index: int, standing: Standing, run: Run, matrix: Points) -> list[Tool]:
        """The bump over the top of a ridge, its slopes at 45°, near the end at which it slides out, and its notch."""
        if not self.catches_at_end:
            return []
        gap, high = standing.clearance_mm, standing.end_gap_mm + self.catch_mm
        sign = 1.0 if self.catch_at == "end" else -1.0
        at = (run.end if sign > 0 else run.start) - sign * (OFF_END_MM + 2 * high)

        def bumped(low: float, grown: float, wider: float) -> Solid:
            """From a height up, drawn across the ridge: a trapezoid as wide at its top as it is high."""
            tall = self.height_mm + high + grown
            return bump(at, at, low, tall, high / 2 + grown, self.top_mm / 2 + wider).placed(matrix)

        male, sleeve = (bumped(self.height_mm - min(ROOT_MM, self.height_mm / 2), more, more) for more in (0.0, HAIR_MM))
        notch = bumped(self.height_mm + standing.end_gap_mm - ROOT_MM, gap, gap)
        return [
            Tool(self.on, index, add=male, bent=Solid.nothing(), sleeve=sleeve),
            Tool(self.female, index, cut=notch),
        ]

    def _one(self, index: int, standing: Standing, run: Run, matrix: Points) -> list[Tool]:
        gap, wall = standing.clearance_mm, standing.least_wall_mm
        floor = self.height_mm + standing.end_gap_mm
        first, last = self.stops()
        start, end = run.start - run.before, run.end + run.after
        groove = start - (gap if first else 0.0), end + (gap if last else 0.0)
        inside, outside = self.inner(run, standing)
        if first and last:
            inside, outside = groove
        ring = self.groove_ring(gap, JUST_INSIDE_MM, floor)
        half = float(np.abs(ring[:, 0]).max())
        sides = np.array(
            [[-half - wall, JUST_INSIDE_MM], [half + wall, JUST_INSIDE_MM], [half + wall, floor], [-half - wall, floor]]
        )
        under = floor + (self.catch_mm + gap if self.catches_at_end else 0.0)
        below = np.array([[-half, under], [half, under], [half, under + wall], [-half, under + wall]])
        bare = self.male_ring()
        bare = np.column_stack([bare[:, 0], np.maximum(bare[:, 1], 0.0)])
        return [
            Tool(
                self.on,
                index,
                add=self.body(self.male_ring(), start, end, matrix),
                clipped=not (first and last),
                probe=self.body(bare, run.start, run.end, matrix),
            ),
            Tool(
                self.female,
                index,
                cut=self.body(self.groove_ring(gap, -OPENING_MM, floor), *groove, matrix),
                bore=self.body(ring, inside, outside, matrix),
                around=self.body(sides, inside - (wall if first else 0.0), outside + (wall if last else 0.0), matrix),
                beyond=self.body(below, inside, outside, matrix),
            ),
        ]

    def motions(self, standing: Standing) -> tuple[Direction, ...]:
        """Straight in, and along the line where it runs through."""
        straight = direction_of(-standing.frame.n)
        return (straight,) if self.ends == "stopped" else (straight, *super().motions(standing))

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """Sharp edges, and a top too thin to print."""
        found = []
        if self.edge_mm < 0.1:
            found.append(SHARP)
        if self.catches_at_end and any(
            run.length < 2 * (OFF_END_MM + 4 * (standing.end_gap_mm + self.catch_mm))
            for place in places
            if (run := self.run(standing, place))
        ):
            found.append(Problem("joint-catch-short", {"catch_mm": self.catch_mm}, "must-fix"))
        if self.top_mm < 2 * standing.line_mm:
            found.append(Problem("joint-under-line", {"top_mm": self.top_mm}, "must-fix"))
        return found

    def thinner(self, by_mm: float) -> Self | None:
        """Narrower, its flanks leaning as they do, and shorter where it stops."""
        thin = thinned(self, by_mm / cos(radians(self.taper_deg)), ("width_mm",))
        return thin and thin.model_copy(update={"stop_mm": self.stop_mm + by_mm})

    def smaller(self) -> Self | None:
        """Four fifths of its measures, in steps of 0.1 mm."""
        return scaled(self, ("width_mm", "height_mm"), 1.0)

    def label(self) -> str:
        """Such as “tongue 3 × 3”."""
        many = f"{self.wanted} tongues" if self.wanted != 1 else "tongue"
        catch = f", catch {self.catch_mm:g}" if self.catches_at_end else ""
        return f"{many} {self.width_mm:g} × {self.height_mm:g}{catch}"

"""Rail: a runner of one piece in a long groove of the other, on which a door slides as far as it is to open and is stopped."""

from collections.abc import Mapping, Sequence
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import MultiPolygon

from hinoki.core.findings import Params
from hinoki.core.forms import Form
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.closures.rail_bodies import box_ring, bump, round_pin
from hinoki.core.join.contract.base import SHARES
from hinoki.core.join.contract.sliding_profile import Run, jams
from hinoki.core.join.contract.strength import ACROSS_LAYERS, Bears, Strength, Stuff
from hinoki.core.join.contract.tail_section import TailJoint
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
    Taken,
    Tool,
    Tools,
    direction_of,
)
from hinoki.core.workshop.fits import Fit

LAND_MM = 1.0
"""what is left of the groove's floor between where its catch is stopped and the way in"""
ON_TOP_MM = 0.6
"""how long a catch is at its top"""
EACH_MM = 4.0
"""between the places at which the walls of its groove are looked at, in a room"""


class RailJoint(TailJoint, frozen=True):
    """A runner with the section of a dovetail, or a round pin that turns as it slides, and its groove, which runs on along
    `along_deg`: the way in which the piece with the runner opens, by `travel_mm`.

    A bump of `catch_mm` on a straight runner goes along in a channel of the groove's floor, as long as the travel: where that
    ends it stops the door, and must be pressed past to take the door off. The groove of a round one is closed at both ends;
    the pin comes straight in.
    """

    words: ClassVar[Mapping[str, str]] = {
        "joint-slide-short": (
            "has a runner of {length_mm:.1f} mm that is {head_mm:g} mm wide: it tips and jams. Make it longer or narrower, or "
            "let two run side by side."
        ),
        "rail-face-short": (
            "has a runner of {runner_mm:g} mm, and {there_mm:.1f} mm of the face to stand on. Make it shorter, or stop it less "
            "before the edge."
        ),
        "joint-catch-short": "has a runner too short for a catch of {catch_mm:g} mm and its slopes. Make the catch smaller.",
        **TailJoint.words,
        "joint-under-line": "is {neck_mm:g} mm thick where it is thinnest, under two printed lines. Make it thicker.",
    }

    form: ClassVar[Form] = Form(
        "Rail",
        "Rail, a door slides on it",
        (
            "count", "runner", "pin_mm", "runner_mm", "neck_mm", "head_mm", "height_mm", "along_deg", "travel_mm", "slack_mm",
            "way_in", "catch_mm", "stop_mm", "edge_mm", "on",
        ),
        when="Doors and covers that slide open and stay on; a round runner guides a folding door.",
        words={
            "runner": {"straight": "Straight, holds", "round": "A pin, turns too"},
            "way_in": {"end": "at the end of the groove", "pocket": "straight in, beyond the travel"},
        },
        only_if={
            **{name: {"runner": ("straight",)} for name in ("runner_mm", "neck_mm", "head_mm", "way_in", "catch_mm")},
            "pin_mm": {"runner": ("round",)},
            "slack_mm": {"runner": ("round",)},
        },
        beside_fit=("count", "along_deg", "travel_mm", "slack_mm", "way_in", "catch_mm", "stop_mm", "on"),
    )  # fmt: skip

    kind: Literal["rail"] = "rail"
    fit: Fit = Field("sliding", title="Fit")
    runner: Literal["straight", "round"] = Field("straight", title="Runner is")
    pin_mm: Measure = Field(3.0, title="Pin", description="diameter of a round runner, mm")
    runner_mm: Measure = Field(20.0, title="Runner", description="how long it is, mm")
    travel_mm: Annotated[float, Field(ge=1, le=2000, allow_inf_nan=False)] = Field(
        40.0, title="Travel", description="how far it opens, mm"
    )
    way_in: Literal["end", "pocket"] = Field("end", title="Goes in", description="where the runner is put into its groove")
    catch_mm: Annotated[float, Field(ge=0, le=2, allow_inf_nan=False)] = Field(
        0.3, title="Catch", description="how far a bump stops it at the end of its travel, mm; 0: nothing stops it"
    )

    slack_mm: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] = Field(
        2.0,
        title="Slack",
        description="how much before a pin its groove begins: leaves pass their straight line, mm",
    )

    @property
    def opens(self) -> bool:
        """Doors do."""
        return True

    @property
    def within_face(self) -> bool:
        """The groove runs on beyond the face, as far as the door goes."""
        return False

    @property
    def long_mm(self) -> float:
        """Of the runner, along its line."""
        return self.pin_mm if self.turning else self.runner_mm

    @property
    def turning(self) -> bool:
        """Whether its runner is a pin that turns in the groove."""
        return self.runner == "round"

    @property
    def half_mm(self) -> float:
        """Half its greatest width."""
        return self.pin_mm / 2 if self.turning else super().half_mm

    @property
    def bumped(self) -> bool:
        """Whether a bump stops it."""
        return self.catch_mm > 0 and not self.turning

    def stops(self) -> tuple[bool, bool]:
        """The groove begins within the face and runs on beyond it."""
        return True, False

    def opening(self, standing: Standing) -> Points:
        """The way (3,) in which the piece with the runner opens."""
        return self.way(standing.frame)

    def motions(self, standing: Standing) -> tuple[Direction, ...]:
        """Back along the groove; a pin straight in."""
        if self.turning:
            return (direction_of(-standing.frame.n),)
        way = self.opening(standing)
        return (direction_of(-way if self.on == "b" else way),)

    def stood(self, standing: Standing, place: Place) -> Run | None:
        """Where its runner stands along its line when the door is shut; None where that misses the face."""
        run = self.run(standing, place)
        return run and Run(run.start, min(run.start + self.long_mm, run.end), 0.0, 0.0)

    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """What its runner takes of the face; where the groove runs is seen by what is cut."""
        run = self.stood(standing, place)
        if run is None:
            return MultiPolygon()
        if self.turning:
            return shapely.Point(np.array(place) + (run.start + run.end) / 2 * self.along).buffer(self.half_mm)
        across, (start, end) = self.half_mm * self.across, (np.array(place) + s * self.along for s in (run.start, run.end))
        return shapely.Polygon([start - across, end - across, end + across, start + across])

    def _high_mm(self, standing: Standing) -> float:
        """What its bump stands out of the runner."""
        return self.catch_mm + standing.end_gap_mm if self.bumped else 0.0

    def _foot_mm(self, standing: Standing) -> float:
        """Half of its bump, at its foot."""
        return ON_TOP_MM / 2 + self._high_mm(standing)

    def _floor_mm(self, standing: Standing) -> float:
        """How deep its groove is, where no bump runs."""
        return self.height_mm + standing.end_gap_mm

    def _deepest_mm(self, standing: Standing) -> float:
        return self._floor_mm(standing) + (self.catch_mm + standing.clearance_mm if self.bumped else 0.0)

    def cut_depth_mm(self, standing: Standing, places: Sequence[Place]) -> float:
        """As deep as its bump runs."""
        return self._deepest_mm(standing)

    def _pocket_mm(self, run: Run, standing: Standing) -> float:
        """Where along its line the runner's start is as it comes straight in: beyond its travel and the channel of its bump."""
        gap = standing.clearance_mm
        stopped = (run.start + run.end) / 2 + self.travel_mm + (self._foot_mm(standing) + gap if self.bumped else 0.0)
        return max(run.end + self.travel_mm, stopped) + gap + LAND_MM + gap

    def _begins_mm(self, run: Run, standing: Standing) -> float:
        """Where along its line the groove begins."""
        return run.start - standing.clearance_mm - (self.slack_mm if self.turning else 0.0)

    def reached_mm(self, run: Run, standing: Standing) -> float:
        """How far along its line the groove lies within the piece."""
        end = run.end + self.travel_mm + standing.clearance_mm
        return self._pocket_mm(run, standing) + run.length + standing.clearance_mm if self.pocketed else end

    @property
    def pocketed(self) -> bool:
        """Whether its runner comes straight in beyond its travel."""
        return self.way_in == "pocket" and not self.turning

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """A runner on one side and its groove in the other, for each place."""
        each: list[Tool] = []
        for index, place in enumerate(places):
            run = self.stood(standing, place)
            if run is not None:
                matrix = self.matrix(standing.frame, place)
                each += [*self._runner(index, standing, run, matrix), self._groove(index, standing, run, matrix, place)]
        return Tools(each)

    def _runner(self, index: int, standing: Standing, run: Run, matrix: Points) -> list[Tool]:
        """The runner, and its bump."""
        middle, root = (run.start + run.end) / 2, ROOT_MM + standing.apart_mm / 2
        if self.turning:
            pins = (round_pin(self.pin_mm / 2, low, self.height_mm, self.edge_mm, middle) for low in (-root, JUST_INSIDE_MM))
            body, probe = (pin.placed(matrix) for pin in pins)
            return [Tool(self.on, index, add=body, probe=probe)]
        whole = self.male_ring()
        whole[whole[:, 1] < 0, 1] = -root
        bare = np.column_stack([whole[:, 0], np.maximum(whole[:, 1], 0.0)])
        body, probe = (Solid.drawn_ring(ring, run.start, run.end).placed(matrix) for ring in (whole, bare))
        found = [Tool(self.on, index, add=body, probe=probe)]
        if self.bumped:
            low = self.height_mm - min(ROOT_MM, self.height_mm / 2)
            male, sleeve = (
                self._bump(standing, middle, middle, low, more, self.half_mm - self.edge_mm + more).placed(matrix)
                for more in (0.0, HAIR_MM)
            )
            found.append(Tool(self.on, index, add=male, bent=Solid.nothing(), sleeve=sleeve))
        return found

    def _bump(self, standing: Standing, first: float, last: float, low: float, grown: float, half: float) -> Solid:
        """The bump from a height up, drawn from one place of its line to another."""
        tall = self.height_mm + self._high_mm(standing) + grown
        return bump(first, last, low, tall, ON_TOP_MM / 2 + grown, half)

    def _groove(self, index: int, standing: Standing, run: Run, matrix: Points, place: Place) -> Tool:
        """The groove, the channel its bump runs in, and the way in."""
        gap, wall, floor = standing.clearance_mm, standing.least_wall_mm, self._floor_mm(standing)
        start, end, deep = self._begins_mm(run, standing), self.reached_mm(run, standing), self._deepest_mm(standing)
        ring = self._section(gap, floor)
        ring[ring[:, 1] < 0, 1] -= standing.apart_mm / 2
        half = float(np.abs(ring[:, 0]).max())
        closed = self.pocketed or self.turning
        cut = [Solid.drawn_ring(ring, start, end if closed else max(end, self._out_mm(standing, place)))]
        if self.bumped:
            middle = (run.start + run.end) / 2
            cut.append(self._bump(standing, middle, middle + self.travel_mm, floor - ROOT_MM, gap, half))
        if self.pocketed:
            pocket = box_ring(half, -OPENING_MM - standing.apart_mm / 2, deep)
            cut.append(Solid.drawn_ring(pocket, self._pocket_mm(run, standing) - gap, end))
        inside, beside = np.maximum(ring, [-np.inf, JUST_INSIDE_MM]), box_ring(half + wall, JUST_INSIDE_MM, floor)
        return Tool(
            self.female,
            index,
            cut=Solid.united(cut).placed(matrix),
            bore=Solid.drawn_ring(inside, start, end).placed(matrix),
            around=Solid.drawn_ring(beside, start - wall, end + (wall if closed else 0.0)).placed(matrix),
            beyond=Solid.drawn_ring(box_ring(half, deep, deep + wall), start, end).placed(matrix),
        )

    def _section(self, gap: float, floor: float) -> Points:
        """The groove's section: its flanks the clearance off the runner, its floor as deep as told."""
        if self.turning:
            return box_ring(self.half_mm + gap, -OPENING_MM, floor)
        ring, lean = self.groove_ring(gap, -OPENING_MM), (self.head_mm - self.neck_mm) / 2 / self.height_mm
        at_floor = ring[:, 1] >= ring[:, 1].max() - 1e-9
        lower = np.where(at_floor, floor - ring[:, 1], 0.0)
        return np.column_stack([ring[:, 0] + np.sign(ring[:, 0]) * lean * lower, ring[:, 1] + lower])

    def _out_mm(self, standing: Standing, place: Place) -> float:
        """How far along its line the piece with the groove ends."""
        if standing.sections is None:
            return 0.0
        low, high = standing.sections.solid(self.female).bounds
        corners = np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
        return float(((corners - standing.frame.world(np.array([place]))[0]) @ self.opening(standing)).max()) + 1.0

    def room(self, standing: Standing, sections: Sections, taken: Taken) -> shapely.Geometry:
        """Where its line may lie: the runner on the face, the groove within the other piece as far as it goes."""
        room = super().room(standing, sections, taken)
        if room.is_empty:
            return room
        half = self.half_mm + standing.clearance_mm + standing.least_wall_mm
        middle = self._middle(room, np.asarray(shapely.get_coordinates(shapely.point_on_surface(room))[0]))
        run = self.stood(standing, middle) if middle else None
        if run is None:
            return room
        begins, end = self._begins_mm(run, standing), self.reached_mm(run, standing)
        steps = np.linspace(begins, end, max(2, round((end - begins) / EACH_MM)))
        deep = self._deepest_mm(standing) + standing.least_wall_mm
        for share in SHARES:
            section = sections.section(self.female, share * deep)
            for along in steps:
                for across in (-half, 0.0, half):
                    away = along * self.along + across * self.across
                    room = shapely.intersection(room, shapely.transform(section, lambda p, away=away: p - away))
        return room

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """Tension of the necks, between their layers: F = σ · neck · length; of pins shear across them."""
        if self.turning:
            area = len(places) * np.pi / 4 * self.pin_mm**2
            return Strength(ACROSS_LAYERS * stuff.shear_mpa * area, "pins in shear, τ·A")
        area = self.neck_mm * sum(run.length for place in places if (run := self.stood(standing, place)))
        return Strength(ACROSS_LAYERS * stuff.tension_mpa * area, "necks in tension, σ·A")

    def bears(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Bears | None:
        """As what holds against pull; a pin, which does not, nothing that is known."""
        return None if self.turning else super().bears(standing, places, stuff)

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """A runner that jams, or has no room on the face or for its catch; what is wrong with its section."""
        if self.turning:
            thin = self.pin_mm < 2 * standing.line_mm
            found = [Problem("joint-under-line", {"neck_mm": self.pin_mm}, "must-fix")] if thin else []
        else:
            found = self.tail_problems(standing)
        if not self.turning and jams(self.runner_mm, self.head_mm):
            found.append(Problem("joint-slide-short", {"length_mm": self.runner_mm, "head_mm": self.head_mm}))
        if self.bumped and self.long_mm < 2 * self._foot_mm(standing):
            found.append(Problem("joint-catch-short", {"catch_mm": self.catch_mm}, "must-fix"))
        for place in places:
            run = self.stood(standing, place)
            if run is not None and run.length < self.long_mm - 0.01:
                params: Params = {"runner_mm": self.long_mm, "there_mm": run.length}
                found.append(Problem("rail-face-short", params, "must-fix", place))
        return found

    def thinner(self, by_mm: float) -> Self | None:
        """Its flanks moved inwards, leaning as they do, its head lower, and shorter; of a pin its diameter."""
        sizes = self.slimmer(by_mm)
        if sizes is None or min(self.runner_mm, self.pin_mm) - 2 * by_mm < 0.8:
            return None
        less = {name: round(getattr(self, name) - 2 * by_mm, 6) for name in ("runner_mm", "pin_mm")}
        return self.model_copy(update={**sizes, **less})

    def label(self) -> str:
        """Such as “rail 5/10 × 3, opens 60”."""
        many = f"{self.wanted} rails" if self.wanted != 1 else "rail"
        size = f"pin ø{self.pin_mm:g}" if self.turning else f"{self.neck_mm:g}/{self.head_mm:g}"
        return f"{many} {size} × {self.height_mm:g}, opens {self.travel_mm:g}"

"""Thread: a threaded plug, or ring, on one piece that screws into a socket of the other."""

import math
from collections.abc import Mapping, Sequence
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from hinoki.core.findings import Params
from hinoki.core.forms import Form
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.base import Small, Spares
from hinoki.core.join.contract.pegs import into
from hinoki.core.join.contract.strength import Strength, Stuff
from hinoki.core.join.contract.terms import (
    OPENING_MM,
    ROOT_MM,
    SIDES,
    Loose,
    Place,
    Problem,
    Sections,
    SideName,
    Standing,
    Tool,
    Tools,
    Turn,
)
from hinoki.core.join.turning.screw_threads import FLANK_DEG, minor_diameter_mm, pitch_diameter_mm, thread_sizes, threaded
from hinoki.core.join.turning.turned_joint import TurnedJoint

Pitch = Annotated[float, Field(ge=0.4, le=20, allow_inf_nan=False)]
WOBBLES_BELOW = 0.4
"""engagement as a share of the diameter (common practice: M25 with 5 mm wobbles, with 10 mm it is firm)"""
MOST_PITCH = 0.3
"""pitch as a share of the diameter: with more, less than two thirds of the diameter are left at the roots"""


class ThreadJoint(TurnedJoint, frozen=True):
    """A thread of `length_mm` engagement about the normal of the face; a ring with `bore_mm` through it where that is set."""

    words: ClassVar[Mapping[str, str]] = {
        "thread-too-fine": (
            "has ridges of {deep_mm:.2f} mm; the printer draws lines of {line_mm:g} mm. Use a pitch of {pitch_mm:g} mm or more."
        ),
        "thread-wobbles": (
            "is engaged over {length_mm:g} mm: below about 0.4 times its diameter it wobbles. Make it {least_mm} mm long."
        ),
        "thread-turns-on/part": (
            "is tight {deg:.0f}° after the faces touch as they do in the model. Choose “Outsides line up” where that is seen."
        ),
        "thread-turns-on/loose": "is tight {deg:.0f}° after the faces touch as they do in the model. Mark how they stand.",
        "thread-thin-ring": (
            "leaves {ring_mm:.2f} mm between its bore and the roots of its ridges; {least_mm:g} mm is the least. Make the "
            "bore smaller."
        ),
    }

    form: ClassVar[Form] = Form(
        "Thread",
        "Thread, screws in",
        (
            "diameter_mm", "pitch_mm", "length_mm", "bore_mm", "hand", "starts", "lines_up", "tip_mm", "collar_mm", "plug",
            "spares", "on",
        ),
        when="Comes apart again and holds fast. Printed upright, a little grease on it.",
        words={
            "hand": {"right": "right, as usual", "left": "left"},
            "plug": {"part": "part of a piece", "loose": "loose, into both pieces"},
        },
        only_if={"lines_up": {"plug": ("part",)}, "spares": {"plug": ("loose",)}},
        beside_fit=("lines_up", "collar_mm", "plug", "spares", "on"),
    )  # fmt: skip

    kind: Literal["thread"] = "thread"
    diameter_mm: Measure = Field(20.0, title="Diameter", description="over the ridges, mm")
    pitch_mm: Pitch = Field(2.5, title="Pitch", description="from ridge to ridge, mm; coarse ones print better")
    length_mm: Measure = Field(10.0, title="Engagement", description="how far it screws in, mm")
    starts: int = Field(1, ge=1, le=4, title="Starts", description="ridges side by side: fewer turns to the end")
    lines_up: bool = Field(
        False, title="Outsides line up", description="turned so that it is tight where the pieces stand as in the model"
    )
    tip_mm: Small | None = Field(None, title="Start chamfer", description="45°, mm; none: as deep as the thread")
    plug: Literal["part", "loose"] = Field("part", title="Plug", description="part of a piece, or loose between two sockets")
    spares: Spares | None = Field(None, title="Spares", description="of a loose plug; none: by its size")

    @model_validator(mode="after")
    def _has_a_core(self) -> "ThreadJoint":
        if self.pitch_mm > MOST_PITCH * self.diameter_mm:
            raise ValueError(
                f"a pitch of {self.pitch_mm:g} mm leaves no core in a thread of {self.diameter_mm:g} mm; "
                f"{MOST_PITCH * self.diameter_mm:.1f} mm is the most"
            )
        return self

    def reach_mm(self, side: SideName) -> float:
        """Its length on the side of the socket."""
        return self.length_mm if side in self.sockets else 0.0

    @property
    def sockets(self) -> tuple[SideName, ...]:
        """The sides that have a socket."""
        return SIDES if self.plug == "loose" else (self.female,)

    @property
    def stands_on(self) -> SideName | None:
        """The side its plug grows from."""
        return None if self.plug == "loose" else super().stands_on

    @property
    def spares_wanted(self) -> int | None:
        """As typed."""
        return self.spares

    def loose_name(self) -> str | None:
        """Such as “threaded plug 20 × 2.5, 20 long”."""
        if self.plug == "part":
            return None
        hand = ", left-handed" if self.hand == "left" else ""
        return f"threaded plug {self.diameter_mm:g} × {self.pitch_mm:g}, {2 * self.length_mm:g} long{hand}"

    @property
    def minor_mm(self) -> float:
        """Diameter at the roots."""
        return minor_diameter_mm(self.diameter_mm, self.pitch_mm)

    @property
    def deep_mm(self) -> float:
        """Height of the ridges."""
        return (self.diameter_mm - self.minor_mm) / 2

    @property
    def chamfer_mm(self) -> float:
        """Of the plug's end and of the socket's mouth."""
        wanted = self.deep_mm if self.tip_mm is None else self.tip_mm
        return min(wanted, 0.4 * self.length_mm)

    def tightens_deg(self, clearance_mm: float) -> float:
        """The angle by which the thread turns on, once the faces touch, before its flanks do: the play along the axis, as a
        part of a turn."""
        play = clearance_mm * math.tan(math.radians(FLANK_DEG))
        return 360.0 * play / (self.starts * self.pitch_mm)

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """The plug or ring on one side, the socket in the other."""
        each: list[Tool] = []
        loose: list[Loose] = []
        for index, place in enumerate(places[:1]):
            for side in self.sockets:
                each.append(self._socket(side, index, standing, into(standing.frame, side, place)))
            if self.plug == "part":
                each.append(self._plug(index, standing, into(standing.frame, self.female, place)))
                continue
            # a thread looks the same from both ends: both halves have one hand
            halves = [self._pointed(standing, 0.0).placed(into(standing.frame, side, place)) for side in SIDES]
            loose.append(Loose(Solid.united(halves), standing.frame.to_frame))
        return Tools(each, loose)

    def _plug(self, index: int, standing: Standing, matrix: np.ndarray) -> Tool:
        gap = standing.clearance_mm
        shift = -gap * math.tan(math.radians(FLANK_DEG)) if self.lines_up else 0.0
        plug = self._pointed(standing, shift)
        # its clearance is told with the play shared by both flanks, as it is before it is tight
        middle = self._pointed(standing, 0.0) if self.lines_up else plug
        wide = self.diameter_mm
        probe = middle.common(Solid.box([-wide, -wide, 0.02], [wide, wide, self.length_mm]))
        return Tool(self.male, index, add=plug.placed(matrix), probe=probe.placed(matrix))

    def _pointed(self, standing: Standing, shifted_mm: float) -> Solid:
        """The threaded bar smaller by the clearance, its end chamfered, its bore through it."""
        gap, tip, high = standing.clearance_mm, self.chamfer_mm, self.length_mm
        thread = threaded(
            self.diameter_mm, self.pitch_mm, -ROOT_MM, high, starts=self.starts, right=self.hand == "right", grown_mm=-gap,
            shifted_mm=shifted_mm,
        )  # fmt: skip
        wide = self.diameter_mm / 2 - gap
        if tip > 0:
            straight = Solid.cylinder(wide + 1, -1, high - tip + 1e-3)
            thread = thread.common(straight.plus([Solid.cone(wide + 1e-3, wide - tip, high - tip, high)]))
        return self.bored(thread)

    def _socket(self, side: SideName, index: int, standing: Standing, matrix: np.ndarray) -> Tool:
        deep = self.length_mm + standing.end_gap_mm
        outer, inner = self.diameter_mm / 2, self.minor_mm / 2
        groove = threaded(
            self.diameter_mm, self.pitch_mm, -OPENING_MM, deep, starts=self.starts, right=self.hand == "right", around=True
        )
        # the mouth is open by 45°, so that no ridge begins in mid-air and the first turn finds its way
        mouth = Solid.cone(outer + OPENING_MM, inner, -OPENING_MM, outer - inner)
        cut = groove.plus([mouth]) if self.chamfer_mm > 0 else groove
        return self.socketed(side, index, standing, cut, matrix)

    def gap_share(self, clearance_mm: float) -> float:
        """How far apart flanks stand where one body is smaller by 1 in radius: the radial part of a flank's normal, where the
        thread climbs most steeply, at the roots of the plug."""
        slope = 1 / math.tan(math.radians(FLANK_DEG))
        climb = self.starts * self.pitch_mm / (math.pi * (self.minor_mm - 2 * clearance_mm))
        return 1 / math.sqrt(1 + slope**2 * (1 + climb**2))

    @property
    def turn(self) -> Turn:
        """Along its helix, until its ridges are free."""
        lead = self.starts * self.pitch_mm
        return Turn(self.length_mm / lead, lead, self.length_mm, 1 if self.hand == "right" else -1)

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """Stripping of the ridges at the pitch diameter, half of whose cylinder is ridge: F = τ · π · d2 · L / 2."""
        area = math.pi * pitch_diameter_mm(self.diameter_mm, self.pitch_mm) * self.length_mm / 2
        return Strength(len(places[:1]) * stuff.shear_mpa * area, "thread stripping, τ·π·d2·L/2")

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """Ridges that do not print, too little engagement, a ring too thin."""
        found = []
        if self.deep_mm < standing.line_mm:
            found.append(
                Problem(
                    "thread-too-fine",
                    {
                        "deep_mm": self.deep_mm,
                        "line_mm": standing.line_mm,
                        "pitch_mm": math.ceil(standing.line_mm / 0.54 * 10) / 10,
                    },
                    "must-fix",
                )
            )
        least = WOBBLES_BELOW * self.diameter_mm
        if self.length_mm < least - 1e-6:
            found.append(
                Problem(
                    "thread-wobbles",
                    {"length_mm": self.length_mm, "least_mm": math.ceil(least)},
                    # the faces around a ring keep it from tipping
                    "note" if self.bore_mm else "look-at",
                )
            )
        if not (self.lines_up and self.plug == "part") and standing.clearance_mm > 0:
            params: Params = {
                "deg": self.tightens_deg(standing.clearance_mm),
                "case": "part" if self.plug == "part" else "loose",
            }
            found.append(Problem("thread-turns-on", params, "note"))
        ring = self.ring_mm(standing)
        if self.bore_mm and ring < standing.least_wall_mm - 1e-6:
            found.append(
                Problem("thread-thin-ring", {"ring_mm": max(ring, 0.0), "least_mm": standing.least_wall_mm}, "must-fix")
            )
        return found

    def smaller(self) -> Self | None:
        """The next smaller size of ISO 261 with its coarse pitch, as much shorter; a ring has none, since its bore is given."""
        less = [s for s in thread_sizes() if s.diameter_mm < self.diameter_mm - 1e-6 and s.diameter_mm >= 6]
        if not less or self.bore_mm:
            return None
        length = max(2.0, round(2 * self.length_mm * less[0].diameter_mm / self.diameter_mm) / 2)
        return self.model_copy(
            update={"diameter_mm": less[0].diameter_mm, "pitch_mm": less[0].pitch_mm, "length_mm": min(self.length_mm, length)}
        )

    def label(self) -> str:
        """Such as “thread M30 × 3.5, 12 long”."""
        sizes = {(s.diameter_mm, s.pitch_mm) for s in thread_sizes()}
        name = "M" if (self.diameter_mm, self.pitch_mm) in sizes else "ø"
        more = (
            (", loose plug" if self.plug == "loose" else "")
            + (f", {self.starts} starts" if self.starts > 1 else "")
            + (", left-handed" if self.hand == "left" else "")
        )
        return f"thread {name}{self.diameter_mm:g} × {self.pitch_mm:g}, {self.length_mm:g} long{more}"

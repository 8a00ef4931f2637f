"""Pin: a peg that is part of one piece and goes into a bore in the other."""

from collections.abc import Sequence
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.male_side import SidedJoint
from hinoki.core.join.contract.pegs import PEG_WORDS, PegJoint, into
from hinoki.core.join.contract.terms import ROOT_MM, Place, Problem, Sections, SideName, Standing, Tool, Tools

RIB_MM = 0.5
"""radius of a crush rib"""


class PinJoint(SidedJoint, PegJoint, frozen=True):
    """Pins stand out of side `on` by `length_mm`."""

    form: ClassVar[Form] = Form(
        "Pins",
        "Pins, part of a piece",
        ("count", "stand", "shape", "diameter_mm", "length_mm", "one_way", "tip_mm", "ribs", "collar_mm", "collar_runs", "on"),
        when="They find the place. Where the face has room.",
        words=PEG_WORDS,
        beside_fit=("count", "stand", "one_way", "collar_mm", "collar_runs", "on"),
    )

    kind: Literal["pin"] = "pin"
    ribs: int = Field(0, ge=0, le=6, title="Crush ribs", description="ridges as high as the bore, pressed flat; round pins")

    def reach_mm(self, side: SideName) -> float:
        """The pin's length on the bored side, nothing on the side it grows from."""
        return 0.0 if side == self.male else self.length_mm

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """A pin added on one side and a bore cut in the other, for each place."""
        each: list[Tool] = []
        for index, place in enumerate(places):
            matrix = into(standing.frame, self.female, place)
            pin = self.tipped(-ROOT_MM, self.length_mm, both=False)
            probe = pin.minus([Solid.box([-500, -500, -1], [500, 500, 0.02])]).placed(matrix)
            ribbed = pin.plus(self._ribs(standing)) if self.ribs else pin
            each.append(Tool(self.male, index, add=ribbed.placed(matrix), probe=probe))
            each.append(self.bored(self.female, index, standing, place))
        return Tools(each)

    def _ribs(self, standing: Standing) -> list[Solid]:
        """Ridges along the pin that just reach the bore's wall."""
        if self.shape != "round" or standing.clearance_mm <= 0:
            return []
        radius = min(RIB_MM, 0.15 * self.diameter_mm)
        away = self.half_mm + standing.clearance_mm - radius
        turns = 2 * np.pi * np.arange(self.ribs) / self.ribs
        bar = Solid.cylinder(radius, -ROOT_MM, max(0.3, self.length_mm - 1.5 * self.chamfer_mm))
        return [bar.moved(away * float(np.cos(t)), away * float(np.sin(t)), 0) for t in turns]

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """Ribs that cannot be there, and pins thinner than two printed lines."""
        found = thin_pegs(self, standing)
        if self.ribs and (self.shape != "round" or standing.clearance_mm <= 0):
            found.append(Problem("joint-ribs", severity="note"))
        return found

    def label(self) -> str:
        """Such as “3 pins ø5 × 6”."""
        return f"{self.wanted} {'pin' if self.wanted == 1 else 'pins'} {across(self)} × {self.length_mm:g}"


def thin_pegs(joint: PegJoint, standing: Standing) -> list[Problem]:
    """A peg under two printed lines does not print."""
    if joint.diameter_mm >= 2 * standing.line_mm:
        return []
    return [Problem("joint-under-line", {"diameter_mm": joint.diameter_mm, "line_mm": standing.line_mm}, "must-fix")]


def across(joint: PegJoint) -> str:
    """The measure across a peg, such as “ø5” or “□10”."""
    return f"{'□' if joint.shape == 'square' else 'ø'}{joint.diameter_mm:g}"

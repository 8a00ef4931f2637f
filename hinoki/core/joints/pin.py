"""Pin: a peg that is part of one piece and goes into a bore in the other."""

from collections.abc import Sequence
from typing import Literal

from pydantic import Field

from hinoki.core.frames import Frame
from hinoki.core.joints.base import Peg, Place, SideName, Tools
from hinoki.core.joints.pegs import ROOT_MM, PegJoint, placed_at


class PinJoint(PegJoint, frozen=True):
    """Pins stand out of side `on` by `length_mm`."""

    kind: Literal["pin"] = "pin"
    on: SideName = Field("a", title="Stands on")

    def reach_mm(self, side: SideName) -> float:
        """The pin's length on the bored side, nothing on the side it grows from."""
        return 0.0 if side == self.on else self.length_mm

    def tools(self, frame: Frame, places: Sequence[Place], clearance_mm: float, least_wall_mm: float) -> Tools:
        """A pin added on one side and a bore cut in the other, for each place."""
        bored: SideName = "b" if self.on == "a" else "a"
        pegs: list[Peg] = []
        for index, place in enumerate(places):
            seen = frame if self.on == "a" else frame.flipped()
            matrix = placed_at(seen, place if self.on == "a" else (place[0], -place[1]))
            pin = self.tipped(-ROOT_MM, self.length_mm, both=False).placed(matrix)
            pegs.append(Peg(self.on, index, add=pin))
            pegs.append(self.bored(bored, index, frame, place, clearance_mm, least_wall_mm))
        return Tools(pegs)

    def label(self) -> str:
        """Such as “3 pins ø5 × 6”."""
        return f"{self.wanted} {'pin' if self.wanted == 1 else 'pins'} {across(self)} × {self.length_mm:g}"

    def loose_name(self) -> str | None:
        """Pins are part of a piece."""
        return None


def across(joint: PegJoint) -> str:
    """The measure across a peg, such as “ø5” or “□10”."""
    return f"{'ø' if joint.shape == 'round' else '□'}{joint.diameter_mm:g}"

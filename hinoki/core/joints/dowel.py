"""Dowel: a loose peg, with a bore for one half of it in each piece."""

from collections.abc import Sequence
from typing import Literal

from hinoki.core.frames import Frame
from hinoki.core.joints.base import Peg, Place, SideName, Tools
from hinoki.core.joints.pegs import PegJoint, placed_at
from hinoki.core.joints.pin import across


class DowelJoint(PegJoint, frozen=True):
    """Loose pegs of `length_mm`, half of it in each piece."""

    kind: Literal["dowel"] = "dowel"

    def reach_mm(self, side: SideName) -> float:  # noqa: ARG002
        """Half the dowel on either side."""
        return self.length_mm / 2

    def tools(self, frame: Frame, places: Sequence[Place], clearance_mm: float, least_wall_mm: float) -> Tools:
        """A bore on both sides and a loose dowel in between, for each place."""
        pegs: list[Peg] = []
        loose = []
        for index, place in enumerate(places):
            pegs.append(self.bored("a", index, frame, place, clearance_mm, least_wall_mm))
            pegs.append(self.bored("b", index, frame, place, clearance_mm, least_wall_mm))
            half = self.length_mm / 2
            loose.append(self.tipped(-half, half, both=True).placed(placed_at(frame, place)))
        return Tools(pegs, loose)

    def label(self) -> str:
        """Such as “2 dowels ø5 × 10”."""
        return f"{self.wanted} {'dowel' if self.wanted == 1 else 'dowels'} {across(self)} × {self.length_mm:g}"

    def loose_name(self) -> str | None:
        """Such as “dowel 5 × 10”."""
        return f"{'square ' if self.shape == 'square' else ''}dowel {self.diameter_mm:g} × {self.length_mm:g}"

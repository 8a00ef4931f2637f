"""Dowel: a loose peg, with a bore for a part of it in each piece."""

from collections.abc import Sequence
from typing import ClassVar, Literal

from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.measures import Measure
from hinoki.core.join.contract.base import Spares
from hinoki.core.join.contract.pegs import PEG_WORDS, PegJoint, placed_at
from hinoki.core.join.contract.terms import Loose, Place, Problem, Sections, SideName, Standing, Tool, Tools
from hinoki.core.join.joints.pin import across, thin_pegs


class DowelJoint(PegJoint, frozen=True):
    """Loose pegs of `length_mm`, half of it in each piece or `in_a_mm` of it in piece A."""

    form: ClassVar[Form] = Form(
        "Dowels",
        "Dowels, loose",
        (
            "count",
            "stand",
            "shape",
            "diameter_mm",
            "length_mm",
            "in_a_mm",
            "one_way",
            "tip_mm",
            "collar_mm",
            "collar_runs",
            "spares",
        ),
        when="As pins, where neither piece should print with something standing out.",
        words=PEG_WORDS,
        beside_fit=("count", "stand", "one_way", "collar_mm", "collar_runs", "spares"),
    )  # fmt: skip

    kind: Literal["dowel"] = "dowel"
    in_a_mm: Measure | None = Field(None, title="Of it in the first", description="length in the lower piece, mm; none: half")

    spares: Spares | None = Field(None, title="Spares", description="printed beyond those needed; none: by their size")

    @property
    def spares_wanted(self) -> int | None:
        """As typed."""
        return self.spares

    def reach_mm(self, side: SideName) -> float:
        """What of the dowel lies on a side."""
        inside = self.length_mm / 2 if self.in_a_mm is None else min(self.in_a_mm, self.length_mm - 0.5)
        return inside if side == "a" else self.length_mm - inside

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """A bore on both sides and a loose dowel in between, for each place."""
        each: list[Tool] = []
        loose: list[Loose] = []
        for index, place in enumerate(places):
            each += [self.bored("a", index, standing, place), self.bored("b", index, standing, place)]
            dowel = self.tipped(-self.reach_mm("a"), self.reach_mm("b"), both=True)
            loose.append(Loose(dowel.placed(placed_at(standing.frame, place)), standing.frame.to_frame))
        return Tools(each, loose)

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """Dowels thinner than two printed lines."""
        return thin_pegs(self, standing)

    def label(self) -> str:
        """Such as “2 dowels ø5 × 10”."""
        return f"{self.wanted} {'dowel' if self.wanted == 1 else 'dowels'} {across(self)} × {self.length_mm:g}"

    def loose_name(self) -> str | None:
        """Such as “dowel 5 × 10”."""
        kind = {"round": "", "square": "square ", "flat": "flatted "}[self.shape]
        return f"{kind}dowel {self.diameter_mm:g} × {self.length_mm:g}"

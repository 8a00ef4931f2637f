"""A kind of joint, a kind of parting and an operation that Hinoki does not have, as somebody would add them.

Registering is what their line in the unions does: it comes before anything reads what a plan is. So this module is imported
first, by a process of its own (`tests.with_new_kinds`) and by its workers.
"""

import sys
from collections.abc import Mapping, Sequence
from typing import Annotated, Any, ClassVar, Literal, Self

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.divide import partings
from hinoki.core.divide.partings import Cut, CutUp, Member, PartingBase
from hinoki.core.divide.partings.base import Reach, Remark, uncut
from hinoki.core.forms import Form, kinds_of
from hinoki.core.geometry.filmless_cut import split_at
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join import joints
from hinoki.core.join.contract.male_side import SidedJoint
from hinoki.core.join.contract.pegs import PegJoint, into
from hinoki.core.join.contract.terms import Place, Problem, Sections, SideName, Standing, Tool, Tools


class StubJoint(SidedJoint, PegJoint, frozen=True):
    """Stubs: pegs without a tip that stand out of one side."""

    form: ClassVar[Form] = Form(
        "Stubs",
        "Stubs, part of a piece",
        ("count", "shape", "diameter_mm", "length_mm", "paint", "coats", "on"),
        when="To try how a kind is added.",
        words={"paint": {"bare": "left bare", "oiled": "with oil"}},
        only_if={"coats": {"paint": ("oiled",)}},
    )
    words: ClassVar[Mapping[str, str]] = {"joint-stub-wide": "is {diameter_mm:g} mm wide and {length_mm:g} long: it wobbles."}
    kind: Literal["stub"] = "stub"
    paint: Literal["bare", "oiled"] = Field("bare", title="Paint")
    coats: int = Field(1, ge=1, le=5, title="Coats")

    def reach_mm(self, side: SideName) -> float:
        """Its length on the bored side."""
        return 0.0 if side == self.male else self.length_mm

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """A bar and a bore for each."""
        each: list[Tool] = []
        for index, place in enumerate(places):
            matrix = into(standing.frame, self.female, place)
            bar = self.bar(0.0, -0.05, self.length_mm)
            probe = self.bar(0.0, 0.02, self.length_mm).placed(matrix)
            each.append(Tool(self.male, index, add=bar.placed(matrix), probe=probe))
            each.append(self.bored(self.female, index, standing, place))
        return Tools(each)

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:  # noqa: ARG002
        """One that is wider than long."""
        if self.diameter_mm <= self.length_mm:
            return []
        return [Problem("joint-stub-wide", {"diameter_mm": self.diameter_mm, "length_mm": self.length_mm}, "note")]

    def label(self) -> str:
        """Such as “2 stubs ø5”."""
        return f"{self.wanted} stubs ø{self.diameter_mm:g}"


class HalvesParting(PartingBase, frozen=True):
    """Parts everything it meets across its longest side."""

    form: ClassVar[Form] = Form("Halves", "halves", ("share",))
    words: ClassVar[Mapping[str, str]] = {"parting-uneven": "{parting} leaves {share:g} of a piece below."}
    kind: Literal["halves"] = "halves"
    share: float = Field(0.5, ge=0.1, le=0.9, title="Below", description="share of the longest side", allow_inf_nan=False)

    def members(self, reach: Reach) -> list[Member]:
        """The one plane."""
        axis = int(np.argmax(reach.high - reach.low))
        at = reach.low + self.share * (reach.high - reach.low)
        return [Member(0, plane_frame(at, np.eye(3)[axis]))]

    def cut(self, solid: Solid, members: Sequence[Member]) -> CutUp:
        """Above and below."""
        above, below = split_at(solid, members[0].frame)
        if above.empty or below.empty:
            return uncut(solid)
        remarks = (Remark("note", "parting-uneven", {"share": self.share}),) if self.share != 0.5 else ()
        return CutUp((Cut("-", below, ((0, -1),)), Cut("+", above, ((0, 1),))), remarks)

    def label(self) -> str:
        """Its name."""
        return "Halves"

    def mirrored(self, axis: int, about_mm: float) -> Self:  # noqa: ARG002
        """The same."""
        return self

    def moved(self, shift: Points) -> Self:  # noqa: ARG002
        """The same."""
        return self


def _more(union: object, discriminator: str, *kinds: type[BaseModel]) -> Any:
    """The line that is added to a union."""
    from typing import Union

    return Annotated[Union[(*kinds_of(union), *kinds)], Field(discriminator=discriminator)]


assert "hinoki.core.plan.plan" not in sys.modules, "new kinds come before what a plan is"
joints.Joint = _more(joints.Joint, "kind", StubJoint)  # type: ignore[misc]
partings.Parting = _more(partings.Parting, "kind", HalvesParting)  # type: ignore[misc]

from hinoki.operations.context import Context  # noqa: E402
from hinoki.operations.registry import operation  # noqa: E402


class Heavier(BaseModel):
    """Which pieces are asked for."""

    than_mm3: float = Field(ge=0, allow_inf_nan=False)


class HeavyPieces(BaseModel):
    """Numbers of pieces."""

    numbers: list[int]


@operation("heavier-pieces", "check", "Weighing pieces", needs=("numbers",))
def heavier_pieces(asked: Heavier, context: Context) -> HeavyPieces:
    """Find the pieces with a larger volume."""
    numbered = enumerate(context.built().pieces, 1)
    return HeavyPieces(numbers=[k for k, piece in numbered if piece.solid.volume_mm3 > asked.than_mm3])

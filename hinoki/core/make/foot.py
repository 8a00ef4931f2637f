"""Foot: a round foot to stand on, with a hole for a screw from below."""

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.solid import Solid
from hinoki.core.make.base import Made, MakerBase, NotMade, Or0, Size
from hinoki.core.make.screw_holes import HEAD
from hinoki.core.progress import Tell


class FootMaker(MakerBase, frozen=True):
    """A round foot, wider at the top or the bottom as wished. Its top, at Z 0, lies on the part; it grows away from it."""

    form: ClassVar[Form] = Form(
        "Foot", "to stand on", ("top_mm", "bottom_mm", "high_mm", "screw_mm", "peg_mm", "peg_long_mm"), group="On a face",
        only_if={"peg_long_mm": {"peg_mm": "set"}},
    )  # fmt: skip

    kind: Literal["foot"] = "foot"
    top_mm: Size = Field(20.0, title="Top", description="diameter at the part")
    bottom_mm: Size = Field(16.0, title="Bottom", description="diameter it stands on")
    high_mm: Size = Field(10.0, title="High")
    screw_mm: Or0 = Field(3.4, title="Screw hole", description="diameter; 0 for none")
    peg_mm: Or0 = Field(0.0, title="Peg", description="diameter of what goes into the part; 0 for none; cut its seat after")
    peg_long_mm: Size = Field(6.0, title="Peg long")

    def make(self, host: Solid | None, clearance_mm: float, tell: Tell) -> Made:  # noqa: ARG002
        """About Z from Z 0 up to its height. Raises NotMade."""
        tell(0.2, "Making the foot")
        foot = Solid.cone(self.top_mm / 2, self.bottom_mm / 2, 0.0, self.high_mm)
        if self.screw_mm > 0 and self.peg_mm > 0:
            raise NotMade("A foot has a screw hole or a peg; take one of the two away.")
        if max(self.screw_mm * HEAD, self.peg_mm) > min(self.top_mm, self.bottom_mm) - 1.6:
            raise NotMade("The foot is too narrow for its screw or peg. Make it wider.")
        if self.screw_mm > 0:
            head, floor = HEAD * self.screw_mm / 2, min(3.0, self.high_mm / 2)
            through = Solid.cylinder(self.screw_mm / 2, -1.0, self.high_mm + 1.0, around=True)
            foot = foot.minus([through, Solid.cylinder(head, floor, self.high_mm + 1.0, around=True)])
        if self.peg_mm > 0:
            foot = foot.plus([Solid.cylinder(self.peg_mm / 2, -self.peg_long_mm, 0.01)])
        return Made(foot, (f"stands on {np.pi * (self.bottom_mm / 2) ** 2 / 100:.1f} cm²",))

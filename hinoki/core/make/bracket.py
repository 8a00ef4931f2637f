"""Bracket: two plates at an angle with a rib between them and holes for screws."""

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.solid import Solid
from hinoki.core.make.base import Made, MakerBase, NotMade, Or0, Size
from hinoki.core.make.screw_holes import HEAD, screw_hole
from hinoki.core.progress import Tell


class BracketMaker(MakerBase, frozen=True):
    """An angle of two plates: one lies on the face, the other stands up from it."""

    form: ClassVar[Form] = Form(
        "Bracket",
        "holds two things at right angles",
        ("lies_mm", "stands_mm", "wide_mm", "thick_mm", "rib_mm", "screw_mm", "screws"),
        group="On a face",
        only_if={"screws": {"screw_mm": "set"}},
    )

    kind: Literal["bracket"] = "bracket"
    lies_mm: Size = Field(40.0, title="Lies", description="length on the face")
    stands_mm: Size = Field(40.0, title="Stands", description="height")
    wide_mm: Size = Field(24.0, title="Wide")
    thick_mm: Size = Field(4.0, title="Thick")
    rib_mm: Or0 = Field(3.0, title="Rib", description="thickness of the rib in the middle; 0 for none")
    screw_mm: Or0 = Field(4.2, title="Screw holes", description="diameter; 0 for none")
    screws: int = Field(2, ge=1, le=2, title="Holes in each plate")

    def make(self, host: Solid | None, clearance_mm: float, tell: Tell) -> Made:  # noqa: ARG002
        """The corner at X 0, lying along X, across Y about the middle. Raises NotMade."""
        tell(0.2, "Making the bracket")
        thick, half = self.thick_mm, self.wide_mm / 2
        if min(self.lies_mm, self.stands_mm) <= 2 * thick:
            raise NotMade("The plates are not longer than they are thick. Make them longer.")
        lies = Solid.box((0.0, -half, 0.0), (self.lies_mm, half, thick))
        stands = Solid.box((0.0, -half, 0.0), (thick, half, self.stands_mm))
        body = Solid.united([lies, stands])
        if self.rib_mm > 0:
            leg_x, leg_z = 0.75 * (self.lies_mm - thick), 0.75 * (self.stands_mm - thick)
            corner = np.array([(thick - 0.01, thick - 0.01), (thick + leg_x, thick - 0.01), (thick - 0.01, thick + leg_z)])
            rib = Solid.drawn_ring(corner, -self.rib_mm / 2, self.rib_mm / 2)
            body = body.plus([rib.placed(np.array([[1.0, 0, 0, 0], [0, 0, -1.0, 0], [0, 1.0, 0, 0]]))])
        if self.screw_mm <= 0:
            return Made(body, ())
        return Made(body.minus(self._holes()), (f"{2 * self.screws} screws",))

    def _holes(self) -> list[Solid]:
        head, thick = HEAD * self.screw_mm, self.thick_mm
        side = (self.wide_mm + self.rib_mm) / 4 if self.rib_mm > 0 or self.screws == 2 else 0.0
        room = (self.wide_mm - self.rib_mm) / 2 if side else self.wide_mm
        if room < head + 1.0:
            raise NotMade(
                f"Beside the rib are {room:.1f} mm; the head of a screw of {self.screw_mm:.1f} mm needs {head + 1:.1f} mm. "
                "Make the bracket wider."
            )
        places = [-side, side] if self.screws == 2 else [side]
        hole = screw_hole(self.screw_mm, thick)
        turn = np.array([[0.0, 0, 1.0, 0], [0, 1.0, 0, 0], [-1.0, 0, 0, 0]])  # from lying to standing
        up = hole.placed(turn)
        x, z = thick + 0.6 * (self.lies_mm - thick), thick + 0.6 * (self.stands_mm - thick)
        return [t for y in places for t in (hole.moved(x, y, 0.0), up.moved(0.0, y, z))]

"""Handle: a bow with room for fingers, on two feet with holes for screws."""

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.solid import Solid
from hinoki.core.make.base import Made, MakerBase, NotMade, Or0, Size
from hinoki.core.make.screw_holes import HEAD, screw_hole
from hinoki.core.progress import Tell


class HandleMaker(MakerBase, frozen=True):
    """A straight bar on two posts. The room under it and between them is what the hand has."""

    form: ClassVar[Form] = Form(
        "Handle",
        "a bow to hold it by",
        ("grip_mm", "room_mm", "across_mm", "foot_mm", "foot_high_mm", "screw_mm"),
        group="On a face",
        only_if={"foot_high_mm": {"screw_mm": "set"}, "foot_mm": {"screw_mm": "set"}},
    )

    kind: Literal["handle"] = "handle"
    grip_mm: Size = Field(90.0, title="Grip", description="room between the posts")
    room_mm: Size = Field(30.0, title="Room", description="between the bar and what it stands on")
    across_mm: Size = Field(14.0, title="Bar", description="its width and height")
    foot_mm: Size = Field(16.0, title="Feet", description="how far they reach outwards, with a screw hole each")
    foot_high_mm: Size = Field(4.0, title="Feet thick")
    screw_mm: Or0 = Field(4.2, title="Screw holes", description="diameter; 0 for none, and no feet")

    def make(self, host: Solid | None, clearance_mm: float, tell: Tell) -> Made:  # noqa: ARG002
        """About Z, along X, on Z 0. Raises NotMade."""
        tell(0.2, "Making the handle")
        half, bar, top = self.grip_mm / 2, self.across_mm, self.room_mm + self.across_mm
        edge = bar * 0.22  # the bar's section is a square with its edges taken off, so that it lies well in the hand
        corner = np.array([(edge, 0), (bar - edge, 0), (bar, edge), (bar, bar - edge), (bar - edge, bar), (edge, bar),
                           (0, bar - edge), (0, edge)]) - bar / 2  # fmt: skip
        grip = Solid.drawn_ring(corner, -half - bar, half + bar).placed(
            np.array([[0.0, 0.0, 1.0, 0.0], [1.0, 0.0, 0.0, 0.0], [0.0, 1.0, 0.0, self.room_mm + bar / 2]])
        )
        posts = [Solid.drawn_ring(corner, 0.0, top - bar / 2).moved(s * (half + bar / 2), 0.0, 0.0) for s in (-1, 1)]
        body = Solid.united([grip, *posts])
        if self.screw_mm <= 0:
            return Made(body, ())
        reach, wide = half + bar + self.foot_mm, max(bar, HEAD * self.screw_mm + 3.0)
        if self.foot_mm < HEAD * self.screw_mm + 2.0:
            raise NotMade(
                f"A foot of {self.foot_mm:.1f} mm has no room for the head of a screw of {self.screw_mm:.1f} mm. "
                f"Make it {HEAD * self.screw_mm + 2.0:.1f} mm or more."
            )
        foot = Solid.box((half, -wide / 2, 0.0), (reach, wide / 2, self.foot_high_mm))
        mirror = np.array([[-1.0, 0, 0, 0], [0, -1.0, 0, 0], [0, 0, 1.0, 0]])
        at = half + bar + self.foot_mm / 2
        holes = [screw_hole(self.screw_mm, self.foot_high_mm).moved(s * at, 0.0, 0.0) for s in (-1, 1)]
        body = body.plus([foot, foot.placed(mirror)]).minus(holes)
        return Made(body, (f"screws {2 * at:.1f} mm apart",))

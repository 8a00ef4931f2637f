"""Drawer: a tray for an opening that looks sideways, with a front and a knob."""

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field
from shapely.geometry import box

from hinoki.core.forms import FIT_WORDS, Form
from hinoki.core.geometry.frames import AXES, Frame
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.make.base import Made, MakerBase, NotMade, Or0, Size
from hinoki.core.make.knob import Knob, knob_on
from hinoki.core.make.openings import Opening, opening_at, openings
from hinoki.core.make.trying import tried
from hinoki.core.model.steps.base import Spot
from hinoki.core.progress import Tell
from hinoki.core.workshop.fits import Fit

LEVEL = 0.2
"""an opening whose normal rises more than this looks up, and has no room for a drawer"""
LEAST_MM = 5.0


class DrawerMaker(MakerBase, frozen=True):
    """A tray with clearance all round; its room is open above."""

    form: ClassVar[Form] = Form(
        "Drawer",
        "for an opening at the side",
        ("fit", "wall_mm", "floor_mm", "back_mm", "front_mm", "front_over_mm", "knob_mm", "knob_high_mm"),
        group="For an opening",
        words={"fit": FIT_WORDS},
        only_if={"knob_high_mm": {"knob_mm": "set"}, "front_over_mm": {"front_mm": "set"}},
    )
    fitted: ClassVar[bool] = True

    kind: Literal["drawer"] = "drawer"
    at_mm: Spot | None = Field(None, title="Opening", description="a point at its rim; none: the largest that looks sideways")
    fit: Fit = Field("loose", title="Fit")
    wall_mm: Size = Field(1.6, title="Walls")
    floor_mm: Size = Field(1.6, title="Floor")
    back_mm: Or0 = Field(1.0, title="Room behind", description="left free at the back")
    front_mm: Or0 = Field(2.4, title="Front", description="thickness of the plate before the rim; 0: flush")
    front_over_mm: Or0 = Field(2.0, title="Overhang", description="how far the front reaches beyond the opening")
    knob_mm: Or0 = Field(12.0, title="Knob", description="diameter; 0 for none")
    knob_high_mm: Size = Field(12.0, title="Knob long")

    @property
    def fits_by(self) -> Fit:
        """As chosen."""
        return self.fit

    def make(self, host: Solid | None, clearance_mm: float, tell: Tell) -> Made:
        """The tray where it belongs, shut. Raises NotMade."""
        part = self.wanted_host(host)
        tell(0.1, "Looking for the opening")
        opening = self._opening(part)
        frame, deep = opening.frame, opening.depth_mm - self.back_mm
        if deep < LEAST_MM + 2 * self.wall_mm:
            raise NotMade(f"The opening is only {opening.depth_mm:.1f} mm deep; there is no room for a drawer.")
        free = opening.free_to(deep)
        x0, y0, x1, y1 = free.buffer(-clearance_mm).bounds
        inner = x0 + self.wall_mm, y0 + self.floor_mm, x1 - self.wall_mm
        if inner[2] - inner[0] < LEAST_MM or y1 - inner[1] < LEAST_MM:
            raise NotMade("The opening is too small for a drawer with walls this thick. Make them thinner.")
        tell(0.4, "Making the drawer")
        body = Solid.drawn(as_multi(free.buffer(-clearance_mm).intersection(box(x0, y0, x1, y1))), -deep, 0.0)
        room = Solid.box((inner[0], inner[1], -deep + self.wall_mm), (inner[2], y1 + 1.0, -self.wall_mm))
        body = body.minus([room])
        if self.front_mm > 0:
            front = box(*opening.hole.bounds).buffer(self.front_over_mm, join_style="mitre")
            body = body.plus([Solid.drawn(as_multi(front), 0.0, self.front_mm)])
        if self.knob_mm > 0:
            middle = opening.hole.centroid
            body = body.plus([knob_on(Knob(self.knob_mm, self.knob_high_mm), self.front_mm).moved(middle.x, middle.y, 0.0)])
        drawer = body.placed(frame.to_world)
        tell(0.7, "Trying it")
        cm3 = (inner[2] - inner[0]) * (y1 - inner[1]) * (deep - 2 * self.wall_mm) / 1000
        return Made(drawer, (f"holds {cm3:.0f} cm³", tried(drawer, part, frame, clearance_mm)))

    def _opening(self, part: Solid) -> Opening:
        if self.at_mm is not None:
            found = opening_at(part, np.array(self.at_mm))
        else:
            found = next((one for one in openings(part) if _sideways(one.frame)), opening_at(part, None))
        if not _sideways(found.frame):
            raise NotMade("This opening does not look sideways; a drawer would lose what it holds. Choose another one.")
        return found


def _sideways(frame: Frame) -> bool:
    return abs(float(frame.n @ AXES["z"])) < LEVEL

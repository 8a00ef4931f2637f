"""Lid: for an opening with a flat rim; with a collar that goes in, a skirt that goes over, both, or sliding in grooves."""

from typing import ClassVar, Literal

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import Polygon
from shapely.geometry import box as rectangle

from hinoki.core.forms import FIT_WORDS, Form
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.make.base import Made, MakerBase, NotMade, Or0, Size, length
from hinoki.core.make.knob import Knob, knob_on
from hinoki.core.make.openings import JUST_MM, LEVELS, Opening, opening_at
from hinoki.core.make.trying import ROUND, tried
from hinoki.core.model.steps.base import Spot
from hinoki.core.model.steps.seat import WAY_WORDS, WAYS, SeatStep
from hinoki.core.progress import Tell
from hinoki.core.workshop.fits import Fit

Shuts = Literal["in", "over", "both", "slides"]
RIM_MM = 10.0
"""a lid reaches so far over the rim at most, where nothing else is wanted"""
SLOPE = 0.7
"""sides of a sliding lid lean inwards by this much per height, so that it cannot be lifted out (55°)"""
LEAST_WALL_MM = 0.8


class LidMaker(MakerBase, frozen=True):
    """A lid over an opening. That it can be taken off, and its clearance, are measured on the parts."""

    form: ClassVar[Form] = Form(
        "Lid",
        "for an opening",
        ("shuts", "fit", "thick_mm", "deep_mm", "wall_mm", "overhang_mm", "slides_to", "knob_mm", "knob_high_mm"),
        group="For an opening",
        words={
            "shuts": {
                "in": "a collar goes in",
                "over": "a skirt goes over",
                "both": "in and over",
                "slides": "slides in grooves",
            },
            "slides_to": {way: WAY_WORDS[way] for way in WAYS},
            "fit": FIT_WORDS,
        },
        only_if={
            "deep_mm": {"shuts": ("in", "over", "both")},
            "wall_mm": {"shuts": ("in", "over", "both")},
            "overhang_mm": {"shuts": ("in",)},
            "slides_to": {"shuts": ("slides",)},
            "knob_high_mm": {"knob_mm": "set"},
        },
    )
    fitted: ClassVar[bool] = True

    kind: Literal["lid"] = "lid"
    shuts: Shuts = Field("in", title="Shuts")
    at_mm: Spot | None = Field(None, title="Opening", description="a point at its rim; none: the largest opening")
    fit: Fit = Field("sliding", title="Fit")
    thick_mm: Size = Field(2.4, title="Thick", description="of the plate")
    deep_mm: Size = Field(5.0, title="Deep", description="how far collar or skirt reach over the wall")
    wall_mm: Size = Field(1.6, title="Wall", description="of collar and skirt")
    overhang_mm: Or0 | None = Field(None, title="Overhang", description="beyond the opening; none: to the rim's outer edge")
    slides_to: Literal["x+", "x-", "y+", "y-", "z+", "z-"] = Field("x+", title="Slides out")
    knob_mm: Or0 = Field(0.0, title="Knob", description="diameter; 0 for none")
    knob_high_mm: Size = Field(12.0, title="Knob high")

    @property
    def fits_by(self) -> Fit:
        """As chosen."""
        return self.fit

    def seat_in_host(self, part_id: str) -> SeatStep | None:
        """The grooves of a lid that slides."""
        if self.shuts != "slides":
            return None
        return SeatStep(id="s1", part=part_id, fit=self.fit, way=self.slides_to, lead_mm=0.0)

    def make(self, host: Solid | None, clearance_mm: float, tell: Tell) -> Made:
        """A plate on the rim with what holds it, or one that slides in grooves. Raises NotMade."""
        box = self.wanted_host(host)
        tell(0.1, "Looking for the opening")
        opening = opening_at(box, None if self.at_mm is None else np.array(self.at_mm))
        tell(0.3, "Making the lid")
        body, top = self._slid(opening) if self.shuts == "slides" else self._put_on(opening, clearance_mm)
        if self.knob_mm > 0:
            middle = opening.hole.centroid
            body = body.plus([knob_on(Knob(self.knob_mm, self.knob_high_mm), top).moved(middle.x, middle.y, 0.0)])
        lid = body.placed(opening.frame.to_world)
        wide, high = opening.size_mm
        said = [f"opening of {wide:.1f} × {high:.1f} mm"]
        if self.shuts != "slides":
            tell(0.7, "Trying it")
            said.append(tried(lid, box, opening.frame, clearance_mm))
        return Made(lid, tuple(said))

    def _put_on(self, opening: Opening, clearance_mm: float) -> tuple[Solid, float]:
        """In the rim's frame, and how high its top is."""
        free = opening.free_to(self.deep_mm) if self.shuts in ("in", "both") else opening.hole
        cover: shapely.Geometry = _over_rim(opening, self.overhang_mm if self.shuts == "in" else None)
        for level in np.linspace(JUST_MM, self.thick_mm, LEVELS):  # what stands about it, such as the wall above a ledge
            cover = cover.difference(opening.solid_at(float(level)).buffer(clearance_mm, ROUND))
        cover = max(as_multi(cover).geoms, key=lambda p: p.area, default=Polygon())
        pieces = []
        if self.shuts in ("over", "both"):
            skirt = opening.outside_to(self.deep_mm).buffer(clearance_mm, ROUND)
            outer = skirt.buffer(self.wall_mm, ROUND)
            cover = outer
            pieces.append(Solid.drawn(as_multi(outer.difference(skirt)), -self.deep_mm, 0.5 * self.thick_mm))
        if self.shuts in ("in", "both"):
            collar = free.buffer(-clearance_mm, ROUND)
            ring = collar.difference(collar.buffer(-self.wall_mm, ROUND))
            if ring.is_empty:
                raise NotMade(f"The opening is too narrow for a collar with {length(clearance_mm)} mm of clearance.")
            pieces.append(Solid.drawn(as_multi(ring), -self.deep_mm, 0.5 * self.thick_mm))
        plate = Solid.drawn(as_multi(cover), 0.0, self.thick_mm)
        return plate.plus(pieces), self.thick_mm

    def _slid(self, opening: Opening) -> tuple[Solid, float]:
        """A plate flush with the rim, wider below, that reaches the outside where it comes out."""
        frame, out = opening.frame, np.array(WAYS[self.slides_to])
        along = frame.to_frame[:, :3] @ out
        if abs(along[2]) > 1e-3:
            raise NotMade("The lid cannot slide out that way: it must be along the rim. Choose another way.")
        turn = np.array([along[:2], [-along[1], along[0]]])  # x along the way out
        hole = shapely.transform(opening.hole, lambda p: p @ turn.T)
        rim = shapely.transform(opening.rim, lambda p: p @ turn.T)
        (x0, y0, _, y1), (rx0, ry0, rx1, ry1) = hole.bounds, rim.bounds
        lean, into = SLOPE * self.thick_mm, SLOPE * self.thick_mm + 0.4
        wall = min(y0 - ry0, ry1 - y1, x0 - rx0)
        if wall < into + LEAST_WALL_MM:
            raise NotMade(
                f"The walls are {wall:.1f} mm thick; grooves for a lid {length(self.thick_mm)} mm thick need "
                f"{into + LEAST_WALL_MM:.1f} mm. Make the lid thinner, or let a collar go in."
            )
        plate = rectangle(x0 - into, y0 - into, hole.bounds[2], y1 + into)
        if not rim.buffer(-LEAST_WALL_MM + 1e-6, join_style="mitre").covers(plate):
            raise NotMade(
                "The opening is not straight-sided along the way out: a plate that slides would stand out of the walls. "
                "Slide it another way, or let a collar go in."
            )
        low, high = y0 - into, y1 + into
        section = np.array([(low, 0.0), (high, 0.0), (high - lean, self.thick_mm), (low + lean, self.thick_mm)])
        bar = Solid.drawn_ring(section, x0 - into, rx1)  # drawn along the bar's own Z
        stand = np.array([[0.0, 0.0, 1.0, 0.0], [1.0, 0.0, 0.0, 0.0], [0.0, 1.0, 0.0, -self.thick_mm]])
        back = np.column_stack([np.vstack([np.column_stack([turn.T, [0, 0]]), [0, 0, 1]]), np.zeros(3)])
        return bar.placed(stand).placed(back), 0.0


def _over_rim(opening: Opening, overhang_mm: float | None) -> Polygon:
    """The outline of a plate that lies on the rim."""
    if overhang_mm is not None:
        return opening.hole.buffer(overhang_mm, ROUND)
    over = opening.hole.buffer(RIM_MM, ROUND).intersection(opening.rim)
    return Polygon(max(as_multi(over).geoms, key=lambda p: p.area).exterior)

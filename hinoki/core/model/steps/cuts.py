"""Flatten, bore and stretch: what is done with straight cutters and planes."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import AXIS_WORDS, FIT_WORDS, Form
from hinoki.core.geometry.filmless_cut import split_at
from hinoki.core.geometry.frames import AXES as UNIT
from hinoki.core.geometry.frames import Frame, plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.sections import section_of
from hinoki.core.geometry.shape import Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.steps.base import AXES, Axis, Coordinate, FittedStep, Outcome, Spot, StepBase, StepRefused, Tell, number
from hinoki.core.workshop.fits import Fit

Measure = Annotated[float, Field(gt=0, ge=0.05, le=5000, allow_inf_nan=False)]


class FlattenStep(StepBase, frozen=True):
    """Cuts the bottom off flat, so that the model stands."""

    form: ClassVar[Form] = Form("Flat bottom", "cut off level", ("height_mm",), group="Standing")

    kind: Literal["flatten"] = "flatten"
    resettles: ClassVar[bool] = False
    height_mm: Measure = Field(1.0, title="Cut off", description="from the lowest point upwards")

    def label(self) -> str:
        """Such as “Flat bottom, 2 mm off”."""
        return f"Flat bottom, {number(self.height_mm)} mm off"

    def apply(self, shape: Shape, tell: Tell) -> Outcome:  # noqa: ARG002
        """Cut off everything below the plane."""
        low, high = shape.bounds
        if self.height_mm >= high[2] - low[2]:
            raise StepRefused(
                f"Cutting {number(self.height_mm)} mm off leaves nothing; the model is {high[2] - low[2]:.1f} mm high."
            )
        level = plane_frame(np.array([0.0, 0.0, low[2] + self.height_mm]), np.array([0.0, 0.0, 1.0]))
        stands = sum(section_of(b.solid, level).area for b in shape.bodies if b.solid is not None)
        return Outcome(shape.each(lambda s: split_at(s, level)[0]), [f"stands on {stands:.0f} mm²"])


class BoreStep(FittedStep, frozen=True):
    """A straight hole through the whole model along the line of two points, for a wire, a rod or a screw."""

    form: ClassVar[Form] = Form(
        "Bore",
        "a straight hole",
        ("from_mm", "to_mm", "through", "takes", "diameter_mm", "head_diameter_mm", "head_depth_mm"),
        group="Shape",
        picks=("from_mm", "to_mm"),
        words={
            "takes": {"as drawn": "as typed", **{fit: f"larger, for a {word.lower()} fit" for fit, word in FIT_WORDS.items()}}
        },
    )

    kind: Literal["bore"] = "bore"
    from_mm: Spot = Field((0.0, 0.0, 0.0), title="From")
    to_mm: Spot = Field((0.0, 0.0, 100.0), title="To")
    through: bool = Field(True, title="Goes on through everything")
    takes: Literal["as drawn", "press", "snug", "sliding", "loose"] = Field(
        "as drawn", title="Bored", description="as typed, or for an axle of that diameter"
    )
    diameter_mm: Measure = Field(5.0, title="Diameter")
    head_diameter_mm: Annotated[float, Field(ge=0, le=5000, allow_inf_nan=False)] = Field(
        0.0, title="Counterbore", description="wider mouth at the first point; 0 for none"
    )
    head_depth_mm: Annotated[float, Field(ge=0, le=5000, allow_inf_nan=False)] = Field(0.0, title="Counterbore deep")

    def label(self) -> str:
        """Such as “Bore ø5”."""
        head = f", mouth ø{number(self.head_diameter_mm)} × {number(self.head_depth_mm)}" if self.head_depth_mm > 0 else ""
        runs = "" if self.takes == "as drawn" else f", {self.takes} fit"
        return f"Bore ø{number(self.diameter_mm)}{runs}{head}"

    @property
    def fits_by(self) -> Fit | None:
        """As chosen; none: as typed."""
        return None if self.takes == "as drawn" else self.takes

    def apply_with(self, shape: Shape, clearance_mm: float, least_wall_mm: float, line_mm: float, tell: Tell) -> Outcome:  # noqa: ARG002
        """Cut the bore out of every body."""
        across = self.diameter_mm + (2 * clearance_mm if self.fits_by else 0.0)
        start, end = np.array(self.from_mm), np.array(self.to_mm)
        way = end - start
        length = float(np.linalg.norm(way))
        if length < 1e-6:
            raise StepRefused("The bore's two points lie in one place. Pick them further apart.", self.id)
        if 0 < self.head_diameter_mm <= across and self.head_depth_mm > 0:
            raise StepRefused("The counterbore must be wider than the bore.", self.id)
        frame = plane_frame(start, way / length)
        low, high = shape.bounds
        reach = float(np.linalg.norm(high - low)) + float(np.linalg.norm(start - (low + high) / 2))
        ends = (-reach, reach) if self.through else (-0.01, length)
        tools = [Solid.cylinder(across / 2, *ends, around=True).placed(frame.to_world)]
        if self.head_diameter_mm > across and self.head_depth_mm > 0:
            mouth = Solid.cylinder(self.head_diameter_mm / 2, -reach, self.head_depth_mm, around=True)
            tools.append(mouth.placed(frame.to_world))
        before = shape.volume_mm3
        after = shape.each(lambda s: s.minus(tools))
        if before - after.volume_mm3 < 1e-6:
            raise StepRefused(f"{self.label()} does not meet the model. Move its points.", self.id)
        said = [f"{(before - after.volume_mm3) / 1000:.2f} cm³ drilled out"]
        return Outcome(after, [f"bored to ø{number(across)}", *said] if self.fits_by else said)


class StretchStep(StepBase, frozen=True):
    """Moves the two sides of a plane apart and fills the gap with the section drawn out straight."""

    form: ClassVar[Form] = Form(
        "Stretch",
        "apart at a plane",
        ("axis", "at_mm", "by_mm", "side"),
        group="Shape",
        words={
            "axis": AXIS_WORDS,
            "side": {"both": "both sides, half each", "upper": "the upper side", "lower": "the lower side"},
        },
    )

    kind: Literal["stretch"] = "stretch"
    axis: Axis = Field("x", title="Along")
    at_mm: Coordinate = Field(0.0, title="At")
    by_mm: Measure = Field(10.0, title="Longer by")
    side: Literal["both", "upper", "lower"] = Field("both", title="Moves", description="which side of the plane moves away")

    def label(self) -> str:
        """Such as “Stretch X by 12 mm at 0”."""
        return f"Stretch {self.axis.upper()} by {number(self.by_mm)} mm at {number(self.at_mm)}"

    def apply(self, shape: Shape, tell: Tell) -> Outcome:  # noqa: ARG002
        """Split, move apart, fill. The added volume is the section's area times the distance."""
        normal = UNIT[self.axis]
        frame = plane_frame(normal * self.at_mm, normal)
        low, high = shape.bounds
        if not low[AXES[self.axis]] < self.at_mm < high[AXES[self.axis]]:
            raise StepRefused(
                f"{self.label()} misses the model, which reaches from {low[AXES[self.axis]]:.1f} to "
                f"{high[AXES[self.axis]]:.1f} mm along {self.axis.upper()}.",
                self.id,
            )
        up = {"both": 0.5, "upper": 1.0, "lower": 0.0}[self.side] * self.by_mm
        area = sum(section_of(b.solid, frame).area for b in shape.bodies if b.solid is not None)
        out = shape.each(lambda s: _stretched(s, frame, normal, up, self.by_mm))
        return Outcome(out, [f"adds {area * self.by_mm / 1000:.2f} cm³: {area:.1f} mm² of section × {number(self.by_mm)} mm"])


def _stretched(solid: Solid, frame: Frame, normal: Points, up: float, by: float) -> Solid:
    above, below = split_at(solid, frame)
    lift, drop = normal * up, normal * (up - by)
    if above.empty or below.empty:
        return solid.moved(*(lift if below.empty else drop))
    fill = Solid.drawn(section_of(solid, frame), 0.0, by).placed(frame.raised(up - by).to_world)
    return below.moved(*drop).plus([fill, above.moved(*lift)])

"""Standing: which side is down, turning by degrees, mirroring, and a left and right pair."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field, model_validator

from hinoki.core.forms import AXIS_WORDS, Form
from hinoki.core.geometry.rotations import turn_down, turned_about_axes
from hinoki.core.geometry.shape import Body, Shape
from hinoki.core.model.steps.base import AXES, Axis, Outcome, StepBase, Tell, about_middle, number

Component = Annotated[float, Field(ge=-1, le=1, allow_inf_nan=False)]
Degrees = Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)]
_NAMES = {
    (0, 0, -1): "Z up",
    (0, 0, 1): "Z down",
    (0, -1, 0): "Y up",
    (0, 1, 0): "Y down",
    (-1, 0, 0): "X up",
    (1, 0, 0): "X down",
}


class StandStep(StepBase, frozen=True):
    """Stands the model on a side: `down` is what points at the bed."""

    form: ClassVar[Form] = Form("Stand", "on a side or a picked face", (), group="Standing")

    kind: Literal["stand"] = "stand"
    needs_closed: ClassVar[bool] = False
    resettles: ClassVar[bool] = True
    down: tuple[Component, Component, Component] = Field((0.0, 0.0, -1.0), title="Down", description="what points at the bed")

    @model_validator(mode="after")
    def _has_length(self) -> "StandStep":
        if sum(c * c for c in self.down) < 0.25:
            raise ValueError("the direction down must be a unit vector")
        return self

    def label(self) -> str:
        """Such as “Stand, Y up”."""
        x, y, z = (round(c, 3) for c in self.down)
        named = _NAMES.get((int(x), int(y), int(z))) if all(c == int(c) for c in (x, y, z)) else None
        return f"Stand, {named}" if named else "Stand on a picked face"

    def apply(self, shape: Shape, tell: Tell) -> Outcome:  # noqa: ARG002
        """Turn the shape so that `down` points at the bed."""
        down = np.array(self.down) / np.linalg.norm(self.down)
        return Outcome(shape.moved(np.column_stack([turn_down(down), np.zeros(3)])))


class TurnStep(StepBase, frozen=True):
    """Turns the model by degrees about X, then Y, then Z, through the middle of its box."""

    form: ClassVar[Form] = Form("Turn", "by typed degrees", ("turn_deg",), group="Standing")

    kind: Literal["turn"] = "turn"
    needs_closed: ClassVar[bool] = False
    resettles: ClassVar[bool] = True
    turn_deg: tuple[Degrees, Degrees, Degrees] = Field((0.0, 0.0, 0.0), title="Turn", description="about X, then Y, then Z")

    def label(self) -> str:
        """Such as “Turn 0, 0, 45°”."""
        return f"Turn {', '.join(number(d) for d in self.turn_deg)}°"

    def apply(self, shape: Shape, tell: Tell) -> Outcome:  # noqa: ARG002
        """Turn the shape."""
        linear = turned_about_axes(self.turn_deg)
        low, high = shape.bounds
        return Outcome(shape.moved(about_middle(linear, (low + high) / 2)))


class MirrorStep(StepBase, frozen=True):
    """Mirrors the model across the middle of its box."""

    form: ClassVar[Form] = Form("Mirror", "across an axis", ("axis",), group="Standing", words={"axis": AXIS_WORDS})

    kind: Literal["mirror"] = "mirror"
    needs_closed: ClassVar[bool] = False
    resettles: ClassVar[bool] = True
    axis: Axis = Field("x", title="Across")

    def label(self) -> str:
        """Such as “Mirror across X”."""
        return f"Mirror across {self.axis.upper()}"

    def apply(self, shape: Shape, tell: Tell) -> Outcome:  # noqa: ARG002
        """Mirror the shape."""
        low, high = shape.bounds
        return Outcome(shape.moved(about_middle(_flip(self.axis), (low + high) / 2)))


class PairStep(StepBase, frozen=True):
    """Makes a left and right pair: the model and its mirror image side by side, both named so."""

    form: ClassVar[Form] = Form(
        "Left and right pair", "with its mirror image", ("axis", "gap_mm"), group="Standing", words={"axis": AXIS_WORDS}
    )  # fmt: skip

    kind: Literal["pair"] = "pair"
    needs_closed: ClassVar[bool] = False
    resettles: ClassVar[bool] = True
    axis: Axis = Field("x", title="Side by side along")
    gap_mm: Annotated[float, Field(ge=0.1, le=1000, allow_inf_nan=False)] = Field(10.0, title="Gap")

    def label(self) -> str:
        """Such as “Left and right pair”."""
        return "Left and right pair"

    def apply(self, shape: Shape, tell: Tell) -> Outcome:  # noqa: ARG002
        """Add the mirror image beside the shape."""
        low, high = shape.bounds
        k = AXES[self.axis]
        mirrored = shape.moved(about_middle(_flip(self.axis), (low + high) / 2))
        shift = np.zeros(3)
        shift[k] = high[k] - low[k] + self.gap_mm
        mirrored = mirrored.moved(np.column_stack([np.eye(3), shift]))
        lefts = tuple(_named(b, f"{b.name}, left") for b in shape.bodies)
        rights = tuple(_named(b, f"{b.name}, right") for b in mirrored.bodies)
        return Outcome(Shape(lefts + rights), [f"{len(lefts) + len(rights)} objects: left and right"])


def _named(body: Body, name: str) -> Body:
    return Body(name, body.mesh, body.solid)


def _flip(axis: Axis) -> "np.ndarray":
    out = np.eye(3)
    out[AXES[axis], AXES[axis]] = -1
    return out

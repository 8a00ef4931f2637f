"""What every prepare step says about itself: a label, whether it needs a closed surface, and what it does to a shape."""

from abc import abstractmethod
from dataclasses import dataclass, field
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import AfterValidator, BaseModel, Field

from hinoki.core.errors import StepRefused
from hinoki.core.findings import Finding
from hinoki.core.forms import Form
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.shape import Shape
from hinoki.core.join.contract.terms import LooseOnes
from hinoki.core.progress import Tell
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.hardware import Hardware

Axis = Literal["x", "y", "z"]
Coordinate = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
Spot = tuple[Coordinate, Coordinate, Coordinate]
Component = Annotated[float, Field(ge=-1, le=1, allow_inf_nan=False)]
AXES: dict[Axis, int] = {"x": 0, "y": 1, "z": 2}


def _has_length(way: tuple[float, float, float]) -> tuple[float, float, float]:
    if sum(c * c for c in way) < 0.5:
        raise ValueError("the way the surface looks must be a unit vector")
    return way


Facing = Annotated[tuple[Component, Component, Component], AfterValidator(_has_length)]
"""the way a surface looks: a unit vector"""


@dataclass
class Outcome:
    """What came of a step: the shape, sentences about it, findings, what is bought for it, and what is printed beside it."""

    shape: Shape
    said: list[str] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    hardware: list[Hardware] = field(default_factory=list)
    loose: list[LooseOnes] = field(default_factory=list)


class StepBase(BaseModel, frozen=True):
    """A prepare step. Places and lengths are millimetres in the model as the steps before leave it."""

    form: ClassVar[Form]
    """its name, and how its form is drawn"""
    needs_closed: ClassVar[bool] = True
    resettles: ClassVar[bool] = False
    """whether the model is centred on the bed again afterwards"""

    lets_down: ClassVar[bool] = True
    """whether the model is let down onto the bed afterwards; else it stays where it is, as what goes into it does"""

    id: str = Field(pattern=r"^s[1-9][0-9]{0,3}$", title="Name")
    name: str = Field("", max_length=80)
    on: bool = True

    @property
    def fingerprint(self) -> object:
        """All that decides what it does to a shape."""
        return self.model_dump(mode="json", exclude={"id", "name", "on"})

    @abstractmethod
    def label(self) -> str:
        """Such as “Hollow, wall 3 mm”."""

    @abstractmethod
    def apply(self, shape: Shape, tell: Tell) -> Outcome:
        """The shape with the step done. Raises StepRefused."""


class FittedStep(StepBase, frozen=True):
    """A step whose measures follow the clearances of the printer."""

    @property
    @abstractmethod
    def fits_by(self) -> Fit | None:
        """The class of fit of its clearance; none: as drawn."""

    def apply(self, shape: Shape, tell: Tell) -> Outcome:
        """With the clearance of common fits; see `apply_with`."""
        return self.apply_with(shape, 0.1, 1.2, 0.45, tell)

    @abstractmethod
    def apply_with(self, shape: Shape, clearance_mm: float, least_wall_mm: float, line_mm: float, tell: Tell) -> Outcome:
        """The shape with the step done, with a clearance on each side, and the least wall and line of the printer. Raises
        StepRefused."""


def about_middle(linear: Points, middle: Points) -> Points:
    """The (3, 4) matrix of a (3, 3) map that keeps `middle` in place."""
    return np.column_stack([linear, middle - linear @ middle])


def number(value: float) -> str:
    """A length in a label: at most two decimals."""
    return f"{value:.2f}".rstrip("0").rstrip(".")


__all__ = [
    "AXES",
    "Axis",
    "Coordinate",
    "FittedStep",
    "Outcome",
    "Spot",
    "StepBase",
    "StepRefused",
    "Tell",
    "about_middle",
    "number",
]

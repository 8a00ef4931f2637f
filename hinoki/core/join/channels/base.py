"""What all ways through a model share: a middle line, a bore, a body, what is bought for it."""

import math
from abc import abstractmethod
from typing import Annotated, ClassVar

import numpy as np
from pydantic import BaseModel, Field, model_validator

from hinoki.core.forms import Form
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import Loose
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.hardware import BarShape, Hardware

Length = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
Spot = tuple[Length, Length, Length]
Across = Annotated[float, Field(ge=0.5, le=200, allow_inf_nan=False)]
END_GAP_MM = 0.5
"""a rod's bore is longer than the rod by this at either end"""


class WayBase(BaseModel, frozen=True):
    """Something that runs through the model, whatever pieces it meets."""

    form: ClassVar[Form]
    """its name, and how its form is drawn"""
    kind: str
    id: str = Field(pattern=r"^w[1-9][0-9]{0,3}$", title="Name")
    start_mm: Spot = Field(title="From", description="a point in the model, mm")
    end_mm: Spot = Field(title="To", description="a point in the model, mm")
    diameter_mm: Across = Field(4.0, title="Diameter", description="across flats for a square one, mm")

    @model_validator(mode="after")
    def _goes_somewhere(self) -> "WayBase":
        if math.dist(self.start_mm, self.end_mm) < 1.0:
            raise ValueError("its two ends lie in one place")
        return self

    @property
    def fingerprint(self) -> object:
        """All that decides what it cuts."""
        return self.model_dump(mode="json", exclude={"id"})

    @abstractmethod
    def path(self) -> Points:
        """Its middle line (n, 3)."""

    @abstractmethod
    def bore(self, clearance_mm: float, more_mm: float = 0.0) -> Solid:
        """What is cut out of the pieces, grown sideways by `more_mm`."""

    @abstractmethod
    def body(self) -> Solid:
        """What lies in it, to be shown."""

    @abstractmethod
    def label(self) -> str:
        """Such as “rod ø4, 212 long”."""

    @property
    def long_mm(self) -> float:
        """Length of its middle line."""
        return float(np.linalg.norm(np.diff(self.path(), axis=0), axis=1).sum())

    def hardware(self) -> list[Hardware]:
        """What is bought for it."""
        return []

    @property
    def fits_by(self) -> Fit:
        """The fit its clearance is of."""
        return "sliding"

    @property
    def ends_inside(self) -> bool:
        """Whether its ends are to lie in the model, or on its surface: a wire may begin in the open."""
        return False

    def tight_mm(self) -> float | None:
        """The bend radius it can have where that is less than wished; None where all is well."""
        return None

    def loose(self, clearance_mm: float) -> list[tuple[str, Loose]]:  # noqa: ARG002 - most need nothing
        """What is printed for it beside the pieces, by name."""
        return []


def along(start: Points, end: Points) -> Points:
    """The (3, 4) matrix that lays Z along the way from `start` to `end`."""
    z = (end - start) / np.linalg.norm(end - start)
    side = np.array([1.0, 0.0, 0.0]) if abs(z[0]) < 0.9 else np.array([0.0, 1.0, 0.0])
    y = np.cross(z, side)
    y = y / np.linalg.norm(y)
    return np.column_stack([np.cross(y, z), y, z, start])


def bar(shape: BarShape, half: float, low: float, high: float, around: bool) -> Solid:
    """A round or square bar along Z, by half its width."""
    if shape == "square":
        return Solid.box([-half, -half, low], [half, half, high])
    return Solid.cylinder(half, low, high, around)

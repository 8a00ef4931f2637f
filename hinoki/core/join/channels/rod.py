"""Rod: a straight bar of metal, wood or carbon in a bore through several pieces."""

import math
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import SHAPE_WORDS, Form
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channels.base import END_GAP_MM, WayBase, along, bar
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.hardware import BarShape, Hardware, across, rod_name, rod_strengths


class RodWay(WayBase, frozen=True):
    """A straight rod of metal, wood or carbon in a bore."""

    form: ClassVar[Form] = Form(
        "Rod", "a rod", ("start_mm", "end_mm", "diameter_mm", "shape", "of", "fit"), words={"shape": SHAPE_WORDS}
    )  # fmt: skip

    kind: Literal["rod"] = "rod"
    shape: BarShape = Field("round", title="Shape")
    of: str = Field("steel", max_length=40, title="Made of")
    fit: Fit = Field("sliding", title="Fit")

    @property
    def fits_by(self) -> Fit:
        """As chosen."""
        return self.fit

    @property
    def ends_inside(self) -> bool:
        """A rod that stands out would be seen."""
        return True

    def path(self) -> Points:
        """From end to end."""
        return np.array([self.start_mm, self.end_mm], dtype=np.float64)

    def _bar(self, half: float, more: float, around: bool) -> Solid:
        long = math.dist(self.start_mm, self.end_mm)
        return bar(self.shape, half, -more, long + more, around).placed(along(*self.path()))

    def bore(self, clearance_mm: float, more_mm: float = 0.0) -> Solid:
        """Wider by the clearance, longer by a gap at either end."""
        return self._bar(self.diameter_mm / 2 + clearance_mm + more_mm, END_GAP_MM + more_mm, around=True)

    def body(self) -> Solid:
        """The rod."""
        return self._bar(self.diameter_mm / 2, 0.0, around=False)

    def hardware(self) -> list[Hardware]:
        """The rod, cut to length."""
        return [Hardware(rod_name(self.shape, self.diameter_mm, self.of), 1, round(self.long_mm, 1))]

    @property
    def bends_nmm(self) -> float | None:
        """The bending moment it bears, N mm: σ · W, W of a round bar π d³/32, of a square one a³/6 (Navier's formula; tables of
        section moduli in mechanical engineers' handbooks, from memory). None for a material that is not in the table."""
        mpa = rod_strengths().get(self.of.strip().lower())
        modulus = self.diameter_mm**3 / 6 if self.shape == "square" else math.pi * self.diameter_mm**3 / 32
        return None if mpa is None else mpa * modulus

    def label(self) -> str:
        """Such as “rod ø4, 212 long”."""
        return f"rod {across(self.shape, self.diameter_mm)}, {self.long_mm:.0f} long"

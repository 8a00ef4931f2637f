"""Stand: a socket in the model, and a base with a peg, or with a socket for a bought rod, that holds it up."""

import math
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field, model_validator

from hinoki.core.forms import SHAPE_WORDS, Form
from hinoki.core.geometry.frames import shifted
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channels.base import END_GAP_MM, WayBase, along, bar
from hinoki.core.join.contract.pegs import PegShape, tipped_bar
from hinoki.core.join.contract.terms import Loose
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.hardware import BarShape, Hardware, across, rod_name

Wide = Annotated[float, Field(ge=5, le=2000, allow_inf_nan=False)]
FLOOR_MM = 1.2
"""what is left of the base below a rod's socket"""
CHAMFER_MM = 1.0
LEVEL = 0.05
"""a peg lower than this above the level would run along the base"""


class StandWay(WayBase, frozen=True):
    """From its end in the model (`start_mm`) a peg runs down to the top of the base (`end_mm`); the base is level."""

    form: ClassVar[Form] = Form(
        "Stand",
        "a stand",
        ("start_mm", "end_mm", "peg", "shape", "diameter_mm", "of", "base", "base_mm", "base_thick_mm", "fit"),
        words={
            "shape": SHAPE_WORDS,
            "base": SHAPE_WORDS,
            "peg": {"printed": "printed on the base", "rod": "a bought rod"},
        },
        only_if={"of": {"peg": ("rod",)}},
    )

    kind: Literal["stand"] = "stand"
    diameter_mm: Annotated[float, Field(ge=1, le=100, allow_inf_nan=False)] = Field(
        8.0, title="Peg", description="diameter, or across flats for a square one, mm"
    )
    shape: BarShape = Field("round", title="Shape", description="of the peg")
    peg: Literal["printed", "rod"] = Field("printed", title="Peg of", description="printed on the base, or a bought rod")
    of: str = Field("steel", max_length=40, title="Rod of")
    base: BarShape = Field("round", title="Base")
    base_mm: Wide = Field(100.0, title="Base across", description="diameter, or width of a square one, mm")
    base_thick_mm: Annotated[float, Field(ge=2, le=200, allow_inf_nan=False)] = Field(8.0, title="Base thickness")
    fit: Fit = Field("snug", title="Fit")

    @model_validator(mode="after")
    def _stands_up(self) -> "StandWay":
        rise = self.start_mm[2] - self.end_mm[2]
        if rise < LEVEL * math.dist(self.start_mm, self.end_mm) or rise <= 0:
            raise ValueError("the base must lie below the socket in the model")
        if self.base_mm < self.diameter_mm + 4:
            raise ValueError("the base must be wider than the peg, by 4 mm at least")
        if self.peg == "rod" and self.base_thick_mm < FLOOR_MM + 2:
            raise ValueError(f"a base for a rod must be {FLOOR_MM + 2:g} mm thick at least")
        return self

    @property
    def fits_by(self) -> Fit:
        """As chosen."""
        return self.fit

    @property
    def rests_on_mm(self) -> float:
        """The level of the table under the base."""
        return self.end_mm[2] - self.base_thick_mm

    def path(self) -> Points:
        """From the end of the socket down to the top of the base."""
        return np.array([self.start_mm, self.end_mm], dtype=np.float64)

    def _bar(self, grown: float, low: float, high: float, around: bool) -> Solid:
        """Of the peg, `low` and `high` counted from its end in the model towards the base."""
        return bar(self.shape, self.diameter_mm / 2 + grown, low, high, around).placed(along(*self.path()))

    def bore(self, clearance_mm: float, more_mm: float = 0.0) -> Solid:
        """The peg's way in the model: wider by the clearance, longer by a gap at its end."""
        return self._bar(clearance_mm + more_mm, -END_GAP_MM - more_mm, self.long_mm, around=True)

    def body(self) -> Solid:
        """The peg and the base, as they stand."""
        return self._base().plus([self._bar(0.0, 0.0, self.long_mm + self._sunk_mm(), around=False)])

    def _sunk_mm(self) -> float:
        """How far the peg, or the rod, goes into the base along itself."""
        deep = self.base_thick_mm - FLOOR_MM if self.peg == "rod" else self.base_thick_mm / 2
        rise = (self.start_mm[2] - self.end_mm[2]) / self.long_mm
        across = self.diameter_mm / 2 * math.sqrt(max(0.0, 1 - rise**2))
        return max(1.0, (deep - across) / rise)

    def _base(self) -> Solid:
        """A level plate with its upper edge broken, its top at the end of the peg."""
        x, y, z = self.end_mm
        half, thick = self.base_mm / 2, self.base_thick_mm
        edge = min(CHAMFER_MM, thick / 4)
        shape: PegShape = "round" if self.base == "round" else "square"
        plate = tipped_bar(shape, half, edge, -thick, 0.0, both=False)
        return plate.moved(x, y, z)

    def loose(self, clearance_mm: float) -> list[tuple[str, Loose]]:
        """The base: with the peg on it, or with the rod's socket in it."""
        if self.peg == "rod":
            made = self._base().minus([self._bar(clearance_mm, self.long_mm - 1, self.long_mm + self._sunk_mm(), around=True)])
        else:
            made = self.body()
        return [(f"{self.label()} × {self.long_mm:.0f}", Loose(made, shifted(0.0, 0.0, 0.0)))]

    def hardware(self) -> list[Hardware]:
        """The rod, cut to length, where it is bought."""
        if self.peg == "printed":
            return []
        return [Hardware(rod_name(self.shape, self.diameter_mm, self.of), 1, round(self.long_mm + self._sunk_mm(), 1))]

    def label(self) -> str:
        """Such as “stand ø100, peg ø8”."""
        what = "rod" if self.peg == "rod" else "peg"
        return f"stand {across(self.base, self.base_mm)}, {what} {across(self.shape, self.diameter_mm)}"

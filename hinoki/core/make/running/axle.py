"""Axle: what a lever or wheel turns on, sized by fit for the bore it runs in, with a head, washers, and a hole for a pin."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import FIT_WORDS, Form
from hinoki.core.geometry.solid import Solid
from hinoki.core.make.base import Made, MakerBase, NotMade, Or0, Size, length
from hinoki.core.progress import Tell
from hinoki.core.workshop.fits import RATTLES_MM, Fit

LEAST_MM = 1.2
"""thinner axles do not print round"""
BEVEL_MM = 0.4
PIN_SHARE = 0.3
"""of an axle's diameter, what a cross hole leaves it strong enough with (common practice: a quarter to a third)"""


class AxleMaker(MakerBase, frozen=True):
    """Its head lies on the part, its shank goes down into the bore. Washers have the bore's diameter: they run as it does."""

    form: ClassVar[Form] = Form(
        "Axle",
        "sized by fit for a bore, with washers",
        (
            "piece", "bore_mm", "fit", "through_mm", "head_mm", "head_over_mm", "end", "pin_mm", "washers", "washer_mm",
            "washer_thick_mm",
        ),
        group="What moves",
        words={
            "piece": {"axle": "the axle", "washer": "its washer"},
            "fit": FIT_WORDS,
            "end": {"plain": "plain", "pin": "a hole for a pin across it"},
        },
        only_if={
            "head_over_mm": {"head_mm": "set"},
            "pin_mm": {"end": ("pin",)},
            "washer_mm": {"washers": "set"},
            "washer_thick_mm": {"washers": "set"},
        },
        picks=("bore_mm",),
    )  # fmt: skip
    own_figures: ClassVar[tuple[str, ...]] = (*MakerBase.own_figures, "piece")

    kind: Literal["axle"] = "axle"
    piece: Literal["axle", "washer"] = Field("axle", title="This is")
    bore_mm: Size = Field(5.0, title="Bore", description="diameter of the bore it runs in")
    fit: Fit = Field("sliding", title="Fit", description="press: it stays put; sliding or loose: it turns")
    through_mm: Size = Field(20.0, title="Through", description="length of what it goes through, without washers")
    head_mm: Or0 = Field(2.0, title="Head", description="thickness; 0 for none")
    head_over_mm: Size = Field(2.0, title="Overhang", description="how far the head reaches beyond the bore")
    end: Literal["plain", "pin"] = Field("pin", title="End")
    pin_mm: Size = Field(1.4, title="Pin", description="diameter of the hole across it: a nail, a wire, a split pin")
    washers: Annotated[int, Field(ge=0, le=20)] = Field(2, title="Washers", description="on it: it is as much longer")
    washer_mm: Size = Field(11.0, title="Washer", description="outside diameter")
    washer_thick_mm: Size = Field(1.0, title="Washer thick")

    @property
    def fits_by(self) -> Fit:
        """As chosen."""
        return self.fit

    def goes_with(self) -> Sequence[tuple[str, MakerBase, int]]:
        """Where it has washers, they are made along with it."""
        if self.piece == "washer" or not self.washers:
            return ()
        return (("Washer", self.model_copy(update={"piece": "washer"}), self.washers),)

    @property
    def shank_mm(self) -> float:
        """Its length under the head: what it goes through, the washers, and what the pin needs beyond them."""
        beyond = 2.5 * self.pin_mm if self.end == "pin" else 0.0
        return self.through_mm + self.washers * self.washer_thick_mm + beyond

    def make(self, host: Solid | None, clearance_mm: float, tell: Tell) -> Made:  # noqa: ARG002
        """The axle with the underside of its head at Z 0, its shank downwards; or the washer from Z 0. Raises NotMade."""
        tell(0.2, "Making the axle")
        if self.piece == "washer":
            return self._washer()
        across = self.bore_mm - 2 * clearance_mm
        if across < LEAST_MM:
            raise NotMade(
                f"An axle for a bore of {length(self.bore_mm)} mm would be {length(max(0.0, across))} mm thick; {LEAST_MM} mm "
                "is the least that prints round. Make the bore wider."
            )
        low, radius = -self.shank_mm, across / 2
        bevel = min(BEVEL_MM, 0.25 * radius)
        axle = Solid.united([Solid.cylinder(radius, low + bevel, 0.01), Solid.cone(radius - bevel, radius, low, low + bevel)])
        if self.head_mm > 0:
            axle = axle.plus([Solid.cylinder(self.bore_mm / 2 + self.head_over_mm, 0.0, self.head_mm)])
        if self.end == "pin":
            axle = axle.minus([self._pin_hole(across, low)])
        runs = f"ø{length(across)} in a bore of {length(self.bore_mm)}: {length(clearance_mm)} mm clear on each side"
        rattles = f"; more than {RATTLES_MM} mm rattles" if clearance_mm > RATTLES_MM else ""
        return Made(axle, (runs + rattles,))

    def _pin_hole(self, across: float, low: float) -> Solid:
        if self.pin_mm > PIN_SHARE * across:
            raise NotMade(
                f"A hole of {length(self.pin_mm)} mm across an axle of {length(across)} mm leaves it weak; "
                f"{length(PIN_SHARE * across)} mm is the most. Take a thinner pin, or a plain end."
            )
        hole = Solid.cylinder(self.pin_mm / 2, -across, across, around=True)
        return hole.placed(_LAID).moved(0.0, 0.0, low + 1.5 * self.pin_mm)

    def _washer(self) -> Made:
        if self.washer_mm < self.bore_mm + 1.6:
            raise NotMade(
                f"A washer of {length(self.washer_mm)} mm has no room round a bore of {length(self.bore_mm)} mm. "
                f"Make it {length(self.bore_mm + 1.6)} mm or more."
            )
        ring = Solid.cylinder(self.washer_mm / 2, 0.0, self.washer_thick_mm)
        bore = Solid.cylinder(self.bore_mm / 2, -1.0, self.washer_thick_mm + 1.0, around=True)
        return Made(ring.minus([bore]), (f"{self.washers} on each axle: it stands as often",))


_LAID = np.array([[0.0, 0.0, 1.0, 0.0], [0.0, 1.0, 0.0, 0.0], [-1.0, 0.0, 0.0, 0.0]])

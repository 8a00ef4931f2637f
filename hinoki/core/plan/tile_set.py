"""Tiles: equal pieces that are to meet side by side, as the plan says."""

from typing import Annotated, Literal, Self

from pydantic import BaseModel, Field, model_validator

from hinoki.core.geometry.measures import Measure
from hinoki.core.join.closures.hook import TOO_SHORT, LetsGo, Nose
from hinoki.core.join.joints import FaceRef, HookJoint, MagnetJoint
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.hardware import MagnetShape

NO_FACE = FaceRef(parting="p0", member=0, a="", b="")
MeetBy = Literal["magnets", "dovetails", "keys", "pegs", "hooks"]


class ModuleSet(BaseModel, frozen=True):
    """Pieces that are to meet side by side, whichever and however turned: held by magnets, tails in grooves, loose keys, snap
    hooks, or found by pegs."""

    id: str = Field(pattern=r"^m[1-9][0-9]{0,3}$", title="Name")
    pieces: tuple[str, ...] | None = Field(None, max_length=500, title="Pieces", description="their keys; none: all")
    by: MeetBy = Field("magnets", title="Meet by")
    layout: Literal["all", "row", "corner"] = Field(
        "all", title="On", description="all sides alike; or one side and the opposite, or the next: a row, and its corners"
    )
    a_side: Literal[1, 2] = Field(2, title="Magnets a side", description="2: N and S in a row; 1: N and S in turn")
    shape: MagnetShape = Field("disc", title="Shape")
    diameter_mm: Measure = Field(6.0, title="Diameter", description="of a magnet or a peg; a block's length, mm")
    width_mm: Measure = Field(5.0, title="Width", description="of a block or a hook, upright, mm")
    hole_mm: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] = Field(0.0, title="Hole", description="of a ring, mm")
    thick_mm: Annotated[float, Field(ge=0.5, le=50, allow_inf_nan=False)] = Field(3.0, title="Thickness", description="mm")
    held: Literal["glue", "press"] = Field("glue", title="Held by")
    neck_mm: Measure = Field(5.0, title="Neck", description="of tails and keys: width at the side, mm")
    head_mm: Measure = Field(9.0, title="Head", description="width at its end, mm")
    out_mm: Measure = Field(4.0, title="Stands out", description="tails and pegs; a key goes so far into either module, mm")
    end_mm: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] = Field(
        2.0, title="End stop", description="how far above the underside tails of a row and keys come to rest; 0: none"
    )
    long_mm: Measure = Field(14.0, title="Length", description="of a hook, from the side to its nose, mm")
    spring_mm: Measure = Field(1.8, title="Thickness", description="of a hook at its root, mm")
    nose_mm: Nose = Field(1.0, title="Nose", description="how far it stands out of its hook, mm")
    lets_go_deg: LetsGo = Field(45.0, title="Lets go at", description="degrees to its length; 90: never by pulling")
    apart_mm: Measure | None = Field(None, title="Apart", description="of two a side, middle to middle; none: half the side")
    high_mm: Measure | None = Field(
        None, title="Height", description="of their middles above the underside; none: half the height all sides have"
    )
    fit: Fit = Field("snug", title="Fit")
    jig: bool = Field(False, title="Pole jig", description="print a handle that puts them in the right way round")

    @model_validator(mode="after")
    def _widens(self) -> Self:
        if self.by in ("dovetails", "keys") and self.head_mm < self.neck_mm + 0.2:
            raise ValueError("the head of a tail or key must be wider than its neck, by 0.2 mm at least")
        if self.by == "hooks" and self.long_mm < 2 * self.spring_mm:
            raise ValueError(TOO_SHORT)
        return self

    @property
    def magnets(self) -> MagnetJoint:
        """One side's magnets as a joint."""
        return MagnetJoint(
            id="j1", face=NO_FACE, count=self.a_side, shape=self.shape, diameter_mm=self.diameter_mm, width_mm=self.width_mm,
            hole_mm=self.hole_mm, thick_mm=self.thick_mm, held=self.held, fit=self.fit,
        )  # fmt: skip

    @property
    def hook(self) -> HookJoint:
        """One of a side's hooks as a joint."""
        return HookJoint(
            id="j1", face=NO_FACE, count=1, length_mm=self.long_mm, thick_mm=self.spring_mm, wide_mm=self.width_mm,
            nose_mm=self.nose_mm, lets_go_deg=self.lets_go_deg, fit=self.fit,
        )  # fmt: skip

"""Tiles: equal pieces that are to meet side by side, as the plan says."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from hinoki.core.geometry.measures import Measure
from hinoki.core.join.joints import FaceRef, MagnetJoint
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.hardware import MagnetShape

NO_FACE = FaceRef(parting="p0", member=0, a="", b="")


class ModuleSet(BaseModel, frozen=True):
    """Pieces that are to meet side by side, whichever and however turned."""

    id: str = Field(pattern=r"^m[1-9][0-9]{0,3}$", title="Name")
    pieces: tuple[str, ...] | None = Field(None, max_length=500, title="Pieces", description="their keys; none: all")
    a_side: Literal[1, 2] = Field(2, title="Magnets a side", description="2: N and S in a row; 1: N and S in turn")
    shape: MagnetShape = Field("disc", title="Shape")
    diameter_mm: Measure = Field(6.0, title="Diameter", description="a block's length, mm")
    width_mm: Measure = Field(5.0, title="Width", description="of a block, upright, mm")
    hole_mm: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] = Field(0.0, title="Hole", description="of a ring, mm")
    thick_mm: Annotated[float, Field(ge=0.5, le=50, allow_inf_nan=False)] = Field(3.0, title="Thickness", description="mm")
    held: Literal["glue", "press"] = Field("glue", title="Held by")
    apart_mm: Measure | None = Field(None, title="Apart", description="of two a side, middle to middle; none: half the side")
    high_mm: Measure | None = Field(
        None, title="Height", description="of their middles above the underside; none: half the height all sides have"
    )
    fit: Fit = Field("snug", title="Fit")
    jig: bool = Field(False, title="Pole jig", description="print a handle that puts them in the right way round")

    @property
    def magnets(self) -> MagnetJoint:
        """One side's magnets as a joint."""
        return MagnetJoint(
            id="j1", face=NO_FACE, count=self.a_side, shape=self.shape, diameter_mm=self.diameter_mm, width_mm=self.width_mm,
            hole_mm=self.hole_mm, thick_mm=self.thick_mm, held=self.held, fit=self.fit,
        )  # fmt: skip

"""Spools: material as it stands on the shelf, which goes down as it is printed."""

from typing import Annotated

from pydantic import BaseModel, Field

SpoolGrams = Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)]


class NewSpool(BaseModel):
    """A spool as it is entered; without `left_g` it is full."""

    material_id: str = Field(min_length=1, max_length=60)
    name: str = Field(min_length=1, max_length=80, title="Name")
    full_g: SpoolGrams = Field(1000.0, title="Full", description="g of material, without the reel")
    left_g: SpoolGrams | None = Field(None, title="Left", description="g; none: full")


class Spool(BaseModel):
    """A spool and how much is on it."""

    id: int
    material_id: str
    name: str
    full_g: float
    left_g: float

"""Materials: density, price, shrinkage, colour, stock."""

import tomllib
from importlib.resources import files
from typing import Annotated, Literal

from pydantic import BaseModel, Field

GRAVITY = 9.81
"""m/s²"""
Density = Annotated[float, Field(gt=0, ge=0.05, le=25, allow_inf_nan=False)]


class Material(BaseModel, frozen=True):
    """What is printed with. Filament is sold by the kilogram, resin by the litre."""

    id: str = Field("plain", max_length=60)
    name: str = Field("Plain filament", min_length=1, max_length=80, title="Name")
    process: Literal["filament", "resin"] = Field("filament", title="For")
    density_g_cm3: Density = Field(1.24, title="Density", description="g/cm³")
    price: Annotated[float, Field(ge=0, le=1e5, allow_inf_nan=False)] = Field(
        20.0, title="Price", description="per kilogram of filament or litre of resin"
    )
    shrinkage_percent: Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)] = Field(
        0.3, title="Shrinkage", description="%"
    )
    compensated: bool = Field(
        False, title="Made larger by its shrinkage", description="what is exported for printing, so that it comes out as drawn"
    )
    tension_mpa: Annotated[float, Field(gt=0, ge=1, le=2000, allow_inf_nan=False)] = Field(
        40.0, title="Strength", description="in tension along the layers, N/mm²"
    )
    modulus_mpa: Annotated[float, Field(ge=1, le=400_000, allow_inf_nan=False)] = Field(
        2000.0, title="Stiffness", description="modulus of elasticity, N/mm²"
    )
    strain_percent: Annotated[float, Field(ge=0.05, le=50, allow_inf_nan=False)] = Field(
        1.0, title="Permissible strain", description="of a snap hook, once, along the layers, %"
    )
    source: str = Field("", max_length=200, title="Figures from", description="where density, stiffness and strength are from")
    colour: str = Field("#c9a36b", pattern=r"^#[0-9a-f]{6}$", title="Colour")
    stock_g: Annotated[float, Field(ge=0, le=1e7, allow_inf_nan=False)] = Field(1000.0, title="Stock", description="g on hand")

    @property
    def enlarged(self) -> float:
        """By how much what prints is made larger: 1/(1 − s), so that it has the size it was drawn at after it shrank by s."""
        return 1 / (1 - self.shrinkage_percent / 100) if self.compensated else 1.0

    def mass_g(self, volume_mm3: float) -> float:
        """Mass of a solid volume."""
        return volume_mm3 / 1000 * self.density_g_cm3

    def weight_n(self, volume_mm3: float) -> float:
        """Weight of a solid volume, in newtons."""
        return self.mass_g(volume_mm3) / 1000 * GRAVITY

    def cost(self, volume_mm3: float) -> float:
        """Price of a solid volume, in the workshop's currency."""
        if self.process == "resin":
            return volume_mm3 / 1e6 * self.price
        return self.mass_g(volume_mm3) / 1000 * self.price


def materials() -> list[Material]:
    """The generic materials that ship with Hinoki."""
    table = tomllib.loads(files("hinoki").joinpath("data/materials.toml").read_text())
    return [Material.model_validate(row) for row in table["material"]]

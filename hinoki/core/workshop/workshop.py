"""The workshop as data: printers, materials, fits with where each came from, currency and price of power."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from hinoki.core.workshop.fit_ladder_answers import LadderEntry
from hinoki.core.workshop.fits import Fit, Fits
from hinoki.core.workshop.inventory import OwnSize, StockItem
from hinoki.core.workshop.materials import Material
from hinoki.core.workshop.printers import Printer

SCHEMA = "hinoki-workshop/1"
Name = Annotated[str, Field(min_length=1, max_length=60)]


class FitEntry(BaseModel, frozen=True):
    """One clearance found for a printer with a material, on each side, and where it comes from."""

    printer_id: Name
    material_id: Name
    fit: Fit
    clearance_mm: Annotated[float, Field(ge=0, le=2, allow_inf_nan=False)]
    origin: Literal["typed", "ladder", "pieces"] = "typed"
    note: str = Field("", max_length=200)
    updated_at: str = Field("", max_length=40)


class Settings(BaseModel, frozen=True):
    """What money and power cost."""

    currency: Annotated[str, Field(min_length=1, max_length=8)] = Field("€", title="Currency")
    power_price: Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)] = Field(0.30, title="Power", description="per kWh")


class Workshop(BaseModel, frozen=True):
    """Everything in the workshop; also the form in which it is exported and imported."""

    schema_: Literal["hinoki-workshop/1"] = Field("hinoki-workshop/1", alias="schema")
    printers: tuple[Printer, ...] = Field((), max_length=200)
    materials: tuple[Material, ...] = Field((), max_length=500)
    fits: tuple[FitEntry, ...] = Field((), max_length=20_000)
    settings: Settings = Settings()
    own_sizes: tuple[OwnSize, ...] = Field((), max_length=1000, description="hardware of the maker's own")
    stock: tuple[StockItem, ...] = Field((), max_length=2000, description="what lies in the drawer")
    ladders: tuple[LadderEntry, ...] = Field((), max_length=2000, description="fit ladders that were answered")

    def fits_for(self, printer_id: str, material_id: str) -> Fits:
        """The four clearances for a printer with a material: what was found, else the common ones."""
        pair = printer_id, material_id
        found: dict[str, float] = {f.fit: f.clearance_mm for f in self.fits if (f.printer_id, f.material_id) == pair}
        return Fits().model_copy(update=found)

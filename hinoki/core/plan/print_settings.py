"""How pieces are printed: layer, walls, skins, infill, support."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from hinoki.core.workshop.printers import Printer

Layering = Literal["fine", "usual", "coarse"]
LAYERINGS: tuple[Layering, ...] = ("fine", "usual", "coarse")


class PrintSettings(BaseModel, frozen=True):
    """The settings that estimates rest on."""

    layers: Layering = Field("usual", title="Layers")
    walls: int = Field(3, ge=0, le=20, title="Walls", description="lines side by side")
    skins: int = Field(4, ge=0, le=50, title="Skins", description="full layers at the top and the bottom")
    infill_percent: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] = Field(15.0, title="Infill", description="%")
    support_percent: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] = Field(
        20.0, title="Support", description="how full, %"
    )
    brim_mm: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] = Field(0.0, title="Brim", description="width, mm")
    resin_loss_percent: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] = Field(
        10.0, title="Resin lost", description="on pieces and in the vat, %"
    )

    def layer_mm(self, printer: Printer) -> float:
        """The printer's layer of that name."""
        return printer.layers_mm[LAYERINGS.index(self.layers)]


class OwnSettings(BaseModel, frozen=True):
    """What is printed otherwise than the project says; none: as that."""

    layers: Layering | None = Field(None, title="Layers")
    walls: int | None = Field(None, ge=0, le=20, title="Walls", description="lines side by side; none: as the project")
    skins: int | None = Field(None, ge=0, le=50, title="Skins", description="full layers at the top and the bottom")
    infill_percent: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] | None = Field(
        None, title="Infill", description="%"
    )
    brim_mm: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] | None = Field(
        None, title="Brim", description="width, mm"
    )

    def over(self, settings: PrintSettings) -> PrintSettings:
        """The project's settings with these in their place."""
        return settings.model_copy(update=self.model_dump(exclude_none=True))

    def onto(self, wider: "OwnSettings") -> "OwnSettings":
        """These, and of what they leave open what `wider` ones say."""
        return wider.model_copy(update=self.model_dump(exclude_none=True))


AS_THE_PROJECT = OwnSettings()

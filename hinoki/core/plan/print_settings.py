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
        return settings.model_copy(update=self.model_dump(exclude_none=True, include=set(OwnSettings.model_fields)))

    def onto(self, wider: "OwnSettings") -> "OwnSettings":
        """These, and of what they leave open what `wider` ones say."""
        fields = set(OwnSettings.model_fields)
        wide = wider.model_dump(exclude_none=True, include=fields)
        return OwnSettings.model_validate(wide | self.model_dump(exclude_none=True, include=fields))


class SharedSettings(OwnSettings, frozen=True):
    """What several pieces are printed otherwise, with the printer and the material they belong to, where they name none."""

    printer_id: str | None = Field(None, max_length=60, title="Printer", description="one of the plan's; none: as the project")
    material_id: str | None = Field(
        None, max_length=60, title="Material", description="one of the plan's; none: as the project"
    )

    def within(self, wider: "SharedSettings") -> "SharedSettings":
        """These, and of what they leave open what `wider` ones say."""
        return wider.model_copy(update=self.model_dump(exclude_none=True))


class PrintGroup(BaseModel, frozen=True):
    """Pieces of the project, by their keys in it, that are printed alike; of two groups that have a piece the first counts."""

    id: str = Field(pattern=r"^g[1-9][0-9]{0,3}$", title="Name")
    name: str = Field("", max_length=60, title="Name")
    pieces: tuple[Annotated[str, Field(min_length=1, max_length=8100)], ...] = Field((), max_length=5000)
    printing: SharedSettings = Field(default_factory=SharedSettings)

    @property
    def label(self) -> str:
        """Its name, else its number."""
        return self.name or f"Group {self.id[1:]}"


AS_THE_PROJECT = OwnSettings()

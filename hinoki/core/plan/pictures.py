"""Pictures behind the model: photographs and drawings as planes in a view, to size it and to place things by."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

Place = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]


class BackPicture(BaseModel, frozen=True):
    """A picture in a plane of the part's coordinates: `front` shows X to the right and Z up, `side` Y and Z, `top` X and Y. It
    is looked at only: nothing that is made follows it."""

    id: str = Field(pattern=r"^b[1-9][0-9]{0,3}$", title="Name")
    file_name: str = Field("", max_length=200, title="Name")
    source: str = Field(pattern=r"^[0-9a-f]{64}$", description="SHA-256 of the picture as it is kept")
    wide_px: int = Field(ge=1, le=20_000)
    high_px: int = Field(ge=1, le=20_000)
    view: Literal["front", "side", "top"] = Field("front", title="Seen from")
    across_mm: Annotated[float, Field(gt=0, ge=0.1, le=1e5, allow_inf_nan=False)] = Field(
        200.0, title="Width", description="of the whole picture"
    )
    right_mm: Place = Field(0.0, title="Right", description="of its middle, as it is seen")
    up_mm: Place = Field(0.0, title="Up", description="of its middle")
    away_mm: Place = Field(0.0, title="Plane at", description="Y of a picture from the front, X from the side, Z from the top")
    turn_deg: Annotated[float, Field(ge=-180, le=180, allow_inf_nan=False)] = Field(0.0, title="Turned")
    strength_percent: Annotated[float, Field(ge=5, le=100, allow_inf_nan=False)] = Field(70.0, title="Strength")
    on: bool = True

    @property
    def label(self) -> str:
        """Its file, else its number."""
        return self.file_name or f"Picture {self.id[1:]}"

"""How mating faces are marked, as the plan says it."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field


class MatingMarks(BaseModel, frozen=True):
    """How mating faces are marked: with the face's letter, and the number of the piece."""

    on: bool = Field(False, title="Mark the faces")
    says: Literal["letter", "letter and number", "number"] = Field(
        "letter and number", title="Mark", description="the same letter on both sides; the number of the piece"
    )
    depth_mm: Annotated[float, Field(ge=0.4, le=0.8, allow_inf_nan=False)] = Field(0.6, title="Depth", description="mm")
    raised: bool = Field(False, title="Raised", description="stand out, with a pocket in the other piece")
    size_mm: Annotated[float, Field(ge=2, le=40, allow_inf_nan=False)] | None = Field(
        None, title="Size", description="height of the letters, mm; none: by room"
    )
    without: tuple[str, ...] = Field((), max_length=5000, title="Faces without marks", description="their ids")

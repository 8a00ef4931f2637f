"""What the maker decided about the assembly: a pinned order, what may be glued, what must come off again, how it will stand."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

Coordinate = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
Spot = tuple[Coordinate, Coordinate, Coordinate]
UnitId = Annotated[str, Field(max_length=8000)]
"""a piece's key, or the id of a loose part, a rod, a cable or screws"""
Attitude = Literal["standing", "hung", "upside down"]
Filling = Literal["sand", "steel shot", "coins"]


class PinnedStep(BaseModel, frozen=True):
    """A step as the maker wants it: what is moved (with all that was joined to it before), and what it goes onto."""

    unit: UnitId
    onto: UnitId | None = None


class Glued(BaseModel, frozen=True):
    """Two pieces that may be glued to each other."""

    a: UnitId
    b: UnitId


class Ballast(BaseModel, frozen=True):
    """A filling of the hollow from its lowest point up."""

    filling: Filling = Field("sand", title="Filling")
    up_to_mm: Annotated[float, Field(ge=0, le=1e5, allow_inf_nan=False)] = Field(
        0.0, title="Up to", description="height above the lowest point of the model, mm; 0: none"
    )


class Assembling(BaseModel, frozen=True):
    """The maker's wishes for the assembly. Units that are not there now wait."""

    order: tuple[PinnedStep, ...] = Field((), max_length=5000, description="the order as pinned; empty: Hinoki's")
    glued: tuple[Glued, ...] = Field((), max_length=5000, description="pieces that may be glued")
    comes_off: tuple[UnitId, ...] = Field((), max_length=5000, description="units that must come off again")
    notes: dict[UnitId, Annotated[str, Field(max_length=500)]] = Field(
        default_factory=dict, max_length=5000, description="what the maker wrote at a step, by the unit it moves"
    )
    attitude: Attitude = Field("standing", title="In use it is")
    hangs_at: tuple[Spot, ...] = Field((), max_length=4, title="Hangs at", description="points, mm")
    ballast: Ballast = Field(default_factory=Ballast)
    paper: Literal["A4", "Letter"] = Field("A4", title="Paper")

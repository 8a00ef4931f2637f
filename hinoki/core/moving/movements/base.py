"""What every movement says: what it moves, what it rides on, what drives it, and where its bodies are for a value of it."""

import math
from abc import abstractmethod
from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal, Self

from pydantic import AfterValidator, BaseModel, Field, model_validator

from hinoki.core.forms import Condition, Form
from hinoki.core.geometry.mesh import Points

MOVEMENT_ID = r"^v[1-9][0-9]{0,3}$"
MovementId = Annotated[str, Field(pattern=MOVEMENT_ID)]
Coordinate = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
Point = tuple[Coordinate, Coordinate, Coordinate]


def _leads_somewhere(way: tuple[float, float, float]) -> tuple[float, float, float]:
    if math.hypot(*way) < 1e-6:
        raise ValueError("say which way it goes: not all three figures can be 0")
    return way


Way = Annotated[Point, AfterValidator(_leads_somewhere)]
"""a direction of any length"""
Value = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
Positive = Annotated[float, Field(ge=0, le=1e4, allow_inf_nan=False)]
Unit = Literal["°", " mm"]
DRIVEN_WORDS = {"itself": "itself, from … to", "other": "another, by a ratio", "rod": "a rod that pulls it"}
TRAVEL = ("driven", "by", "ratio", "begin", "end", "kept_at")
"""what a form asks about the drive of a movement"""
PLAYS = ("play_mm", "guide_mm")
TRAVEL_ONLY_IF: Mapping[str, Mapping[str, Condition]] = {
    "by": {"driven": ("other", "rod")},
    "ratio": {"driven": ("other",)},
    "begin": {"driven": ("itself",)},
    "end": {"driven": ("itself",)},
    "kept_at": {"driven": ("itself",)},
}


class MovementBase(BaseModel, frozen=True):
    """Things that move as one. Places are the project's, mm, where all stands at rest; at the value 0 nothing has moved."""

    form: ClassVar[Form]
    """its name, and how its form is drawn"""
    kind: str
    id: MovementId = Field(title="Name")
    name: str = Field("", max_length=80)
    moves: tuple[Annotated[str, Field(min_length=1, max_length=8000)], ...] = Field(
        (), max_length=200, title="Moves", description="instances such as `q2 #1`, or pieces by their keys in the project"
    )

    @property
    def label(self) -> str:
        """Its own name, else its kind and number."""
        return self.name or f"{self.form.name} {self.id[1:]}"

    @property
    @abstractmethod
    def follows(self) -> tuple[str, ...]:
        """The movements that must be known before it."""


class Travel(MovementBase, frozen=True):
    """A movement along or about one line: one value, in degrees or mm."""

    unit: ClassVar[Unit]
    on: MovementId | None = Field(
        None, title="Rides on", description="the movement it goes along with; none: what stands still"
    )
    driven: Literal["itself", "other", "rod"] = Field("itself", title="Driven by")
    by: MovementId | None = Field(None, title="Which")
    ratio: Annotated[float, Field(ge=-1e4, le=1e4, allow_inf_nan=False)] = Field(
        -1.0, title="Ratio", description="its degrees or mm for each degree or mm of the other; gears that mesh turn against"
    )
    begin: Value = Field(0.0, title="From", description="degrees or mm, less than at rest below 0")
    end: Value = Field(90.0, title="To", description="degrees or mm")
    kept_at: Value = Field(0.0, title="Kept at", description="while all parts are put together, degrees or mm")
    play_mm: Positive | None = Field(
        None,
        title="Play",
        description="in its bearing or guide, to each side; none: as measured there, else that of a sliding fit",
    )
    guide_mm: Positive = Field(
        0.0, title="Guided over", description="length of its bearing, by which it can tilt; 0: not at all"
    )

    @model_validator(mode="after")
    def _goes_somewhere(self) -> Self:
        if self.driven == "itself" and self.end <= self.begin:
            raise ValueError("a movement must end beyond where it begins; give From the smaller figure")
        return self

    @property
    def rest(self) -> float:
        """Its value while others are tried: 0, or the end nearest to that."""
        return min(max(0.0, self.begin), self.end)

    @property
    def follows(self) -> tuple[str, ...]:
        """What it rides on and what drives it."""
        by = (self.by,) if self.driven != "itself" and self.by else ()
        return (*((self.on,) if self.on else ()), *by)

    @abstractmethod
    def moved(self, value: float) -> Points:
        """The rigid (3, 4) matrix at a value, seen from what it rides on."""

    @abstractmethod
    def speed(self, reach_mm: float) -> float:
        """How far, in mm for each degree or mm, a point moves at most that is so far from its line."""

    @abstractmethod
    def far_from(self, points: Points) -> float:
        """How far the farthest of points (n, 3) is from its line, mm; 0 where that does not matter."""

    def pulled(self, point: Points, other: Points, long_mm: float, like: Points) -> float | None:
        """The value at which a `point` (3,) of it, given at rest, is `long_mm` from another one (3,), both seen from what it
        rides on; of two the one on the same side as at rest, where the other one was at `like`. None where there is none.

        Raises NotImplementedError for what no rod can pull.
        """
        raise NotImplementedError

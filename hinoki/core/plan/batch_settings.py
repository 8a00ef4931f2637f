"""What the maker wants of the batches: how beds are filled, copies, what was laid by hand, and when someone is there."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

Aim = Literal["fewest", "even", "over night"]
Offset = Annotated[float, Field(ge=-5000, le=5000, allow_inf_nan=False)]
Copies = Annotated[int, Field(ge=1, le=1000)]
Key = Annotated[str, Field(min_length=1, max_length=8000)]
Hour = Annotated[float, Field(ge=0, le=24, allow_inf_nan=False)]


class Laid(BaseModel, frozen=True):
    """Where one thing lies: the bed of its printer and material, counted from 1, the middle of its box from the bed's middle,
    and its turn. What is `pinned` also stays when all is laid out anew."""

    bed: int = Field(ge=1, le=1000)
    x_mm: Offset
    y_mm: Offset
    turn_deg: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)] = 0.0
    pinned: bool = True


class LadderAsked(BaseModel, frozen=True):
    """A fit ladder of a joint that is printed along with the pieces."""

    joint: Annotated[str, Field(max_length=40)]
    part: Annotated[str, Field(max_length=5)] = Field("q1", description="the part that has the joint")
    from_mm: Annotated[float, Field(ge=-1, le=2, allow_inf_nan=False)]
    to_mm: Annotated[float, Field(ge=-1, le=2, allow_inf_nan=False)]
    rungs: Annotated[int, Field(ge=3, le=9)] = 6


class Batching(BaseModel, frozen=True):
    """How batches are made. Keys of `copies` name a piece or a kind of loose part; those of `laid` one copy of it."""

    gap_mm: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] = Field(4.0, title="Gap")
    turn_deg: Annotated[float, Field(ge=0, le=90, allow_inf_nan=False)] = Field(
        45.0, title="Turned by", description="steps in which things are turned on the bed; 0 for not at all"
    )
    aim: Aim = Field("fewest", title="Aim")
    most_hours: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)] | None = Field(
        None, title="At most", description="hours a batch may print"
    )
    tall_together: bool = Field(False, title="Tall with tall", description="things of about one height share a bed")
    from_hour: Hour = Field(8.0, title="There from", description="o'clock from which someone can change a bed")
    to_hour: Hour = Field(22.0, title="Until", description="o'clock until which someone can change a bed")
    copies: dict[Key, Copies] = Field(default_factory=dict, max_length=5000, description="more than one of a thing")
    ladders: tuple[LadderAsked, ...] = Field((), max_length=50, description="fit ladders printed along, by their joints")
    laid: dict[Key, Laid] = Field(default_factory=dict, max_length=5000, description="what was laid by hand")

    @property
    def night_hours(self) -> float:
        """How long nobody is there."""
        return (self.from_hour - self.to_hour) % 24

    @property
    def most_minutes(self) -> float | None:
        """The longest a batch may print, in minutes."""
        hours = self.most_hours
        if self.aim == "over night" and self.night_hours > 0:
            hours = min(self.night_hours, hours or self.night_hours)
        return None if hours is None else 60 * hours


LADDER = "ladder "
"""how the names of the pieces of fit ladders begin"""


def copy_key(key: str, copy: int) -> str:
    """Name of one copy of a thing: the first has the thing's own."""
    return key if copy == 1 else f"{key} #{copy}"


def thing_of(key: str) -> str:
    """The thing that a copy's name is of."""
    return key.split(" #", maxsplit=1)[0]


def loose_key(name: str) -> str:
    """Name of a kind of loose part among all that is printed."""
    return f"loose {name}"

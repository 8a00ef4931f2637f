"""The joint contract: what every kind of joint says about itself.

A joint stands on a mating face with a frame (`u`, `v` in the plane, `n` from piece A into piece B). From its parameters
and its fit it gives the tools that shape both sides; the join stage applies them always in the same way, so that no
joint can change the outside of the model.
"""

from abc import abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from hinoki.core.fits import Fit
from hinoki.core.frames import Frame
from hinoki.core.solid import Solid

Coordinate = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
Place = tuple[Coordinate, Coordinate]
SideName = Literal["a", "b"]


class FaceRef(BaseModel, frozen=True):
    """Names a mating face so that it survives edits: the parting, its member plane, and the two piece keys."""

    parting: str = Field(max_length=10)
    member: int = Field(ge=0, le=1000)
    a: str = Field(max_length=8000)
    b: str = Field(max_length=8000)

    @property
    def id(self) -> str:
        """One string for the same."""
        return f"{self.parting}/{self.member} {self.a}|{self.b}"


@dataclass(frozen=True)
class Peg:
    """The tools of one peg on one side of a face, in world coordinates.

    `add` is what the side gains, `cut` what it loses; `around` is the cut grown sideways by the least wall and
    `beyond` the material that must be left at its end.
    """

    side: SideName
    index: int
    add: Solid | None = None
    cut: Solid | None = None
    bore: Solid | None = None
    around: Solid | None = None
    beyond: Solid | None = None


@dataclass(frozen=True)
class Tools:
    """Everything a joint does to its two pieces, and the loose parts it needs (as assembled)."""

    pegs: list[Peg] = field(default_factory=list)
    loose: list[Solid] = field(default_factory=list)

    def of(self, side: SideName) -> list[Peg]:
        """The tools for one side."""
        return [peg for peg in self.pegs if peg.side == side]


class JointBase(BaseModel, frozen=True):
    """A joint on a mating face."""

    id: str = Field(pattern=r"^j[1-9][0-9]{0,4}$", title="Name")
    face: FaceRef
    fit: Fit = Field("snug", title="Fit")
    places: tuple[Place, ...] | None = Field(None, max_length=100, title="Places", description="none: spread by Hinoki")

    @property
    @abstractmethod
    def wanted(self) -> int:
        """How many places the joint needs."""

    @abstractmethod
    def tools(self, frame: Frame, places: Sequence[Place], clearance_mm: float, least_wall_mm: float) -> Tools:
        """The tools at `places` (plane coordinates), in the world."""

    @abstractmethod
    def reach_mm(self, side: SideName) -> float:
        """How deep the joint goes into the piece on a side; 0 where it only stands on it."""

    @abstractmethod
    def label(self) -> str:
        """Such as “3 pins ø5”."""

    @abstractmethod
    def loose_name(self) -> str | None:
        """What a loose part of this joint is called, or None when it has none."""

    def motion(self, frame: Frame) -> tuple[float, float, float]:
        """The direction in which piece B goes onto piece A."""
        x, y, z = (round(float(-c), 6) + 0.0 for c in frame.n)
        return x, y, z

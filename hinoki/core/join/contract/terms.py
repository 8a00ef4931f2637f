"""What joints are told and what they give: the face they stand on, tools that shape the pieces, what is bought, problems."""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Annotated, Literal, Protocol

import shapely
from pydantic import BaseModel, Field
from shapely.geometry import MultiPolygon

from hinoki.core.findings import Params
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid

if TYPE_CHECKING:
    from hinoki.core.join.contract.base import JointBase

Coordinate = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]


Place = tuple[Coordinate, Coordinate]


Direction = tuple[float, float, float]


SideName = Literal["a", "b"]


SIDES: tuple[SideName, SideName] = ("a", "b")


Taken = Callable[[SideName, float], Sequence[shapely.Geometry]]
"""what other joints take of a face: shadows, on its plane, of their bores in the piece on a side, down to a depth"""


OPENING_MM = 0.5
"""how far a cutting tool stands out of the face it cuts into; there is nothing of the piece there"""


ROOT_MM = 0.05
"""how far what is added reaches into the piece it grows from, so that the two become one"""


JUST_INSIDE_MM = 0.01


HAIR_MM = 1e-3
"""what a sleeve is larger than the body in it"""


NOWHERE = MultiPolygon()


SIDEWAYS = 0.71
"""a piece that comes off at less than 45° to a face comes off along it"""


SAME_WAY = 0.999


END_GAP_MM = 0.3
"""the least gap at the end of a male part, so that the faces meet first"""


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


class Sections(Protocol):
    """Sections of the two pieces of a face at depths into them."""

    def section(self, side: SideName, depth: float) -> MultiPolygon:
        """Section of the piece on `side`, `depth` into it (below 0: on the other side of the face's plane), in the face's plane
        coordinates."""

    def solid(self, side: SideName) -> Solid:
        """The piece on `side`, for what lies on its surface."""


@dataclass(frozen=True)
class Standing:
    """Where a joint stands: the frame and the outline of its face, the clearance on each side, the least wall, and the
    width of a printed line."""

    frame: Frame
    shape: MultiPolygon
    clearance_mm: float
    least_wall_mm: float
    line_mm: float = 0.45
    through: Callable[[SideName, Place, Points | None], float] = lambda _side, _place, _way: math.inf
    """how far it is from a place on the face to where the piece on a side ends, along the normal or a way (3,), in mm"""
    top: Callable[[SideName, Place], float] = lambda _side, _place: -math.inf
    """how far above the face's plane, towards B, the piece on a side reaches at a place; −∞ where it is not there"""
    sections: Sections | None = None
    """of the two pieces, for joints that stand at an edge"""
    off: Points | None = None
    """direction (3,) in which piece B comes off A, where that is not told by the normal"""
    apart_mm: float = 0.0
    """how far the pieces are apart, half of it on either side of the plane"""
    kept: shapely.Geometry = NOWHERE
    """what of the face a hinge takes: a rim leaves it out, and what holds the lid shut stands away from it"""
    crossed: shapely.Geometry = NOWHERE
    """where the outline of the face lies in the plane of another parting: the joints of that are near"""
    corner: bool = False
    """whether one of its pieces has another face at an angle to this one; told where joints are chosen"""
    first: SideName = "a"
    """the piece that is put together first of the two, the same way round on all faces; told where joints are chosen"""

    @property
    def fingerprint(self) -> object:
        """All its figures; what it asks of the two pieces is known by the face it stands on."""
        figures = self.clearance_mm, self.least_wall_mm, self.line_mm, self.apart_mm
        return figures, self.frame, self.shape, self.off, self.kept, self.crossed

    @property
    def end_gap_mm(self) -> float:
        """The gap left at the end of a male part."""
        return max(END_GAP_MM, self.clearance_mm)

    @property
    def sideways(self) -> tuple[float, float] | None:
        """The direction on the face in which piece B comes off along it, as a hatch does out of its opening; None where B comes
        off the face."""
        if self.off is None or abs(float(self.off @ self.frame.n)) > SIDEWAYS:
            return None
        return float(self.off @ self.frame.u), float(self.off @ self.frame.v)

    def lets_off(self, joint: "JointBase") -> bool:
        """Whether piece B comes off in its direction with a joint on this face."""
        motions = joint.motions(self)
        if self.sideways is None or motions is None or self.off is None:
            return True
        return any(float(-self.off @ motion) > SAME_WAY for motion in motions)


@dataclass(frozen=True)
class Tool:
    """What one element of a joint does to the piece on one side, in world coordinates.

    `add` is what the side gains: of it only counts what lies within the two pieces (`clipped`; else it is known to). `cut`
    is what it loses. `bore` is the part of the cut that must lie within the material, `around` that grown sideways by the
    least wall, and `beyond` what must be left at its end. `probe` is the part of a male body whose clearance is as asked.
    `bent` is what `add` becomes for the moment in which the pieces go together, where it gives way. `sleeve` is `add` a hair
    larger, where that is known: taken away, it leaves no film, as a body with the very same faces may.
    """

    side: SideName
    index: int
    add: Solid | None = None
    cut: Solid | None = None
    bore: Solid | None = None
    around: Solid | None = None
    beyond: Solid | None = None
    probe: Solid | None = None
    bent: Solid | None = None
    sleeve: Solid | None = None
    clipped: bool = False


@dataclass(frozen=True)
class Loose:
    """A loose part as assembled, the matrix (3, 4) that lays it flat for printing, and the way it comes off where that is not
    upwards as it prints."""

    solid: Solid
    flat: Points
    way: "Direction | None" = None

    @property
    def printed(self) -> Points:
        """The matrix (3, 4) that lays it flat in the middle of the bed."""
        low, high = self.solid.placed(self.flat).bounds
        out = self.flat.copy()
        out[:, 3] -= [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, low[2]]
        return out


@dataclass(frozen=True)
class LooseOnes:
    """Equal loose parts that no mating face tells of: their name, their body as it prints, and how many."""

    name: str
    body: Solid
    count: int = 1


Tone = Literal["steel", "n", "s"]


@dataclass(frozen=True)
class Bought:
    """Something bought, or the half of a magnet with one pole, where it sits: its body, and the matrix (3, 4) that brings it
    into the piece on `side`. Equal ones have one `name`."""

    name: str
    tone: Tone
    solid: Solid
    matrix: Points
    side: SideName


@dataclass(frozen=True)
class Tools:
    """Everything a joint does to its two pieces, and the loose parts it needs."""

    each: list[Tool] = field(default_factory=list)
    loose: list[Loose] = field(default_factory=list)

    def of(self, side: SideName) -> list[Tool]:
        """The tools for one side."""
        return [tool for tool in self.each if tool.side == side]

    def with_male_of(self, other: "Tools") -> "Tools":
        """What these cut, and what the tools of the same joint made thinner add."""
        pairs = zip(self.each, other.each, strict=True)
        return Tools([replace(own, add=thin.add, probe=thin.probe) for own, thin in pairs], other.loose)


@dataclass(frozen=True)
class Turn:
    """How piece B is turned off piece A: by so many turns about the normal of the face, counter-clockwise where `hand` is 1 and
    one looks at B, clockwise where it is −1, coming off by `lead_mm` for each; and how far it goes in, along the normal."""

    turns: float
    lead_mm: float
    length_mm: float
    hand: Literal[1, -1] = 1


@dataclass(frozen=True)
class CollarWish:
    """How thick a collar a joint asks for, and how far it is to reach on either side of the face before its cone begins."""

    thick_mm: float
    deep_mm: Mapping[SideName, float]
    around_mm: float | None = None
    """only so far around its places, as bosses; None for all along the wall"""
    squared: bool = False
    """bosses as wide across the wall as the collar is: they end where that does"""


@dataclass(frozen=True)
class Problem:
    """Something a joint notices about itself: a finding's code, figures and severity, and the place on the face. Its words
    are those its kind gives the code (`JointBase.words`)."""

    code: str
    params: Params = field(default_factory=dict)
    severity: Literal["must-fix", "look-at", "note"] = "look-at"
    at: Place | None = None
    side: SideName | None = None
    """the piece it is about, where it is about one only"""


def direction_of(vector: Points) -> Direction:
    """A direction as plain, rounded numbers, so that equal ones are equal."""
    x, y, z = (round(float(c), 6) + 0.0 for c in vector)
    return x, y, z

"""The joint contract: what every kind of joint says about itself.

A joint stands on a mating face with a frame (`u`, `v` in the plane, `n` from piece A into piece B). From its parameters
and from where it stands it gives the tools that shape both sides; the join stage applies them always in the same way, so
that no joint can change the outside of the model.
"""

import math
from abc import abstractmethod
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Annotated, Literal, Protocol, Self, TypeVar

import shapely
from pydantic import BaseModel, Field
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.strength import Strength, Stuff
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.hardware import Hardware

Coordinate = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
Small = Annotated[float, Field(ge=0, le=5, allow_inf_nan=False)]
Place = tuple[Coordinate, Coordinate]
Direction = tuple[float, float, float]
SideName = Literal["a", "b"]
SIDES: tuple[SideName, SideName] = ("a", "b")
Spares = Annotated[int, Field(ge=0, le=50)]
Taken = Callable[[SideName, float], Sequence[shapely.Geometry]]
"""what other joints take of a face: shadows, on its plane, of their bores in the piece on a side, down to a depth"""

OPENING_MM = 0.5
"""how far a cutting tool stands out of the face it cuts into; there is nothing of the piece there"""
ROOT_MM = 0.05
"""how far what is added reaches into the piece it grows from, so that the two become one"""
JUST_INSIDE_MM = 0.01
SHARES = (0.35, 0.7, 1.0)
"""how far along a bore's depth (its end wall included) the sections are looked at"""
NOWHERE = MultiPolygon()
SIDEWAYS = 0.71
"""a piece that comes off at less than 45° to a face comes off along it"""
SAME_WAY = 0.999
END_GAP_MM = 0.3
"""the least gap at the end of a male part, so that the faces meet first"""


J = TypeVar("J", bound="JointBase")


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
    """

    side: SideName
    index: int
    add: Solid | None = None
    cut: Solid | None = None
    bore: Solid | None = None
    around: Solid | None = None
    beyond: Solid | None = None
    probe: Solid | None = None
    clipped: bool = False


@dataclass(frozen=True)
class Loose:
    """A loose part as assembled, and the matrix (3, 4) that lays it flat for printing."""

    solid: Solid
    flat: Points

    @property
    def printed(self) -> Points:
        """The matrix (3, 4) that lays it flat in the middle of the bed."""
        low, high = self.solid.placed(self.flat).bounds
        out = self.flat.copy()
        out[:, 3] -= [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, low[2]]
        return out


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
class CollarWish:
    """How thick a collar a joint asks for, and how far it is to reach on either side of the face before its cone begins."""

    thick_mm: float
    deep_mm: Mapping[SideName, float]
    around_mm: float | None = None
    """only so far around its places, as bosses; None for all along the wall"""


@dataclass(frozen=True)
class Problem:
    """Something a joint notices about itself: a finding's code and severity, what is said after the joint's name, and the
    place on the face."""

    code: str
    message: str
    severity: Literal["must-fix", "look-at", "note"] = "look-at"
    at: Place | None = None


class JointBase(BaseModel, frozen=True):
    """A joint on a mating face."""

    kind: str
    id: str = Field(pattern=r"^j[1-9][0-9]{0,4}$", title="Name")
    face: FaceRef
    fit: Fit = Field("snug", title="Fit")
    clearance_mm: float | None = Field(
        None, ge=0, le=2, title="Own clearance", description="each side, mm; none: the fit's", allow_inf_nan=False
    )
    places: tuple[Place, ...] | None = Field(None, max_length=100, title="Places", description="none: spread by Hinoki")
    cut_as_printed_mm: float | None = Field(
        None,
        ge=0,
        le=2,
        title="Cut as printed",
        description="clearance with which the side that is cut was printed and stays; the other side is made thinner instead",
        allow_inf_nan=False,
    )

    @property
    @abstractmethod
    def wanted(self) -> int:
        """How many places the joint needs; 0 for one that follows the outline."""

    @abstractmethod
    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """The tools at `places` (plane coordinates), in the world."""

    @abstractmethod
    def reach_mm(self, side: SideName) -> float:
        """How deep the joint goes into the piece on a side; 0 where it only stands on it."""

    @abstractmethod
    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """What of the face one element at `place` takes up, in plane coordinates, without clearance."""

    @abstractmethod
    def label(self) -> str:
        """Such as “3 pins ø5”."""

    @property
    def elements(self) -> str:
        """What one element of it is called: “pin”."""
        return self.kind

    @property
    def stands_on(self) -> SideName | None:
        """The side its male part grows from; None where neither or both have one."""
        return None

    @property
    def screws(self) -> bool:
        """Whether it goes together by turning one piece about the normal of the face."""
        return False

    @property
    def upright(self) -> bool:
        """Whether the normal of its face is to stand upright while the pieces print."""
        return self.screws

    def gap_share(self, clearance_mm: float) -> float:
        """The distance between its bodies as a share of its clearance: less than 1 where they meet at a slant."""
        return 1.0

    @property
    def within_face(self) -> bool:
        """Whether all it takes of the face is to lie within the face."""
        return True

    @property
    def leaves_crumbs(self) -> bool:
        """Whether what it cuts may leave splinters, which are then taken away."""
        return False

    @property
    def prints_together(self) -> bool:
        """Whether it cannot be put together: both pieces are printed as one."""
        return False

    @property
    def holds_shut(self) -> bool:
        """Whether it holds a lid shut, so that its place is opposite the hinge."""
        return False

    def keeps(self, standing: Standing, place: Place) -> shapely.Geometry:
        """What of the face every other joint leaves it, whichever of them was there first; nothing for most."""
        return NOWHERE

    @property
    def turns_never(self) -> bool:
        """Whether its places are to be such that the pieces cannot be put together turned."""
        return False

    @property
    def apart_mm(self) -> float:
        """Least distance between two of its places, walls and clearance not counted."""
        return 0.0

    def placed_on(self, side: SideName) -> Self:
        """The joint with the side it stands on chosen as `side`, where that was left to Hinoki."""
        return self

    def smaller(self) -> Self | None:
        """The same joint a size smaller; None where there is none."""
        return None

    def thinner(self, by_mm: float) -> Self | None:
        """The same joint with its male parts `by_mm` thinner on each side; None for a kind that cannot, or would be gone."""
        return None

    def tried_at(self, clearance_mm: float) -> Self:
        """The joint as a ladder tries it with a clearance: the same, where the clearance is that of the fit."""
        return self

    def loose_name(self) -> str | None:
        """What a loose part of this joint is called, or None when it has none."""
        return None

    def collar(self, standing: Standing) -> CollarWish | None:
        """What both pieces are to gain inside a hollow beside the face, so that the joint has material to stand in."""
        return None

    @property
    def spares_wanted(self) -> int | None:
        """How many of its loose parts are printed beyond those needed; None where that is left to Hinoki."""
        return None

    def poles_at(self, standing: Standing, places: Sequence[Place]) -> Sequence[Literal["n", "s"]]:
        """Which pole of piece A's magnets looks at piece B, for each place; nothing for what has none."""
        return []

    def hardware(self, standing: Standing, places: Sequence[Place]) -> list[Hardware]:
        """What must be bought for its elements at `places`."""
        return []

    def hardware_of_copies(self, standing: Standing, places: Sequence[Place], copies: tuple[int, int]) -> list[Hardware]:
        """What must be bought when piece A is printed so often and piece B so often: what holds two pieces together is needed
        as often as the one there are more of."""
        return [replace(item, count=item.count * max(copies)) for item in self.hardware(standing, places)]

    def bought(self, standing: Standing, places: Sequence[Place]) -> list[Bought]:
        """The bodies of what is bought, to be shown."""
        return []

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """An estimate of what it holds; None for one that says nothing about it."""
        return None

    def motions(self, standing: Standing) -> tuple[Direction, ...] | None:
        """The directions in which piece B can go onto piece A; None where any will do."""
        return (direction_of(-standing.frame.n),)

    def eroded(self, standing: Standing, section: MultiPolygon) -> shapely.Geometry:
        """Where in a section an element's place may lie, so that it keeps its clearance and the least wall all round."""
        return section

    def kept_off(self, standing: Standing, shadow: shapely.Geometry) -> shapely.Geometry:
        """Where an element's place may not lie, so that it keeps off `shadow`, which something else takes."""
        return shadow.buffer(self.apart_mm / 2 + standing.clearance_mm + standing.least_wall_mm)

    def room(self, standing: Standing, sections: Sections, taken: Taken) -> shapely.Geometry:
        """Where the places of its elements may lie: within the material all along its depth, off what others take."""
        room: shapely.Geometry = self.eroded(standing, standing.shape)
        for side in SIDES:
            reach = self.reach_mm(side)
            deep = standing.least_wall_mm  # under a pin's foot, too, no bore may come close
            if reach > 0:
                deep = reach + standing.end_gap_mm + standing.least_wall_mm
                for share in SHARES:
                    if not room.is_empty:
                        room = shapely.intersection(room, self.eroded(standing, sections.section(side, share * deep)))
            if not room.is_empty:
                for shadow in taken(side, deep):
                    room = shapely.difference(room, self.kept_off(standing, shadow))
        return room

    def spread(self, room: MultiPolygon, apart_mm: float) -> list[Place]:
        """Up to `wanted` places in `room`, at least `apart_mm` from each other."""
        return []

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """What its measures and its place on the face make doubtful, beyond walls and room."""
        return []


def scaled(joint: J, fields: Sequence[str], least_mm: float) -> J | None:
    """A joint with these measures at four fifths; None where one would get under `least_mm`."""
    now = {name: round(8 * float(getattr(joint, name))) / 10 for name in fields}
    return joint.model_copy(update=now) if min(now.values()) >= least_mm else None


def thinned(joint: J, by_mm: float, both_sides: Sequence[str], one_side: Sequence[str] = (), least_mm: float = 0.8) -> J | None:
    """A joint with these measures less by `by_mm` on each side, or on one; None where one would get under `least_mm`."""
    now = {name: round(float(getattr(joint, name)) - 2 * by_mm, 6) for name in both_sides}
    now |= {name: round(float(getattr(joint, name)) - by_mm, 6) for name in one_side}
    return joint.model_copy(update=now) if min(now.values()) >= least_mm else None


def direction_of(vector: Points) -> Direction:
    """A direction as plain, rounded numbers, so that equal ones are equal."""
    x, y, z = (round(float(c), 6) + 0.0 for c in vector)
    return x, y, z

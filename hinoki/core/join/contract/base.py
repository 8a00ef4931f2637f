"""The joint contract: what every kind of joint says about itself.

A joint stands on a mating face with a frame (`u`, `v` in the plane, `n` from piece A into piece B). From its parameters
and from where it stands it gives the tools that shape both sides; the join stage applies them always in the same way, so
that no joint can change the outside of the model.
"""

from abc import abstractmethod
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from typing import Annotated, ClassVar, Literal, Self, TypeVar

import shapely
from pydantic import BaseModel, Field
from shapely.geometry import MultiPolygon

from hinoki.core.forms import Form
from hinoki.core.join.contract.snap_fits import Flex
from hinoki.core.join.contract.strength import Bears, Strength, Stuff, pulled_apart
from hinoki.core.join.contract.terms import (
    NOWHERE,
    SIDES,
    Bought,
    CollarWish,
    Direction,
    FaceRef,
    Place,
    Problem,
    Sections,
    SideName,
    Standing,
    Taken,
    Tools,
    Turn,
    direction_of,
)
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.hardware import Hardware

Small = Annotated[float, Field(ge=0, le=5, allow_inf_nan=False)]
FieldName = Annotated[str, Field(max_length=40)]
Spares = Annotated[int, Field(ge=0, le=50)]

SHARES = (0.35, 0.7, 1.0)
"""how far along a bore's depth (its end wall included) the sections are looked at"""


J = TypeVar("J", bound="JointBase")


class JointBase(BaseModel, frozen=True):
    """A joint on a mating face."""

    form: ClassVar[Form]
    """its name, and how its form is drawn"""
    words: ClassVar[Mapping[str, str]] = {}
    """what its problems say, by code (`code/case` where they have a case), after the element's name and its face; figures stand
    in braces, as in `hinoki.present.words.wording`"""
    pulls: ClassVar[bool] = False
    """whether what it holds it holds against pull, square to the face"""
    takes_glue: ClassVar[bool] = True
    """whether its faces are glued by custom"""

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

    typed: tuple[FieldName, ...] | None = Field(
        None, max_length=60, title="Typed", description="measures that the maker typed; the rest Hinoki chose. null: not known"
    )

    @property
    def as_chosen(self) -> Self:
        """The same joint, all of whose measures Hinoki chose."""
        return self.model_copy(update={"typed": ()})

    @property
    def fingerprint(self) -> object:
        """All that shapes it: its name and who chose a measure do not, and its clearance is told by where it stands."""
        return self.model_dump(mode="json", exclude={"id", "fit", "clearance_mm", "typed"})

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

    def cut_depth_mm(self, standing: Standing, places: Sequence[Place]) -> float:
        """How deep its cut goes at most, the gap at its end included; 0 where nothing goes in."""
        deep = max(self.reach_mm(side) for side in SIDES)
        return deep + standing.end_gap_mm if deep else 0.0

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
    def turn(self) -> Turn | None:
        """How one piece is turned off the other, about the normal of the face; None for one that comes off without."""
        return None

    @property
    def turns(self) -> bool:
        """Whether it goes together by turning one piece about the normal of the face."""
        return self.turn is not None

    @property
    def loose_turn(self) -> Turn | None:
        """How each of its loose parts is turned off the piece on side `turned_in`, about the normal of the face; None for
        parts that come out without."""
        return None

    @property
    def turned_in(self) -> SideName:
        """The side in which its loose parts turn."""
        return "a"

    @property
    def upright(self) -> bool:
        """Whether the normal of its face is to stand upright while the pieces print."""
        return self.turns

    @classmethod
    def sizes(cls, joint_id: str, face: FaceRef, fit: Fit, standing: Standing) -> Iterator[Self]:  # noqa: ARG003
        """Joints that are tried on a face, the best first, of a kind for which `join.sizing` has no rule of its own."""
        yield cls.model_validate({"id": joint_id, "face": face, "fit": fit})

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
    def opens(self) -> bool:
        """Whether it is there to be opened by hand."""
        return False

    @property
    def holds_shut(self) -> bool:
        """Whether it holds a lid shut, so that its place is opposite the hinge."""
        return False

    def keeps(self, standing: Standing, place: Place) -> shapely.Geometry:
        """What of the face every other joint leaves it, whichever of them was there first; nothing for most."""
        return NOWHERE

    @property
    def placed_after(self) -> int:
        """Joints are placed in this order: first those that keep some of the face for themselves."""
        return 2

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

    def hardware_on(self, side: SideName, standing: Standing, places: Sequence[Place]) -> list[Hardware]:
        """What of that is in the piece on a side, or goes in from it."""
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

    def closing(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """An estimate of the force with which it is pressed together; None for one that goes together without."""
        return None

    def catches(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> list[tuple[Place, float]]:
        """The forces, in newtons, with which it holds a lid shut until it lets go, each at its place; nothing for most."""
        return []

    def flexes(self, standing: Standing) -> Flex | None:
        """How far what gives way is strained as it goes together; None for one that does not give way, or as far as is not
        known."""
        return None

    def eased(self, standing: Standing, share: float) -> Self | None:
        """The same joint strained so much less, by a smaller nose or bead; None where that would catch too little."""
        return None

    def bears(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Bears | None:
        """An estimate of the bending it bears; None for one that bears none, as far as is known. What holds against pull opens
        about the edge of its face."""
        holds = self.strength(standing, places, stuff)
        if holds is None or not self.pulls:
            return None
        return pulled_apart(holds.newtons, standing.shape, places, holds.how)

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

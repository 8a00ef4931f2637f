"""A joint as placed on its face: where its elements stand, what its tools are, and what was found about it."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.divide.cut import Part
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import Joint, Place, Problem, SideName, Standing, Tools
from hinoki.core.join.joints.magnet import Pole
from hinoki.core.join.walls import Weak

LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"


@dataclass
class PlacedJoint:
    """A joint on its face: where its elements stand, its tools, and what was found about them."""

    joint: Joint
    face: MatingFace
    standing: Standing
    places: list[Place]
    tools: Tools
    room: MultiPolygon
    made_by: str
    problems: list[Problem] = field(default_factory=list)
    weak: list[Weak] = field(default_factory=list)
    beside: list[int] = field(default_factory=list)
    """elements that do not stand wholly on the face"""
    clashes: list[tuple[int, str, int]] = field(default_factory=list)
    """(own element, other joint, other element) whose bores meet inside a piece"""
    first_letter: int = 0
    gains: Mapping[SideName, Solid] = field(default_factory=dict)
    """the collars of the two pieces, where the joint has some; its face is then the one with them"""
    bare: MultiPolygon = field(default_factory=MultiPolygon)
    """the face as it is without collars"""

    @property
    def collar(self) -> MultiPolygon:
        """What collars add to the face."""
        return as_multi(shapely.difference(self.face.shape, self.bare), 1e-2) if self.gains else MultiPolygon()

    @property
    def fingerprint(self) -> object:
        """What made its tools: the face, the joint, its places, its clearance."""
        return self.made_by

    @property
    def clearance_mm(self) -> float:
        """On each side."""
        return self.standing.clearance_mm

    @property
    def stands(self) -> list[Place]:
        """The places of its elements; for a joint that follows the outline the frame's origin, which stands for all of it."""
        return self.places if self.joint.wanted else [(0.0, 0.0)]

    @property
    def poles(self) -> list[Pole]:
        """Which pole of piece A's magnets looks at piece B, for each place; empty for other joints."""
        return list(self.joint.poles_at(self.standing, self.places))

    @property
    def sorts(self) -> list[str]:
        """What tells its elements apart beside their places: their poles."""
        return list(self.poles) or [""] * len(self.places)

    def name(self, index: int) -> str:
        """Such as “Pin C”; a joint without places has one name."""
        kind = self.joint.elements.capitalize()
        return f"{kind} {letter(self.first_letter + index)}" if self.places else kind

    def part(self, side: SideName) -> Part:
        """The piece on a side."""
        return self.face.part(side)


def letter(index: int) -> str:
    """A, B … Z, AA, AB …"""
    return LETTERS[index] if index < 26 else letter(index // 26 - 1) + LETTERS[index % 26]


def by_face(placed: Sequence[PlacedJoint]) -> dict[str, list[PlacedJoint]]:
    """Placed joints by the id of their face; an empty list for a face that has none."""
    found: dict[str, list[PlacedJoint]] = defaultdict(list)
    for placed_joint in placed:
        found[placed_joint.face.ref.id].append(placed_joint)
    return found

"""The join stage: joints are placed on their faces, checked, and applied to the pieces."""

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.cache import Cache, key_of
from hinoki.core.checks.walls import NOTHING_MM3, Weak, weak_pegs
from hinoki.core.faces import MatingFace
from hinoki.core.joints import Joint, Place, SideName, Tools
from hinoki.core.joints.pegs import PegJoint
from hinoki.core.joints.placing import Depths, auto_places
from hinoki.core.pieces import Part
from hinoki.core.plan import Plan
from hinoki.core.solid import Solid

LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"


@dataclass
class PlacedJoint:
    """A joint on its face: where its pegs stand, its tools, and what was found about them."""

    joint: Joint
    face: MatingFace
    places: list[Place]
    clearance_mm: float
    tools: Tools
    room: MultiPolygon
    made_by: str
    weak: list[Weak] = field(default_factory=list)
    beside: list[int] = field(default_factory=list)
    """pegs whose foot does not stand wholly on the face"""
    clashes: list[tuple[int, str, int]] = field(default_factory=list)
    """(own peg, other joint, other peg) pairs whose bores meet inside a piece"""
    first_letter: int = 0

    def name(self, index: int) -> str:
        """Such as “Pin C”."""
        return f"{self.joint.kind.capitalize()} {letter(self.first_letter + index)}"

    def part(self, side: SideName) -> Part:
        """The piece on a side."""
        return self.face.a if side == "a" else self.face.b


def letter(index: int) -> str:
    """A, B … Z, AA, AB …"""
    return LETTERS[index] if index < 26 else letter(index // 26 - 1) + LETTERS[index % 26]


def place_joints(
    plan: Plan, faces: Sequence[MatingFace], cache: Cache, progress: Callable[[float, str], None]
) -> tuple[list[PlacedJoint], list[Joint]]:
    """All joints whose face is there, placed and checked; and the joints whose face is not."""
    by_id = {face.ref.id: face for face in faces}
    placed: list[PlacedJoint] = []
    unplaced: list[Joint] = []
    used: dict[str, int] = defaultdict(int)
    for step, joint in enumerate(plan.joints):
        progress(step / max(1, len(plan.joints)), f"Placing {joint.label()}")
        face = by_id.get(joint.face.id)
        if face is None:
            unplaced.append(joint)
            continue
        one = _place(joint, face, plan, placed, cache)
        one.first_letter = used[face.ref.id]
        used[face.ref.id] += len(one.places)
        placed.append(one)
    _find_clashes(placed)
    return placed, unplaced


def joined(part: Part, placed: Sequence[PlacedJoint], cache: Cache) -> Part:
    """The piece with its joints: what they add, without what they cut, in two batched kernel calls."""
    own = [(p, side) for p in placed for side in _sides() if p.part(side).key == part.key and p.tools.of(side)]
    if not own:
        return part
    key = key_of("join", part.made_by, [(p.made_by, side) for p, side in own])
    solid = cache.get(key, lambda: _apply(part.solid, own), lambda s: s.triangles)
    return Part(part.key, solid, key, part.ends)


def _apply(solid: Solid, own: Sequence[tuple[PlacedJoint, SideName]]) -> Solid:
    adds: list[Solid] = []
    cuts: list[Solid] = []
    for placed, side in own:
        other = placed.part("b" if side == "a" else "a").solid
        doubtful = {weak.peg.index for weak in placed.weak if weak.through_mm is not None} | set(placed.beside)
        for peg in placed.tools.of(side):
            if peg.add is not None:
                # A ∪ (add ∩ (A ∪ B)): only a doubtful peg can stick out, so only that one pays for the clipping
                adds.append(peg.add.common(solid.plus([other])) if peg.index in doubtful else peg.add)
            if peg.cut is not None:
                cuts.append(peg.cut)
    return solid.plus(adds).minus(cuts)


def _place(joint: Joint, face: MatingFace, plan: Plan, before: Sequence[PlacedJoint], cache: Cache) -> PlacedJoint:
    clearance = plan.fits.clearance_mm(joint.fit)
    near = _near(joint, face, plan, before)
    # the id does not shape anything, so it stays out of the keys
    shape = joint.model_dump(mode="json", exclude={"id", "places"})
    asked = key_of("placed", face.made_by, shape, joint.places, clearance, plan.least_wall_mm, [n.key for n in near])

    def choose() -> tuple[list[Place], MultiPolygon]:
        taken = [(n.side, n.cut) for n in near]
        places, room = auto_places(joint, Depths(face), clearance, plan.least_wall_mm, taken)
        return (places if joint.places is None else list(joint.places)), room

    def make() -> tuple[Tools, list[Weak]]:
        tools = joint.tools(face.frame, places, clearance, plan.least_wall_mm)
        standing = {i for i, place in enumerate(places) if shapely.contains_xy(face.shape, *place)}
        return tools, [
            weak for side, part in _parts(face) for weak in weak_pegs(tools.of(side), part.solid, plan.least_wall_mm, standing)
        ]

    places, room = cache.get(asked, choose)
    key = key_of("tools", face.made_by, shape, places, clearance, plan.least_wall_mm)
    tools, weak = cache.get(key, make, lambda made: 400 * len(made[0].pegs) + 100)
    return PlacedJoint(joint, face, places, clearance, tools, room, key, weak, _beside(joint, face, places))


@dataclass(frozen=True)
class _Near:
    """A bore of another joint close to a face, in the piece on `side` of it."""

    side: SideName
    cut: Solid
    key: str


def _near(joint: Joint, face: MatingFace, plan: Plan, before: Sequence[PlacedJoint]) -> list[_Near]:
    """The bores placed before that a joint on `face` could meet; far ones do not matter, so they change nothing."""
    deep = max(joint.reach_mm("a"), joint.reach_mm("b")) + plan.least_wall_mm + 1.0
    corners = face.frame.world(np.array(shapely.get_coordinates(shapely.box(*face.shape.bounds))))
    low, high = corners.min(axis=0) - deep, corners.max(axis=0) + deep
    return [
        _Near(side, peg.cut, key_of(other.made_by, peg.side, peg.index))
        for other in before
        for other_side in _sides()
        for side, part in _parts(face)
        if other.part(other_side).key == part.key
        for peg in other.tools.of(other_side)
        if peg.cut is not None and (peg.cut.bounds[0] <= high).all() and (peg.cut.bounds[1] >= low).all()
    ]


def _beside(joint: Joint, face: MatingFace, places: Sequence[Place]) -> list[int]:
    feet = [_foot(joint, place) for place in places]
    return [i for i, foot in enumerate(feet) if foot.difference(face.shape).area > 1e-3]


def _foot(joint: PegJoint, place: Place) -> shapely.Geometry:
    if joint.shape == "square":
        h = joint.half_mm
        return shapely.box(place[0] - h, place[1] - h, place[0] + h, place[1] + h)
    return shapely.Point(place).buffer(joint.half_mm, quad_segs=16)


def _find_clashes(placed: Sequence[PlacedJoint]) -> None:
    """Note every pair of bores that meet inside one piece."""
    in_piece: dict[str, list[tuple[PlacedJoint, int, Solid]]] = defaultdict(list)
    for one in placed:
        for side in _sides():
            for peg in one.tools.of(side):
                if peg.cut is not None and peg.bore is not None:
                    in_piece[one.part(side).key].append((one, peg.index, peg.bore))
    for bores in in_piece.values():
        for i, (one, index, bore) in enumerate(bores):
            for other, other_index, other_bore in bores[i + 1 :]:
                if _boxes_meet(bore, other_bore) and bore.common(other_bore).volume_mm3 > NOTHING_MM3:
                    one.clashes.append((index, other.joint.id, other_index))


def _boxes_meet(one: Solid, two: Solid) -> bool:
    return bool((one.bounds[0] <= two.bounds[1]).all() and (two.bounds[0] <= one.bounds[1]).all())


def _sides() -> tuple[SideName, SideName]:
    return "a", "b"


def _parts(face: MatingFace) -> tuple[tuple[SideName, Part], tuple[SideName, Part]]:
    return ("a", face.a), ("b", face.b)

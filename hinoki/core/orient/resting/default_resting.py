"""The pieces as they lie on the bed: each on the side that suits it best, those that print as one together."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part
from hinoki.core.divide.mating_faces import MatingFace, touching
from hinoki.core.geometry.frames import composed
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.shape_hash import shape_hash
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import Direction
from hinoki.core.join.joints import HingeJoint
from hinoki.core.join.opening.swings import axis_of
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.orient.resting.piece import Piece
from hinoki.core.orient.resting.resting_faces import ALONG, LEAST_CONTACT_MM2, Rest, rest_on, rests
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, along
from hinoki.core.stages import Keyed, stage
from hinoki.core.workshop.printers import Printer

Lying = Sequence[tuple[Keyed[Solid], Points | None]]
"""bodies that print as one, each with the matrix (3, 4) that brings it to how it prints, where it does not print as it is"""


def printed_together(placed: Sequence[PlacedJoint]) -> dict[str, frozenset[str]]:
    """For every piece (its key) that comes off the bed as one with others, all of those, itself included."""
    found: dict[str, frozenset[str]] = {}
    for placed_joint in placed:
        if placed_joint.joint.prints_together and placed_joint.places:
            pair = frozenset((placed_joint.face.a.key, placed_joint.face.b.key))
            whole = pair.union(*(found.get(key, frozenset()) for key in pair))
            found |= dict.fromkeys(whole, whole)
    return found


def turned_to_print(placed: Sequence[PlacedJoint]) -> dict[str, Points]:
    """For pieces (their keys) that print opened on a hinge in place, the matrix (3, 4) from where they are in the model."""
    found: dict[str, Points] = {}
    for one in placed:
        axis = axis_of(one)
        if one.joint.prints_together and axis is not None and isinstance(one.joint, HingeJoint):
            turn = axis.turned(one.joint.opens_deg)
            found[one.face.b.key] = composed(found[one.face.a.key], turn) if one.face.a.key in found else turn
    return found


class Resting:
    """How the pieces of a build may lie: those that print as one together, as the way they are printed brings them."""

    def __init__(
        self,
        plan: Plan,
        parts: Sequence[Part],
        faces: Sequence[MatingFace],
        placed: Sequence[PlacedJoint],
        numbers: Mapping[str, int],
        cache: Cache,
    ) -> None:
        self._plan, self._placed, self._numbers, self._cache = plan, placed, numbers, cache
        self._parts = {part.key: part for part in parts}
        self._together, self._turned = printed_together(placed), turned_to_print(placed)
        self._normals: dict[str, list[Points]] = {part.key: [] for part in parts}
        for face in faces:
            self._normals[face.a.key].append(face.frame.n)
            self._normals[face.b.key].append(-face.frame.n)

    def group(self, key: str) -> list[str]:
        """The keys of the pieces that come off the bed as one with a piece, itself among them, by number."""
        return sorted(self._together.get(key, {key}), key=lambda k: self._numbers[k])

    def chosen(self, key: str) -> Direction | None:
        """The direction that the maker chose to point down, as the piece prints."""
        notes = self._plan.pieces
        return next((_turned(n.down, self._turned.get(k)) for k in self.group(key) if (n := notes.get(k)) and n.down), None)

    def rests(self, key: str, only_best: bool = False) -> list[Rest]:
        """The ways to lay a piece, best first, the one that was chosen before all; with `only_best` that one alone."""
        group, turned = self.group(key), self._turned
        printer = self._plan.bed_for(group[0])
        lying = [(self._parts[k].body, turned.get(k)) for k in group]
        out = [np.array(_turned(n, turned.get(k))) for k in group for n in self._normals[k]]
        chosen = self.chosen(key)
        found: list[Rest] = []
        if chosen is not None:
            found = [_rest_on(self._cache, lying, printer, chosen, out)]
        if chosen is None or not only_best:
            upright = [p.face.frame.n for p in self._placed if p.joint.upright and {p.face.a.key, p.face.b.key} & set(group)]
            others = _rests(self._cache, lying, printer, out, only_best, upright)
            found += [r for r in others if not found or r.down @ found[0].down < 1 - 1e-6]
        return [r.after(turned[key]) for r in found] if key in turned else found


@stage("rest on")
def _rest_on(lying: Lying, printer: Printer, down: Direction, normals: Sequence[Points]) -> Rest:
    """How bodies that print as one lie with a direction down; `normals` out of their mating faces give it its name."""
    return named(rest_on(as_one([(body.value, turn) for body, turn in lying]), np.array(down), printer), normals)


@stage("rest")
def _rests(lying: Lying, printer: Printer, normals: Sequence[Points], only_best: bool, upright: Sequence[Points]) -> list[Rest]:
    """The ways in which bodies that print as one lie, best first."""
    return rests(as_one([(body.value, turn) for body, turn in lying]), normals, printer, only_best, upright)


@stage("shape hash")
def _shape_hash(body: Keyed[Solid]) -> str:
    """A name for a piece's shape alone."""
    return shape_hash(body.value)


def pieces_laid(  # noqa: PLR0913 - all that decides how pieces lie
    plan: Plan,
    parts: Sequence[Part],
    before: Sequence[Part],
    faces: Sequence[MatingFace],
    placed: Sequence[PlacedJoint],
    numbers: Mapping[str, int],
    names: Mapping[str, str],
    cache: Cache,
    progress: Tell,
) -> tuple[Piece, ...]:
    """All pieces by number, each on the side it lies on. `names` are those that pieces (by key) have from the model's file."""
    near: dict[str, set[int]] = {part.key: set() for part in parts}
    meeting = [(face.a, face.b) for face in faces] + list(touching(before, faces, cache))
    for a, b in meeting:
        near[a.key].add(numbers[b.key])
        near[b.key].add(numbers[a.key])
    bare = {part.key: part for part in before}
    resting = Resting(plan, parts, faces, placed, numbers, cache)
    laid = []
    for part in along(parts, progress, lambda k: f"Resting piece {k + 1} of {len(parts)}"):
        number, note = numbers[part.key], plan.pieces.get(part.key)
        laid.append(
            Piece(
                key=part.key,
                number=number,
                name=(note.name if note else "") or names.get(part.key) or f"Piece {number}",
                body=part.solid,
                made_by=part.made_by,
                shape=_shape_hash(cache, part.body),
                bare_mm3=bare[part.key].solid.volume_mm3,
                rest=resting.rests(part.key, only_best=True)[0],
                chosen=resting.chosen(part.key) is not None,
                room_mm=plan.printer_of(part.key).room_mm,
                neighbours=tuple(sorted(near[part.key])),
                prints_with=tuple(numbers[k] for k in resting.group(part.key) if k != part.key),
            )
        )
    return tuple(sorted(laid, key=lambda p: p.number))


def named(rest: Rest, mating: Sequence[Points]) -> Rest:
    """A side that was chosen, by what it is: as the piece stands, a mating face, another flat face, or leaning."""
    if rest.down[2] < -ALONG:
        return replace(rest, what="as it stands")
    if any(float(rest.down @ normal) > ALONG for normal in mating):
        return replace(rest, what="mating face")
    return replace(rest, what="flat face" if rest.contact_mm2 >= LEAST_CONTACT_MM2 else "leaning")


def as_one(group: Sequence[tuple[Solid, Points | None]]) -> Solid:
    """Solids as they print, each turned by its matrix (3, 4), in one."""
    solids = [solid if turn is None else solid.placed(turn) for solid, turn in group]
    return solids[0] if len(solids) == 1 else Solid.together(solids)


def _turned(way: Direction | Points, turn: Points | None) -> Direction:
    """A direction in the model as it is where the piece prints."""
    x, y, z = np.array(way) if turn is None else turn[:, :3] @ np.array(way)
    return float(x), float(y), float(z)

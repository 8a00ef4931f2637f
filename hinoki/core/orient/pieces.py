"""Orientation of the pieces of a build: what their faces are for, what their joints ask, and the candidates of each."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.divide.region_tracking import marked
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.mesh import Faces, Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import SIDES, HookJoint, PinJoint
from hinoki.core.orient.congruence import Shape, turn_between
from hinoki.core.orient.resting.default_resting import as_one, printed_together, turned_to_print
from hinoki.core.orient.scoring import PRESETS, Preset, Weights
from hinoki.core.orient.search import Attitude, Candidate, measured, ranked, search
from hinoki.core.orient.surface import Surface, surface_of
from hinoki.core.plan.contents import PieceNote
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.core.stages import Keyed, stage
from hinoki.core.workshop.printers import Printer

ALIKE = float(np.cos(np.radians(2.0)))
"""a candidate this near to how its like lies is taken for it"""


class OrientWish(BaseModel):
    """Which piece (its key; none: all of them), and what counts: a preset, or weights typed."""

    piece: str | None = Field(None, max_length=8000)
    preset: Preset | None = "least support"
    weights: Weights | None = None

    @property
    def weighing(self) -> Weights:
        """The weights typed, else the preset's."""
        return self.weights or PRESETS[self.preset or "least support"]


@dataclass(frozen=True)
class Group:
    """Pieces that come off the bed as one, most often a single one: keys by number, and for those that print opened on a
    hinge the matrix (3, 4) from where they are in the model. Directions of a group are as it prints."""

    keys: tuple[str, ...]
    turned: dict[str, Points]
    solid: Solid
    made_by: tuple[str, ...]
    printer: Printer
    planes: tuple[Frame, ...]
    """of its mating faces"""
    mating: tuple[Points, ...]
    """normals out of it there"""
    attitude: Attitude
    shown: Faces
    """numbers of the model's faces that are to be seen"""
    cache: Cache

    @cached_property
    def surface(self) -> Surface:
        """Its surface by what its faces are for; worked out when it is wanted."""
        body = Keyed(self.solid, [self.made_by, list(self.turned.values())])
        return _surface(self.cache, body, self.planes, self.shown)

    @property
    def fingerprint(self) -> object:
        """All that decides how it may lie: its bodies as they print, its faces, what its joints ask, its printer."""
        bodies = self.made_by, list(self.turned.values())
        return bodies, self.printer, self.planes, self.mating, self.attitude, self.shown

    def down_of(self, key: str, down: Points) -> Points:
        """A direction of the model at one of its pieces, as the group prints."""
        return self.turned[key][:, :3] @ down if key in self.turned else down

    def for_piece(self, key: str, candidate: Candidate) -> Candidate:
        """A candidate for one of its pieces, from where that is in the model."""
        return replace(candidate, rest=candidate.rest.after(self.turned[key])) if key in self.turned else candidate


@dataclass(frozen=True)
class Mate:
    """Another piece of the same shape: the turn (3, 3) of directions onto it; `mirrored` where it is the mirror image."""

    key: str
    turn: Points
    mirrored: bool


def groups_of(plan: Plan, built: Build, cache: Cache) -> list[Group]:
    """All pieces by number, what prints as one together."""
    together, turned = printed_together(built.placed), turned_to_print(built.placed)
    numbers = built.numbers
    shown = shown_faces(plan, built, cache)
    by_key = {part.key: part for part in built.parts}
    found, done = [], set[str]()
    for key in sorted(by_key, key=lambda k: numbers[k]):
        if key in done:
            continue
        keys = tuple(sorted(together.get(key, {key}), key=lambda k: numbers[k]))
        done |= set(keys)
        turns = {k: turned[k] for k in keys if k in turned}
        solid = as_one([(by_key[k].solid, turns.get(k)) for k in keys])
        planes, mating = [], []
        for k in keys:
            for face in built.faces:
                if k in (face.a.key, face.b.key):
                    frame = face.frame.placed(turns[k]) if k in turns else face.frame
                    planes.append(frame)
                    mating.append(frame.n if face.a.key == k else -frame.n)
        made_by = tuple(by_key[k].made_by for k in keys)
        printer, attitude = plan.bed_for(keys[0]), attitude_of(built, keys, turns)
        found.append(Group(keys, turns, solid, made_by, printer, tuple(planes), tuple(mating), attitude, shown, cache))
    return found


@stage("surface", weigh=lambda surface: 3 * len(surface.mesh.faces))
def _surface(body: Keyed[Solid], planes: Sequence[Frame], shown: Faces) -> Surface:
    """A body's surface by what its faces are for."""
    return surface_of(body.value, planes, shown)


def attitude_of(built: Build, keys: Sequence[str], turned: dict[str, Points]) -> Attitude:
    """What the joints of pieces ask of them."""
    upright: list[Points] = []
    pins: list[Points] = []
    for placed_joint in built.placed:
        own = [k for k in keys if k in (placed_joint.face.a.key, placed_joint.face.b.key)]
        if not placed_joint.places or not own:
            continue
        axis = turned[own[0]][:, :3] @ placed_joint.face.frame.n if own[0] in turned else placed_joint.face.frame.n
        if placed_joint.joint.upright:
            upright.append(axis)
        if isinstance(placed_joint.joint, PinJoint | HookJoint) and any(
            placed_joint.joint.stands_on == side and placed_joint.part(side).key in own for side in SIDES
        ):
            pins.append(axis)
    return Attitude(tuple(upright), tuple(pins))


def shown_faces(plan: Plan, built: Build, cache: Cache) -> Faces:
    """Numbers of the model's faces that are marked to be seen."""
    ready = built.prepared
    if ready is None or not any(m.kind == "show" for m in plan.marks):
        return np.zeros(0, dtype=np.int64)
    return marked(plan.marks, ready.mesh, ready.key, cache).of("show")


def oriented(group: Group, weights: Weights, cache: Cache, tell: Tell = quiet) -> list[Candidate]:
    """The candidates of a group, best first."""
    return ranked(_searched(cache, group, weights, tell), weights)


@stage("oriented", weigh=lambda found: sum(c.support.columns.size for c in found) + 100)
def _searched(group: Group, weights: Weights, tell: Tell) -> list[Candidate]:
    """The candidates of a group."""
    return search(group.solid, group.surface, group.printer, group.mating, group.attitude, weights, tell)


def lying(group: Group, down: Points, what: str, cache: Cache) -> Candidate:
    """A group measured closely as it lies with a direction down."""
    return _lying(cache, group, down.round(6), what)


@stage("lying", weigh=lambda one: one.support.columns.size + 100)
def _lying(group: Group, down: Points, what: str) -> Candidate:
    """A group measured with a direction down."""
    return measured(group.solid, group.surface, group.printer, down, what, group.attitude)


def lies_now(built: Build, group: Group, cache: Cache) -> Candidate:
    """A group measured as its plan has it lie."""
    rest = next(p.rest for p in built.pieces if p.key == group.keys[0])
    return lying(group, group.down_of(group.keys[0], np.array(rest.down)), rest.what, cache)


def best_rests(
    plan: Plan, built: Build, wish: OrientWish, cache: Cache, tell: Tell = quiet, also_chosen: bool = True
) -> dict[str, list[Candidate]]:
    """The candidates of the pieces asked for, by key. Of “all”, pieces that are locked are left out (with `also_chosen` off
    those whose side was chosen, too), and what is alike lies alike."""
    every = groups_of(plan, built, cache)
    wanted = [
        g for g in every if (wish.piece in g.keys if wish.piece else not any(_stays(plan, k, also_chosen) for k in g.keys))
    ]
    found: dict[str, list[Candidate]] = {}
    laid: list[tuple[Group, Candidate]] = []
    for k, group in enumerate(wanted):
        tell(k / max(1, len(wanted)), f"Orienting piece {k + 1} of {len(wanted)}")
        within = part_of(tell, k / len(wanted), (k + 1) / len(wanted))
        candidates = oriented(group, wish.weighing, cache, within)
        if not wish.piece:
            candidates = _as_its_like(built, group, candidates, laid, cache)
            laid.append((group, candidates[0]))
        found |= {key: [group.for_piece(key, c) for c in candidates] for key in group.keys}
    return found


def _as_its_like(
    built: Build, group: Group, candidates: list[Candidate], laid: Sequence[tuple[Group, Candidate]], cache: Cache
) -> list[Candidate]:
    """The candidates with the one first that lies as the first piece of the same shape does, unless it breaks a rule."""
    for other, best in laid:
        turn = _turn(built, other, group, cache)
        if turn is None:
            continue
        down = turn @ best.rest.down
        near = next((c for c in candidates if float(c.rest.down @ down) > ALIKE), None)
        one = near or lying(group, down, best.rest.what, cache)
        return candidates if one.broken else [one, *(c for c in candidates if c is not one)]
    return candidates


def mates(built: Build, group: Group, every: Sequence[Group], cache: Cache) -> list[Mate]:
    """The other pieces of the same shape as one that prints alone."""
    found = []
    for other in every:
        turn = None if other.keys == group.keys else _turn(built, group, other, cache)
        if turn is not None:
            found.append(Mate(other.keys[0], turn, float(np.linalg.det(turn)) < 0))
    return found


def _turn(built: Build, group: Group, other: Group, cache: Cache) -> Points | None:
    """From one piece that prints alone to another of its shape, before joints, on the same printer."""
    if len(group.keys) > 1 or len(other.keys) > 1 or group.printer.id != other.printer.id:
        return None
    a, b = (next(p for p in built.before if p.key == g.keys[0]) for g in (group, other))
    if a.made_by == b.made_by:
        return np.eye(3)
    return _turn_between(cache, *(Keyed(_shape(cache, p.body), p.made_by) for p in (a, b)))


@stage("shape")
def _shape(body: Keyed[Solid]) -> Shape:
    """What of a body's shape is compared."""
    return Shape.of(body.value)


@stage("turn")
def _turn_between(a: Keyed[Shape], b: Keyed[Shape]) -> Points | None:
    """The turn that brings one shape onto another; None where there is none."""
    return turn_between(a.value, b.value)


def _stays(plan: Plan, key: str, also_chosen: bool) -> bool:
    note = plan.pieces.get(key)
    return bool(note and (note.locked or (note.down is not None and not also_chosen)))


def with_rests(plan: Plan, found: dict[str, list[Candidate]]) -> Plan:
    """The plan with the best side of each piece chosen."""
    notes = dict(plan.pieces)
    for key, candidates in found.items():
        x, y, z = (round(float(v), 6) for v in candidates[0].rest.down)
        notes[key] = notes.get(key, PieceNote()).model_copy(update={"down": (x, y, z)})
    return plan.model_copy(update={"pieces": notes})

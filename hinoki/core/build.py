"""The pipeline: a plan and its model files become a Build, stage by stage, each remembered by the hash of what went into it.

read → prepare → part → faces → join → lay. Moving one pin recomputes two pieces and nothing else. What is noticed about a
build is worked out by `hinoki.core.check`, what screens see of it by `hinoki.present`; batches and the assembly when they are
asked for.
"""

import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import count
from types import MappingProxyType
from typing import Literal

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import WHOLE, Part, Parted, part_model
from hinoki.core.divide.mating_faces import MatingFace, mating_faces
from hinoki.core.divide.merge import keep_together
from hinoki.core.divide.numbering import number_pieces
from hinoki.core.divide.object_names import names_from_file
from hinoki.core.divide.region_tracking import Marked, crossings, marked
from hinoki.core.findings import Finding
from hinoki.core.geometry.shape_hash import shape_hash
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.apply import joined, place_joints
from hinoki.core.join.channel_cuts import Bored, bored
from hinoki.core.join.contract.terms import LooseOnes
from hinoki.core.join.joints import Joint
from hinoki.core.join.labels import FaceMark, mark_faces, shaping_of
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.reinforcement import Ground
from hinoki.core.join.supplies.loose_parts import LoosePart, loose_parts
from hinoki.core.join.supplies.shopping_list import printed_often, shopping
from hinoki.core.join.tiles.pole_jig import jigs
from hinoki.core.join.tiles.tiles import Modules, all_modules, pockets_of, tails_of
from hinoki.core.make import NotMade
from hinoki.core.model.prepared_model import Prepared, bought_for, loose_for, prepared
from hinoki.core.orient.resting.default_resting import Resting, pieces_laid
from hinoki.core.orient.resting.piece import Piece
from hinoki.core.orient.resting.resting_faces import laid_open
from hinoki.core.plan.parts import FIRST, own_keys, project_key
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, along, part_of, quiet
from hinoki.core.stages import stage
from hinoki.core.workshop.hardware import Hardware

SourceOf = Callable[[str], bytes]
NOTHING: Mapping[str, int] = MappingProxyType({})


@dataclass(frozen=True)
class Build:
    """All that comes of a plan: bodies and figures in full precision.

    `state` is “open” for a surface that does not close: it is one piece, as it is, and partings and joints wait. `before` are
    the pieces before joints, `parts` with them; `numbers` are piece numbers by key. `crossed` tells which partings (their ids)
    cross a region that is to stay whole (its id).
    """

    plan: Plan
    state: Literal["empty", "open", "whole"] = "empty"
    prepared: Prepared | None = None
    parted: Parted | None = None
    faces: Sequence[MatingFace] = ()
    placed: Sequence[PlacedJoint] = ()
    unplaced: Sequence[Joint] = ()
    marks: Sequence[FaceMark] = ()
    unreadable: Sequence[Finding] = ()
    """letters on mating faces that there is no room for"""
    ways: Sequence[Bored] = ()
    modules: Sequence[Modules] = ()
    parts: Sequence[Part] = ()
    pieces: tuple[Piece, ...] = ()
    numbers: Mapping[str, int] = field(default_factory=dict)
    loose: tuple[LoosePart, ...] = ()
    hardware: Sequence[Hardware] = ()
    regions: Marked = field(default_factory=Marked)
    crossed: Mapping[str, set[str]] = field(default_factory=dict)
    not_made: str = ""
    """why a part that Hinoki makes cannot be made now"""
    others: "tuple[Build, ...]" = ()
    """the project's other parts, each built by itself, where they were asked for (`build_all`)"""

    @property
    def all_parts(self) -> "tuple[Build, ...]":
        """All parts of the project in the order in which they came. Raises ValueError where the others were not built."""
        if len(self.others) != len(self.plan.parts):
            raise ValueError("the other parts of the project were not built")
        return tuple(sorted((self, *self.others), key=lambda one: int(one.plan.part_id[1:])))

    def project_key(self, key: str) -> str:
        """What one of its pieces is called in the whole project."""
        return project_key(self.plan.part_id, key)

    @property
    def before(self) -> Sequence[Part]:
        """The pieces before joints."""
        return self.parted.parts if self.parted is not None else ()

    @property
    def whole(self) -> Solid | None:
        """The prepared model as a solid."""
        return self.prepared.solid if self.prepared is not None else None

    @property
    def ground(self) -> Ground | None:
        """The whole model and its pieces before joints; None for an open surface."""
        ready = self.prepared
        return Ground(ready.solid, ready.key, list(self.before)) if ready is not None and ready.solid is not None else None

    @property
    def balance(self) -> "VolumeBalance | None":
        """Whether the pieces before joints add up to the model."""
        if self.whole is None or self.parted is None:
            return None
        pieces = sum(part.solid.volume_mm3 for part in self.before)
        return VolumeBalance(self.whole.volume_mm3, pieces, self.parted.lost_mm3)

    def piece(self, key: str) -> Piece:
        """A piece by its key. Raises KeyError where there is none."""
        found = next((p for p in self.pieces if p.key == key), None)
        if found is None:
            raise KeyError(key)
        return found

    def resting(self, cache: Cache) -> Resting:
        """How its pieces may lie."""
        return Resting(self.plan, self.parts, self.faces, self.placed, self.numbers, cache)


@dataclass(frozen=True)
class VolumeBalance:
    """Volumes, mm³: of the model, of its pieces before joints, and of what partings take away on purpose."""

    model_mm3: float
    pieces_mm3: float
    lost_mm3: float

    @property
    def relative_error(self) -> float:
        """How much of the model is missing or doubled, as a share of it."""
        return abs(self.pieces_mm3 + self.lost_mm3 - self.model_mm3) / self.model_mm3


def build(  # noqa: PLR0913 - what it works on, and whom it tells
    plan: Plan,
    source_of: SourceOf,
    cache: Cache,
    progress: Tell = quiet,
    numbers: Mapping[str, int] = NOTHING,
    seconds: dict[str, float] | None = None,
    on_pieces: Callable[[Sequence[Part]], None] = lambda _: None,
) -> Build:
    """Build the part of a plan that is worked on. `source_of` gives a model file's bytes by its hash; `numbers` are piece
    numbers given before, by keys of the whole project.

    The time of each stage is added to `seconds`. `on_pieces` gets the finished pieces before resting faces are sought, so that
    they can be shown. Raises BadPlan and UnreadableModel; anything less is found by `check`.
    """
    if not plan.begun:
        return Build(plan)
    clock = _Clock({} if seconds is None else seconds)
    try:
        ready = prepared(plan, source_of, cache, part_of(progress, 0.02, 0.2))
    except NotMade as error:
        return Build(plan, not_made=error.message)
    clock.mark("read")
    if ready.solid is None:
        own, elsewhere = _numbers_known(plan, numbers)
        number = own.get(WHOLE) or next(n for n in count(1) if n not in elsewhere)
        return Build(plan, "open", ready, pieces=(_as_it_is(plan, ready, number),), numbers={WHOLE: number})

    progress(0.2, "Cutting")
    solid = known_faces(ready, cache)
    parted = part_model(solid, ready.key, plan.partings, cache, part_of(progress, 0.2, 0.45))
    keep_together(parted, plan.together, cache)
    clock.mark("part")
    faces = mating_faces(parted.parts, cache, part_of(progress, 0.45, 0.5))
    known = number_pieces(parted.parts, *_numbers_known(plan, numbers))
    base = Build(plan, "whole", ready, parted, faces, numbers=known)
    whole = _joined(base, solid, cache, part_of(progress, 0.5, 0.8))
    clock.mark("join")
    on_pieces(whole.parts)
    names = names_from_file(ready.shape.bodies, parted.parts)
    if (plan.part_name or plan.made or plan.part_id != FIRST) and [part.key for part in parted.parts] == [WHOLE]:
        names = {WHOLE: plan.label}
    laying = part_of(progress, 0.8, 1.0)
    pieces = pieces_laid(plan, whole.parts, parted.parts, faces, whole.placed, known, names, cache, laying)
    now = marked(plan.marks, ready.mesh, ready.key, cache)
    crossed = crossings(plan.marks, now, ready.mesh, parted.parts, cache)
    clock.mark("lay")
    return replace(_supplied(whole), pieces=pieces, regions=now, crossed=crossed)


def build_all(  # noqa: PLR0913 - as for `build`
    plan: Plan,
    source_of: SourceOf,
    cache: Cache,
    progress: Tell = quiet,
    numbers: Mapping[str, int] = NOTHING,
    seconds: dict[str, float] | None = None,
    on_pieces: Callable[[Sequence[Part]], None] = lambda _: None,
) -> Build:
    """Build the part of a plan that is worked on, with all other parts of the project beside it.

    Pieces of all parts are numbered as of one project, in the order in which the parts came. As `build` otherwise.
    """
    if not plan.parts:
        return build(plan, source_of, cache, progress, numbers, seconds, on_pieces)
    known = plan.noted_numbers | dict(numbers)
    made: dict[str, Build] = {}
    for k, part_id in enumerate(plan.part_ids):
        own = plan.working_on(part_id)
        share = part_of(progress, k / len(plan.part_ids), (k + 1) / len(plan.part_ids))
        shown = on_pieces if part_id == plan.part_id else lambda _: None
        made[part_id] = build(own, source_of, cache, share, known, seconds, shown)
        known |= {project_key(part_id, key): number for key, number in made[part_id].numbers.items()}
    others = tuple(made[part.id] for part in plan.parts)
    return replace(made[plan.part_id], plan=plan, others=others)


def _numbers_known(plan: Plan, numbers: Mapping[str, int]) -> tuple[dict[str, int], set[int]]:
    """Numbers of pieces of the open part that are known, by key, and those that pieces of other parts have."""
    every = plan.noted_numbers | dict(numbers)
    own = own_keys(plan.part_id, every)
    ours = {project_key(plan.part_id, key) for key in own}
    return own, {number for key, number in every.items() if key not in ours}


def _as_it_is(plan: Plan, ready: Prepared, number: int) -> Piece:
    """An open surface as one piece."""
    note, mesh = plan.pieces.get(WHOLE), ready.mesh
    name = note.name if note and note.name else plan.part_name or f"Piece {number}"
    rest, room = laid_open(mesh, plan.printer), plan.printer_of(WHOLE).room_mm
    return Piece(WHOLE, number, name, mesh, ready.key, shape_hash(mesh), mesh.volume_mm3, rest, False, room)


def _joined(base: Build, solid: Solid, cache: Cache, progress: Tell) -> Build:
    """With joints placed on the mating faces, channels and tiles, and the pieces that come of them."""
    plan, parts, ready = base.plan, list(base.before), base.prepared
    if ready is None:
        raise ValueError("nothing is prepared")
    ways = bored(plan, parts, cache)
    modules = all_modules(plan, parts, cache)
    bores = [*((w.bore, w.key, w.pieces) for w in ways), *pockets_of(modules)]
    ground = Ground(solid, ready.key, parts, bores)
    placed, unplaced = place_joints(plan, base.faces, ground, cache, part_of(progress, 0.0, 0.67))
    marks, unreadable = mark_faces(plan.mating_marks, base.faces, placed, base.numbers, plan.printer.line_mm, cache)
    finished = []
    for part in along(parts, part_of(progress, 0.67, 1.0), lambda k: f"Joining piece {k + 1} of {len(parts)}"):
        more = shaping_of(marks, part.key)
        own = [(bore, key) for bore, key, pieces in bores if part.key in pieces]
        more.cuts += [bore for bore, _ in own]
        more.keys += [key for _, key in own]
        tails = [(body, key) for body, key, piece in tails_of(modules) if piece == part.key]
        more.adds += [body for body, _ in tails]
        more.keys += [key for _, key in tails]
        finished.append(joined(part, placed, cache, more))
    return replace(
        base,
        placed=placed,
        unplaced=unplaced,
        marks=marks,
        unreadable=unreadable,
        ways=ways,
        modules=modules,
        parts=finished,
    )


def _supplied(whole: Build) -> Build:
    """With the loose parts that are printed, and what is bought."""
    plan, placed, modules = whole.plan, whole.placed, whole.modules
    tools, often = jigs(placed, modules), printed_often(plan, [part.key for part in whole.parts], placed)
    keys = [key for module in modules if (key := module.keys(often)) is not None]
    done = whole.prepared.done if whole.prepared is not None else ()
    stands = len(plan.instances)
    made = [*(LooseOnes(name, body) for name, body, _ in tools), *keys, *loose_for(done, stands)]
    loose = loose_parts(placed, whole.ways, made, whole.numbers, often)
    own = bought_for(done, stands)
    return replace(whole, loose=loose, hardware=shopping(placed, whole.ways, modules, tools, often, own))


def known_faces(ready: Prepared, cache: Cache) -> Solid:
    """The prepared solid with every triangle known by its number in the prepared mesh. Raises ValueError without a solid."""
    return _known_faces(cache, ready)


@stage("known faces", weigh=lambda solid: solid.triangles)
def _known_faces(ready: Prepared) -> Solid:
    if ready.solid is None:
        raise ValueError("an open surface has no solid")
    return ready.solid if ready.solid.of_model else Solid.from_mesh(ready.mesh, model=True)


class _Clock:
    """Adds up the seconds spent in each stage."""

    def __init__(self, seconds: dict[str, float]) -> None:
        self.seconds = seconds
        self._last = time.perf_counter()

    def mark(self, stage: str) -> None:
        now = time.perf_counter()
        self.seconds[stage] = self.seconds.get(stage, 0.0) + now - self._last
        self._last = now

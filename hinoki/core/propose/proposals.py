"""Three divisions that really differ, worked out on a thinned copy of the body and proved on the body itself."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.build import SourceOf, known_faces
from hinoki.core.cache import Cache
from hinoki.core.divide.cut import WHOLE, Part, part_further, part_model
from hinoki.core.divide.merge import keep_together
from hinoki.core.divide.numbering import number_pieces
from hinoki.core.divide.partings import Parting
from hinoki.core.divide.region_tracking import marked
from hinoki.core.divide.seams import outer_faces_of
from hinoki.core.errors import BadPlan
from hinoki.core.findings import Finding
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.core.limbs.limbs import Limb, limbs_of
from hinoki.core.model.prepared_model import prepared
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.core.propose.explanations import remark, remarks_on, says_how, why_not
from hinoki.core.propose.feet import with_feet
from hinoki.core.propose.figures import Figures, figures_of
from hinoki.core.propose.search.beam_search import DIFFERENT, MOST_PIECES, SECONDS, WEIGHTS, Prefer, Search, State
from hinoki.core.propose.search.bed_fit import Room
from hinoki.core.propose.search.constraints import Heed, heeded
from hinoki.core.propose.search.limb_seeds import limbed_starts, that_come_off
from hinoki.core.propose.search.wedge_seeds import wedged_starts
from hinoki.core.stages import Keyed, key_of, stage
from hinoki.core.symmetry.mirror_planes import MirrorPlane, mirror_planes
from hinoki.core.workshop.printers import Printer

MOST_SLANTED = 2
"""planes at a slant that a division is made to be mirrored by"""
THIN_TRIANGLES = 8_000
THIN_STEPS_MM = (0.05, 0.15, 0.3, 0.6)
PICTURE_TRIANGLES, PICTURE_MM = 20_000, 0.2
PROVED_TRIANGLES = 150_000
"""on larger bodies only the preferred proposal is proved at once, the others when they are taken"""
TITLES: dict[Prefer, str] = {
    "fewest": "Few pieces",
    "hidden": "Hidden seams",
    "sturdy": "Sturdiest joints",
    "support": "Least support",
    "limbs": "Limbs apart",
}


Draw = Callable[[str, Solid], None]


class Wishes(BaseModel, frozen=True):
    """What a division is wished to be."""

    piece: str | None = Field(None, max_length=8000, description="key of the one piece to divide; none for the whole model")
    printers: tuple[str, ...] = Field((), max_length=20, description="printers of the plan to use, by name; none for the first")
    most_pieces: int | None = Field(None, ge=1, le=600)
    prefer: Prefer = "fewest"
    kept_mm: float = Field(0.0, ge=0, le=50, description="room kept for joints that stand out of a face")


class Proposal(BaseModel):
    """One division: ordinary partings, which printer each piece is for where it is not the first, and its figures."""

    title: str
    says: str
    partings: tuple[Parting, ...]
    printers: dict[str, str] = {}
    proved: bool = Field(True, description="whether it was cut from the model itself, or from a thinned copy only")
    tried: bool = Field(False, description="whether it was tried with joints")
    against: Finding | None = Field(None, description="what keeps it from being carried through with joints")
    figures: Figures
    numbers: dict[str, int]
    meshes: dict[str, str] = Field({}, description="name of the display mesh of every piece, by its key")


class Proposals(BaseModel):
    """Up to three proposals, the preferred one first, and what is to be said."""

    proposals: list[Proposal]
    remarks: list[Finding]
    lower_bound: int


@dataclass(frozen=True)
class _Job:
    """What all proposals of one call share."""

    plan: Plan
    cache: Cache
    show: Mesh | None
    printers: list[Printer]
    outside: "np.ndarray"
    target: Part
    others: list[Part]
    all_pieces: bool
    wishes: Wishes
    first_number: int


def propose(  # noqa: PLR0913 - what it works on, and how it tells and stops
    plan: Plan,
    source_of: SourceOf,
    cache: Cache,
    wishes: Wishes,
    tell: Tell,
    draw: Draw | None = None,
    seconds: float = SECONDS,
) -> Proposals:
    """Proposals for the model as prepared or one of its pieces. Raises BadPlan where none can be made, saying why.

    `draw` gets the name and the body of every piece, for pictures. After `seconds` the best so far is carried to its end.
    """
    job, heed = _begun(plan, source_of, cache, wishes, tell)
    target, printers = job.target, job.printers
    tell(0.12, "Thinning the model")
    thin, within = _thinned(target, cache)
    room = Room(printers, wishes.kept_mm + 2 * within)
    bound = Room(printers, wishes.kept_mm).needed(target.solid.size)
    if bound > MOST_PIECES:
        beds = " or ".join(" × ".join(f"{v:g}" for v in p.room_mm) for p in printers)
        sides = " × ".join(f"{v:.0f}" for v in target.solid.size)
        raise BadPlan(
            f"A bed of {beds} mm would need more than {MOST_PIECES} pieces for a model of {sides} mm. "
            "Use a larger printer or a smaller scale.",
            "bed",
        )
    size = np.sort(target.solid.size)
    search = Search(
        room,
        heed,
        printers[0],
        2 * float(size[-1] + size[-2]),
        cache,
        lambda f, p: tell(0.15 + 0.5 * f, p),
        job.first_number,
        _mirrors(cache, thin.body),
        all_pieces=job.all_pieces,
        seconds=seconds,
    )
    if search.fits(thin):
        return _as_it_is(job, heed, draw)
    search.limbs = that_come_off(thin, _limbs(cache, thin.body), search)
    starts = [State((thin,)), *wedged_starts(thin, search)]
    states = _searched(search, starts, limbed_starts(thin, search), wishes.prefer)
    if not states:
        raise BadPlan(why_not(plan, search, target, printers), "proposal")
    out, more = list[Proposal](), False
    for step, (prefer, state) in enumerate(states):
        tell(0.65 + 0.3 * step / len(states), f"Proving “{TITLES[prefer]}” on the model")
        at_once = step == 0 or target.solid.triangles <= PROVED_TRIANGLES
        proved = _proved(job, state, heed, prefer) if at_once else state
        if proved is not None:
            standing = _standing(job, proved, heed) if at_once else proved
            more = more or len(standing.parts) > len(proved.parts)
            out.append(_shown(job, TITLES[prefer], standing, at_once, draw))
    if not out:
        raise BadPlan(why_not(plan, search, target, printers), "proposal")
    remarks = remarks_on([p.figures.pieces for p in out], plan, wishes.most_pieces, search, bound)
    return Proposals(proposals=out, remarks=[*remarks, *([remark("proposals-feet")] if more else [])], lower_bound=bound)


def _as_it_is(job: _Job, heed: Heed, draw: Draw | None) -> Proposals:
    """What fits is left whole; where it would stand on a point, parts of it that do not are proposed before that."""
    whole = State((job.target,))
    out = [_shown(job, "As it is", whole, True, draw)]
    standing = _standing(job, whole, heed)
    if standing is whole:
        return Proposals(proposals=out, remarks=[remark("proposals-as-it-is")], lower_bound=1)
    return Proposals(
        proposals=[_shown(job, "Pieces that stand", standing, True, draw), *out],
        remarks=[remark("proposals-feet")],
        lower_bound=1,
    )


def _standing(job: _Job, state: State, heed: Heed) -> State:
    """The division with pieces parted further that would stand on a point; the same where there are none."""
    room, by_id = Room(job.printers), {p.id: p for p in job.printers}
    known: dict[str, Printer] = {}

    def printer_of(part: Part) -> Printer:
        if part.made_by not in known:
            known[part.made_by] = by_id[room.printer_for(part) or job.printers[0].id]
        return known[part.made_by]

    number = job.first_number + len(state.partings)
    parts, added = with_feet(state.parts, number, printer_of, heed, job.all_pieces, job.cache)
    return State(tuple(parts), (*state.partings, *added)) if added else state


def _begun(plan: Plan, source_of: SourceOf, cache: Cache, wishes: Wishes, tell: Tell) -> tuple[_Job, Heed]:
    """The body to divide and what its marks ask."""
    ready = prepared(plan, source_of, cache, part_of(tell, 0.0, 0.1))
    if ready.solid is None:
        raise BadPlan("An open surface cannot be divided. Make it right under Model first.", "model")
    now = marked(plan.marks, ready.mesh, ready.key, cache)
    heed = heeded(now, ready.mesh)
    target, others, first = _target(plan, known_faces(ready, cache), ready.key, wishes, cache)
    outside = outer_faces_of(cache, ready)
    job = _Job(plan, cache, heed.show, _printers(plan, wishes), outside, target, others, wishes.piece is None, wishes, first)
    return job, heed


def _printers(plan: Plan, wishes: Wishes) -> list[Printer]:
    every = {p.id: p for p in (plan.printer, *plan.more_printers)}
    unknown = [name for name in wishes.printers if name not in every]
    if unknown:
        raise BadPlan(f"The project has no printer {unknown[0]!r}; it has {', '.join(every)}.", "printers")
    return [every[name] for name in wishes.printers] or [plan.printer]


def _target(plan: Plan, solid: Solid, key: str, wishes: Wishes, cache: Cache) -> tuple[Part, list[Part], int]:
    """The piece to divide, the pieces that stay, and the first free number for partings."""
    if wishes.piece is None:
        return Part(WHOLE, solid, key), [], 1
    parted = part_model(solid, key, plan.partings, cache)
    keep_together(parted, plan.together, cache)
    target = next((p for p in parted.parts if p.key == wishes.piece), None)
    if target is None:
        raise BadPlan("The piece to divide is not there any more; choose another.", "piece")
    first = max((int(p.id[1:]) for p in plan.partings), default=0) + 1
    return target, [p for p in parted.parts if p is not target], first


def _thinned(target: Part, cache: Cache) -> tuple[Part, float]:
    """The body with few enough triangles for a search, and how far it may be off."""
    if target.solid.triangles <= THIN_TRIANGLES:
        return target, 0.0
    body = target.body
    for step in THIN_STEPS_MM:
        body = Keyed(_simplified(cache, body, step), _simplified.key(body, step))
        if body.value.triangles <= THIN_TRIANGLES:
            break
    away = _away_mm(cache, target.body, body)
    return Part(target.key, body.value, str(body.fingerprint), target.ends, target.made), away


@stage("thinned", weigh=lambda solid: solid.triangles)
def _simplified(body: Keyed[Solid], within_mm: float) -> Solid:
    """A body with fewer triangles."""
    return body.value.simplified(within_mm)


@stage("mirrors")
def _mirrors(body: Keyed[Solid]) -> list[MirrorPlane]:
    """The planes that a body is mirrored by: those square to X, Y and Z, or, where there are none, the best of the others."""
    found = mirror_planes(body.value.mesh)
    return [m for m in found if np.abs(m.normal).max() == 1.0] or found[:MOST_SLANTED]


@stage("limbs")
def _limbs(body: Keyed[Solid]) -> tuple[Limb, ...]:
    """The limbs of a body."""
    return limbs_of(body.value)


@stage("away")
def _away_mm(body: Keyed[Solid], thinned: Keyed[Solid]) -> float:
    """How far a body lies from its thinned copy, measured at its corners."""
    import igl

    points, mesh = body.value.mesh.vertices, thinned.value.mesh
    squared = igl.point_mesh_squared_distance(np.ascontiguousarray(points), mesh.vertices, mesh.faces)[0]
    return float(np.sqrt(np.max(squared)))


def _searched(search: Search, starts: Sequence[State], limbed: Sequence[State], prefer: Prefer) -> list[tuple[Prefer, State]]:
    """Up to three states that differ, the preferred one first; one of them begins with limbs that come off, if any do."""
    second: list[Prefer] = ["limbs"] if limbed else []
    order = dict.fromkeys([prefer, *second, *(wanted for wanted in WEIGHTS if wanted != "limbs")])
    found: list[tuple[Prefer, State]] = []
    tell = search.tell
    for number, wanted in enumerate(order):
        search.tell = part_of(tell, number / len(order), (number + 1) / len(order))
        if len(found) == 3 or (found and search.cut_short):
            break
        others = [other for _, other in found]
        begin = limbed if wanted == "limbs" and limbed else starts
        state = search.run(begin, WEIGHTS[wanted], others)
        if state is not None and all(search.likeness(state, other) <= DIFFERENT for other in others):
            found.append((wanted, state))
    return found


def _proved(job: _Job, state: State, heed: Heed, prefer: Prefer) -> State | None:
    """The division on the body itself, divided further where a piece does not fit after all."""
    parts: list[Part] = [job.target]
    for parting in state.partings:
        parts = part_further(parts, parting, job.cache)
    room = Room(job.printers, job.wishes.kept_mm)
    search = Search(room, heed, job.printers[0], 1000.0, job.cache, quiet, job.first_number, all_pieces=job.all_pieces)
    true = State(tuple(parts), state.partings)
    if any(not search.fits(p) for p in parts):
        return search.run([true], WEIGHTS[prefer])
    return true


def prove(plan: Plan, source_of: SourceOf, cache: Cache, wishes: Wishes, proposal: Proposal, tell: Tell) -> Proposal:
    """A proposal proved on the model itself: divided further where a piece does not fit after all. Raises BadPlan."""
    job, heed = _begun(plan, source_of, cache, wishes, tell)
    tell(0.4, f"Proving “{proposal.title}” on the model")
    proved = _proved(job, State((), proposal.partings), heed, wishes.prefer)
    if proved is None:
        raise BadPlan("This proposal does not hold on the model itself. Take another one.", "proposal")
    return _shown(job, proposal.title, _standing(job, proved, heed) if proposal.partings else proved, True)


def figures_for(plan: Plan, source_of: SourceOf, cache: Cache, tell: Tell) -> Figures | None:
    """The figures of the division a plan has; none for an open surface."""
    ready = prepared(plan, source_of, cache, part_of(tell, 0.0, 0.1))
    if ready.solid is None:
        return None
    parted = part_model(known_faces(ready, cache), ready.key, plan.partings, cache, lambda f, p: tell(0.1 + 0.6 * f, p))
    keep_together(parted, plan.together, cache)
    outside = outer_faces_of(cache, ready)
    now = marked(plan.marks, ready.mesh, ready.key, cache)
    printers = {p.key: plan.printer_of(p.key) for p in parted.parts}
    tell(0.8, "Measuring the division")
    return figures_of(parted.parts, printers, outside, heeded(now, ready.mesh).show, cache)


def _shown(job: _Job, title: str, state: State, proved: bool, draw: Draw | None = None) -> Proposal:
    room = Room(job.printers, 0.0)
    by_id = {p.id: p for p in job.printers}
    wanted = {p.key: room.printer_for(p) or job.printers[0].id for p in state.parts}
    parts = [*job.others, *state.parts]
    printers = {p.key: job.plan.printer_of(p.key) for p in job.others} | {k: by_id[name] for k, name in wanted.items()}
    partings = tuple(state.partings)
    if draw is not None:
        for part in parts:
            solid = part.solid if part.solid.triangles < PICTURE_TRIANGLES else part.solid.simplified(PICTURE_MM)
            draw(key_of("picture", part.made_by), solid)
    return Proposal.model_validate(
        {
            "title": title,
            "proved": proved,
            "says": says_how(partings),
            "partings": partings,
            "printers": {k: name for k, name in wanted.items() if name != job.plan.printer.id},
            "figures": figures_of(parts, printers, job.outside, job.show, job.cache),
            "numbers": number_pieces(parts, {}),
            "meshes": {p.key: key_of("picture", p.made_by) for p in parts} if draw else {},
        }
    )

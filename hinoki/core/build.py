"""The engine: build(plan, sources) in stages, each pure and remembered by the hash of what went into it.

read → prepare → part → faces → join → check → orient. Moving one pin recomputes two pieces and nothing else. Batches and the
assembly are worked out when they are asked for.
"""

import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import partial

from hinoki.core.cache import Cache, key_of
from hinoki.core.check.films import film_findings
from hinoki.core.check.fixes import add_shifts
from hinoki.core.check.joints import joint_findings, motion_findings, turn_findings, unplaced_findings
from hinoki.core.check.magnets import magnet_findings
from hinoki.core.check.modules import show_modules
from hinoki.core.check.pieces import piece_findings
from hinoki.core.check.standing_on_pins import on_pins_findings
from hinoki.core.check.stands import stand_findings
from hinoki.core.check.strength import add_strengths, strength_of
from hinoki.core.check.swing import swing_findings
from hinoki.core.check.upright import upright_findings
from hinoki.core.divide.cut import WHOLE, Part, Parted, part_model
from hinoki.core.divide.mating_faces import MatingFace, mating_faces
from hinoki.core.divide.merge import keep_together, sliver_findings
from hinoki.core.divide.numbering import number_pieces
from hinoki.core.divide.object_names import names_from_file
from hinoki.core.divide.region_tracking import Marked, crossing_findings, crossings, marked
from hinoki.core.divide.seams import outer_faces, seams_of
from hinoki.core.findings import name_findings
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.shape_hash import shape_hash
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.apply import PlacedJoint, joined, place_joints
from hinoki.core.join.channel_cuts import Bored, bored, rod_findings, rod_motions, way_findings
from hinoki.core.join.labels import FaceMark, mark_faces, shaping_of
from hinoki.core.join.reinforcement import Ground
from hinoki.core.join.supplies.hardware_bodies import bought_views
from hinoki.core.join.supplies.loose_parts import loose_parts
from hinoki.core.join.supplies.shopping_list import printed_often, shopping
from hinoki.core.join.tiles.pole_jig import jigs
from hinoki.core.join.tiles.tiles import Modules, all_modules, pockets_of
from hinoki.core.model.prepared_model import Prepared, prepared
from hinoki.core.orient.resting.default_resting import pieces_laid
from hinoki.core.orient.resting.resting_faces import laid_open
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, along, part_of, quiet
from hinoki.core.workshop.hardware import spares_of
from hinoki.present.build import (
    mark_view,
    model_view,
    parting_view,
    piece_view,
    steps_done,
)
from hinoki.present.joints import faces_view, joint_view, mating_mark_view
from hinoki.present.schemas.build import Balance, BuildView, HardwareView, WayView

SourceOf = Callable[[str], bytes]


@dataclass
class Built:
    """A build: the data for screens and reports, and the geometry behind it."""

    view: BuildView
    prepared: Prepared | None = None
    before: list[Part] = field(default_factory=list)
    parts: list[Part] = field(default_factory=list)
    faces: list[MatingFace] = field(default_factory=list)
    placed: list[PlacedJoint] = field(default_factory=list)
    marks: list[FaceMark] = field(default_factory=list)
    ways: list[Bored] = field(default_factory=list)
    modules: list[Modules] = field(default_factory=list)
    loose: dict[str, Solid] = field(default_factory=dict)
    meshes: dict[str, Solid | Mesh] = field(default_factory=dict)


def build(
    plan: Plan,
    source_of: SourceOf,
    cache: Cache,
    progress: Tell = quiet,
    numbers: Mapping[str, int] | None = None,
    for_screen: bool = True,
    seconds: dict[str, float] | None = None,
    on_pieces: Callable[[list[Part]], None] = lambda _: None,
) -> Built:
    """Build a plan. `source_of` gives a model file's bytes by its hash; `numbers` are piece numbers given before.

    `for_screen` adds what only the screens need: suggested joints, outlines of sections, other resting faces.
    The time of each stage is added to `seconds`. `on_pieces` gets the finished pieces before resting faces and findings are
    sought, so that they can be shown.
    Raises BadPlan and UnreadableModel; anything less is a finding in the result.
    """
    if plan.model is None:
        return Built(BuildView(state="empty"))
    clock = _Clock({} if seconds is None else seconds)
    ready = prepared(plan, source_of, cache, part_of(progress, 0.02, 0.2), for_screen)
    read_key = ready.key
    clock.mark("read")
    view = BuildView(state="open", model=model_view(plan, ready), findings=list(ready.findings))
    view.prepare = steps_done(plan, ready)
    built = Built(view, ready, meshes={read_key: ready.solid or ready.mesh})
    if for_screen:
        built.meshes |= {d.before_key: d.before.solid or d.before.mesh for d in ready.done}
    remembered = {k: n.number for k, n in plan.pieces.items() if n.number} | dict(numbers or {})
    if ready.solid is None:
        _build_open(plan, ready, read_key, built)
        return built

    progress(0.2, "Cutting")
    solid = known_faces(ready, cache)
    parted = part_model(solid, read_key, plan.partings, cache, part_of(progress, 0.2, 0.45))
    keep_together(parted, plan.together, cache)
    clock.mark("part")
    built.before, built.faces = parted.parts, mating_faces(parted.parts, cache, part_of(progress, 0.45, 0.5))
    from_file = names_from_file(ready.shape.bodies, parted.parts)
    ways = built.ways = bored(plan, parted.parts, cache)
    modules = built.modules = all_modules(plan, parted.parts, cache)
    bores = [*((w.bore, w.key, w.pieces) for w in ways), *pockets_of(modules)]
    ground = Ground(solid, read_key, parted.parts, bores)
    built.placed, unplaced = place_joints(plan, built.faces, ground, cache, part_of(progress, 0.5, 0.7))
    view.numbers = number_pieces(parted.parts, remembered)
    built.marks, unreadable = mark_faces(
        plan.mating_marks, built.faces, built.placed, view.numbers, plan.printer.line_mm, cache
    )
    view.findings += unreadable
    built.parts = []
    count = len(parted.parts)
    for part in along(parted.parts, part_of(progress, 0.7, 0.8), lambda k: f"Joining piece {k + 1} of {count}"):
        more = shaping_of(built.marks, part.key)
        own = [(bore, key) for bore, key, pieces in bores if part.key in pieces]
        more.cuts += [bore for bore, _ in own]
        more.keys += [key for _, key in own]
        built.parts.append(joined(part, built.placed, cache, more))
    clock.mark("join")
    on_pieces(built.parts)

    view.state = "whole"
    show = partial(pieces_laid, plan, built.parts, built.before, built.faces, built.placed, view.numbers, cache, for_screen)
    view.pieces = show(part_of(progress, 0.8, 0.9))
    for piece in view.pieces:
        note = plan.pieces.get(piece.key)
        if piece.key in from_file and not (note and note.name):
            piece.name = from_file[piece.key]
    built.meshes |= {part.made_by: part.solid for part in built.parts}
    drawing = part_of(progress, 0.9, 0.92)
    view.faces = faces_view(built.faces, view.numbers, plan, cache if for_screen else None, drawing)
    show_modules(view, modules, built.placed, plan)
    now = _heed_marks(plan, built, ready, cache)
    if for_screen:
        _show_partings(plan, built, parted, solid, ready, now, cache, part_of(progress, 0.92, 0.96))
    view.joints = [
        joint_view(p, view.numbers, joint_findings(p, built.placed, view.numbers, plan), for_screen, strength_of(p, plan))
        for p in built.placed
    ]
    view.mating_marks = [mating_mark_view(m) for m in built.marks]
    tools, often = jigs(built.placed, modules), printed_often(plan, built.placed)
    view.loose, built.loose = loose_parts(built.placed, ways, [(n, s) for n, s, _ in tools], view.numbers, often)
    built.meshes |= {item.mesh: built.loose[item.name] for item in view.loose}
    if for_screen:
        view.bought, bodies = bought_views(plan, built.placed, modules, view.numbers)
        built.meshes |= bodies
    bought = shopping(built.placed, ways, modules, tools, often)
    view.hardware = [HardwareView(name=h.name, count=h.count, spares=spares_of(h), length_mm=h.length_mm) for h in bought]
    rods = rod_motions(ways, built.faces)
    view.findings += rod_findings(rods, built.placed, view.numbers)
    view.balance = _balance(solid, parted)
    view.findings += parted.findings
    view.findings += sliver_findings(parted.parts, built.faces, view.numbers, plan.sliver_mm3)
    view.findings += film_findings(built.parts, view.numbers, cache, part_of(progress, 0.96, 0.99))
    view.findings += [f for joint in view.joints for f in joint.findings]
    view.ways = [_way_view(w, built) for w in ways]
    view.findings += way_findings(ways, built.placed, solid, view.numbers) + stand_findings(ways, solid)
    view.findings += magnet_findings(built.placed, view.pieces, view.numbers, plan)
    view.findings += add_strengths(view.faces, built.placed, view.pieces, view.numbers, plan)
    view.findings += swing_findings(built.placed, built.parts, built.before, view.numbers, cache)
    view.findings += upright_findings(built.placed, view.pieces, view.numbers)
    view.findings += motion_findings(built.placed, view.numbers) + turn_findings(built.placed, view.numbers, cache)
    view.findings += unplaced_findings(unplaced) + piece_findings(plan, view) + on_pins_findings(view, plan, built.placed)
    add_shifts(view, plan, parted.parts)
    name_findings(view.findings, plan.accepted)
    clock.mark("check")
    progress(1.0, "Done")
    return built


def _build_open(plan: Plan, ready: Prepared, made_by: str, built: Built) -> None:
    """An open surface is one piece, as it is; partings and joints wait."""
    rest = laid_open(ready.mesh, plan.printer)
    built.view.numbers = {WHOLE: 1}
    built.view.pieces = [piece_view(plan, WHOLE, 1, ready.mesh, None, made_by, [rest], False, [])]
    built.view.pieces[0].shape = shape_hash(ready.mesh)
    built.view.findings += piece_findings(plan, built.view)
    name_findings(built.view.findings, plan.accepted)


def ground_of(built: Built) -> Ground | None:
    """The whole model and its pieces before joints; None for an open surface."""
    ready = built.prepared
    return Ground(ready.solid, ready.key, built.before) if ready and ready.solid else None


def known_faces(ready: Prepared, cache: Cache) -> Solid:
    """The prepared solid with every triangle known by its number in the prepared mesh. Raises ValueError without a solid."""
    solid, mesh = ready.solid, ready.mesh
    if solid is None:
        raise ValueError("an open surface has no solid")
    return cache.get(
        key_of("known faces", ready.key),
        lambda: solid if solid.of_model else Solid.from_mesh(mesh, model=True),
        lambda s: s.triangles,
    )


def _heed_marks(plan: Plan, built: Built, ready: Prepared, cache: Cache) -> Marked:
    """Where the marks lie now, and which partings cross what is to stay whole."""
    view = built.view
    now = marked(plan.marks, ready.mesh, ready.key, cache)
    crossed = crossings(plan.marks, now, ready.mesh, built.before, cache)
    view.findings += [*now.findings, *crossing_findings(plan.marks, crossed)]
    for mark in plan.marks:
        if mark.id in now.faces:
            name = key_of("patch", ready.key, mark.painted or mark.box)
            built.meshes[name] = cache.get(name, partial(ready.mesh.only, now.faces[mark.id]), lambda m: len(m.faces))
            view.marks.append(mark_view(mark, now.faces[mark.id], ready.mesh, name, crossed.get(mark.id, set())))
    return now


def _show_partings(
    plan: Plan, built: Built, parted: Parted, solid: Solid, ready: Prepared, now: Marked, cache: Cache, tell: Tell
) -> None:
    """Partings with their sections and seams."""
    view = built.view
    outside = cache.get(key_of("outer faces", ready.key), partial(outer_faces, ready.mesh), len)
    seams = seams_of(parted.parts, outside, cache, part_of(tell, 0.0, 0.5))
    show = ready.mesh.only(now.of("show")) if len(now.of("show")) else None
    count = max(1, len(plan.partings))
    view.partings = [
        parting_view(
            p, parted, solid, ready.key, cache, seams.get(p.id), show, built.faces,
            part_of(tell, 0.5 + 0.5 * k / count, 0.5 + 0.5 * (k + 1) / count),
        )
        for k, p in enumerate(plan.partings)
    ]  # fmt: skip
    view.seam_mm = round(sum(s.length for s in seams.values()), 2)
    view.seam_show_mm = round(sum(s.length_on(show) for s in seams.values()), 2)


def _way_view(one: Bored, built: Built) -> WayView:
    mesh = key_of("way body", one.key)
    built.meshes[mesh] = one.way.body()
    return WayView(
        id=one.way.id,
        kind=one.way.kind,
        label=one.way.label(),
        pieces=sorted(built.view.numbers[k] for k in one.pieces),
        long_mm=round(one.way.long_mm, 2),
        mesh=mesh,
    )


def _balance(solid: Solid, parted: Parted) -> Balance:
    whole = solid.volume_mm3
    total = sum(part.solid.volume_mm3 for part in parted.parts)
    lost = parted.lost_mm3
    return Balance(
        model_mm3=whole,
        pieces_before_joints_mm3=total,
        taken_away_mm3=lost,
        relative_error=abs(total + lost - whole) / whole,
    )


class _Clock:
    """Adds up the seconds spent in each stage."""

    def __init__(self, seconds: dict[str, float]) -> None:
        self.seconds = seconds
        self._last = time.perf_counter()

    def mark(self, stage: str) -> None:
        now = time.perf_counter()
        self.seconds[stage] = self.seconds.get(stage, 0.0) + now - self._last
        self._last = now

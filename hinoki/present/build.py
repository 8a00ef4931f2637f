"""A build as screens and reports see it.

`described` gives every figure and no drawing, which is what reports and lists need; `present` adds what screens draw, and the
meshes to draw by name.
"""

from dataclasses import dataclass, field

from hinoki.core.build import Build, VolumeBalance, known_faces
from hinoki.core.cache import Cache
from hinoki.core.check.check import Checked
from hinoki.core.divide.seams import outer_faces_of, seams_of
from hinoki.core.geometry.mesh import Faces, Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channel_cuts import Bored
from hinoki.core.join.opening.folds import folds_of
from hinoki.core.join.supplies.hardware_bodies import bought_bodies
from hinoki.core.join.supplies.loose_parts import LoosePart, Seat
from hinoki.core.join.tiles.put_together import Tried
from hinoki.core.model.prepared_model import Prepared
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.core.stages import Keyed, key_of, stage
from hinoki.core.workshop.hardware import Hardware, spares_of
from hinoki.present.bodies import mark_view, model_view, parting_view, piece_view, rest_view, steps_done, vec
from hinoki.present.findings import finding_views
from hinoki.present.joints import draw_faces, draw_joint, faces_view, joint_view, mating_mark_view
from hinoki.present.parts.view import needed_view, parts_drawn, parts_view
from hinoki.present.schemas.build import Balance, BoughtView, BuildView, HardwareView, LooseAt, LooseView, WayView
from hinoki.present.schemas.joints import FaceView
from hinoki.present.tiles import add_poles, tiles_view

MOST_RESTS = 8
"""sides of a piece that are offered"""


@dataclass
class Presented:
    """What a screen sees of a build, and the bodies it draws, by name."""

    view: BuildView
    meshes: dict[str, Solid | Mesh] = field(default_factory=dict)


def described(build: Build, checked: Checked) -> BuildView:
    """Every figure of a build, without drawings."""
    ready, plan = build.prepared, build.plan
    if ready is None:
        return BuildView(state="empty", findings=finding_views(checked.findings, plan))
    balance, folds = build.balance, folds_of(build.placed)
    return BuildView(
        state=build.state,
        model=model_view(plan, ready),
        prepare=steps_done(plan, ready),
        pieces=[piece_view(piece, plan) for piece in build.pieces],
        faces=faces_with_poles(build),
        joints=[joint_view(one, build, checked.of_joints.get(one.joint.id, ()), folds) for one in build.placed],
        mating_marks=[mating_mark_view(mark) for mark in build.marks],
        loose=[loose_view(item) for item in build.loose],
        hardware=[hardware_view(item) for item in build.hardware],
        ways=[_way_view(way, build) for way in build.ways],
        modules=[tiles_view(one, build, checked.of_modules.get(one.wanted.id, Tried(0))) for one in build.modules],
        findings=finding_views(checked.findings, plan),
        balance=balance_view(balance) if balance is not None else None,
        numbers=dict(build.numbers),
    )


def faces_with_poles(build: Build) -> list[FaceView]:
    """The mating faces, with the magnets of tiles in them; without drawings."""
    faces = faces_view(build)
    by_id = {face.id: face for face in faces}
    for module in build.modules:
        add_poles(by_id, module, build)
    return faces


def present(build: Build, checked: Checked, cache: Cache, tell: Tell = quiet) -> Presented:
    """A build with all that screens draw of it."""
    shown = Presented(described(build, checked))
    if len(build.others) == len(build.plan.parts):
        shown.view.parts, shown.view.needed = parts_view(build, cache), needed_view(build)
        shown.meshes |= parts_drawn(build, cache)
    if build.prepared is None:
        return shown
    ready, view = build.prepared, shown.view
    shown.meshes[ready.key] = ready.solid or ready.mesh
    shown.meshes |= {done.before_key: done.before.solid or done.before.mesh for done in ready.done}
    shown.meshes |= {piece.made_by: piece.body for piece in build.pieces}
    if build.state == "whole":
        _add_rests(shown, build, cache)
        draw_faces(view.faces, build, cache, part_of(tell, 0.0, 0.4))
        for joint, placed in zip(view.joints, build.placed, strict=True):
            draw_joint(joint, placed)
        _add_regions(shown, build, cache)
        _add_partings(shown, build, cache, part_of(tell, 0.4, 1.0))
        _add_bodies(shown, build)
    return shown


def _add_rests(shown: Presented, build: Build, cache: Cache) -> None:
    resting = build.resting(cache)
    for view in shown.view.pieces:
        view.rests = [rest_view(rest) for rest in resting.rests(view.key)[:MOST_RESTS]]


def _add_regions(shown: Presented, build: Build, cache: Cache) -> None:
    """Where the marks lie on the model now."""
    ready = build.prepared
    for mark in build.plan.marks if ready is not None else ():
        own = build.regions.faces.get(mark.id)
        if own is None or ready is None:
            continue
        name, shown.meshes[name] = _patch.key(ready, own), _patch(cache, ready, own)
        shown.view.marks.append(mark_view(mark, own, ready.mesh, name, build.crossed.get(mark.id, set())))


@stage("patch", weigh=lambda mesh: len(mesh.faces))
def _patch(ready: Prepared, faces: Faces) -> Mesh:
    """Some faces of the model."""
    return ready.mesh.only(faces)


def _add_partings(shown: Presented, build: Build, cache: Cache, tell: Tell) -> None:
    """Partings with their sections and seams."""
    ready, parted, plan = build.prepared, build.parted, build.plan
    if ready is None or parted is None:
        return
    outside = outer_faces_of(cache, ready)
    seams = seams_of(parted.parts, outside, cache, part_of(tell, 0.0, 0.5))
    marked = build.regions.of("show")
    show = ready.mesh.only(marked) if len(marked) else None
    model, count = Keyed(known_faces(ready, cache), ready.key), max(1, len(plan.partings))
    shown.view.partings = [
        parting_view(
            parting,
            parted,
            model,
            cache,
            seams.get(parting.id),
            show,
            build.faces,
            part_of(tell, 0.5 + 0.5 * k / count, 0.5 + 0.5 * (k + 1) / count),
        )
        for k, parting in enumerate(plan.partings)
    ]
    shown.view.seam_mm = round(sum(s.length for s in seams.values()), 2)
    shown.view.seam_show_mm = round(sum(s.length_on(show) for s in seams.values()), 2)


def _add_bodies(shown: Presented, build: Build) -> None:
    """Loose parts, what is bought, and channels, as they are drawn."""
    shown.meshes |= {item.made_by: item.solid for item in build.loose}
    for body in bought_bodies(build.plan, build.placed, build.modules, build.numbers):
        shown.meshes[body.made_by] = body.solid
        seats = [_seat_view(seat) for seat in body.seats]
        shown.view.bought.append(BoughtView(name=body.name, tone=body.tone, mesh=body.made_by, places=seats))
    shown.meshes |= {_way_mesh(way): way.way.body() for way in build.ways}


def loose_view(item: LoosePart) -> LooseView:
    """A kind of loose part."""
    return LooseView(
        name=item.name,
        count=item.count,
        spares=item.spares,
        size_mm=vec(item.solid.size),
        mesh=item.made_by,
        places=[_seat_view(seat) for seat in item.seats],
        shape=item.shape,
    )


def _seat_view(seat: Seat) -> LooseAt:
    return LooseAt(joint=seat.joint, pieces=seat.pieces, matrix=seat.matrix.ravel().tolist())


def hardware_view(item: Hardware) -> HardwareView:
    """Something to buy."""
    return HardwareView(name=item.name, count=item.count, spares=spares_of(item), length_mm=item.length_mm)


def _way_mesh(way: Bored) -> str:
    return key_of("way body", way.key)


def _way_view(way: Bored, build: Build) -> WayView:
    return WayView(
        id=way.way.id,
        kind=way.way.kind,
        label=way.way.label(),
        pieces=sorted(build.numbers[k] for k in way.pieces),
        long_mm=round(way.way.long_mm, 2),
        mesh=_way_mesh(way),
    )


def balance_view(balance: VolumeBalance) -> Balance:
    """Whether the pieces add up to the model."""
    return Balance(
        model_mm3=balance.model_mm3,
        pieces_before_joints_mm3=balance.pieces_mm3,
        taken_away_mm3=balance.lost_mm3,
        relative_error=balance.relative_error,
    )

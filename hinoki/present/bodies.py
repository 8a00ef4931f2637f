"""Turns geometry into the data of hinoki.present.schemas.build."""

from collections.abc import Sequence

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Parted
from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.divide.partings import PartingBase
from hinoki.core.divide.seams import Seam, lines_of
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.mesh import Faces, Mesh, Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import largest_circle, least_wall, section_of, slim
from hinoki.core.geometry.shape import Body
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.prepared_model import Prepared
from hinoki.core.orient.resting.piece import Piece
from hinoki.core.orient.resting.resting_faces import Rest
from hinoki.core.plan.plan import Plan
from hinoki.core.plan.regions import Mark
from hinoki.core.progress import Tell, along, part_of, quiet
from hinoki.core.stages import Keyed, stage
from hinoki.core.workshop.printers import over_by
from hinoki.present.schemas.build import (
    MarkView,
    ModelView,
    ObjectView,
    PartingView,
    PieceView,
    PrepareView,
    RestView,
    SectionView,
)
from hinoki.present.schemas.vectors import FrameView, Vec3

MOST_OBJECTS = 200


def vec(values: Points, digits: int = 3) -> Vec3:
    """Three rounded numbers; never −0."""
    x, y, z = (round(float(v), digits) + 0.0 for v in values)
    return x, y, z


def model_view(plan: Plan, ready: Prepared) -> ModelView:
    """The prepared model."""
    shape = ready.shape
    low, high = shape.bounds
    edges = ready.mesh.edges if ready.solid is None else None
    return ModelView(
        name=plan.model.file_name if plan.model else plan.made.form.name if plan.made else "",
        triangles=shape.weight,
        size_mm=vec(high - low),
        low_mm=vec(low),
        high_mm=vec(high),
        volume_mm3=round(shape.volume_mm3, 3),
        raw_volume_mm3=round(ready.raw.volume_mm3, 3),
        mass_g=round(plan.material.mass_g(shape.volume_mm3), 2),
        raw_mass_g=round(plan.material.mass_g(ready.raw.volume_mm3), 2),
        closed=ready.solid is not None,
        open_edges=edges.open if edges else 0,
        crowded_edges=edges.crowded if edges else 0,
        turned_edges=edges.turned if edges else 0,
        lumps=len(ready.solid.lumps()) if ready.solid else 0,
        fits=plan.printer.holds(high - low),
        over_mm=vec(over_by(high - low, plan.printer.room_mm), 1),
        mesh=ready.key,
        raw_mesh=ready.raw_key,
        objects=[object_view(b) for b in shape.bodies[:MOST_OBJECTS]],
        said=[*ready.said, *(plan.made.behaves(plan.material) if plan.made else ())],
    )


def object_view(body: Body) -> ObjectView:
    """One named object of the model."""
    low, high = body.mesh.bounds
    return ObjectView(name=body.name, triangles=len(body.mesh.faces), size_mm=vec(high - low), closed=body.solid is not None)


def steps_done(plan: Plan, ready: Prepared) -> list[PrepareView]:
    """Every prepare step of the plan, also those that are switched off."""
    done = {d.step.id: d for d in ready.done}
    shown = []
    for step in plan.prepare:
        one = done.get(step.id)
        low, high = one.before.bounds if one else (np.zeros(3), np.zeros(3))
        shown.append(
            PrepareView(
                id=step.id,
                label=step.label(),
                said=list(one.said) if one else [],
                refused=one.refused if one else False,
                before_mesh=one.before_key if one else None,
                before_low_mm=vec(low),
                before_high_mm=vec(high),
                before_volume_mm3=round(one.before.volume_mm3, 3) if one else 0.0,
                after_volume_mm3=round(one.after.volume_mm3, 3) if one else 0.0,
                before_mass_g=round(plan.material.mass_g(one.before.volume_mm3), 2) if one else 0.0,
                after_mass_g=round(plan.material.mass_g(one.after.volume_mm3), 2) if one else 0.0,
            )
        )
    return shown


def frame_view(frame: Frame) -> FrameView:
    """A frame's numbers."""
    return FrameView(origin=vec(frame.origin, 6), u=vec(frame.u, 9), v=vec(frame.v, 9), n=vec(frame.n, 9))


def rest_view(rest: Rest) -> RestView:
    """A resting face's figures."""
    return RestView(
        down=vec(rest.down, 9),
        what=rest.what,
        overhang_mm2=round(rest.overhang_mm2, 1),
        contact_mm2=round(rest.contact_mm2, 1),
        height_mm=round(rest.height_mm, 3),
        size_mm=vec(rest.size_mm),
        fits=rest.fits,
        tip_deg=round(rest.tip_deg, 2),
        stands=rest.stands,
        matrix=[float(x) for x in rest.matrix.ravel()],
    )


def piece_view(piece: Piece, plan: Plan) -> PieceView:
    """One piece, with the side it lies on."""
    low, high = piece.bounds
    rest = rest_view(piece.rest)
    return PieceView(
        key=piece.key,
        number=piece.number,
        name=piece.name,
        size_mm=vec(high - low),
        low_mm=vec(low),
        high_mm=vec(high),
        volume_mm3=round(piece.volume_mm3, 3),
        volume_before_joints_mm3=round(piece.bare_mm3, 3),
        triangles=piece.triangles,
        closed=piece.solid is not None,
        fits=piece.fits,
        over_mm=vec(piece.over_mm, 1),
        printer=plan.printer_of(piece.key).name,
        neighbours=list(piece.neighbours),
        prints_with=list(piece.prints_with),
        mesh=piece.made_by,
        rest=rest,
        rest_chosen=piece.chosen,
        rests=[rest],
        shape=piece.shape,
    )


def parting_view(  # noqa: PLR0913 - what the view is made from
    parting: PartingBase,
    parted: Parted,
    model: Keyed[Solid],
    cache: Cache,
    seam: Seam | None,
    show: Mesh | None,
    faces: Sequence[MatingFace],
    tell: Tell = quiet,
) -> PartingView:
    """A parting, its sections, and its seam, of which what runs over `show` is told apart.

    The sections are those of the whole model at its planes; where a plane cuts only some of what it meets, those of the
    mating faces that lie in it.
    """
    sections = []
    for member in along(parted.members.get(parting.id, []), part_of(tell, 0.0, 0.5), "Drawing sections"):
        frame = member.frame
        if not parting.cuts_right_through:
            own = [f for f in faces if (f.ref.parting, f.ref.member) == (parting.id, member.number)]
            if own:
                sections.append(_joined_faces(cache, own, member.number, frame))
            continue
        sections.append(_section(cache, model, member.number, frame))
    lines: list[Points] = []
    if seam:
        lines = _seam_lines(cache, seam, part_of(tell, 0.5, 1.0))
    change = parted.changes.get(parting.id)
    return PartingView(
        id=parting.id,
        label=parting.label(),
        cuts=change is not None and change.cut > 0,
        pieces_cut=change.cut if change else 0,
        pieces_made=change.into if change else 0,
        sections=sections,
        seam_mm=round(seam.length, 2) if seam else 0.0,
        seam_show_mm=round(seam.length_on(show), 2) if seam else 0.0,
        seam=[[vec(p) for p in line] for line in lines],
    )


def mark_view(mark: Mark, faces: Faces, mesh: Mesh, name: str, crossed_by: set[str]) -> MarkView:
    """A mark as it lies on the prepared model."""
    area = float(mesh.face_areas[faces].sum())
    return MarkView(
        id=mark.id,
        kind=mark.kind,
        label=mark.label(),
        faces=len(faces),
        area_mm2=round(area, 2),
        mesh=name,
        crossed_by=sorted(crossed_by),
    )


@stage("section")
def _section(model: Keyed[Solid], member: int, frame: Frame) -> SectionView:
    """The section of the whole model at a plane."""
    return _measured(section_of(model.value, frame), member, frame)


@stage("seam lines")
def _seam_lines(seam: Seam, tell: Tell) -> list[Points]:
    """The lines of a seam."""
    return lines_of(seam.ends, tell=tell)


@stage("faces")
def _joined_faces(faces: Sequence[MatingFace], member: int, frame: Frame) -> SectionView:
    """The mating faces that lie in a plane, as its section."""
    return _measured(as_multi(shapely.union_all([f.shape for f in faces])), member, frame)


def _measured(shape: MultiPolygon, member: int, frame: Frame) -> SectionView:
    wall = least_wall(shape)
    return SectionView(
        member=member,
        frame=frame_view(frame),
        area_mm2=round(shape.area, 2),
        least_wall_mm=round(wall[0], 3) if wall else None,
        room_radius_mm=round(largest_circle(shape)[0], 2),
        outline=slim(shape),
    )

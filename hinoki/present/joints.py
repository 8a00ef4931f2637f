"""Mating faces, joints and marks as the screens and the report see them."""

import math
from collections.abc import Mapping, Sequence

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.strength import held_faces, strength_of
from hinoki.core.divide.mating_faces import MatingFace, face_label
from hinoki.core.divide.partings import LapParting
from hinoki.core.findings import Finding
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import FramedSolid, largest_circle, least_wall, slim
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.strength import Stuff
from hinoki.core.join.joints import SIDES, MagnetJoint, SideName
from hinoki.core.join.labels import FaceMark
from hinoki.core.join.opening.folds import Fold
from hinoki.core.join.opening.opened import Opened, opened
from hinoki.core.join.opening.swings import axis_of
from hinoki.core.join.placed_joint import PlacedJoint, letter
from hinoki.core.progress import Tell, along, quiet
from hinoki.core.stages import Keyed, stage
from hinoki.present.bodies import frame_view, vec
from hinoki.present.findings import finding_views
from hinoki.present.schemas.joints import AxisView, BoreView, FaceView, JointView, MatingMarkView, OpeningView
from hinoki.present.schemas.vectors import Outline


def faces_view(build: Build) -> list[FaceView]:
    """The mating faces, labelled with piece numbers; without their drawings."""
    plan, numbers = build.plan, build.numbers
    laps = {p.id: f"lap of {p.overlap_mm:g} mm" for p in plan.partings if isinstance(p, LapParting)}
    held = held_faces(build)
    shown = []
    for face in build.faces:
        own = held.get(face.ref.id)
        shown.append(
            FaceView(
                id=face.ref.id,
                ref=face.ref,
                label=face_label(face, numbers),
                a=numbers[face.a.key],
                b=numbers[face.b.key],
                frame=frame_view(face.frame),
                area_mm2=round(face.shape.area, 2),
                least_wall_mm=None,
                outline=[],
                room_radius_mm=round(-plan.least_wall_mm, 3),
                lap=laps.get(face.ref.parting),
                apart_mm=round(face.apart_mm, 3),
                holds_n=round(own.strength.newtons, 1) if own else None,
                weight_n=round(own.weight_n, 2) if own else None,
            )
        )
    return shown


def draw_faces(shown: Sequence[FaceView], build: Build, cache: Cache, tell: Tell = quiet) -> None:
    """Add the outlines of mating faces, and what is behind them."""
    views = {view.id: view for view in shown}
    for face in along(build.faces, tell, "Drawing mating faces"):
        view = views[face.ref.id]
        wall, view.outline, radius, view.behind = _drawing(cache, face, cache)
        view.room_radius_mm = round(radius - build.plan.least_wall_mm, 3)
        view.least_wall_mm = round(wall[0], 3) if wall else None
        view.bores = _bores(face, build)


def _bores(face: MatingFace, build: Build) -> list[BoreView]:
    """Where ways go through a face."""
    through = [w for w in build.ways if w.joins(face)]
    cut = [(w.way, shapely.intersection(FramedSolid(w.bore, face.frame).section(0.0), face.shape)) for w in through]
    return [BoreView(way=way.id, label=way.label(), outline=slim(as_multi(area))) for way, area in cut if area.area > 0]


_Drawing = tuple[tuple[float, Points] | None, Outline, float, list[Outline]]
BEHIND_MM = 6.0
"""how far behind a face the walls are drawn"""


@stage("face drawing")
def _drawing(face: MatingFace, cache: Cache) -> _Drawing:
    """The least wall of a face, its outline, the largest circle in it, and what is behind it on either side."""
    # many faces of a piece may lie in one plane: what is behind them is the same
    behind = [_behind(cache, face.part(side).body, face.frame, side) for side in SIDES]
    return least_wall(face.shape), slim(face.shape), largest_circle(face.shape)[0], behind


@stage("behind")
def _behind(body: Keyed[Solid], frame: Frame, side: SideName) -> Outline:
    """The section of a piece so far behind a face."""
    return slim(FramedSolid(body.value, frame).section(BEHIND_MM if side == "b" else -BEHIND_MM), 0.05)


def joint_view(placed: PlacedJoint, build: Build, findings: Sequence[Finding], folds: Sequence[Fold] = ()) -> JointView:
    """A joint on its face, without its drawing; `folds` are all folding doors."""
    joint, standing, numbers = placed.joint, placed.standing, build.numbers
    flat = np.array(placed.places).reshape(-1, 2)
    motions = joint.motions(standing)
    holds = strength_of(placed, build.plan)
    flex = joint.flexes(standing)
    closes = joint.closing(standing, placed.places, Stuff.of(build.plan.material))
    return JointView(
        id=joint.id,
        face=placed.face.ref.id,
        face_label=face_label(placed.face, numbers),
        kind=joint.kind,
        label=joint.label(),
        fit=joint.fit,
        clearance_mm=placed.clearance_mm,
        own_clearance=joint.clearance_mm is not None,
        count=len(placed.places),
        letters=[letter(placed.first_letter + i) for i in range(len(placed.places))],
        places=placed.places,
        positions_mm=[vec(p) for p in standing.frame.world(flat)] if len(flat) else [],
        on=joint.stands_on,
        poles=placed.poles,
        pull_n=round(joint.pull_n() * len(placed.places), 2) if isinstance(joint, MagnetJoint) else None,
        holds_n=round(holds.newtons, 1) if holds else None,
        holds_how=holds.how if holds else "",
        closes_n=round(closes.newtons, 1) if closes and math.isfinite(closes.newtons) else None,
        strain_percent=round(100 * flex.strain, 2) if flex else None,
        axis=axis_view(placed),
        opening=opening_view(opened(placed, build.placed, folds), numbers),
        turns=joint.turns,
        motions=list(motions) if motions is not None else None,
        shapes=[],
        cut_shapes=[],
        deep_mm=round(joint.cut_depth_mm(standing, placed.places), 3) if joint.within_face else 0.0,
        room=[],
        collar=[],
        findings=finding_views(findings, build.plan),
    )


def draw_joint(view: JointView, placed: PlacedJoint) -> None:
    """Add the outlines of a joint: what it takes of the face, what it cuts, where there is room."""
    view.shapes = [slim(as_multi(placed.joint.footprint(placed.standing, p))) for p in placed.stands]
    view.cut_shapes = _cut_shapes(placed)
    view.room, view.collar = slim(placed.room), slim(placed.collar)


def axis_view(placed: PlacedJoint) -> AxisView | None:
    """What the second piece of a hinge turns about."""
    axis = axis_of(placed)
    return AxisView(at=vec(axis.frame.origin), along=vec(-axis.frame.n)) if axis else None


def opening_view(found: Opened | None, numbers: Mapping[str, int]) -> OpeningView | None:
    """How what hangs on a joint opens."""
    if found is None:
        return None
    moved = {
        numbers[piece]: [[round(float(c), 6) for c in matrix.ravel()] for matrix in matrices]
        for piece, matrices in found.moved.items()
    }
    return OpeningView(unit=found.unit, by=[round(by, 2) for by in found.by], moved=moved, at=vec(found.at))


def _cut_shapes(placed: PlacedJoint) -> list[Outline]:
    """What the joint cuts on either side, seen along the normal, for every element; nothing outside the face's box, and of what
    follows the outline only what lies on the face."""
    x0, y0, x1, y1 = placed.standing.shape.bounds
    around = shapely.box(x0 - 5, y0 - 5, x1 + 5, y1 + 5) if placed.joint.wanted else placed.standing.shape
    shadows: dict[int, MultiPolygon] = {}
    for tool in placed.tools.each:
        if tool.cut is not None:
            seen = tool.cut.shadow(placed.standing.frame)
            known = shadows.get(tool.index)
            shadows[tool.index] = seen if known is None else as_multi(shapely.union(known, seen))
    return [slim(as_multi(shapely.intersection(s, around))) for _, s in sorted(shadows.items())]


def mating_mark_view(mark: FaceMark) -> MatingMarkView:
    """A letter on a face, as seen from piece B."""
    return MatingMarkView(
        face=mark.face.ref.id,
        side=mark.side,
        text=mark.text,
        place=mark.place,
        size_mm=mark.size_mm,
        outline=slim(mark.shape),
    )

"""Mating faces, joints and marks as the screens and the report see them."""

from collections.abc import Mapping, Sequence
from functools import partial

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.cache import Cache, key_of
from hinoki.core.divide.mating_faces import MatingFace, face_label
from hinoki.core.divide.partings import LapParting
from hinoki.core.findings import Finding
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.sections import largest_circle, least_wall, slim
from hinoki.core.geometry.solid import as_multi
from hinoki.core.join.apply import PlacedJoint, letter
from hinoki.core.join.contract.strength import Strength
from hinoki.core.join.hinge_sweep import axis_of
from hinoki.core.join.joints import SIDES, HingeJoint, MagnetJoint, SideName
from hinoki.core.join.labels import FaceMark
from hinoki.core.join.placing import Depths
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, along, quiet
from hinoki.present.build import frame_view, vec
from hinoki.present.schemas.build import (
    FaceView,
    JointView,
    MatingMarkView,
    Outline,
    SwingView,
)

MOST_OBJECTS = 200


def faces_view(
    faces: Sequence[MatingFace], numbers: Mapping[str, int], plan: Plan, cache: Cache | None, tell: Tell = quiet
) -> list[FaceView]:
    """The mating faces, labelled with piece numbers; with their drawings when there is a cache to keep those in."""
    laps = {p.id: f"lap of {p.overlap_mm:g} mm" for p in plan.partings if isinstance(p, LapParting)}
    shown = []
    for face in along(faces, tell, "Drawing mating faces"):
        a, b = numbers[face.a.key], numbers[face.b.key]
        nothing: _Drawing = (None, [], 0.0, [])
        key = key_of("face drawing", face.made_by)
        wall, outline, radius, behind = cache.get(key, partial(_drawing, face, cache)) if cache else nothing
        room = round(radius - plan.least_wall_mm, 3)
        shown.append(
            FaceView(
                id=face.ref.id,
                ref=face.ref,
                label=face_label(face, numbers),
                a=a,
                b=b,
                frame=frame_view(face.frame),
                area_mm2=round(face.shape.area, 2),
                least_wall_mm=round(wall[0], 3) if wall else None,
                outline=outline,
                room_radius_mm=room,
                behind=behind,
                lap=laps.get(face.ref.parting),
                apart_mm=round(face.apart_mm, 3),
            )
        )
    return shown


_Drawing = tuple[tuple[float, Points] | None, Outline, float, list[Outline]]
BEHIND_MM = 6.0
"""how far behind a face the walls are drawn"""


def _drawing(face: MatingFace, cache: Cache) -> _Drawing:
    depths = Depths(face)
    place = face.frame.origin.tolist(), face.frame.u.tolist(), face.frame.v.tolist()
    # many faces of a piece may lie in one plane: what is behind them is the same
    behind = [
        cache.get(key_of("behind", face.part(side).made_by, place, side), partial(_behind, depths, side)) for side in SIDES
    ]
    return least_wall(face.shape), slim(face.shape), largest_circle(face.shape)[0], behind


def _behind(depths: Depths, side: SideName) -> Outline:
    return slim(depths.section(side, BEHIND_MM), 0.05)


def joint_view(
    placed: PlacedJoint, numbers: Mapping[str, int], findings: list[Finding], for_screen: bool, holds: Strength | None
) -> JointView:
    """A joint on its face; its drawing only for the screen."""
    joint, standing = placed.joint, placed.standing
    flat = np.array(placed.places).reshape(-1, 2)
    deep = max(joint.reach_mm("a"), joint.reach_mm("b"))
    motions = joint.motions(standing)
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
        swing=swing_view(placed),
        screws=joint.screws,
        motions=list(motions) if motions is not None else None,
        shapes=[slim(as_multi(joint.footprint(standing, p))) for p in placed.stands] if for_screen else [],
        cut_shapes=_cut_shapes(placed) if for_screen else [],
        deep_mm=round(deep + standing.end_gap_mm, 3) if deep and joint.within_face else 0.0,
        room=slim(placed.room) if for_screen else [],
        collar=slim(placed.collar) if for_screen else [],
        findings=findings,
    )


def swing_view(placed: PlacedJoint) -> SwingView | None:
    """How the second piece of a hinge swings."""
    joint, axis = placed.joint, axis_of(placed)
    if axis is None or not isinstance(joint, HingeJoint):
        return None
    return SwingView(at=vec(axis.frame.origin), along=vec(-axis.frame.n), opens_deg=joint.opens_deg)


def _cut_shapes(placed: PlacedJoint) -> list[Outline]:
    """What the joint cuts on either side, seen along the normal, for every element; nothing outside the face's box."""
    x0, y0, x1, y1 = placed.standing.shape.bounds
    around = shapely.box(x0 - 5, y0 - 5, x1 + 5, y1 + 5)
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

"""Findings about joints: walls, feet beside the face, bores that meet, too little room, faces that are gone."""

from collections.abc import Mapping, Sequence

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.check.fixes import fewer, in_collar, joint_fixes, tighter
from hinoki.core.divide.mating_faces import face_label
from hinoki.core.findings import Finding, Fix
from hinoki.core.join.contract.pegs import PegJoint
from hinoki.core.join.contract.terms import direction_of
from hinoki.core.join.insertion import agreed, by_pair
from hinoki.core.join.joints import Joint, Place
from hinoki.core.join.placed_joint import PlacedJoint, by_face
from hinoki.core.join.walls import finding_for
from hinoki.core.plan.plan import Plan
from hinoki.core.stages import stage
from hinoki.core.symmetry.rotational_symmetry import turns_of


def joint_findings(
    placed: PlacedJoint, everyone: Sequence[PlacedJoint], numbers: Mapping[str, int], plan: Plan
) -> list[Finding]:
    """Everything noticed about one placed joint."""
    joint, face = placed.joint, face_label(placed.face, numbers)
    found = [
        finding_for(
            weak,
            placed.name(weak.tool.index),
            joint.id,
            face,
            numbers[placed.part(weak.tool.side).key],
            plan.least_wall_mm,
            (
                *joint_fixes(placed, weak.tool.index),
                *(tighter(placed, plan.least_wall_mm - weak.wall_mm, plan) if weak.wall_mm is not None else ()),
            ),
        )
        for weak in placed.weak
    ]
    return [*found, *_standing(placed, face), *_clashing(placed, everyone, numbers), *_without_room(placed, face)]


def _standing(placed: PlacedJoint, face: str) -> list[Finding]:
    """Elements that stand beside the face, and what the kind of joint finds doubtful itself."""
    joint = placed.joint
    found = []
    for index in placed.beside:
        found.append(
            Finding(
                severity="must-fix",
                code="joint-beside-face",
                station="join",
                face=face,
                joint=joint.id,
                params={"name": placed.name(index)},
                about=str(index),
                at_mm=_at(placed, placed.places[index]),
                fixes=joint_fixes(placed, index),
            )
        )
    for problem in placed.problems:
        index = placed.places.index(problem.at) if problem.at in placed.places else 0
        found.append(
            Finding(
                severity=problem.severity,
                code=problem.code,
                station="join",
                face=face,
                joint=joint.id,
                params={"kind": joint.kind, "name": placed.name(index), **problem.params},
                about=str(index) if problem.at else None,
                at_mm=_at(placed, problem.at) if problem.at else None,
            )
        )
    return found


def _clashing(placed: PlacedJoint, everyone: Sequence[PlacedJoint], numbers: Mapping[str, int]) -> list[Finding]:
    """Elements that meet those of other joints."""
    joint, face = placed.joint, face_label(placed.face, numbers)
    found = []
    others = {p.joint.id: p for p in everyone}
    for own, other_id, other_index in placed.clashes:
        other = others[other_id]
        found.append(
            Finding(
                severity="must-fix",
                code="joints-meet",
                station="join",
                face=face,
                joint=joint.id,
                params={
                    "name": placed.name(own),
                    "other": other.name(other_index),
                    "other_face": face_label(other.face, numbers),
                },
                about=f"{own} {other_id} {other_index}",
                fixes=joint_fixes(placed, own),
            )
        )
    return found


def _without_room(placed: PlacedJoint, face: str) -> list[Finding]:
    """Fewer elements than wanted."""
    joint = placed.joint
    found = []
    if joint.places is None and len(placed.places) < joint.wanted:
        many = len(placed.places)
        found.append(
            Finding(
                severity="look-at" if many else "must-fix",
                code="joint-no-room",
                station="join",
                face=face,
                joint=joint.id,
                params={"joint": joint.label(), "room_for": many},
                fixes=(*fewer(placed), *in_collar(placed)),
            )
        )
    return found


def motion_findings(placed: Sequence[PlacedJoint], numbers: Mapping[str, int]) -> list[Finding]:
    """Joints between the same two pieces that cannot go together: no motion serves them all."""
    found: list[Finding] = []
    for several in by_pair(placed).values():
        so_far: list[PlacedJoint] = []
        for one in several:
            own = one.joint.motions(one.standing)
            if own is None:
                continue
            if agreed([*so_far, one]):
                so_far.append(one)
                continue
            first = next((p for p in so_far if not agreed([p, one])), so_far[-1])
            face = face_label(one.face, numbers)
            found.append(
                Finding(
                    severity="must-fix",
                    code="motions-at-odds",
                    station="join",
                    face=face,
                    joint=one.joint.id,
                    params={
                        "joint": one.joint.label(),
                        "goes": _goes(one),
                        "other": first.joint.label(),
                        "other_face": face_label(first.face, numbers),
                        "other_goes": _goes(first),
                    },
                )
            )
            break
    return found


def turn_findings(placed: Sequence[PlacedJoint], numbers: Mapping[str, int], cache: Cache) -> list[Finding]:
    """Faces whose pieces could be put together turned, by what their joints take of the face."""
    found: list[Finding] = []
    for several in by_face(placed).values():
        if any(p.joint.turns for p in several):  # turning is how it goes in
            continue
        angles = _turns(cache, several)
        wanted = [p for p in several if p.joint.turns_never]
        if not angles:
            continue
        face = face_label(several[0].face, numbers)
        fixes = tuple(
            Fix(kind="joint", code="one-way", joint={**p.joint.model_dump(mode="json"), "one_way": True, "places": None})
            for p in several
            if isinstance(p.joint, PegJoint) and not p.joint.one_way
        )[:1]
        found.append(
            Finding(
                severity="look-at" if wanted else "note",
                code="turned-assembly",
                station="join",
                face=face,
                joint=several[0].joint.id,
                params={"angles_deg": [float(a) for a in angles], "must_not": bool(wanted)},
                fixes=fixes,
            )
        )
    return found


@stage("turns")
def _turns(placed: Sequence[PlacedJoint]) -> list[float]:
    one = placed[0]
    taken = [p.joint.footprint(p.standing, place) for p in placed for place in p.places]
    return turns_of(one.face.shape, taken, max(p.clearance_mm for p in placed), [s for p in placed for s in p.sorts])


def _goes(placed: PlacedJoint) -> str:
    """How its second piece goes on: turned, straight, along a line, or either."""
    if placed.joint.turns:
        return "turns"
    motions = placed.joint.motions(placed.standing) or ()
    straight = direction_of(-placed.face.frame.n)
    if motions == (straight,):
        return "straight"
    return "either" if straight in motions else "along"


def _at(placed: PlacedJoint, place: Place) -> tuple[float, float, float]:
    x, y, z = placed.face.frame.world(np.array([place]))[0]
    return round(float(x), 2), round(float(y), 2), round(float(z), 2)


def unplaced_findings(joints: Sequence[Joint]) -> list[Finding]:
    """Joints whose mating face is not there now."""
    return [
        Finding(
            severity="look-at",
            code="joint-unplaced",
            station="join",
            joint=j.id,
            params={"joint": j.label(), "a": j.face.a, "b": j.face.b},
        )
        for j in joints
    ]

"""Findings about joints: walls, feet beside the face, bores that meet, too little room, faces that are gone."""

from collections.abc import Mapping, Sequence

import numpy as np

from hinoki.core.checks.walls import finding_for
from hinoki.core.findings import Finding
from hinoki.core.join import PlacedJoint
from hinoki.core.joints import Joint
from hinoki.core.plan import Plan
from hinoki.core.showing import face_label


def joint_findings(
    placed: PlacedJoint, everyone: Sequence[PlacedJoint], numbers: Mapping[str, int], plan: Plan
) -> list[Finding]:
    """Everything noticed about one placed joint."""
    joint, face = placed.joint, face_label(placed.face, numbers)
    found = [
        finding_for(
            weak,
            placed.name(weak.peg.index),
            joint.id,
            face,
            numbers[placed.part(weak.peg.side).key],
            plan.least_wall_mm,
        )
        for weak in placed.weak
    ]
    for index in placed.beside:
        x, y, z = placed.face.frame.world(np.array([placed.places[index]]))[0]
        found.append(
            Finding(
                severity="must-fix",
                code="joint-beside-face",
                station="join",
                face=face,
                joint=joint.id,
                message=f"{placed.name(index)} on {face} does not stand wholly on the mating face. Move it inwards.",
                at_mm=(round(float(x), 2), round(float(y), 2), round(float(z), 2)),
            )
        )
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
                message=f"{placed.name(own)} on {face} and {other.name(other_index)} on "
                f"{face_label(other.face, numbers)} meet inside the piece. Move one of them.",
            )
        )
    if joint.places is None and len(placed.places) < joint.wanted:
        many = len(placed.places)
        found.append(
            Finding(
                severity="look-at" if many else "must-fix",
                code="joint-no-room",
                station="join",
                face=face,
                joint=joint.id,
                message=f"{joint.label()} wanted on {face}, but there is room for {many or 'none'}. "
                "Use fewer, smaller or shorter ones.",
            )
        )
    return found


def unplaced_findings(joints: Sequence[Joint]) -> list[Finding]:
    """Joints whose mating face is not there now."""
    return [
        Finding(
            severity="look-at",
            code="joint-unplaced",
            station="join",
            joint=j.id,
            message=f"{j.label()} waits: the mating face {j.face.a} | {j.face.b} is not there now. "
            "It comes back when the face does; or take it out.",
        )
        for j in joints
    ]

"""Threads that would not stand upright while they print."""

import numpy as np

from hinoki.core.build import Build
from hinoki.core.divide.mating_faces import face_label
from hinoki.core.findings import Finding, Fix
from hinoki.core.join.contract.terms import direction_of
from hinoki.core.join.joints import SIDES

UPRIGHT_DEG = 5.0
"""a thread that leans more than this prints with support in its ridges (common practice: threads are printed upright)"""


def upright_findings(build: Build) -> list[Finding]:
    """A finding for every piece that lies so that a thread of it leans, with the way to lay it as a fix."""
    by_key, numbers = {p.key: p for p in build.pieces}, build.numbers
    found = []
    for placed_joint in build.placed:
        if not placed_joint.joint.screws or not placed_joint.places:
            continue
        for side in SIDES:
            piece = by_key[placed_joint.part(side).key]
            axis = placed_joint.face.frame.n
            lean = float(np.degrees(np.arccos(min(1.0, abs(float(axis @ piece.rest.down))))))
            if lean <= UPRIGHT_DEG:
                continue
            # a plug points up; a socket lies on its mouth, which is flat
            outward = axis if side == "a" else -axis
            down = direction_of(-outward if side == placed_joint.joint.stands_on else outward)
            found.append(
                Finding(
                    severity="look-at",
                    code="thread-leans",
                    station="join",
                    face=face_label(placed_joint.face, numbers),
                    joint=placed_joint.joint.id,
                    piece=piece.number,
                    params={"lean_deg": lean},
                    fixes=(Fix(kind="rest", code="upright", pieces=(piece.key,), down=down),),
                )
            )
    return found

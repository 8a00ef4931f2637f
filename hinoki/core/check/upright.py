"""Threads that would not stand upright while they print."""

from collections.abc import Mapping, Sequence

import numpy as np

from hinoki.core.divide.mating_faces import face_label
from hinoki.core.findings import Finding, Fix
from hinoki.core.join.apply import PlacedJoint
from hinoki.core.join.contract.base import direction_of
from hinoki.core.join.joints import SIDES
from hinoki.present.schemas.build import PieceView

UPRIGHT_DEG = 5.0
"""a thread that leans more than this prints with support in its ridges (common practice: threads are printed upright)"""


def upright_findings(placed: Sequence[PlacedJoint], pieces: Sequence[PieceView], numbers: Mapping[str, int]) -> list[Finding]:
    """A finding for every piece that lies so that a thread of it leans, with the way to lay it as a fix."""
    by_key = {p.key: p for p in pieces}
    found = []
    for one in placed:
        if not one.joint.screws or not one.places:
            continue
        for side in SIDES:
            piece = by_key[one.part(side).key]
            axis = one.face.frame.n
            lean = float(np.degrees(np.arccos(min(1.0, abs(float(axis @ np.array(piece.rest.down)))))))
            if lean <= UPRIGHT_DEG:
                continue
            # a plug points up; a socket lies on its mouth, which is flat
            outward = axis if side == "a" else -axis
            down = direction_of(-outward if side == one.joint.stands_on else outward)
            found.append(
                Finding(
                    severity="look-at",
                    code="thread-leans",
                    station="join",
                    face=face_label(one.face, numbers),
                    joint=one.joint.id,
                    piece=piece.number,
                    message=f"The thread on {face_label(one.face, numbers)} leans by {lean:.0f}° in piece {piece.number} as it "
                    "lies on the bed: its ridges would need support, which ruins them. Lay the piece so that it stands.",
                    fixes=(Fix(kind="rest", label="Lay it upright", pieces=(piece.key,), down=down),),
                )
            )
    return found

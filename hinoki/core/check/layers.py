"""What the layers a piece is printed in do to its joints: threads that lean, snap hooks that are strained too far."""

import math
from collections.abc import Iterator

import numpy as np

from hinoki.core.build import Build
from hinoki.core.divide.mating_faces import face_label
from hinoki.core.findings import Finding, Fix
from hinoki.core.join.contract.strength import ACROSS_LAYERS
from hinoki.core.join.contract.terms import direction_of
from hinoki.core.join.joints import SIDES, HookJoint
from hinoki.core.join.joints.hook import LEAST_CATCH_MM
from hinoki.core.join.placed_joint import PlacedJoint

UPRIGHT_DEG = 5.0
"""a thread that leans more than this prints with support in its ridges (common practice: threads are printed upright)"""
LYING = 0.5
"""a hook that is no steeper than 30° bends along its layers"""


def layer_findings(build: Build) -> list[Finding]:
    """Findings about joints that are weak or ruined as their pieces lie on the bed."""
    found: list[Finding] = []
    for placed in build.placed:
        if placed.joint.screws and placed.places:
            found += _leaning(placed, build)
        if isinstance(placed.joint, HookJoint) and placed.places:
            found += _strained(placed, placed.joint, build)
    return found


def _leaning(placed: PlacedJoint, build: Build) -> Iterator[Finding]:
    """A finding for every piece that lies so that a thread of it leans, with the way to lay it as a fix."""
    by_key, axis = {p.key: p for p in build.pieces}, placed.face.frame.n
    for side in SIDES:
        piece = by_key[placed.part(side).key]
        lean = float(np.degrees(np.arccos(min(1.0, abs(float(axis @ piece.rest.down))))))
        if lean <= UPRIGHT_DEG:
            continue
        # a plug points up; a socket lies on its mouth, which is flat
        outward = axis if side == "a" else -axis
        down = direction_of(-outward if side == placed.joint.stands_on else outward)
        yield Finding(
            severity="look-at",
            code="thread-leans",
            station="join",
            face=face_label(placed.face, build.numbers),
            joint=placed.joint.id,
            piece=piece.number,
            params={"lean_deg": lean},
            fixes=(Fix(kind="rest", code="upright", pieces=(piece.key,), down=down),),
        )


def _strained(placed: PlacedJoint, joint: HookJoint, build: Build) -> Iterator[Finding]:
    """Hooks that are strained further than their material may be, along their layers or, as their piece lies, across them."""
    piece = next(p for p in build.pieces if p.key == placed.part(joint.male).key)
    once = joint.permissible(build.plan.material_of(piece.key).strain_percent / 100)
    strain = joint.strain(placed.clearance_mm)
    stands = abs(float(placed.face.frame.n @ piece.rest.down)) > LYING
    bears = once * (ACROSS_LAYERS if stands else 1.0)
    if strain <= bears:
        return
    bent = joint.bent_mm(placed.clearance_mm)
    nose = math.floor(10 * (bent * bears / strain + placed.clearance_mm) + 1e-6) / 10
    fixes: tuple[Fix, ...] = ()
    if nose - placed.clearance_mm >= LEAST_CATCH_MM:
        less = joint.model_copy(update={"nose_mm": nose}).model_dump(mode="json")
        fixes = (Fix(kind="joint", code="nose", params={"nose_mm": nose}, joint=less),)
    yield Finding(
        severity="must-fix" if strain > once else "look-at",
        code="hook-strain",
        station="join",
        face=face_label(placed.face, build.numbers),
        joint=joint.id,
        piece=piece.number,
        params={
            "case": "layers" if strain <= once else "any way",
            "joint": joint.label(),
            "strain_percent": 100 * strain,
            "bears_percent": 100 * bears,
            "often": joint.used == "often",
            "long_mm": math.ceil(2 * joint.length_mm * math.sqrt(strain / bears)) / 2,
        },
        fixes=fixes,
    )

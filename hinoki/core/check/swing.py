"""Doors and lids on hinges: whether they swing through their angle without touching anything, tried on the finished pieces."""

import math
from collections.abc import Mapping, Sequence

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part
from hinoki.core.divide.mating_faces import face_label
from hinoki.core.findings import Finding, Fix, Params
from hinoki.core.join.hinge_sweep import FIRST_DEG, STEP_DEG, Swing, axis_of, swung
from hinoki.core.join.joints import SIDES, HingeJoint
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.walls import NOTHING_MM3


def in_place_note(placed_joint: PlacedJoint, numbers: Mapping[str, int]) -> Finding:
    """What to know of two pieces that print as one."""
    return Finding(
        severity="note",
        code="hinge-in-place",
        station="join",
        face=face_label(placed_joint.face, numbers),
        joint=placed_joint.joint.id,
        params={"pieces": sorted(numbers[placed_joint.part(s).key] for s in SIDES)},
    )


def swing_findings(
    placed: Sequence[PlacedJoint], parts: Sequence[Part], before: Sequence[Part], numbers: Mapping[str, int], cache: Cache
) -> list[Finding]:
    """For every hinge: what its door touches and when; knuckles that hang free."""
    found: list[Finding] = []
    solids = {p.key: p for p in parts}
    bare = {p.key: p for p in before}
    for placed_joint in placed:
        joint, axis = placed_joint.joint, axis_of(placed_joint)
        if not isinstance(joint, HingeJoint) or axis is None:
            continue
        swing = swung(placed_joint, placed, parts, cache)
        if joint.prints_together:
            found.append(in_place_note(placed_joint, numbers))
        if swing.angle is not None:
            found.append(_hits(placed_joint, joint, swing, numbers))
        for side in SIDES:
            piece = placed_joint.part(side).key
            extra = len(solids[piece].solid.lumps()) - len(bare[piece].solid.lumps())
            if extra > 0:
                params: Params = {"joint": joint.label(), "piece": numbers[piece]}
                found.append(_about(placed_joint, "hinge-free", params, numbers))
    return found


def _hits(placed_joint: PlacedJoint, joint: HingeJoint, swing: Swing, numbers: Mapping[str, int]) -> Finding:
    door, other = numbers[placed_joint.face.b.key], numbers[swing.piece]
    angle = swing.angle or 0.0
    params: Params = {"door": door, "joint": joint.label(), "other": other, "angle_deg": angle}
    if swing.volume_mm3 > NOTHING_MM3 * 10:
        params |= {"volume_mm3": swing.volume_mm3}
    if angle <= FIRST_DEG:
        return _about(placed_joint, "hinge-hits", params, numbers, swing.at)
    free = math.ceil(angle / STEP_DEG - 1) * STEP_DEG
    less = joint.model_copy(update={"opens_deg": free})
    fix = Fix(kind="joint", code="open-by", params={"deg": free}, joint=less.model_dump(mode="json"))
    return _about(placed_joint, "hinge-hits", params | {"free_deg": free}, numbers, swing.at, (fix,))


def _about(
    placed_joint: PlacedJoint,
    code: str,
    params: Params,
    numbers: Mapping[str, int],
    at: tuple[float, float, float] | None = None,
    fixes: tuple[Fix, ...] = (),
) -> Finding:
    return Finding(
        severity="must-fix",
        code=code,
        station="join",
        face=face_label(placed_joint.face, numbers),
        joint=placed_joint.joint.id,
        params=params,
        at_mm=at,
        fixes=fixes,
    )

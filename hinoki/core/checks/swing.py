"""Doors and lids on hinges: whether they swing through their angle without touching anything, tried with the finished pieces."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from hinoki.core.cache import Cache, key_of
from hinoki.core.checks.walls import NOTHING_MM3
from hinoki.core.faces import face_label
from hinoki.core.findings import Finding, Fix
from hinoki.core.join import PlacedJoint
from hinoki.core.joints import SIDES, HingeJoint
from hinoki.core.joints.hinge import Axis
from hinoki.core.pieces import Part
from hinoki.core.solid import Solid

STEP_DEG = 5.0
FREE_MM3 = 0.02
"""what two knuckles share by rounding, along their whole length"""


@dataclass(frozen=True)
class Swing:
    """The first position, in degrees, at which a door touches another piece (its key), how much of it, and where; `angle` is
    None where it swings freely."""

    angle: float | None
    piece: str = ""
    volume_mm3: float = 0.0
    at: tuple[float, float, float] = (0.0, 0.0, 0.0)


def swing_of(door: Solid, others: Mapping[str, Solid], axis: Axis, opens_deg: float) -> Swing:
    """The door turned about the axis to every position STEP_DEG apart and the last one, against what others have in its reach."""
    frame = axis.frame
    seen = frame.seen(door.mesh.vertices)
    far = float(np.hypot(seen[:, 0], seen[:, 1]).max()) + 1.0
    low, high = float(seen[:, 2].min()) - 1.0, float(seen[:, 2].max()) + 1.0
    reach = Solid.cylinder(far, low, high).placed(frame.to_world)
    near = {key: solid.common(reach) for key, solid in others.items() if solid.box_meets(reach)}
    angles = [*np.arange(0.0, opens_deg, STEP_DEG), opens_deg]
    for angle in angles:
        turned = door.placed(axis.turned(float(angle)))
        for key, solid in near.items():
            if not solid.box_meets(turned):
                continue
            both = solid.common(turned)
            if both.volume_mm3 > FREE_MM3:
                x, y, z = (round(float(c), 2) for c in both.centre_of_box)
                return Swing(float(angle), key, both.volume_mm3, (x, y, z))
    return Swing(None)


def axis_of(placed: PlacedJoint) -> Axis | None:
    """Where a placed hinge turns; None for other joints, and where it has no edge."""
    joint = placed.joint
    if not isinstance(joint, HingeJoint) or not placed.places:
        return None
    return joint.axis(placed.standing, placed.places[0])


def swing_findings(
    placed: Sequence[PlacedJoint], parts: Sequence[Part], before: Sequence[Part], numbers: Mapping[str, int], cache: Cache
) -> list[Finding]:
    """For every hinge: what its door touches and when; knuckles that hang free."""
    found: list[Finding] = []
    solids = {p.key: p for p in parts}
    bare = {p.key: p for p in before}
    for one in placed:
        joint, axis = one.joint, axis_of(one)
        if not isinstance(joint, HingeJoint) or axis is None:
            continue
        door = solids[one.face.b.key]
        others = {p.key: p.solid for p in parts if p.key != door.key}
        key = key_of("swing", [p.made_by for p in parts], door.made_by, one.made_by, joint.opens_deg)
        swing = cache.get(key, lambda d=door, o=others, a=axis, j=joint: swing_of(d.solid, o, a, j.opens_deg))  # type: ignore[misc]
        if swing.angle is not None:
            found.append(_hits(one, joint, swing, numbers))
        for side in SIDES:
            piece = one.part(side).key
            extra = len(solids[piece].solid.lumps()) - len(bare[piece].solid.lumps())
            if extra > 0:
                text = (
                    f"A knuckle of the {joint.label()} on {face_label(one.face, numbers)} hangs free of piece {numbers[piece]}: the "
                    "surface falls away from it. Make the hinge shorter, lower its axis, or move it."
                )
                found.append(_said(one, "hinge-free", text, numbers))
    return found


def _hits(one: PlacedJoint, joint: HingeJoint, swing: Swing, numbers: Mapping[str, int]) -> Finding:
    door, other = numbers[one.face.b.key], numbers[swing.piece]
    label = face_label(one.face, numbers)
    how = f"{swing.volume_mm3:.1f} mm³" if swing.volume_mm3 > NOTHING_MM3 * 10 else "a hair"
    angle = swing.angle or 0.0
    if angle <= 0:
        text = (
            f"Closed, piece {door} on its {joint.label()} of {label} already cuts into piece {other} by {how}. Give it a gap all "
            "round, or move the hinge."
        )
        return _said(one, "hinge-hits", text, numbers, swing.at)
    free = max(0.0, math.ceil(angle / STEP_DEG - 1) * STEP_DEG)
    fixes: list[Fix] = []
    if free >= STEP_DEG:
        less = joint.model_copy(update={"opens_deg": free})
        fixes.append(Fix(kind="joint", label=f"Open by {free:.0f}°", joint=less.model_dump(mode="json")))
    text = (
        f"Opened by {angle:.0f}°, piece {door} on its {joint.label()} of {label} touches piece {other} by {how}. "
        f"{f'Open it by {free:.0f}° at most' if free else 'Move the hinge'}, or move its axis further off the surface."
    )
    return _said(one, "hinge-hits", text, numbers, swing.at, tuple(fixes))


def _said(
    one: PlacedJoint,
    code: str,
    text: str,
    numbers: Mapping[str, int],
    at: tuple[float, float, float] | None = None,
    fixes: tuple[Fix, ...] = (),
) -> Finding:
    return Finding(
        severity="must-fix",
        code=code,
        station="join",
        face=face_label(one.face, numbers),
        joint=one.joint.id,
        message=text,
        at_mm=at,
        fixes=fixes,
    )

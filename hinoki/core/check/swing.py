"""Doors and lids on hinges: whether they swing through their angle without touching anything, tried on the finished pieces."""

import math
from collections.abc import Mapping, Sequence

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part
from hinoki.core.divide.mating_faces import face_label
from hinoki.core.findings import Finding, Fix
from hinoki.core.join.apply import PlacedJoint
from hinoki.core.join.hinge_sweep import FIRST_DEG, STEP_DEG, Swing, axis_of, swung
from hinoki.core.join.joints import SIDES, HingeJoint
from hinoki.core.join.walls import NOTHING_MM3


def in_place_note(one: PlacedJoint, numbers: Mapping[str, int]) -> Finding:
    """What to know of two pieces that print as one."""
    a, b = sorted(numbers[one.part(s).key] for s in SIDES)
    text = (
        f"Pieces {a} and {b} print as one, their hinge in place, opened as far as it goes: closed they would stick together. "
        "Lay them so that the pin lies level, and leave out support in its gap."
    )
    return Finding(
        severity="note",
        code="hinge-in-place",
        station="join",
        face=face_label(one.face, numbers),
        joint=one.joint.id,
        message=text,
    )


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
        swing = swung(one, parts, cache)
        if joint.prints_together:
            found.append(in_place_note(one, numbers))
        if swing.angle is not None:
            found.append(_hits(one, joint, swing, numbers))
        for side in SIDES:
            piece = one.part(side).key
            extra = len(solids[piece].solid.lumps()) - len(bare[piece].solid.lumps())
            if extra > 0:
                where = face_label(one.face, numbers)
                text = (
                    f"A knuckle of the {joint.label()} on {where} hangs free of piece {numbers[piece]}: the surface falls away "
                    "from it. Make the hinge shorter, lower its axis, or move it."
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
            f"Closed, piece {door} on its {joint.label()} of {label} already cuts into piece {other} by {how}. Give it a gap "
            "all round, or move the hinge."
        )
        return _said(one, "hinge-hits", text, numbers, swing.at)
    if angle <= FIRST_DEG:
        text = (
            f"Opened by {angle:.0f}°, piece {door} on its {joint.label()} of {label} touches piece {other} by {how}: it does "
            "not clear its frame. Give the hatch a wider gap or a taper, or move the hinge to another edge."
        )
        return _said(one, "hinge-hits", text, numbers, swing.at)
    free = math.ceil(angle / STEP_DEG - 1) * STEP_DEG
    less = joint.model_copy(update={"opens_deg": free})
    fix = Fix(kind="joint", label=f"Open by {free:.0f}°", joint=less.model_dump(mode="json"))
    text = (
        f"Opened by {angle:.0f}°, piece {door} on its {joint.label()} of {label} touches piece {other} by {how}. "
        f"Open it by {free:.0f}° at most, or move its axis further off the surface."
    )
    return _said(one, "hinge-hits", text, numbers, swing.at, (fix,))


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

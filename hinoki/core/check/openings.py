"""Doors on hinges and rails: whether they open as far as they are to and touch nothing, tried on the finished pieces."""

import math
from collections.abc import Mapping, Sequence

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part
from hinoki.core.divide.mating_faces import face_label
from hinoki.core.findings import Finding, Fix, Params
from hinoki.core.join.joints import SIDES, HingeJoint, RailJoint
from hinoki.core.join.opening.folds import MOST_DEG, Fold, Unfolds, folds_of, unfolds
from hinoki.core.join.opening.slides import Slid, door_of, slid
from hinoki.core.join.opening.swings import FIRST_DEG, STEP_DEG, Swing, axis_of, swung
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.walls import NOTHING_MM3

LEAST_TRAVEL_MM = 3.0
"""a door that slides by less is stuck"""


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


def opening_findings(
    placed: Sequence[PlacedJoint], parts: Sequence[Part], before: Sequence[Part], numbers: Mapping[str, int], cache: Cache
) -> list[Finding]:
    """For every hinge and every rail: what its door touches and when; knuckles that hang free."""
    found: list[Finding] = []
    folds = folds_of(placed)
    folding = {joint for fold in folds for joint in fold.joints}
    for fold in folds:
        how = unfolds(fold, parts, cache)
        if how.met is not None:
            found.append(_fold_hits(fold, how, numbers))
        elif (short := _fold_short(fold, numbers)) is not None:
            found.append(short)
    for placed_joint in placed:
        joint = placed_joint.joint
        moves_alone = joint.id not in folding
        if isinstance(joint, HingeJoint) and axis_of(placed_joint) is not None:
            swing = swung(placed_joint, placed, parts, cache) if moves_alone else Swing(None)
            if joint.prints_together:
                found.append(in_place_note(placed_joint, numbers))
            if swing.angle is not None:
                found.append(_hits(placed_joint, joint, swing, numbers))
            found += _hanging(placed_joint, parts, before, numbers)
        elif isinstance(joint, RailJoint) and moves_alone:
            slide = slid(placed_joint, placed, parts, cache)
            if slide.after_mm is not None:
                found.append(_stopped(placed_joint, joint, slide, numbers))
    return found


def _hanging(
    placed_joint: PlacedJoint, parts: Sequence[Part], before: Sequence[Part], numbers: Mapping[str, int]
) -> list[Finding]:
    """Knuckles that are no part of their piece."""
    found = []
    solids, bare = ({part.key: part.solid for part in those} for those in (parts, before))
    for side in SIDES:
        piece = placed_joint.part(side).key
        if len(solids[piece].lumps()) > len(bare[piece].lumps()):
            params: Params = {"joint": placed_joint.joint.label(), "piece": numbers[piece]}
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


def _stopped(placed_joint: PlacedJoint, joint: RailJoint, slide: Slid, numbers: Mapping[str, int]) -> Finding:
    """A door that does not slide as far as it is to."""
    after = slide.after_mm or 0.0
    params: Params = {"door": numbers[door_of(placed_joint)], "joint": joint.label(), "other": numbers[slide.piece]}
    params |= {"after_mm": after, "travel_mm": joint.travel_mm}
    free = math.floor(after)
    if free < LEAST_TRAVEL_MM:
        return _about(placed_joint, "rail-stuck", params, numbers, slide.at)
    less = joint.model_copy(update={"travel_mm": float(free)})
    fix = Fix(kind="joint", code="slide-by", params={"mm": free}, joint=less.model_dump(mode="json"))
    return _about(placed_joint, "rail-hits", params, numbers, slide.at, (fix,))


def _fold_hits(fold: Fold, how: Unfolds, numbers: Mapping[str, int]) -> Finding:
    """A folding door of which a leaf meets something on its way."""
    assert how.met is not None
    params: Params = {"leaf": numbers[how.leaf], "other": numbers[how.met.piece], "angle_deg": how.angle or 0.0}
    params |= {"volume_mm3": how.met.volume_mm3}
    return _about(fold.rail, "fold-hits", params, numbers, how.met.at)


def _fold_short(fold: Fold, numbers: Mapping[str, int]) -> Finding | None:
    """A folding door that cannot fold as far as its groove goes, or turns no further."""
    link = fold.linkage
    now = link.at(link.most_deg)
    if now is None or link.most_deg >= MOST_DEG or link.travel_mm - now.gone_mm <= LEAST_TRAVEL_MM:
        return None
    params: Params = {"deg": link.most_deg, "gone_mm": now.gone_mm, "travel_mm": link.travel_mm}
    return _about(fold.rail, "fold-short", params, numbers).model_copy(update={"severity": "note"})


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

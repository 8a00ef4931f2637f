"""Edits of a plan's joints: more of them, one copied to the other faces of its parting, one made into another kind."""

from collections.abc import Collection, Iterable, Sequence

import numpy as np

from hinoki.core.divide.mating_faces import MatingFace
from hinoki.core.join.contract.pegs import PegJoint
from hinoki.core.join.joints import Joint
from hinoki.core.plan.plan import Plan

ALIKE_SHARE, ALIKE_MM = 0.02, 0.5
"""faces are alike whose areas differ by so large a share at most, and whose outlines' boxes by so much"""


def last_number(plan: Plan) -> int:
    """The largest number that a joint is named by; 0 without joints."""
    return max((int(j.id[1:]) for j in plan.joints), default=0)


def added(plan: Plan, joints: Iterable[Joint]) -> Plan:
    """The plan with more joints, under free names."""
    last = last_number(plan)
    more = [joint.model_copy(update={"id": f"j{last + k}"}) for k, joint in enumerate(joints, 1)]
    return plan.model_copy(update={"joints": (*plan.joints, *more)})


def cleared(plan: Plan, faces: Collection[str]) -> Plan:
    """The plan without the joints on faces, by their ids."""
    return plan.model_copy(update={"joints": tuple(j for j in plan.joints if j.face.id not in faces)})


def renewed(plan: Plan, faces: Collection[str], joints: Sequence[Joint]) -> Plan:
    """The plan with these joints in place of all that stand on faces (their ids); a face that gets none keeps what it has."""
    given = {joint.face.id for joint in joints}
    return added(cleared(plan, given.intersection(faces)), joints)


def copies(plan: Plan, joint: Joint, faces: Sequence[MatingFace]) -> list[Joint]:
    """The same joint for every other face of its parting that has none of its kind; places set by hand only where faces are
    alike."""
    own = next((f for f in faces if f.ref == joint.face), None)
    have = {j.face for j in plan.joints if j.kind == joint.kind}
    others = [f for f in faces if f.ref.parting == joint.face.parting and f.ref not in have]
    return [
        joint.model_copy(update={"face": f.ref, "places": joint.places if own is not None and alike(own, f) else None})
        for f in others
    ]


def alike(mating_face: MatingFace, other: MatingFace) -> bool:
    """Whether two faces have nearly the same outline box and area, so that places fit both."""
    a, b = mating_face.shape.area, other.shape.area
    if mating_face.shape.is_empty or other.shape.is_empty or abs(a - b) > ALIKE_SHARE * max(a, b, 1.0):
        return False
    return bool((np.abs(np.subtract(mating_face.shape.bounds, other.shape.bounds)) < ALIKE_MM).all())


def in_place_of(joint: Joint, found: Joint) -> Joint:
    """What suits a face, in place of a joint that is there: with its name, its own clearance, its fit (what is turned in has
    its own) and, between pegs, its places."""
    pegs = isinstance(joint, PegJoint) and isinstance(found, PegJoint)
    fit = found.fit if joint.turns or found.turns else joint.fit
    kept = {"id": joint.id, "fit": fit, "clearance_mm": joint.clearance_mm, "places": joint.places if pegs else None}
    return found.model_copy(update=kept)


def exchanged(plan: Plan, joint: Joint) -> Plan:
    """The plan with a joint in place of the one of its name."""
    return plan.model_copy(update={"joints": tuple(joint if j.id == joint.id else j for j in plan.joints)})

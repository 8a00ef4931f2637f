"""Whether joints hold the weight of the pieces: estimates, with a factor of safety."""

from dataclasses import dataclass

from hinoki.core.build import Build
from hinoki.core.divide.mating_faces import face_label
from hinoki.core.findings import Finding
from hinoki.core.join.contract.strength import Strength, Stuff
from hinoki.core.join.joints import SIDES, HingeJoint, MagnetJoint
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.plan.plan import Plan

SAFE = 3.0
"""a joint is to hold so many times the weight (common practice for printed parts)"""


def strength_of(placed: PlacedJoint, plan: Plan) -> Strength | None:
    """About how much a placed joint holds, in the material of the plan."""
    return placed.joint.strength(placed.standing, placed.places, Stuff.of(plan.material))


@dataclass(frozen=True)
class Held:
    """What the strongest joint of a mating face holds, which it is, and what the lighter piece weighs printed full, newtons."""

    strength: Strength
    by: PlacedJoint
    weight_n: float


def held_faces(build: Build) -> dict[str, Held]:
    """By the ids of mating faces, where a joint says what it holds."""
    plan = build.plan
    weights = {p.key: plan.material.weight_n(p.volume_mm3) for p in build.pieces}
    found: dict[str, Held] = {}
    for placed_joint in build.placed:
        strength, face = strength_of(placed_joint, plan), placed_joint.face.ref.id
        if strength is not None and (face not in found or strength.newtons > found[face].strength.newtons):
            found[face] = Held(strength, placed_joint, min(weights[placed_joint.part(side).key] for side in SIDES))
    return found


def strength_findings(build: Build) -> list[Finding]:
    """A finding for every face whose strongest joint holds too little in the worst attitude, hanging from it alone; magnets and
    hinges are weighed by checks of their own."""
    held = held_faces(build)
    found: list[Finding] = []
    for face in build.faces:
        one = held.get(face.ref.id)
        if one is None or isinstance(one.by.joint, MagnetJoint | HingeJoint) or one.strength.newtons >= SAFE * one.weight_n:
            continue
        label, joint = face_label(face, build.numbers), one.by.joint
        found.append(
            Finding(
                severity="look-at",
                code="joint-weak",
                station="join",
                face=label,
                joint=joint.id,
                params={
                    "joint": joint.label(),
                    "elements": joint.wanted,
                    "holds_n": one.strength.newtons,
                    "how": one.strength.how,
                    "weight_n": one.weight_n,
                },
            )
        )
    return found

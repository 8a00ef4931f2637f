"""Whether joints hold the weight of the pieces: estimates, with a factor of safety."""

from collections.abc import Mapping, Sequence

from hinoki.core.divide.mating_faces import face_label
from hinoki.core.findings import Finding
from hinoki.core.join.apply import PlacedJoint
from hinoki.core.join.contract.strength import Strength, Stuff
from hinoki.core.join.joints import SIDES
from hinoki.core.plan.plan import Plan
from hinoki.present.schemas.build import FaceView, PieceView

SAFE = 3.0
"""a joint is to hold so many times the weight (common practice for printed parts)"""


def strength_of(placed: PlacedJoint, plan: Plan) -> Strength | None:
    """About how much a placed joint holds, in the material of the plan."""
    return placed.joint.strength(placed.standing, placed.places, Stuff(plan.material.tension_mpa))


def add_strengths(
    faces: Sequence[FaceView],
    placed: Sequence[PlacedJoint],
    pieces: Sequence[PieceView],
    numbers: Mapping[str, int],
    plan: Plan,
) -> list[Finding]:
    """Tell every face what its strongest joint holds and what the lighter of its pieces weighs when printed full, in newtons;
    and a finding where that is too little in the worst attitude, the piece hanging from the joint alone."""
    weights = {p.key: plan.material.weight_n(p.volume_mm3) for p in pieces}
    by_face: dict[str, list[PlacedJoint]] = {}
    for one in placed:
        by_face.setdefault(one.face.ref.id, []).append(one)
    found: list[Finding] = []
    for face in faces:
        own = by_face.get(face.id, [])
        strengths = [(s, one) for one in own if (s := strength_of(one, plan))]
        if not strengths:
            continue
        best, by = max(strengths, key=lambda s: s[0].newtons)
        weight = min(weights[by.part(side).key] for side in SIDES)
        face.holds_n, face.weight_n = round(best.newtons, 1), round(weight, 2)
        if by.joint.kind != "magnet" and best.newtons < SAFE * weight:
            found.append(
                Finding(
                    severity="look-at",
                    code="joint-weak",
                    station="join",
                    face=face_label(by.face, numbers),
                    joint=by.joint.id,
                    message=f"The {by.joint.label()} on {face.label} {'hold' if by.joint.wanted > 1 else 'holds'} about "
                    f"{best.newtons:.0f} N ({best.how}); hanging from there the lighter piece weighs {weight:.1f} N printed "
                    "full. Use more or larger ones, or glue.",
                )
            )
    return found

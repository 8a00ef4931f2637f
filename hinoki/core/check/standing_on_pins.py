"""Pieces that would print standing on the pins of their mating face, though the face itself is a good base."""

from collections.abc import Mapping

from hinoki.core.build import Build
from hinoki.core.findings import Finding, Fix, Params
from hinoki.core.join.joints import SIDES, PinJoint, SideName
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.sizing.dowel_alternative import dowels_for
from hinoki.core.orient.resting.piece import Piece
from hinoki.core.orient.standing_on_pins import SAME_WAY, stands_on_pins
from hinoki.core.plan.plan import Plan


def on_pins_findings(build: Build) -> list[Finding]:
    """A finding for every piece that stands on pins, with the pins on the other piece where that lies otherwise, or dowels."""
    found: list[Finding] = []
    by_key, plan, placed = {p.key: p for p in build.pieces}, build.plan, build.placed
    for piece in build.pieces:
        if plan.printer_of(piece.key).process != "filament":
            continue
        joints = stands_on_pins(piece, placed)
        if not joints:
            continue
        area, one = sum(j.face.shape.area for j in joints), joints[0]
        fixes = [*_to_the_other(one, by_key), *_as_dowels(one, plan)] if len(joints) == 1 else []
        what = "pins" if isinstance(one.joint, PinJoint) else one.joint.elements
        params: Params = {
            "name": piece.name,
            "elements": what,
            "contact_mm2": float(piece.rest.contact_mm2),
            "area_mm2": float(area),
        }
        found.append(
            Finding(
                severity="look-at",
                code="piece-on-pins",
                station="orient",
                piece=piece.number,
                params=params,
                fixes=tuple(fixes),
            )
        )
    return found


def _to_the_other(placed_joint: PlacedJoint, pieces: Mapping[str, Piece]) -> list[Fix]:
    """The male parts on the other piece, where that does not lie on the same face."""
    side: SideName = next(s for s in SIDES if s != placed_joint.joint.stands_on)
    other = pieces[placed_joint.part(side).key]
    out = placed_joint.face.frame.n if side == "a" else -placed_joint.face.frame.n
    if float(out @ other.rest.down) > SAME_WAY:
        return []
    moved = placed_joint.joint.model_copy(update={"on": side})
    return [Fix(kind="joint", code="other-piece", params={"piece": other.number}, joint=moved.model_dump(mode="json"))]


def _as_dowels(placed_joint: PlacedJoint, plan: Plan) -> list[Fix]:
    dowels = dowels_for(placed_joint, plan)
    return [] if dowels is None else [Fix(kind="joint", code="dowels", joint=dowels.model_dump(mode="json"))]

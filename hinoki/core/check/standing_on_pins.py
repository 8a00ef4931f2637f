"""Pieces that would print standing on the pins of their mating face, though the face itself is a good base."""

from collections.abc import Mapping, Sequence

import numpy as np

from hinoki.core.findings import Finding, Fix
from hinoki.core.join.apply import PlacedJoint, standing_on
from hinoki.core.join.dimensions.placing import Depths
from hinoki.core.join.dimensions.sizing import suggest
from hinoki.core.join.joints import SIDES, Joint, PinJoint, SideName
from hinoki.core.join.profiles.male_side import SidedJoint
from hinoki.core.plan.plan import Plan
from hinoki.present.schemas.build import BuildView, PieceView

SHARE = 0.25
"""of its mating faces in a plane: a piece that touches the bed with less there stands on what sticks out of them"""
SAME_WAY = 0.9999


def standing_out(placed: Sequence[PlacedJoint], key: str) -> list[list[PlacedJoint]]:
    """The joints with male parts on a piece, those whose faces lie in one plane together, the largest plane first."""
    groups: list[list[PlacedJoint]] = []
    for one in placed:
        side = one.joint.stands_on
        if not isinstance(one.joint, SidedJoint) or not one.places or side is None or one.part(side).key != key:
            continue
        group = next((g for g in groups if g[0].face.frame.same_plane(one.face.frame)), None)
        if group is None:
            groups.append([one])
        else:
            group.append(one)
    return sorted(groups, key=lambda g: -sum(one.face.shape.area for one in g))


def stands_on_pins(piece: PieceView, placed: Sequence[PlacedJoint]) -> list[PlacedJoint]:
    """The joints on whose male parts a piece stands while it prints; none for most."""
    return next((g for g in standing_out(placed, piece.key) if _on(piece, g)), [])


def on_pins_findings(view: BuildView, plan: Plan, placed: Sequence[PlacedJoint]) -> list[Finding]:
    """A finding for every piece that stands on pins, with the pins on the other piece where that lies otherwise, or dowels."""
    found: list[Finding] = []
    by_key = {p.key: p for p in view.pieces}
    for piece in view.pieces:
        if plan.printer_of(piece.key).process != "filament":
            continue
        joints = stands_on_pins(piece, placed)
        if not joints:
            continue
        area, one = sum(j.face.shape.area for j in joints), joints[0]
        fixes = [*_to_the_other(one, by_key), *_as_dowels(one, plan)] if len(joints) == 1 else []
        what = "pins" if isinstance(one.joint, PinJoint) else one.joint.elements
        text = (
            f"{piece.name} ({piece.number}) stands on its {what} while it prints: {piece.rest.contact_mm2:.0f} mm² touch the "
            f"bed, of a mating face of {area:,.0f} mm². Put the {what} on the other piece, use dowels, or lay it otherwise."
        )
        found.append(
            Finding(
                severity="look-at", code="piece-on-pins", station="orient", piece=piece.number, message=text, fixes=tuple(fixes)
            )
        )
    return found


def _on(piece: PieceView, group: Sequence[PlacedJoint]) -> bool:
    one = group[0]
    out = one.face.frame.n if one.joint.stands_on == "a" else -one.face.frame.n
    area = sum(j.face.shape.area for j in group)
    return float(out @ np.array(piece.rest.down)) > SAME_WAY and piece.rest.contact_mm2 < SHARE * area


def _to_the_other(one: PlacedJoint, pieces: Mapping[str, PieceView]) -> list[Fix]:
    """The male parts on the other piece, where that does not lie on the same face."""
    side: SideName = next(s for s in SIDES if s != one.joint.stands_on)
    other = pieces[one.part(side).key]
    out = one.face.frame.n if side == "a" else -one.face.frame.n
    if float(out @ np.array(other.rest.down)) > SAME_WAY:
        return []
    moved = one.joint.model_copy(update={"on": side})
    return [Fix(kind="joint", label=f"Put them on piece {other.number}", joint=moved.model_dump(mode="json"))]


def dowels_for(one: PlacedJoint, plan: Plan) -> Joint | None:
    """Dowels that suit the face of pins; None for other joints, and where there is no room for any."""
    if not isinstance(one.joint, PinJoint):
        return None
    return suggest("dowel", one.joint.id, Depths(one.face), one.joint.fit, standing_on(one.face, plan, one.joint.fit))


def _as_dowels(one: PlacedJoint, plan: Plan) -> list[Fix]:
    dowels = dowels_for(one, plan)
    return [] if dowels is None else [Fix(kind="joint", label="Make them dowels", joint=dowels.model_dump(mode="json"))]

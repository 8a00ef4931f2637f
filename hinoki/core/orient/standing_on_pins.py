"""Whether a piece stands on the male parts of its joints while it prints."""

from collections.abc import Sequence

from hinoki.core.join.contract.male_side import SidedJoint
from hinoki.core.join.joints import LipJoint
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.orient.resting.piece import Piece


def stands_on_pins(piece: Piece, placed: Sequence[PlacedJoint]) -> list[PlacedJoint]:
    """The joints on whose male parts a piece stands while it prints; none for most."""
    return next((g for g in standing_out(placed, piece.key) if _on(piece, g)), [])


SHARE = 0.25
"""of its mating faces in a plane: a piece that touches the bed with less there stands on what sticks out of them"""


SAME_WAY = 0.9999


def standing_out(placed: Sequence[PlacedJoint], key: str, rims: bool = False) -> list[list[PlacedJoint]]:
    """The joints with male parts on a piece, with `rims` lips among them, those whose faces lie in one plane together, the
    largest plane first."""
    kinds = (SidedJoint, LipJoint) if rims else SidedJoint
    groups: list[list[PlacedJoint]] = []
    for one in placed:
        side = one.joint.stands_on
        there = isinstance(one.joint, kinds) and (one.places or one.joint.wanted == 0)
        if not there or side is None or one.part(side).key != key:
            continue
        group = next((g for g in groups if g[0].face.frame.same_plane(one.face.frame)), None)
        if group is None:
            groups.append([one])
        else:
            group.append(one)
    return sorted(groups, key=lambda g: -sum(one.face.shape.area for one in g))


def _on(piece: Piece, group: Sequence[PlacedJoint]) -> bool:
    one = group[0]
    out = one.face.frame.n if one.joint.stands_on == "a" else -one.face.frame.n
    area = sum(j.face.shape.area for j in group)
    return float(out @ piece.rest.down) > SAME_WAY and piece.rest.contact_mm2 < SHARE * area

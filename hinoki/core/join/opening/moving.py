"""What moves with a door: the pieces that are joined to it alone, bent where they give way to what stays."""

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass

from hinoki.core.divide.cut import Part
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.giving_way import given_way, gives
from hinoki.core.join.joints import SIDES
from hinoki.core.join.placed_joint import PlacedJoint

Point = tuple[float, float, float]


@dataclass(frozen=True)
class Met:
    """The piece (its key) that is touched on the way, how much of it, and where."""

    piece: str
    volume_mm3: float
    at: Point


def met(key: str, common: Solid) -> Met:
    """What two bodies have in common, as a meeting with the piece of that key."""
    x, y, z = (round(float(c), 2) for c in common.centre_of_box)
    return Met(key, common.volume_mm3, (x, y, z))


def moves_with(door: str, frame: str, placed: Sequence[PlacedJoint]) -> frozenset[str]:
    """The door and all that hangs on it and not on its frame: pieces (their keys) every joint of which leads to what moves
    already."""
    joined: dict[str, set[str]] = {}
    for one in placed:
        a, b = one.face.a.key, one.face.b.key
        joined.setdefault(a, set()).add(b)
        joined.setdefault(b, set()).add(a)
    joined.pop(frame, None)
    moving = {door}
    while more := {piece for piece, others in joined.items() if piece not in moving and others <= moving}:
        moving |= more
    return frozenset(moving)


def giving_between(moving: Collection[str], placed: Sequence[PlacedJoint]) -> list[PlacedJoint]:
    """The joints between what moves and what stays of which anything gives way."""
    return [one for one in placed if gives(one) and (one.face.a.key in moving) != (one.face.b.key in moving)]


def bent(part: Part, bending: Iterable[PlacedJoint]) -> Solid:
    """A piece with all bent that gives way at some joints."""
    solid = part.solid
    for one in bending:
        for side in (side for side in SIDES if one.part(side).key == part.key):
            given = given_way(one.tools, side)
            solid = solid.minus(given.straight).plus(given.bent)
    return solid

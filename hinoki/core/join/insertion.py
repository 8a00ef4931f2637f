"""How two pieces can go together: the motions on which all joints between them agree."""

from collections.abc import Iterable, Sequence

from hinoki.core.join.contract.terms import Direction
from hinoki.core.join.placed_joint import PlacedJoint

Pair = tuple[str, str]


def by_pair(placed: Sequence[PlacedJoint]) -> dict[Pair, list[PlacedJoint]]:
    """The joints between each two pieces."""
    pairs: dict[Pair, list[PlacedJoint]] = {}
    for placed_joint in placed:
        pairs.setdefault((placed_joint.face.a.key, placed_joint.face.b.key), []).append(placed_joint)
    return pairs


def agreed(joints: Iterable[PlacedJoint]) -> frozenset[Direction] | None:
    """The motions that serve all of these joints; none left where they are at odds.

    What is turned in has nothing beside it.
    """
    joints = list(joints)
    held = [one for one in joints if one.joint.motions(one.standing) is not None]
    if len(held) > 1 and any(one.joint.turns for one in held):
        return frozenset()
    left: frozenset[Direction] | None = None
    for one in joints:
        own = one.joint.motions(one.standing)
        if own is not None:
            left = frozenset(own) if left is None else left & frozenset(own)
    return left

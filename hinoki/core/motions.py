"""How two pieces can go together: the motions on which all joints between them agree."""

from collections.abc import Iterable, Mapping, Sequence

import numpy as np

from hinoki.core.join import PlacedJoint
from hinoki.core.joints import ThreadJoint
from hinoki.core.joints.base import Direction, direction_of
from hinoki.core.mesh import Points

Pair = tuple[str, str]
Motions = Mapping[Pair, frozenset[Direction] | None]
"""for pieces A and B, by key: the directions in which B goes onto A; None for any"""


def by_pair(placed: Sequence[PlacedJoint]) -> dict[Pair, list[PlacedJoint]]:
    """The joints between each two pieces."""
    pairs: dict[Pair, list[PlacedJoint]] = {}
    for one in placed:
        pairs.setdefault((one.face.a.key, one.face.b.key), []).append(one)
    return pairs


def agreed(joints: Iterable[PlacedJoint]) -> frozenset[Direction] | None:
    """The motions that serve all of these joints; none left where they are at odds.

    What is screwed in has nothing beside it.
    """
    joints = list(joints)
    held = [one for one in joints if one.joint.motions(one.face.frame) is not None]
    if len(held) > 1 and any(one.joint.screws for one in held):
        return frozenset()
    left: frozenset[Direction] | None = None
    for one in joints:
        own = one.joint.motions(one.face.frame)
        if own is not None:
            left = frozenset(own) if left is None else left & frozenset(own)
    return left


def motions_of(placed: Sequence[PlacedJoint], rods: Mapping[Pair, frozenset[Direction]] | None = None) -> Motions:
    """For each two pieces that a joint or a rod holds, the motions all of them agree on."""
    found = {pair: agreed(joints) for pair, joints in by_pair(placed).items()}
    for pair, along in (rods or {}).items():
        joints = found.get(pair)
        found[pair] = along if joints is None else joints & along
    return found


def screwed(placed: Sequence[PlacedJoint]) -> dict[frozenset[str], str]:
    """The hand of the thread between two pieces, by their keys."""
    return {
        frozenset((one.face.a.key, one.face.b.key)): one.joint.hand
        for one in placed
        if isinstance(one.joint, ThreadJoint) and one.places
    }


def way_for(moving: Sequence[str], there: Sequence[str], wanted: Points, motions: Motions) -> Points | None:
    """The direction in which the pieces `moving` can go onto those `there`: the one wanted (3,) where all joints allow it, else
    another on which they agree, the steepest downwards first; None where there is none."""
    left: frozenset[Direction] | None = None
    for (a, b), ways in motions.items():
        if ways is None or not ((a in there and b in moving) or (b in there and a in moving)):
            continue
        seen = ways if b in moving else frozenset(direction_of(-np.array(w)) for w in ways)
        left = seen if left is None else left & seen
    if left is None or direction_of(wanted) in left:
        return wanted
    return np.array(min(left, key=lambda w: (w[2], w))) if left else None

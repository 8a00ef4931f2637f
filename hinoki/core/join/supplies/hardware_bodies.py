"""What is bought, as bodies in the pieces."""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import Bought
from hinoki.core.join.placed_joint import PlacedJoint
from hinoki.core.join.supplies.loose_parts import Seat
from hinoki.core.join.tiles.tiles import Modules
from hinoki.core.plan.plan import Plan
from hinoki.core.stages import key_of


@dataclass(frozen=True)
class BoughtBody:
    """A body of something bought, what it is drawn as, and where it sits."""

    name: str
    tone: Literal["steel", "n", "s"]
    solid: Solid
    made_by: str
    seats: tuple[Seat, ...]


def bought_bodies(
    plan: Plan, placed: Sequence[PlacedJoint], modules: Sequence[Modules], numbers: Mapping[str, int]
) -> tuple[BoughtBody, ...]:
    """Everything bought that sits in the pieces, one entry for a name and a tone."""
    first: dict[tuple[str, str], Bought] = {}
    seats: dict[tuple[str, str], list[Seat]] = defaultdict(list)
    for piece, joint, one in _all(plan, placed, modules):
        kind = one.name, one.tone
        first.setdefault(kind, one)
        seats[kind].append(Seat(joint, (numbers[piece], numbers[piece]), one.matrix))
    return tuple(
        BoughtBody(one.name, one.tone, one.solid, key_of("bought", one.name), tuple(seats[kind])) for kind, one in first.items()
    )


def _all(plan: Plan, placed: Sequence[PlacedJoint], modules: Sequence[Modules]) -> Iterable[tuple[str, str, Bought]]:
    for joint in placed:
        for one in joint.joint.bought(joint.standing, joint.places):
            yield joint.part(one.side).key, joint.joint.id, one
    for group in modules:
        for piece, one in group.bought(plan.least_wall_mm):
            yield piece, group.wanted.id, one

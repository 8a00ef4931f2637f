"""What of two pieces gives way for the moment in which they go together: hooks that bend, beads that are pressed in."""

from typing import NamedTuple

from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import SideName, Tools
from hinoki.core.join.placed_joint import PlacedJoint


class GivenWay(NamedTuple):
    """Of one piece: what is not there then, and what is instead."""

    straight: tuple[Solid, ...] = ()
    bent: tuple[Solid, ...] = ()


def gives(placed: PlacedJoint) -> bool:
    """Whether anything of a joint gives way."""
    return any(tool.bent is not None for tool in placed.tools.each)


def given_way(tools: Tools, side: SideName) -> GivenWay:
    """What gives way of the piece on a side."""
    both = [(t.add, t.bent, t.sleeve or t.add) for t in tools.of(side) if t.add is not None and t.bent is not None]
    straight = (sleeve.minus([bent]) for _, bent, sleeve in both)
    instead = (bent.minus([add]) for add, bent, _ in both)
    return GivenWay(tuple(s for s in straight if not s.empty), tuple(s for s in instead if not s.empty))

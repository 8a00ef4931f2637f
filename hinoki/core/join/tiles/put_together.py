"""Modules put together: every two sides that are to meet are tried with the real bodies of the two modules."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import product

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.geometry.frames import composed
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.slide_collision import Form as Surface
from hinoki.core.geometry.slide_collision import slide
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.tiles.polarity import meets
from hinoki.core.join.tiles.side_joints import side_joint
from hinoki.core.join.tiles.tiles import Module, Modules, ModuleSide
from hinoki.core.stages import Keyed, stage

BEHIND_MM = 3.0
MEETS_MM3 = 1e-2
MOST_SHAPES = 4
"""so many kinds of module, by their shape, are tried against each other"""


@dataclass(frozen=True)
class Tried:
    """How many pairs of sides were put together, and those (module and side of either, from 0) that run into each other, cannot
    go in, or come apart when they are pulled."""

    pairs: int
    into_each_other: tuple[tuple[int, int, int, int], ...] = ()
    do_not_go_in: tuple[tuple[int, int, int, int], ...] = ()
    come_apart: tuple[tuple[int, int, int, int], ...] = ()

    @property
    def good(self) -> bool:
        """Whether all of them go together."""
        return not self.into_each_other and not self.do_not_go_in


def tried(modules: Modules, cache: Cache) -> Tried:
    """All pairs of sides that are to meet, put together. Magnets are only told by their poles: nothing stands out of a side."""
    if not modules.many or modules.wanted.by == "magnets":
        return Tried(0)
    return _tried(cache, Keyed(modules, modules.key))


@stage("modules put together")
def _tried(modules: Keyed[Modules]) -> Tried:
    own = modules.value
    first: dict[int, int] = {}  # one of each shape, as far as its volume tells
    for k, module in enumerate(own.each):
        first.setdefault(round(module.part.solid.volume_mm3), k)
    chosen = list(first.values())[:MOST_SHAPES]
    found = Tried(0)
    pattern = own.pattern
    for a, b, i, j in product(chosen, chosen, range(own.many), range(own.many)):
        if meets(pattern[i], pattern[j]):
            found = _one(own, (a, i, b, j), found)
    return found


def _one(modules: Modules, pair: tuple[int, int, int, int], found: Tried) -> Tried:
    a, i, b, j = pair
    module, other = modules.each[a], modules.each[b]
    side, facing = module.sides[(i + module.turned) % modules.many], other.sides[(j + other.turned) % modules.many]
    return try_pair(modules, (module, side), (other, facing), pair, found)


def try_pair(
    modules: Modules,
    one: tuple[Module, ModuleSide],
    two: tuple[Module, ModuleSide],
    pair: tuple[int, int, int, int],
    found: Tried,
) -> Tried:
    """What is found with one more pair: a side of one module against a side of another, as they lie on one table."""
    (module, side), (other, facing) = one, two
    joint, away = side_joint(modules.wanted), side.frame.n
    against = composed(side.frame.to_world, np.array([[-1.0, 0, 0, 0], [0, 1.0, 0, 0], [0, 0, -1.0, 0]]))
    across = composed(against, facing.frame.to_frame)

    def both(bent: bool) -> tuple[Solid, Solid]:
        return (
            _slab(shaped(module, bent), side, joint.out_mm),
            _slab(shaped(other, bent), facing, joint.out_mm).placed(across),
        )

    still, moving = both(bent=False)
    into = still.common(moving).volume_mm3 > MEETS_MM3
    ways: Sequence[tuple[Solid, Solid, Points]] = [(moving, still, side.frame.v), (still, moving, side.frame.v)]
    if not joint.lifts:
        given, coming = both(bent=True)
        ways = [(coming, given, away)]
    free = into or any(slide(Surface(m.mesh), Surface(s.mesh), way).free for m, s, way in ways)
    pulled = moving.moved(*((2 * modules.clearance_mm + 0.5) * away).tolist())
    holds = not joint.holds or pulled.common(still).volume_mm3 > MEETS_MM3
    return Tried(
        found.pairs + 1,
        (*found.into_each_other, pair) if into else found.into_each_other,
        (*found.do_not_go_in, pair) if not free else found.do_not_go_in,
        (*found.come_apart, pair) if not holds else found.come_apart,
    )


def shaped(module: Module, bent: bool = False) -> Solid:
    """A module with what stands out of its sides, bent where it gives way and that is wanted, and what they take."""
    adds = [t.bent if bent and t.bent is not None else t.add for t in module.tools if t.add is not None]
    cuts = [t.cut for t in module.tools if t.cut is not None]
    return (module.part.solid.plus(adds) if adds else module.part.solid).minus(cuts)


def _slab(body: Solid, side: ModuleSide, out: float) -> Solid:
    """What of a module lies near a side: all that another one there can meet."""
    wide, high = side.wide_mm / 2 + out + 1, side.high_mm + 1
    near = Solid.box((-wide, -1.0, -out - BEHIND_MM), (wide, high, out + 1))
    return body.common(near.placed(side.frame.to_world))

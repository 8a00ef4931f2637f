"""What touches what: groups that hang together, objects that have nothing to do with each other, what would hang in the air."""

from collections.abc import Callable

import numpy as np

from hinoki.core.assemble.apart import surely_apart
from hinoki.core.assemble.motion.blocking_graph import Blocking
from hinoki.core.assemble.scene.parts import Ids, Scene
from hinoki.core.geometry.solid import Solid
from hinoki.core.stages import Keyed, stage

PLAY_MM = 0.5
"""what stands apart by less touches, with some play"""
FLOOR_MM = 1e-3


class Touching:
    """Answers about the units of a scene, each pair looked at once."""

    def __init__(self, blocking: Blocking) -> None:
        self._blocking, self._scene, self._cache = blocking, blocking.scene, blocking.cache
        self._known: dict[str, list[str]] = {}
        self._met: dict[str, list[str]] = {}
        self._names = sorted(self._scene.units)
        boxes = [self._scene.units[name].box for name in self._names]
        self._low, self._high = (np.array([box[k] for box in boxes]).reshape(-1, 3) for k in (0, 1))
        self._floor = min((float(u.box[0][2]) for u in self._scene.units.values() if u.is_piece), default=0.0)

    def groups(self, units: Ids) -> list[Ids]:
        """The groups of units that touch each other, largest first; what is no piece and touches none is with the first."""
        return _groups_of(self._scene, units, lambda one, left: [n for n in self.beside(one) if n in left])

    def objects(self, units: Ids) -> list[Ids]:
        """The groups that have nothing to do with each other: they neither touch nor reach into each other's boxes."""
        return _groups_of(self._scene, units, lambda one, left: [n for n in self._meeting(one) if n in left])

    def beside(self, unit: str) -> list[str]:
        """Units that one touches, or all but touches: things that came in separate stand with some play."""
        if unit not in self._known:
            near = self._blocking.near(unit)
            self._known[unit] = near + self._with_play(unit, near)
        return self._known[unit]

    def _with_play(self, unit: str, known: list[str]) -> list[str]:
        """Units that stand by one with no more than some play, those that are `known` aside."""
        return [other for other in self._within(unit, PLAY_MM) if other not in known and self._gap(unit, other) < PLAY_MM]

    def _meeting(self, unit: str) -> list[str]:
        """Units that one touches, or whose boxes reach into its own: only those beside it are measured."""
        if unit not in self._met:
            met = list(dict.fromkeys([*self._blocking.near(unit), *self._within(unit, 0.0)]))
            self._met[unit] = met + self._with_play(unit, met)
        return self._met[unit]

    def _within(self, unit: str, mm: float) -> list[str]:
        """Units whose boxes come nearer to that of one than `mm`."""
        at = self._names.index(unit)
        near = (self._low < self._high[at] + mm).all(axis=1) & (self._high > self._low[at] - mm).all(axis=1)
        return [self._names[k] for k in np.flatnonzero(near) if k != at]

    def _gap(self, one: str, other: str) -> float:
        first, second = sorted((one, other))
        return _apart_mm(self._cache, self._scene.units[first].bodies, self._scene.units[second].bodies)

    def stays(self, rest: Ids) -> bool:
        """Whether nothing of what is left would hang in the air: it hangs together, or each group of it stands on the floor."""
        groups = self.groups(rest)
        return len(groups) == 1 or all(
            min(float(self._scene.units[u].box[0][2]) for u in group) < self._floor + FLOOR_MM for group in groups
        )


@stage("stand apart")
def _apart_mm(one: Keyed[tuple[Solid, ...]], other: Keyed[tuple[Solid, ...]]) -> float:
    """How far bodies stand from others, as far as it is less than PLAY_MM."""
    pairs = ((a, b) for a in one.value for b in other.value)
    return min((a.gap(b, PLAY_MM) for a, b in pairs if not surely_apart(a.mesh, b.mesh, PLAY_MM)), default=PLAY_MM)


def _groups_of(scene: Scene, units: Ids, beside: Callable[[str, set[str]], list[str]]) -> list[Ids]:
    groups: list[Ids] = []
    left = set(units)
    while left:
        group, new = set[str](), [min(left)]
        while new:
            one = new.pop()
            if one in left:
                left.discard(one)
                group.add(one)
                new += beside(one, left)
        groups.append(frozenset(group))
    groups.sort(key=lambda g: (-len(g), min(g)))
    with_pieces = [g for g in groups if any(scene.units[u].is_piece for u in g)]
    if not with_pieces:
        return [units]
    others = units.difference(*with_pieces)
    return [with_pieces[0] | others, *with_pieces[1:]]

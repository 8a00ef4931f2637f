"""To replace something: what must come off first, in order, and what glue would have to be broken."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from hinoki.core.assemble.motion.moves import Motion, Moves
from hinoki.core.assemble.planning import Planner
from hinoki.core.assemble.scene.parts import Ids, Scene


@dataclass(frozen=True)
class Replacing:
    """How to get at a unit: what comes off before, each with its motion; then itself, with all that is glued to it.

    `possible` tells whether it comes out at all; `breaks` are the glued pairs that must be broken to have it alone.
    """

    unit: str
    possible: bool
    first: tuple[tuple[Ids, Motion], ...]
    motion: Motion | None
    breaks: tuple[tuple[str, str], ...]


def glued_pairs(scene: Scene, wished: Iterable[tuple[str, str]]) -> list[tuple[str, str]]:
    """The pairs of units that glue holds: joints that are glued, and what the maker marked."""
    own = [(h.a, h.b) for h in scene.held if h.glued]
    known = [(a, b) for a, b in wished if a in scene.units and b in scene.units]
    return list(dict.fromkeys((min(pair), max(pair)) for pair in [*own, *known]))


def clusters(units: Iterable[str], pairs: Sequence[tuple[str, str]]) -> dict[str, Ids]:
    """For every unit those that glue makes one with it."""
    group: dict[str, Ids] = {u: frozenset((u,)) for u in units}
    for a, b in pairs:
        both = group[a] | group[b]
        group |= dict.fromkeys(both, both)
    return group


def _by_groups(
    target: Ids, left: Ids, planner: Planner, group: Mapping[str, Ids]
) -> tuple[Ids, list[tuple[Ids, Motion]]] | None:
    """A group that comes off the rest, or the rest that comes off the group, whichever the target is not in."""
    off = planner.next_off(left)
    if off is None:
        return None
    gone = frozenset(f for f, _ in off.first)
    inner, outer = off.units, left - off.units - gone
    away = outer if target <= inner else inner
    if any(group[u] & left & away and not group[u] & left <= away for u in left) or away & target:
        return None
    first = [(frozenset((f,)), m) for f, m in off.first]
    motion = planner.moves.off(away, left - away - gone, with_fasteners=False)
    return (away | gone, [*first, (away, motion.motion)]) if motion else None


def to_replace(unit: str, moves: Moves, pairs: Sequence[tuple[str, str]]) -> Replacing:
    """What must come off so that a unit does. What is found cannot be shortened by leaving any one of it in place.

    Where it is glued it comes out alone, its glue broken; with what it is glued to, where only that is possible.
    """
    breaks = tuple(p for p in pairs if unit in p)
    for kept in ([p for p in pairs if unit not in p], pairs) if breaks else (pairs,):
        found = _replaced(unit, moves, kept)
        if found is not None:
            return Replacing(unit, True, *found, breaks)
    return Replacing(unit, False, (), None, breaks)


def _replaced(
    unit: str, moves: Moves, pairs: Sequence[tuple[str, str]]
) -> tuple[tuple[tuple[Ids, Motion], ...], Motion] | None:
    group = clusters(moves.scene.units, pairs)
    target = group[unit]
    whole = frozenset(moves.scene.units)
    found = _freed(target, whole, moves, group)
    if found is None:
        return None
    sequence = _pruned(found, target, whole, moves)
    left = whole.difference(*(units for units, _ in sequence))
    off = moves.off(target & left, left - target)
    if off is None:
        return None
    fasteners = [(frozenset((name,)), motion) for name, motion in off.first]
    return (*sequence, *fasteners), off.motion


def _freed(target: Ids, whole: Ids, moves: Moves, group: Mapping[str, Ids]) -> list[tuple[Ids, Motion]] | None:
    left = whole
    sequence: list[tuple[Ids, Motion]] = []
    while moves.off(target, left - target) is None:
        chosen = _next(target, left, moves, group)
        if chosen is None:
            return None
        units, motions = chosen
        sequence += motions
        left = left - units
    return sequence


def _next(target: Ids, left: Ids, moves: Moves, group: Mapping[str, Ids]) -> tuple[Ids, list[tuple[Ids, Motion]]] | None:
    """What comes off next on the way to `target`: something that stands in its way if that can be had, else anything."""
    ways = moves.ways_of(target, left - target)
    wanted = [b for _, blockers in moves.blocking.least_against(target, left - target, ways) for b in blockers]
    others = sorted(left - target, key=lambda u: -float(moves.scene.units[u].middle[2]))
    from_below: tuple[Ids, list[tuple[Ids, Motion]]] | None = None
    for name in dict.fromkeys([*wanted, *others]):
        own = group[name] & left
        if own & target or not own:
            continue
        off = moves.off(own, left - own)
        if off is not None:
            motions = [(frozenset((f,)), m) for f, m in off.first]
            found = own | {f for f, _ in off.first}, [*motions, (own, off.motion)]
            if off.motion.way[2] > -0.5:
                return found
            from_below = from_below or found
    if from_below is not None:
        return from_below
    return _by_groups(target, left, Planner(moves), group)


def _pruned(sequence: list[tuple[Ids, Motion]], target: Ids, whole: Ids, moves: Moves) -> tuple[tuple[Ids, Motion], ...]:
    """The sequence without what can stay or go along, each taken out in turn and the rest tried again."""
    kept = list(sequence)
    for one in reversed(sequence):
        at = next((k for k, s in enumerate(kept) if s[0] == one[0]), None)
        if at is None:
            continue
        for fewer in _shorter(kept, at):
            again = _again(fewer, target, whole, moves)
            if again is not None:
                kept = again
                break
    return tuple(kept)


def _shorter(sequence: Sequence[tuple[Ids, Motion]], at: int) -> Iterator[list[tuple[Ids, Motion]]]:
    """A sequence without one of its moves: what that takes off stays, or goes along with something that comes off later."""
    yield [s for k, s in enumerate(sequence) if k != at]
    for later in range(at + 1, len(sequence)):
        both = sequence[at][0] | sequence[later][0]
        yield [(both, s[1]) if k == later else s for k, s in enumerate(sequence) if k != at]


def _again(sequence: Sequence[tuple[Ids, Motion]], target: Ids, whole: Ids, moves: Moves) -> list[tuple[Ids, Motion]] | None:
    left = whole
    out = []
    for units, _ in sequence:
        off = moves.off(units, left - units, with_fasteners=False)
        if off is None:
            return None
        out.append((units, off.motion))
        left = left - units
    return out if moves.off(target, left - target) is not None else None

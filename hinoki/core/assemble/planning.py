"""The order of an assembly, found by taking it apart: what can come off first goes on last.

Taking something off never makes it harder to take off the rest, so whatever comes off may be taken: an order is found
whenever there is one of the kinds of motion that are tried (Wilson & Latombe 1994: sets that block each other move as one).
"""

import time
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

import numpy as np

from hinoki.core.assemble.contact_groups import Touching
from hinoki.core.assemble.motion.moves import UP, Motion, Moves, Off
from hinoki.core.assemble.scene.parts import Ids
from hinoki.core.join.contract.terms import Direction, direction_of
from hinoki.core.progress import Tell, quiet

TOUCH_MM = 1e-3
DELICATE = 0.3
GLUED = 0.2
MOST_TWO_SLIDES = 40
"""two slides are tried only while so few units are left: they take long"""


@dataclass(frozen=True)
class Step:
    """One move: `units` (led by `lead`, the one their group began with) go onto what is there; `motion` is the way off.

    A step without `onto` sets its unit down: the first one, and what touches nothing that is there yet. `locked` tells that
    the units of this step lock each other and no order was found.
    """

    lead: str
    units: Ids
    onto: str | None
    motion: Motion | None
    locked: bool = False
    into: Ids = frozenset()
    """what is there already in the group it joins"""

    @property
    def is_group(self) -> bool:
        """Whether several units built before are moved as one."""
        return len(self.units) > 1 and not self.locked


@dataclass
class Order:
    """The steps in the order of assembly, the sets for which none was found, and whether time ran out."""

    steps: list[Step] = field(default_factory=list)
    locked: list[Ids] = field(default_factory=list)
    cut_short: bool = False


class _Late(Exception):
    """Time ran out."""


class Planner:
    """Takes a scene apart."""

    def __init__(self, moves: Moves, tell: Tell = quiet, seconds: float = 120.0) -> None:
        self.moves, self.scene, self.blocking = moves, moves.scene, moves.blocking
        self._tell, self._until = tell, time.monotonic() + seconds
        self._done = 0
        self.touching = Touching(moves.blocking)

    def order(self) -> Order:
        """The order of all units."""
        found = Order()
        whole = frozenset(self.scene.units)
        if whole:
            found.steps = self._build(whole, found, first=True)
        return found

    def comes_apart(self, units: Ids) -> bool:
        """Whether a set comes apart wholly."""
        found = Order()
        self._build(units, found, first=True)
        return not found.locked and not found.cut_short

    def _build(self, units: Ids, found: Order, first: bool) -> list[Step]:
        """The steps that build a set. The first unit is set down in a step of its own only where `first`."""
        apart = self.touching.objects(units)
        if len(apart) > 1:  # each is put together by itself, beside the others
            base = self._base(units)
            ordered = sorted(apart, key=lambda g: (base not in g, self._number(self._base(g))))
            return [step for group in ordered for step in self._build(group, found, first or base not in group)]
        taken: list[tuple[Off, Ids]] = []
        left = units
        try:
            while len(left) > 1 and len(self.touching.objects(left)) == 1:
                self._tell(min(0.99, self._done / max(1, len(self.scene.units))), f"Taking apart: {len(left)} left")
                off = self.next_off(left)
                if off is None:
                    break
                taken.append((off, left))
                left = left - off.units - {name for name, _ in off.first}
                self._done += len(off.units)
        except _Late:
            found.cut_short = True
        base = self._base(left)
        steps: list[Step] = []
        if len(self.touching.objects(left)) > 1:
            steps = self._build(left, found, first)
        elif len(left) > 1:
            found.locked.append(left)
            steps.append(Step(base, left, None, None, locked=True))
        elif first:
            steps.append(Step(base, left, None, None))
        for off, whole in reversed(taken):
            gone = {name for name, _ in off.first}
            rest = whole - off.units - gone
            inner = self._build(off.units, found, first=False) if len(off.units) > 1 else []
            lead = self._lead(off.units, inner)
            steps += inner
            steps.append(Step(lead, off.units, self.onto(off.units, rest), off.motion, into=rest))
            there = rest | off.units
            for name, motion in reversed(off.first):
                steps.append(Step(name, frozenset((name,)), self.onto(frozenset((name,)), there), motion, into=there))
                there = there | {name}
        return steps

    def _lead(self, units: Ids, inner: Sequence[Step]) -> str:
        """The unit a group begins with: the one that leads none of its inner steps."""
        led = {s.lead for s in inner if not s.locked}
        free = sorted(units - led, key=self._number)
        return free[0]

    def _base(self, units: Ids) -> str:
        pieces = [u for u in units if self.scene.units[u].is_piece] or list(units)
        return min(pieces, key=lambda u: (round(float(self.scene.units[u].box[0][2]), 1), self._number(u)))

    def _number(self, unit: str) -> tuple[int, int, str]:
        one = self.scene.units[unit]
        return (0, min(one.numbers), unit) if one.numbers else (1, 0, unit)

    def onto(self, units: Ids, rest: Ids) -> str | None:
        """The unit already there that shares the largest face with any of `units`, pieces before other things; where they touch
        nothing, the nearest piece."""
        best: tuple[tuple[bool, float], str] | None = None
        for unit in sorted(units):
            for other in self.blocking.near(unit):
                if other in rest:
                    area = self.scene.together[frozenset((unit, other))]
                    rank = self.scene.units[other].is_piece, area
                    if best is None or rank > best[0]:
                        best = rank, other
        if best is not None or not rest:
            return best[1] if best else None
        low = np.min([self.scene.units[u].box[0] for u in units], axis=0)
        high = np.max([self.scene.units[u].box[1] for u in units], axis=0)

        def far(other: str) -> tuple[bool, float, tuple[int, int, str]]:
            least, most = self.scene.units[other].box
            gap = np.maximum(0.0, np.maximum(least - high, low - most))
            return not self.scene.units[other].is_piece, round(float(np.linalg.norm(gap)), 3), self._number(other)

        return min(sorted(rest), key=far)

    def next_off(self, left: Ids) -> Off | None:
        """What comes off next; nothing where nothing does. What leaves the rest hanging together comes before what does not:
        then each thing goes onto one that is there."""
        parting: Off | None = None
        for tries in (self._natural, self._hard):
            for candidate in tries(left):
                if time.monotonic() > self._until:
                    raise _Late
                if candidate is None:
                    continue
                rest = left - candidate.units - {name for name, _ in candidate.first}
                if self.touching.stays(rest):
                    return candidate
                parting = parting or candidate
            if parting is not None:
                return parting
        return None

    def _natural(self, left: Ids) -> Iterator[Off | None]:
        """Possible moves, the most natural first; None for a try that came to nothing."""
        pieces = [u for u in left if self.scene.units[u].is_piece]
        for loose in sorted(left - set(pieces)):
            joins = self.scene.units[loose].joins
            if not joins <= left or len(joins) == 1:  # what it joined has gone: it lies open
                yield self.moves.off(frozenset((loose,)), left - {loose}, with_fasteners=False)
        for upper in self._layers(left):
            yield from self._with_loose(upper, left)
        for inner in self._off_by_parting(left):
            yield from self._with_loose(inner, left)
        ordered = self._by_rank(pieces, left)
        for unit in ordered:
            yield self.moves.off(frozenset((unit,)), left - {unit}, [UP])
        for unit in self._by_what_they_free(ordered, left):
            yield self.moves.off(frozenset((unit,)), left - {unit})
        for loose in sorted(left - set(pieces)):
            yield self.moves.off(frozenset((loose,)), left - {loose}, with_fasteners=False)

    def _hard(self, left: Ids) -> Iterator[Off | None]:
        """Moves that take long to find: sets that block each other, and two slides one after the other."""
        pieces = [u for u in left if self.scene.units[u].is_piece]
        ordered = self._by_rank(pieces, left)
        yield from self._bound(left)
        if len(left) <= MOST_TWO_SLIDES:
            for unit in [*ordered, *sorted(left - set(pieces))]:
                yield self.moves.two_slides(frozenset((unit,)), left - {unit})

    def _with_loose(self, pieces: Ids, left: Ids) -> Iterator[Off | None]:
        """Take pieces off with the loose parts that are wholly among them, what does not hang together one after another."""
        own = {u for u in left if not self.scene.units[u].is_piece and self.scene.units[u].joins & left <= pieces}
        for group in self.touching.groups(pieces | own) if pieces else []:
            yield self._as_one(frozenset(u for u in group if self.scene.units[u].is_piece), left)

    def _as_one(self, pieces: Ids, left: Ids) -> Off | None:
        """Pieces off with the loose parts that are wholly among them; with those between the two, where that is needed."""
        own = {u for u in left if not self.scene.units[u].is_piece and self.scene.units[u].joins & left <= pieces}
        both = {
            u for u in left - own
            if self.scene.units[u].kind in ("loose", "rod") and self.scene.units[u].joins & pieces
        }  # fmt: skip
        moving = pieces | own
        if not pieces or not any(self.scene.units[u].is_piece for u in left - moving):
            return None
        found = self.moves.off(moving, left - moving)
        if found is None and both:
            found = self.moves.off(moving | both, left - moving - both)
        return found

    def _layers(self, left: Ids) -> Iterator[Ids]:
        """The outermost layers of pieces across planes that part them cleanly, level planes first."""
        pieces = [u for u in sorted(left) if u in self.scene.reaches]
        clean = []
        for k, (normal, offset) in enumerate(self.scene.planes):
            reach = [self.scene.reaches[u][k] for u in pieces]
            below = [high <= TOUCH_MM for _, high in reach]
            above = [low >= -TOUCH_MM for low, _ in reach]
            if all(b or a for b, a in zip(below, above, strict=True)) and any(below) and not all(below):
                clean.append((k, normal, offset))
        ranked: dict[Direction, list[tuple[float, int]]] = {}
        for k, normal, offset in sorted(clean, key=lambda c: (-abs(round(c[1][2], 3)), abs(round(c[1][0], 3)))):
            same = next((n for n in ranked if abs(np.dot(n, normal)) > 1 - 1e-9), normal)
            ranked.setdefault(same, []).append((offset if np.dot(same, normal) > 0 else -offset, k))
        for normal, planes in ranked.items():
            up = normal[2] > -1e-9
            tops = [max(planes), min(planes)] if up else [min(planes), max(planes)]
            for end, (_, k) in zip((up, not up), tops, strict=True):
                turned = float(np.dot(self.scene.planes[k][0], normal)) > 0
                wanted = end == turned
                yield frozenset(u for u in pieces if (self.scene.reaches[u][k][0] >= -TOUCH_MM) == wanted)

    def _off_by_parting(self, left: Ids) -> Iterator[Ids]:
        partings = sorted({self.scene.off[u][0] for u in left if u in self.scene.off})
        for parting in partings:
            yield frozenset(u for u in left if self.scene.off.get(u, ("",))[0] == parting)

    def _by_rank(self, pieces: Sequence[str], left: Ids) -> list[str]:
        """Pieces by how naturally they come off: the highest first, delicate ones and glued ones sooner, never so that what is
        left falls into two."""
        import networkx as nx

        if not pieces:
            return []
        units = self.scene.units
        heights = {u: float(units[u].middle[2]) for u in pieces}
        boxes = [units[u].box for u in pieces]
        low, tall = min(heights.values()), max(float(b[1][2]) for b in boxes) - min(float(b[0][2]) for b in boxes)
        # middles that hardly differ tell no higher from lower
        span = max(1e-9, max(heights.values()) - low, tall / 4)
        largest = max(units[u].volume_mm3 for u in pieces)
        glued = {x for h in self.scene.held if h.glued for x in (h.a, h.b)}

        graph = nx.Graph((u, n) for u in sorted(left) for n in self.blocking.near(u) if n in left)
        bridges = set(nx.articulation_points(graph))

        def rank(unit: str) -> tuple[bool, float, int, str]:
            value = (heights[unit] - low) / span + DELICATE * (1 - units[unit].volume_mm3 / largest) + GLUED * (unit in glued)
            # of equal ones the last comes off first, so that they go on in the order of their numbers
            return unit in bridges, -round(value, 3), -self._number(unit)[1], unit

        return sorted(pieces, key=rank)

    def _by_what_they_free(self, ordered: Sequence[str], left: Ids) -> list[str]:
        """Pieces that go off another way than up: those first that alone keep the most others from going up."""
        if len(ordered) > MOST_TWO_SLIDES:
            return list(ordered)
        alone = Counter[str]()
        for unit in ordered:
            over = self.blocking.blockers(frozenset((unit,)), left - {unit}, UP, most=2)
            if len(over) == 1:
                alone[over[0]] += 1
        return sorted(ordered, key=lambda unit: -alone[unit])

    def _bound(self, left: Ids) -> Iterator[Off | None]:
        """Sets that block each other and so move as one: those no other set holds back, for every direction."""
        from scipy.sparse import csr_matrix
        from scipy.sparse.csgraph import connected_components

        units = sorted(left)
        ways = list(dict.fromkeys(w for u in units for w in self.moves.ways_of(frozenset((u,)), left - {u})))
        half = [w for w in ways if w > direction_of(-np.array(w))] or ways
        for way in half:
            edges = []
            for i, unit in enumerate(units):
                if time.monotonic() > self._until:
                    raise _Late
                edges += [(i, j) for j, two in enumerate(units) if i != j and not self.blocking.free(unit, two, way)]
            rows, columns = zip(*edges, strict=True) if edges else ((), ())
            graph = csr_matrix((np.ones(len(rows)), (rows, columns)), shape=(len(units), len(units)))
            count, label = connected_components(graph, directed=True, connection="strong")
            if count == 1:
                continue
            held = {int(label[i]) for i, j in edges if label[i] != label[j]}
            holds = {int(label[j]) for i, j in edges if label[i] != label[j]}
            for free, sign in ((set(range(count)) - held, 1), (set(range(count)) - holds, -1)):
                for part in sorted(free, key=lambda c: int((label == c).sum())):
                    group = frozenset(units[i] for i in np.flatnonzero(label == part))
                    direction = way if sign > 0 else direction_of(-np.array(way))
                    for part_of_it in self.touching.groups(group) if group != left else []:
                        yield self.moves.off(part_of_it, left - part_of_it, [direction], with_fasteners=False)

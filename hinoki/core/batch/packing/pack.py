"""Packing: large ones first, each where it reaches least far back, on the first bed that has room."""

import itertools
import math
import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
import shapely

from hinoki.core.batch.packing.item import Item, Placement
from hinoki.core.batch.packing.raster_bed import Bed, Rule, Surface
from hinoki.core.batch.packing.rectpack_backend import boxed
from hinoki.core.progress import Tell, part_of, quiet

TURN_DEG = 45.0
"""steps in which things are turned"""
SECONDS = 40.0
"""how long ways are tried"""
EVENED = 6
"""times the longest bed is made shorter to even the beds out"""
Order = Callable[[Item], tuple[float, ...]]
BY_HEIGHT: Order = lambda i: (-round(i.height_mm / 20), -i.area_mm2)  # noqa: E731
BY_AREA: Order = lambda i: (-i.area_mm2,)  # noqa: E731
BY_LENGTH: Order = lambda i: (-i.longest_mm, -i.area_mm2)  # noqa: E731
TRIES: tuple[tuple[Order, Rule], ...] = (
    (BY_AREA, "front"), (BY_AREA, "corner"), (BY_LENGTH, "front"), (BY_LENGTH, "corner"), (BY_HEIGHT, "front"),
)  # fmt: skip


@dataclass(frozen=True)
class Rules:
    """How beds are filled: the gap, the steps of turning, the longest a bed may print (an item that takes longer lies alone),
    whether beds of equal number should take about equally long, and whether tall things lie with tall ones."""

    gap_mm: float = 4.0
    turn_deg: float = TURN_DEG
    most_minutes: float | None = None
    even: bool = False
    tall_together: bool = False

    @property
    def turns(self) -> np.ndarray:
        """All turns, in degrees."""
        return np.arange(0.0, 360.0, self.turn_deg) if self.turn_deg > 0 else np.zeros(1)


@dataclass
class Packed:
    """The beds of one group (one that only had pins may be empty), what fits none, and whether time ran out before all ways
    were tried."""

    beds: list[Bed]
    left_over: list[Item] = field(default_factory=list)
    cut_short: bool = False

    @property
    def rank(self) -> tuple[int, int]:
        """Small is good: all of it laid, on few beds."""
        return len(self.left_over), sum(bool(b.placed) for b in self.beds)

    @property
    def longest(self) -> float:
        """Minutes of the bed that takes longest."""
        return max((b.minutes for b in self.beds), default=0.0)


@dataclass(frozen=True)
class _Search:
    """One packing under way: what is laid, where, and how much time is left for it."""

    items: Sequence[Item]
    surface: Surface
    pinned: Mapping[str, Placement]
    clock: Callable[[], float]
    until: float
    stamps: dict[tuple[str, float], np.ndarray] = field(default_factory=dict)
    """what beds have in common (see `Bed.stamps`)"""

    def fresh_bed(self, rules: Rules) -> Bed:
        """One with nothing on it."""
        return Bed(self.surface, rules.gap_mm, stamps=self.stamps)

    @property
    def late(self) -> bool:
        return self.clock() > self.until


def pack(  # noqa: PLR0913 - what it works on, and how it tells and stops
    items: Sequence[Item],
    surface: Surface,
    rules: Rules = Rules(),
    pinned: Mapping[str, Placement] | None = None,
    tell: Tell = quiet,
    clock: Callable[[], float] = time.monotonic,
    seconds: float = SECONDS,
) -> Packed:
    """As few beds as can be found. Several orders are tried: by area, by length, by height, tall with tall, each thing as far
    in front or in the corner as it can lie; and, for boxes, a library's (rectpack); the one with the fewest beds counts, of
    equals the first. `pinned` placements stay as they are.

    Where beds should be even, those of the fewest are then filled again, none longer than a limit that is drawn closer.
    When `seconds` are over, the best so far is given, and `cut_short` says so; `tell` may raise Cancelled.
    """
    search = _Search(items, surface, pinned or {}, clock, clock() + seconds)
    best = _fewest(search, rules, part_of(tell, 0.0, 0.4) if rules.even else tell)
    return _evened(search, rules, best, part_of(tell, 0.4, 1.0)) if rules.even and not best.left_over else best


def _fewest(search: _Search, rules: Rules, tell: Tell) -> Packed:
    tries = ((BY_HEIGHT, "front"), (BY_HEIGHT, "corner")) if rules.tall_together else TRIES
    area = sum(i.area_mm2 for i in search.items)
    least = math.ceil(area / max(1e-9, search.surface.room.area) - 1e-9)
    best: Packed | None = None
    for k, (order, rule) in enumerate(tries):
        tell(k / (len(tries) + 1), f"Laying out, try {k + 1}")
        if best is not None and search.late:
            best.cut_short = True
            break
        share = part_of(tell, k / (len(tries) + 1), (k + 1) / (len(tries) + 1))
        found = _in_order(search, order, rules, rule, share, best)
        if found is None:
            continue
        if best is None or (found.rank < best.rank and not found.cut_short):
            best = found
        if best.cut_short or (not found.left_over and len(found.beds) <= least):
            return best
    if not search.pinned and rules.most_minutes is None and not rules.tall_together and best is not None:
        beds = boxed(search.items, search.surface, rules.gap_mm)
        if beds is not None and Packed(beds).rank < best.rank:
            return Packed(beds, cut_short=best.cut_short)
    return best or Packed([])


def _evened(search: _Search, rules: Rules, best: Packed, tell: Tell) -> Packed:
    """No more beds than the fewest: the longest items first, each on the bed that prints shortest so far (Graham 1969); then
    the longest bed made shorter by halving."""
    count = len(best.beds)
    balanced = _balanced(search, rules, count)
    if balanced is not None and balanced.longest < best.longest - 1e-6:
        best = balanced
    low = max(sum(i.minutes - i.height_minutes for i in search.items) / max(1, count), 0.0)
    for k in range(EVENED):
        tell(k / EVENED, "Making the beds even")
        if search.late:
            best.cut_short = True
            break
        limit = (low + best.longest) / 2
        most = limit if rules.most_minutes is None else min(limit, rules.most_minutes)
        shorter = Rules(rules.gap_mm, rules.turn_deg, most, tall_together=rules.tall_together)
        found = _fewest(search, shorter, part_of(tell, k / EVENED, (k + 1) / EVENED))
        if not found.left_over and len(found.beds) <= count and found.longest < best.longest - 1e-6:
            best = found
        else:
            low = limit
    return best


def _balanced(search: _Search, rules: Rules, count: int) -> Packed | None:
    """All items on so many beds, the shortest bed first; None where something finds no room."""
    found = _with_pins(search, rules)
    while len(found.beds) < count:
        found.beds.append(search.fresh_bed(rules))
    for item in sorted(search.items, key=lambda i: (-i.minutes, -i.area_mm2, i.name)):
        if item.name in search.pinned:
            continue
        for number in sorted(range(len(found.beds)), key=lambda n: (found.beds[n].minutes, n)):
            if _put(item, found.beds[number], number, rules):
                break
        else:
            return None
    most = rules.most_minutes
    return found if most is None or all(len(b.placed) < 2 or b.minutes <= most for b in found.beds) else None


def _with_pins(search: _Search, rules: Rules) -> Packed:
    """Beds on which what is pinned lies."""
    found = Packed([])
    by_name = {i.name: i for i in search.items}
    for name, placement in sorted(search.pinned.items()):
        if name in by_name:
            while len(found.beds) <= placement.bed:
                found.beds.append(search.fresh_bed(rules))
            found.beds[placement.bed].put(by_name[name], placement)
    return found


def _in_order(search: _Search, order: Order, rules: Rules, rule: Rule, tell: Tell, best: Packed | None) -> Packed | None:
    """All items one after the other; None as soon as it takes as many beds as the `best` so far."""
    found = _with_pins(search, rules)
    waiting = [i for i in sorted(search.items, key=lambda i: (*order(i), i.name)) if i.name not in search.pinned]
    for k, item in enumerate(waiting):
        tell(k / len(waiting), f"Laying out {k + 1} of {len(waiting)}")
        if search.late:
            return _in_haste(search, found, waiting[k:], rules)
        if not _lay(item, search, found, rules, rule):
            found.left_over.append(item)
        if best is not None and found.rank >= best.rank:
            return None
    return found


def _lay(item: Item, search: _Search, found: Packed, rules: Rules, rule: Rule) -> bool:
    """On the first bed that has room for an item, or on a fresh one; whether it fits at all."""
    for number, bed in enumerate(found.beds):
        full = rules.most_minutes is not None and bool(bed.placed) and bed.minutes_with(item) > rules.most_minutes
        if not full and _put(item, bed, number, rules, rule):
            return True
    return _on_fresh_bed(item, search, found, rules, rule)


def _on_fresh_bed(item: Item, search: _Search, found: Packed, rules: Rules, rule: Rule = "front") -> bool:
    bed = search.fresh_bed(rules)
    fits = _put(item, bed, len(found.beds), rules, rule)
    if fits:
        found.beds.append(bed)
    return fits


def _put(item: Item, bed: Bed, number: int, rules: Rules, rule: Rule = "front") -> bool:
    """Lay an item on a bed where there is room; whether there is."""
    place = bed.free_for(item, rules.turns, rule)
    if place is not None:
        bed.put(item, Placement(item.name, number, place[2], place[0], place[1]))
    return place is not None


def _in_haste(search: _Search, found: Packed, rest: Sequence[Item], rules: Rules) -> Packed:
    """What was not reached in time: the boxes around it as the library lays them, else each on a bed of its own."""
    found.cut_short = True
    beds = boxed(rest, search.surface, rules.gap_mm) if rules.most_minutes is None else None
    if beds is not None:
        first = len(found.beds)
        for bed in beds:
            bed.placed = [Placement(p.item, first + p.bed, p.turn_deg, p.x_mm, p.y_mm) for p in bed.placed]
        found.beds += beds
        return found
    for item in rest:
        if not _on_fresh_bed(item, search, found, rules):
            found.left_over.append(item)
    return found


def overlaps(beds: Sequence[Bed], gap_mm: float = 0.0) -> list[tuple[str, str]]:
    """Pairs of items on one bed that lie nearer to each other than the gap, or that stand out of the bed (with “bed”)."""
    found = []
    for bed in beds:
        for (p, one), (q, two) in itertools.combinations(zip(bed.placed, bed.outlines, strict=True), 2):
            if shapely.distance(one, two) < gap_mm - 1e-6 or shapely.intersection(one, two).area > 1e-6:
                found.append((p.item, q.item))
        found += [
            (p.item, "bed")
            for p, one in zip(bed.placed, bed.outlines, strict=True)
            if not shapely.covers(bed.surface.room.buffer(1e-4), one)
        ]
    return found

"""Two drivers at once: every pair of their values, over a grid that is made finer where bodies come near each other."""

import heapq
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations

from hinoki.core.geometry.mesh import Points
from hinoki.core.moving.bodies import Body
from hinoki.core.moving.mechanism import Mechanism, OutOfReach
from hinoki.core.moving.movements import Travel
from hinoki.core.moving.nearness import FAR_MM, Gap, Nearness
from hinoki.core.moving.search import CLOSE_MM, KNOWN
from hinoki.core.moving.trial import Travels, moved_by
from hinoki.core.progress import Tell, quiet

MANY_CELLS, MOST_CELLS = 60, 800
"""of one pair of bodies: when it is enough to know that nothing is nearer than KNOWN of the least, and at the most"""
BEGIN = 4
"""a grid of so many by so many at first"""


@dataclass(frozen=True)
class Both:
    """Two drivers at once. `least_mm`: the least gap between bodies that both have to do with, at `values`, near `at` (3,);
    None where none come near. `touch`: whether they touch there. `proved`: that nothing between the positions is nearer than
    `nowhere_less_mm`."""

    drivers: tuple[str, str]
    one: str = ""
    other: str = ""
    least_mm: float | None = None
    nowhere_less_mm: float = 0.0
    values: tuple[float, float] = (0.0, 0.0)
    at: Points | None = None
    positions: int = 0
    proved: bool = True

    @property
    def touch(self) -> bool:
        """Whether two bodies touch or share something at some values of both."""
        return self.least_mm is not None and self.least_mm <= 0


def both_tried(mechanism: Mechanism, bodies: Sequence[Body], tell: Tell = quiet) -> list[Both]:
    """Every two drivers at once: what one of them moves against what the other moves, and what both move against all else.
    Bodies that touch at rest are left out: they slide on each other."""
    near, drivers = Nearness(), mechanism.drivers
    pairs = list(combinations(drivers, 2))
    out = []
    for k, (one, two) in enumerate(pairs):
        tell(k / len(pairs), f"Moving {one.label} and {two.label}")
        out.append(_tried(mechanism, bodies, (one, two), near))
    return out


def _tried(mechanism: Mechanism, bodies: Sequence[Body], drivers: tuple[Travel, Travel], near: Nearness) -> Both:
    first, second = drivers
    found = Both((first.id, second.id))
    moved = [moved_by(mechanism, one) for one in drivers]
    for a, b in combinations(bodies, 2):
        own = [{k for k in (0, 1) if body.movement in moved[k]} for body in (a, b)]
        if a.movement == b.movement or own[0] | own[1] != {0, 1}:
            continue
        try:
            pair = _pair(mechanism, (a, b), drivers, near)
        except OutOfReach:  # that is told of each driver by itself
            return found
        if pair is not None:
            found = _worse(found, pair)
    return found


def _worse(found: Both, pair: Both) -> Both:
    worse = min(found, pair, key=lambda both: math.inf if both.least_mm is None else both.least_mm)
    return replace(worse, positions=found.positions + pair.positions, proved=found.proved and pair.proved)


def _pair(mechanism: Mechanism, pair: tuple[Body, Body], drivers: tuple[Travel, Travel], near: Nearness) -> Both | None:
    """Cells of the two travels, the one with the least sure gap first, quartered until it is known."""
    one, other = pair
    travels = [Travels(mechanism, pair, driver, near) for driver in drivers]
    speeds, sure = zip(*(travel.speed(one, other) for travel in travels), strict=True)
    tried = 0
    best: tuple[Gap, float, float] | None = None

    if near.gap(one, other, travels[0].rest).mm <= 0:
        return None
    cells: list[tuple[float, float, float, float]] = []

    def put(x: float, y: float, size: float) -> None:
        nonlocal tried, best
        middle = x + size / 2, y + size / 2
        values = {travel.driver.id: travel.value(share) for travel, share in zip(travels, middle, strict=True)}
        gap = near.gap(one, other, mechanism.state(values)[1])
        tried += 1
        if best is None or gap.mm < best[0].mm:
            best = gap, *middle
        heapq.heappush(cells, (gap.mm - size / 2 * sum(speeds), x, y, size))

    for k in range(BEGIN):
        for j in range(BEGIN):
            put(k / BEGIN, j / BEGIN, 1 / BEGIN)
    assert best is not None
    while best[0].mm > 0 and cells[0][0] < min(best[0].mm - CLOSE_MM, FAR_MM) and tried < MOST_CELLS:
        if tried > MANY_CELLS and cells[0][0] > KNOWN * best[0].mm:
            break
        _, x, y, size = heapq.heappop(cells)
        for dx in (0.0, size / 2):
            for dy in (0.0, size / 2):
                put(x + dx, y + dy, size / 2)
    least, x, y = best
    if cells[0][0] > FAR_MM or (least.at is None and least.mm > 0):  # far from each other wherever they are
        return None
    return Both(
        (drivers[0].id, drivers[1].id), one.label, other.label, least.mm, max(0.0, min(least.mm, cells[0][0])),
        (travels[0].value(x), travels[1].value(y)), least.at, tried, all(sure),
    )  # fmt: skip

"""Where along a travel two things come nearest, and where they touch first: by halving, with how fast they can come nearer.

Between two positions a gap can shrink by no more than the speed times the way, so that from one position the next ones are
known to be free (Piyavskii 1972 and Shubert 1972 for the least value of a function of known slope; conservative advancement,
Mirtich 1996, for the first touch; from memory).
"""

import heapq
from collections.abc import Callable
from dataclasses import dataclass

from hinoki.core.moving.nearness import Gap

CLOSE_MM = 0.005
"""the least gap is sought as closely as this"""
MOST = 1200
"""positions of one pair; a gap that stays the same all along is known to a part of itself only"""


@dataclass(frozen=True)
class Nearest:
    """The least gap found, mm, at a share of the way (0 to 1), and what it is nowhere less than between the positions tried;
    `first_touch`: the share at which they touch first, None where they do not."""

    gap: Gap
    share: float
    nowhere_less_mm: float
    positions: int
    first_touch: float | None = None


def nearest(gap_at: Callable[[float], Gap], speed_mm: float, most: int = MOST) -> Nearest:
    """The least gap along the way; `speed_mm`: by how much a gap can change at most over the whole of it."""
    tried = 0
    best: tuple[Gap, float] | None = None

    def half(low: float, high: float) -> tuple[float, float, float]:
        nonlocal tried, best
        share = (low + high) / 2
        gap = gap_at(share)
        tried += 1
        if best is None or gap.mm < best[0].mm:
            best = gap, share
        return gap.mm - speed_mm * (high - low) / 2, low, high

    for end in (0.0, 1.0):
        gap = gap_at(end)
        tried += 1
        if best is None or gap.mm < best[0].mm:
            best = gap, end
    open_ = [half(0.0, 1.0)]
    assert best is not None
    while open_ and best[0].mm > 0 and open_[0][0] < best[0].mm - CLOSE_MM and tried < most:
        _, low, high = heapq.heappop(open_)
        middle = (low + high) / 2
        heapq.heappush(open_, half(low, middle))
        heapq.heappush(open_, half(middle, high))
    if best[0].mm <= 0:
        touch, more = first_touch(gap_at, speed_mm, best[1])
        return Nearest(best[0], touch, 0.0, tried + more, touch)
    return Nearest(best[0], best[1], max(0.0, min(best[0].mm, open_[0][0])), tried)


def first_touch(gap_at: Callable[[float], Gap], speed_mm: float, known: float) -> tuple[float, int]:
    """The first share at which they are no further apart than CLOSE_MM, and the positions tried; at `known` they touch."""
    at, tried = 0.0, 0
    while at < known:
        gap = gap_at(at).mm
        tried += 1
        if gap <= CLOSE_MM:
            return at, tried
        at += gap / speed_mm
    return known, tried

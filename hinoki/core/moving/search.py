"""Where along a travel two things come nearest, and where they touch first: by halving, with how fast they can come nearer.

Between two positions a gap can shrink by no more than the speed times the way, so that from one position the next ones are
known to be free (Piyavskii 1972 and Shubert 1972 for the least value of a function of known slope; conservative advancement,
Mirtich 1996, for the first touch; from memory).
"""

import heapq
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from hinoki.core.moving.nearness import FAR_MM, Gap

CLOSE_MM = 0.005
"""the least gap is sought as closely as this"""
KNOWN = 0.1
"""of a gap that is the same all along it is enough to know that it is nowhere less than so much of it"""
MOST = 600
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


Near = Sequence[tuple[Gap, float]]
"""gaps of parts of a body, and by how much, in mm, each can change at most over the whole way"""


def nearest(near_at: Callable[[float], Near], steady: bool = False) -> Nearest:
    """The least gap along the way. It ends when that is known to CLOSE_MM, or to be far; of a gap that is `steady`, the same
    all along as far as was seen, when it is known to be nowhere less than KNOWN of it."""
    tried = 0
    best: tuple[Gap, float] | None = None

    def look(share: float) -> Near:
        nonlocal tried, best
        found = near_at(share)
        tried += 1
        least = min((gap for gap, _ in found), key=lambda gap: gap.mm)
        if best is None or least.mm < best[0].mm:
            best = least, share
        return found

    def half(low: float, high: float) -> tuple[float, float, float]:
        found = look((low + high) / 2)
        return min(gap.mm - speed * (high - low) / 2 for gap, speed in found), low, high

    for end in (0.0, 1.0):
        look(end)
    open_ = [half(0.0, 1.0)]
    assert best is not None
    while open_ and best[0].mm > 0 and open_[0][0] < min(best[0].mm - CLOSE_MM, FAR_MM) and tried < MOST:
        if steady and open_[0][0] > KNOWN * best[0].mm:
            break
        _, low, high = heapq.heappop(open_)
        middle = (low + high) / 2
        heapq.heappush(open_, half(low, middle))
        heapq.heappush(open_, half(middle, high))
    if best[0].mm <= 0:
        touch, more = first_touch(near_at, best[1])
        return Nearest(best[0], touch, 0.0, tried + more, touch)
    return Nearest(best[0], best[1], max(0.0, min(best[0].mm, open_[0][0])), tried)


def first_touch(near_at: Callable[[float], Near], known: float) -> tuple[float, int]:
    """The first share at which they are no further apart than CLOSE_MM, and the positions tried; at `known` they touch."""
    at, tried = 0.0, 0
    while at < known:
        found = near_at(at)
        tried += 1
        if min(gap.mm for gap, _ in found) <= CLOSE_MM:
            return at, tried
        at += min(gap.mm / speed for gap, speed in found)
    return known, tried

"""A bounded memory for results of pure stages, keyed by the hash of what went in."""

from collections import OrderedDict
from collections.abc import Callable
from typing import Any, TypeVar

T = TypeVar("T")


class Cache:
    """Least recently used results go first once the sum of their weights passes `limit`."""

    def __init__(self, limit: int = 60_000_000) -> None:
        self._limit, self._weight = limit, 0
        self._kept: OrderedDict[str, tuple[Any, int]] = OrderedDict()
        self.made = 0
        """how many results were computed rather than found"""

    @property
    def weight(self) -> int:
        """The sum of all weights."""
        return self._weight

    def shrink(self, share: float) -> None:
        """Keep only so large a share of the weight: what was used last."""
        aim = share * self._weight
        while self._kept and self._weight > aim:
            self._weight -= self._kept.popitem(last=False)[1][1]

    def get(self, key: str, make: Callable[[], T], weigh: Callable[[T], int] = lambda _: 100) -> T:
        """The result under `key`, made now if it is not kept. `weigh` gives its size, roughly in triangles."""
        if key in self._kept:
            self._kept.move_to_end(key)
            value: T = self._kept[key][0]
            return value
        self.made += 1
        value = make()
        weight = weigh(value)
        self._kept[key] = value, weight
        self._weight += weight
        while self._weight > self._limit and len(self._kept) > 1:
            self._weight -= self._kept.popitem(last=False)[1][1]
        return value

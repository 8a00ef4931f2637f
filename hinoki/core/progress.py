"""How long work tells how far it is: a share from 0 to 1 and a phrase. It may raise Cancelled."""

from collections.abc import Callable, Iterator, Sequence
from typing import TypeVar

Item = TypeVar("Item")
Tell = Callable[[float, str], None]


def quiet(_fraction: float, _phrase: str) -> None:
    """A progress that tells nobody."""


def part_of(tell: Tell, low: float, high: float) -> Tell:
    """The same progress for a part of the whole, from one share of it to another."""
    return lambda fraction, phrase: tell(low + (high - low) * fraction, phrase)


def along(items: Sequence[Item], tell: Tell, phrase: Callable[[int], str] | str) -> Iterator[Item]:
    """The items one by one, telling before each how many are behind; the phrase may name the item by its number from 0."""
    for step, item in enumerate(items):
        tell(step / len(items), phrase if isinstance(phrase, str) else phrase(step))
        yield item

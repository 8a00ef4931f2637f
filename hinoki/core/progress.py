"""How long work tells how far it is: a share from 0 to 1 and a phrase. It may raise Cancelled."""

from collections.abc import Callable

Tell = Callable[[float, str], None]


def quiet(_fraction: float, _phrase: str) -> None:
    """A progress that tells nobody."""


def part_of(tell: Tell, low: float, high: float) -> Tell:
    """The same progress for a part of the whole, from one share of it to another."""
    return lambda fraction, phrase: tell(low + (high - low) * fraction, phrase)

"""Fields of a document that nobody knows: refused by name, since what a maker typed is never dropped in silence."""

from collections.abc import Iterator
from typing import Any


def unknown_fields(said: Any, heard: Any, place: str = "") -> Iterator[str]:
    """The places of fields of a parsed JSON document `said` that are not in `heard`: what a model made of it, dumped as JSON
    with the names of the document."""
    if isinstance(said, dict) and isinstance(heard, dict):
        for name, value in said.items():
            here = f"{place}.{name}" if place else str(name)
            if name not in heard:
                yield here
            else:
                yield from unknown_fields(value, heard[name], here)
    elif isinstance(said, list) and isinstance(heard, list):
        for number, (one, other) in enumerate(zip(said, heard, strict=False)):
            yield from unknown_fields(one, other, f"{place}.{number}" if place else str(number))


def named(places: list[str]) -> str:
    """Such as “nmae is no field here (2 more): correct its name, or leave it out.”"""
    more = f" ({len(places) - 1} more)" if len(places) > 1 else ""
    return f"{places[0]} is no field here{more}: correct its name, or leave it out."

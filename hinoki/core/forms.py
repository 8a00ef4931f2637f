"""What a kind says about the form it is drawn as: its name, its fields in order, words for choices, and when a field is shown.

A kind (of joint, parting, channel or prepare step) is one file: screens know it from this and from the titles, limits and help
of its fields.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Literal, get_args

from pydantic import BaseModel

Condition = tuple[str | None, ...] | Literal["set"]
"""values of another field with which a field is shown; `set`: any but nothing, zero and no"""
AXIS_WORDS = {"x": "X, across", "y": "Y, front to back", "z": "Z, height"}
FIT_WORDS = {"press": "Press", "snug": "Snug", "sliding": "Sliding", "loose": "Loose"}
SHAPE_WORDS = {"round": "Round", "square": "Square"}


@dataclass(frozen=True)
class Form:
    """How a kind is named and which of its fields its form shows.

    `name`: on buttons and in lists (“Pins”); `says`: in a choice of kinds (“Pins, part of a piece”); `when`: where it is
    used. `fields`: in the order of the form. `words`: for the choices of a field. `only_if`: by field, another field and what
    it must be. `beside_fit`: fields that do not matter to a test piece for a fit. `picks`: points that can be picked in the
    view. `group`: under which heading it is offered.
    """

    name: str
    says: str
    fields: tuple[str, ...]
    when: str = ""
    group: str = ""
    words: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    only_if: Mapping[str, Mapping[str, Condition]] = field(default_factory=dict)
    beside_fit: tuple[str, ...] = ("count", "one_way", "on", "spares")
    picks: tuple[str, ...] = ()


def kinds_of(union: object) -> tuple[Any, ...]:
    """The kinds of a union with a discriminator, such as all joints, in its order."""
    return get_args(get_args(union)[0])


def kind_name(kind: type[BaseModel]) -> str:
    """How plans call a kind, such as “pin”."""
    return str(kind.model_fields["kind"].default)


def named_kind(union: object, name: str) -> Any:
    """A kind of a union by the name plans call it. Raises KeyError for one that is none."""
    return {kind_name(kind): kind for kind in kinds_of(union)}[name]

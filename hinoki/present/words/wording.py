"""Sentences from templates: figures stand in braces, with the format they are to have.

Beside Python's own formats there are `{wall_mm:mm}` (a length as the interface writes it), `{count:#hole|holes}` (a number with
its noun), `{count:?is|are}` (a word that goes with a number), `{what:^}` (with a capital) and `{pieces:and}` (a list in words).
A format is applied to each item of a list.
"""

import string
from collections.abc import Callable, Mapping
from typing import Any

Figures = Mapping[str, Any]
Words = str | Callable[[Figures], str]
"""a template, or what makes the sentence where one template does not do"""


class _Filling(string.Formatter):
    def format_field(self, value: Any, format_spec: str) -> str:
        if format_spec.startswith(("#", "?")):
            return _counted(value, format_spec)
        if format_spec == "and":
            return " and ".join(str(v) for v in value)
        if isinstance(value, list):
            return ", ".join(self.format_field(v, format_spec) for v in value)
        if format_spec == "mm":
            return mm(value)
        if format_spec == "^":
            return str(value)[:1].upper() + str(value)[1:]
        return str(super().format_field(value, format_spec))


def _counted(number: int, forms: str) -> str:
    one, more = forms[1:].split("|")
    word = one if number == 1 else more
    return f"{number:,} {word}" if forms[0] == "#" else word


def mm(value: float) -> str:
    """A length as the interface writes it: one decimal, two below half a millimetre."""
    return f"{value:.2f} mm" if abs(value) < 0.5 else f"{value:.1f} mm"


def say(words: Words, figures: Figures) -> str:
    """The sentence for these figures. Raises KeyError where the template asks for a figure that is not there."""
    return _Filling().vformat(words, (), figures) if isinstance(words, str) else words(figures)

"""What a request says that no database, file or address could hold: numbers over 64 bits, characters that are none."""

from collections.abc import Iterable
from typing import Any

LARGEST = 2**63 - 1
DEEPEST = 200


def unstorable(said: Any) -> tuple[str, str] | None:
    """The first value of a document that cannot be kept: its place, and what is wrong with it; None where all can."""
    waiting: list[tuple[Any, str, int]] = [(said, "", 0)]
    while waiting:
        value, place, depth = waiting.pop()
        here = place or "body"
        if depth > DEEPEST:
            return here, f"is nested over {DEEPEST} deep"
        if isinstance(value, dict):
            for key, below in value.items():
                if (wrong := wrong_text(key)) is not None:
                    return here, f"has a name that {wrong}"
                waiting.append((below, f"{place}.{key}" if place else key, depth + 1))
        elif isinstance(value, list):
            waiting += [(below, f"{place}.{k}" if place else str(k), depth + 1) for k, below in enumerate(value)]
        elif isinstance(value, str):
            if (wrong := wrong_text(value)) is not None:
                return here, wrong
        elif isinstance(value, int) and abs(value) > LARGEST:
            return here, "is a number over 64 bits"
    return None


def unstorable_words(words: Iterable[tuple[str, str]]) -> tuple[str, str] | None:
    """The same for words of an address, (name, value) each."""
    for name, value in words:
        for text in (name, value):
            if (wrong := wrong_text(text)) is not None:
                return name[:40].encode("ascii", "replace").decode(), wrong
        digits = value.strip().lstrip("+-").replace("_", "")
        if digits.isdecimal() and (len(digits) > 25 or int(digits) > LARGEST):
            return name, "is a number over 64 bits"
    return None


def wrong_text(text: str) -> str | None:
    """What is wrong with a text, if anything."""
    if "\0" in text:
        return "holds a character that is none (NUL)"
    try:
        text.encode()
    except UnicodeEncodeError:
        return "holds half a character (a lone surrogate)"
    return None

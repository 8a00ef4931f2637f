"""Words of enumerations as the database has them: “in a batch” is `in-a-batch`."""

from typing import Any, get_args

from hinoki.core.printlog.states import PieceState, PrintState, Reason, Result

_WORDS = {
    word.replace(" ", "-"): word for kind in (PrintState, PieceState, Result, Reason) for word in map(str, get_args(kind))
}


def slug(word: str) -> str:
    """A state, result or reason as it is kept."""
    return word.replace(" ", "-")


def word(kept: str | None) -> Any:
    """The state, result or reason that a slug stands for. Raises KeyError for one that is none."""
    return None if kept is None else _WORDS[kept]


def listed(words: tuple[str, ...]) -> str:
    """States written out for SQL."""
    return "(" + ", ".join(f"'{slug(one)}'" for one in words) + ")"

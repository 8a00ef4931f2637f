"""Languages Hinoki can be read in: a catalogue for each, a PO file of gettext, shipped or put into the data folder.

The sentences of the sources stand in `hinoki.pot` (`python3 run.py words` writes it); a language is that file, translated.
"""

import re
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING

from hinoki.core.errors import NotFound, UnreadableCatalogue

if TYPE_CHECKING:
    from babel.messages import Catalog

SHIPPED = Path(__file__).parents[1] / "data" / "languages"
TEMPLATE = SHIPPED / "hinoki.pot"
CODE = re.compile(r"[a-z]{2,3}(_[A-Za-z]{2,4})*")
HOLE = re.compile(r"\{\d+\}")


@dataclass(frozen=True)
class Language:
    """A language: its code, its own name for itself, and which share of Hinoki's sentences (0 to 1) its catalogue has."""

    code: str
    name: str
    share: float
    problem: str
    """why its catalogue cannot be used; empty where it can"""


def languages(folder: Path) -> list[Language]:
    """The languages there are besides English, by name; `folder` is where makers put theirs."""
    return sorted((_described(code, path) for code, path in _files(folder).items()), key=lambda one: one.name)


def sentences(folder: Path, code: str) -> dict[str, str]:
    """What Hinoki says in a language, by what it says in English.

    Raises NotFound for a language that is not there, UnreadableCatalogue for a file that is none.
    """
    path = _files(folder).get(code)
    if path is None:
        raise NotFound(f"There is no catalogue for the language “{code[:20]}”: put {code[:20]}.po into {folder}.")
    return _usable(_read(path))


def _files(folder: Path) -> dict[str, Path]:
    """Catalogues by the code of their language; a maker's own stands before one that is shipped."""
    found = [path for place in (SHIPPED, folder) if place.is_dir() for path in sorted(place.glob("*.po"))]
    return {path.stem: path for path in found if CODE.fullmatch(path.stem)}


def _described(code: str, path: Path) -> Language:
    try:
        said = _usable(_read(path))
    except UnreadableCatalogue as problem:
        return Language(code, _name(code), 0.0, problem.message)
    return Language(code, _name(code), len(_template() & said.keys()) / len(_template()), "")


@cache
def _template() -> frozenset[str]:
    """All sentences there are to say; they are shipped, and do not change while Hinoki runs."""
    return frozenset(str(one.id) for one in _read(TEMPLATE) if one.id)


def _read(path: Path) -> "Catalog":
    from babel.messages.pofile import PoFileError, read_po

    try:
        with path.open("rb") as file:
            return read_po(file, abort_invalid=True, ignore_obsolete=True)
    except (PoFileError, UnicodeDecodeError, LookupError, ValueError) as problem:
        raise UnreadableCatalogue(
            f"{path.name} is no catalogue in the form of gettext: {problem}. Save it as a PO file."
        ) from problem


def _usable(catalogue: "Catalog") -> dict[str, str]:
    """The sentences that are translated, not marked as doubtful, and have the holes that the English has."""
    return {
        str(one.id): str(one.string)
        for one in catalogue
        if one.id and one.string and not one.fuzzy and set(HOLE.findall(str(one.id))) == set(HOLE.findall(str(one.string)))
    }


def _name(code: str) -> str:
    """A language's own name for itself; its code where nobody knows one."""
    from babel import Locale, UnknownLocaleError

    try:
        return Locale.parse(code).get_display_name() or code
    except (UnknownLocaleError, ValueError):
        return code

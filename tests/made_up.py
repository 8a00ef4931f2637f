"""A made-up language: every sentence of Hinoki's catalogue, with other vowels. What is left in English shows at once."""

import re
from pathlib import Path

from babel.messages import Catalog
from babel.messages.pofile import read_po, write_po

from hinoki.store.languages import TEMPLATE

CODE = "qaa"
"""of the codes that ISO 639-2 leaves for private use"""
PLAIN, OTHER = "aeiouyAEIOUY", "àèïöüÿÀÈÏÖÜŸ"
SAID = str.maketrans(PLAIN, OTHER)


def in_made_up(text: str) -> str:
    """A sentence in the made-up language; its holes stay."""
    return "".join(part if part.startswith("{") else part.translate(SAID) for part in re.split(r"(\{\d+\})", text))


def write_made_up(folder: Path, share: float = 1.0) -> Path:
    """Write the catalogue of the made-up language, or the first `share` of it; gives its path."""
    with TEMPLATE.open("rb") as file:
        template = [one for one in read_po(file) if one.id]
    catalogue = Catalog(locale=None)
    for one in template[: round(share * len(template))]:
        catalogue.add(str(one.id), in_made_up(str(one.id)))
    folder.mkdir(exist_ok=True)
    path = folder / f"{CODE}.po"
    with path.open("wb") as out:
        write_po(out, catalogue)
    return path

"""Names of the files that leave Hinoki: sortable, readable, safe anywhere."""

import re
import unicodedata

from hinoki.core.build import Build
from hinoki.core.join.supplies.loose_parts import LoosePart
from hinoki.core.project import project_pieces


def file_stem(number: int, name: str, digits: int) -> str:
    """A sortable, readable name for files: `05-tower-lower`."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode()
    words = re.sub(r"[^a-z0-9]+", "-", plain.lower()).strip("-")[:50] or "piece"
    return f"{number:0{digits}d}-{words}"


def piece_stems(built: Build) -> dict[str, str]:
    """Names for the files of the pieces of all parts, by their keys in the project."""
    pieces = project_pieces(built)
    digits = max(2, len(str(max((p.piece.number for p in pieces), default=1))))
    return {p.key: file_stem(p.piece.number, p.name, digits) for p in pieces}


def loose_file(loose: LoosePart, ending: str = "stl") -> str:
    """Where the print file of a kind of loose part lies."""
    name = file_stem(loose.count, loose.name, 1).split("-", 1)[1]
    return f"loose/{name}-{loose.printed}-times.{ending}"

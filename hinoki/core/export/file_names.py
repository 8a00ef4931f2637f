"""Names of the files that leave Hinoki: sortable, readable, safe anywhere."""

import re
import unicodedata
from collections.abc import Sequence

from hinoki.core.join.supplies.loose_parts import LoosePart
from hinoki.core.orient.resting.piece import Piece


def file_stem(number: int, name: str, digits: int) -> str:
    """A sortable, readable name for files: `05-tower-lower`."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode()
    words = re.sub(r"[^a-z0-9]+", "-", plain.lower()).strip("-")[:50] or "piece"
    return f"{number:0{digits}d}-{words}"


def piece_stems(pieces: Sequence[Piece]) -> dict[int, str]:
    """Names for the files of pieces, by number."""
    digits = max(2, len(str(max((p.number for p in pieces), default=1))))
    return {p.number: file_stem(p.number, p.name, digits) for p in pieces}


def loose_file(loose: LoosePart, ending: str = "stl") -> str:
    """Where the print file of a kind of loose part lies."""
    name = file_stem(loose.count, loose.name, 1).split("-", 1)[1]
    return f"loose/{name}-{loose.printed}-times.{ending}"

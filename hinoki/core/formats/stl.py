"""STL, binary and ASCII: reading with exact refusals, writing binary."""

import re

import numpy as np

from hinoki.core.errors import UnreadableModel
from hinoki.core.formats.base import FARTHEST
from hinoki.core.geometry.mesh import Mesh, merge_corners

RECORD = np.dtype([("normal", "<f4", (3,)), ("corners", "<f4", (3, 3)), ("attribute", "<u2")])
HEADER_BYTES = 84

_VERTEX = re.compile(rb"^[ \t]*vertex[ \t]+(\S+)[ \t]+(\S+)[ \t]+(\S+)[ \t\r]*$", re.MULTILINE | re.IGNORECASE)
_WORDS = {
    word: re.compile(rb"^[ \t]*" + word + rb"\b", re.MULTILINE | re.IGNORECASE)
    for word in (b"facet", b"outer", b"endloop", b"endfacet", b"endsolid")
}


def read_stl(data: bytes) -> Mesh:
    """Read an STL file.

    Raises UnreadableModel naming the byte or the line when the file is empty, cut off, not an STL, not finite.
    """
    if not data:
        raise UnreadableModel("The file is empty (0 bytes). Export the model again and bring in the new file.", "byte 0")
    says = int.from_bytes(data[80:84], "little") if len(data) >= HEADER_BYTES else -1
    if says >= 0 and len(data) == HEADER_BYTES + says * RECORD.itemsize:
        corners = _binary(data, says)
    elif data.lstrip()[:5].lower() == b"solid" and re.search(rb"facet|endsolid", data[:4096], re.IGNORECASE):
        corners = _ascii(data)
    else:
        raise _not_binary(data, says)
    if len(corners) == 0:
        raise UnreadableModel("The file holds no triangles. Export the model again as a mesh.", "triangle count")
    _refuse_wild(corners)
    mesh = merge_corners(corners)
    if len(mesh.faces) == 0:
        raise UnreadableModel("No triangle in the file has any area, so there is no model in it.", "triangle 1")
    return mesh


def write_stl(mesh: Mesh, title: str = "Hinoki") -> bytes:
    """Binary STL of `mesh` (coordinates as 32-bit floats); byte-identical for equal input."""
    records = np.zeros(len(mesh.faces), dtype=RECORD)
    records["corners"] = mesh.vertices[mesh.faces]
    vectors = mesh.face_vectors
    length = np.linalg.norm(vectors, axis=1, keepdims=True)
    records["normal"] = np.divide(vectors, length, out=np.zeros_like(vectors), where=length > 0)
    header = title.encode("ascii", "replace")[:79].ljust(80)
    return header + len(records).to_bytes(4, "little") + records.tobytes()


def _binary(data: bytes, count: int) -> np.ndarray:
    return np.frombuffer(data, dtype=RECORD, count=count, offset=HEADER_BYTES)["corners"]


def _not_binary(data: bytes, says: int) -> UnreadableModel:
    head = data[:512]
    if all(32 <= byte < 127 or byte in (9, 10, 13) for byte in head):
        return UnreadableModel(
            "This is a text file, not an STL model: it does not begin with 'solid' and hold facets. "
            "Choose the model's own file.",
            "line 1",
        )
    if len(data) < HEADER_BYTES:
        return UnreadableModel(
            f"The file has only {len(data)} bytes; a binary STL needs at least {HEADER_BYTES}. Export it again.",
            f"byte {len(data)}",
        )
    whole, rest = divmod(len(data) - HEADER_BYTES, RECORD.itemsize)
    if says > whole:
        cut = f", and ends {rest} bytes into triangle {whole + 1}" if rest else ""
        return UnreadableModel(
            f"The file is cut off: its header says {says:,} triangles, but it holds {whole:,}{cut}. Copy or export it again.",
            f"byte {len(data)}",
        )
    return UnreadableModel(
        f"The header says {says:,} triangles, but the file has room for {whole:,}"
        f"{f' and {rest} bytes more' if rest else ''}. The file is damaged; export it again.",
        "byte 80",
    )


def _refuse_wild(corners: np.ndarray) -> None:
    bad = ~np.isfinite(corners).all(axis=(1, 2))
    if bad.any():
        at = int(np.argmax(bad))
        raise UnreadableModel(
            f"Triangle {at + 1:,} has a corner that is not a number ({int(bad.sum()):,} such triangles). "
            "Export the model again.",
            f"triangle {at + 1}",
        )
    wild = np.abs(corners).max(axis=(1, 2)) > FARTHEST
    if wild.any():
        at = int(np.argmax(wild))
        raise UnreadableModel(
            f"Triangle {at + 1:,} lies {float(np.abs(corners[at]).max()):.3g} units away from the origin, "
            "too far to be a model. Move the model to the origin and export it again.",
            f"triangle {at + 1}",
        )


def _ascii(data: bytes) -> np.ndarray:
    counts = {word: len(pattern.findall(data)) for word, pattern in _WORDS.items()}
    found = _VERTEX.findall(data)
    even = counts[b"facet"] == counts[b"outer"] == counts[b"endloop"] == counts[b"endfacet"]
    if even and len(found) == 3 * counts[b"facet"] and counts[b"endsolid"] >= 1:
        try:
            return np.array(found, dtype="S32").astype(np.float64).astype(np.float32).reshape(-1, 3, 3)
        except ValueError:
            _explain_ascii(data)
    _explain_ascii(data)
    raise UnreadableModel("The text of this STL file is not in order. Export it as binary STL.", "line 1")


def _explain_ascii(data: bytes) -> None:
    """Walk the lines in order and raise at the first that is not what it must be."""
    order = ["facet normal", "outer loop", "vertex", "vertex", "vertex", "endloop", "endfacet"]
    state, inside, last, ended = 0, False, 0, False
    for number, raw in enumerate(data.split(b"\n"), start=1):
        line = raw.strip().decode("utf-8", "replace")
        words = line.lower().split()
        if not words:
            continue
        last = number
        if not inside or (state == 0 and words[0] in ("solid", "endsolid")):
            if words[0] not in ("solid", "endsolid"):
                raise UnreadableModel(f"Line {number} should begin with 'solid' but reads “{line[:40]}”.", f"line {number}")
            inside, ended = words[0] == "solid", words[0] == "endsolid"
            continue
        wanted = order[state]
        if " ".join(words[: len(wanted.split())]) != wanted:
            raise UnreadableModel(
                f"Line {number} should be '{wanted} …' but reads “{line[:40]}”. Export the model again, best as binary.",
                f"line {number}",
            )
        if wanted == "vertex":
            _vertex_numbers(words, line, number)
        state = (state + 1) % len(order)
    if state != 0 or not ended:
        raise UnreadableModel(
            f"The file breaks off after line {last}: “endsolid” is missing. Copy or export it again.", f"line {last}"
        )


def _vertex_numbers(words: list[str], line: str, number: int) -> None:
    try:
        good = len(words) == 4 and all(isinstance(float(word), float) for word in words[1:])
    except ValueError:
        good = False
    if not good:
        raise UnreadableModel(
            f"Line {number} should give three numbers after 'vertex' but reads “{line[:40]}”.", f"line {number}"
        )

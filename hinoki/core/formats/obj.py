"""OBJ: reading corners, faces and named objects; writing."""

from collections.abc import Sequence

import numpy as np

from hinoki.core.errors import UnreadableModel
from hinoki.core.formats.base import ModelFile, NamedMesh, fan, refuse_empty, refuse_many, refuse_wild, whole_file, with_corners
from hinoki.core.geometry.mesh import Mesh

LARGEST_INDEX = 2**31
_QUIET = {b"vt", b"vn", b"mtllib", b"usemtl", b"s", b"#"}
_LEFT_OUT = {
    b"l": "lines",
    b"p": "points",
    b"curv": "curves",
    b"curv2": "curves",
    b"surf": "free-form surfaces",
    b"cstype": "free-form surfaces",
    b"vp": "free-form surfaces",
}


def read_obj(data: bytes) -> ModelFile:
    """Read an OBJ file. Faces of more than three corners become fans. Raises UnreadableModel naming the line."""
    refuse_empty(data)
    if b"\0" in data[:4096]:
        raise UnreadableModel("This is not an OBJ file: it is not text. Choose the model's own file.", "byte 0")
    corners: list[tuple[float, float, float]] = []
    groups: dict[str, list[tuple[int, int, int]]] = {}
    now = groups.setdefault("", [])
    left: dict[str, int] = {}
    known = 0
    for number, raw in enumerate(data.replace(b"\\\r\n", b" ").replace(b"\\\n", b" ").split(b"\n"), start=1):
        words = raw.split()
        if not words:
            continue
        word = words[0]
        try:
            if word == b"v":
                corners.append((float(words[1]), float(words[2]), float(words[3])))
            elif word == b"f":
                now += fan([_index(w, len(corners)) for w in words[1:]])
                if len(words) < 4:
                    raise ValueError("a face needs three corners")
            elif word in (b"o", b"g"):
                name = b" ".join(words[1:]).decode("utf-8", "replace")[:80]
                now = groups.setdefault(name, [])
            elif word in _LEFT_OUT:
                left[_LEFT_OUT[word]] = left.get(_LEFT_OUT[word], 0) + 1
            elif word not in _QUIET and not word.startswith(b"#"):
                left["unknown words"] = left.get("unknown words", 0) + 1
                continue
        except (ValueError, IndexError) as error:
            text = raw.strip()[:40].decode("utf-8", "replace")
            raise UnreadableModel(
                f"Line {number} of the OBJ file cannot be read ({error}): “{text}”. Export the model again.", f"line {number}"
            ) from None
        known += 1
    if known == 0:
        raise UnreadableModel("This is not an OBJ file: no line of it makes sense. Choose the model's own file.", "line 1")
    points = np.array(corners, dtype=np.float64).reshape(-1, 3)
    full = {name: faces for name, faces in groups.items() if faces}
    refuse_many(len(full), sum(len(faces) for faces in full.values()))
    refuse_wild(points, "corner")
    objects = [_compact(with_corners(n, points, np.array(f, dtype=np.int64).reshape(-1, 3))) for n, f in full.items()]
    notes = [f"{count} {what} were left out" for what, count in left.items()]
    return whole_file(objects, None, notes, "OBJ")


def write_obj(objects: Sequence[NamedMesh]) -> bytes:
    """OBJ text of `objects`; byte-identical for equal input."""
    parts, start = ["# Hinoki, millimetres"], 1
    for placed in objects:
        parts.append(f"o {' '.join(placed.name.split()) or 'model'}")
        parts += [f"v {x!r} {y!r} {z!r}" for x, y, z in placed.mesh.vertices.astype(np.float32).tolist()]
        parts += [f"f {a} {b} {c}" for a, b, c in (placed.mesh.faces + start).tolist()]
        start += len(placed.mesh.vertices)
    return ("\n".join(parts) + "\n").encode()


def _index(word: bytes, count: int) -> int:
    at = int(word.split(b"/", 1)[0])
    index = at - 1 if at > 0 else count + at
    if at == 0 or index < 0 or at > LARGEST_INDEX:
        raise ValueError(f"corner {at} is not there")
    return index


def _compact(named: NamedMesh) -> NamedMesh:
    """The object with only the corners it uses."""
    used, inverse = np.unique(named.mesh.faces, return_inverse=True)
    return NamedMesh(named.name, Mesh(named.mesh.vertices[used], inverse.reshape(-1, 3).astype(np.int64)))

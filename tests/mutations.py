"""Model files damaged on purpose: bytes turned over, cut, moved and doubled, and numbers and words replaced by odd ones."""

import copy
import io
import json
import re
import struct
import zipfile
from random import Random

from hinoki.core.formats.base import NamedMesh
from hinoki.core.formats.write import write_file
from tests.shapes import box, torus

ODD_NUMBERS = (
    b"-1",
    b"0",
    b"1e400",
    b"-1e39",
    b"nan",
    b"inf",
    b"99999999999999999999",
    b"4294967295",
    b"2147483648",
    b"0.5",
    b"",
)
ODD_VALUES = (None, -1, 0, 1e308, "", "x", [], {}, True, 2**70, [[]], {"a": 1})
_NUMBER = re.compile(rb"-?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?")
TEXT = (".obj", ".off", ".txt.ply", ".txt.stl")


def seeds() -> dict[str, bytes]:
    """A small good file of every format that is read in the process itself, by its ending; some in two forms."""
    objects = [NamedMesh("ring", torus(30, 8, 16, 8)), NamedMesh("brick", box(10, 20, 30).mesh)]
    found = {ending: write_file(objects, f"a{ending}") for ending in (".stl", ".3mf", ".obj", ".ply", ".glb")}
    off = objects[1].mesh
    rows = [f"{x} {y} {z}" for x, y, z in off.vertices.tolist()] + [f"3 {a} {b} {c}" for a, b, c in off.faces.tolist()]
    found[".off"] = "\n".join(["OFF", f"{len(off.vertices)} {len(off.faces)} 0", *rows, ""]).encode()
    head = f"ply\nformat ascii 1.0\nelement vertex {len(off.vertices)}\nproperty float x\nproperty float y\nproperty float z\n"
    head += f"element face {len(off.faces)}\nproperty list uchar int vertex_indices\nend_header"
    found[".txt.ply"] = "\n".join([head, *rows, ""]).encode()
    facets = [
        "facet normal 0 0 0\nouter loop\n" + "\n".join(f"vertex {x} {y} {z}" for x, y, z in corners) + "\nendloop\nendfacet"
        for corners in off.vertices[off.faces].tolist()
    ]
    found[".txt.stl"] = "\n".join(["solid a", *facets, "endsolid a", ""]).encode()
    return found


def mutated(ending: str, data: bytes, rng: Random) -> bytes:
    """A damaged variant of a file."""
    how = rng.random()
    if ending == ".3mf" and how < 0.6:
        return _in_archive(data, rng)
    if ending == ".glb" and how < 0.6:
        return _in_glb(data, rng)
    if ending in TEXT and how < 0.6:
        return _numbers(data, rng)
    return _bytes(data, rng)


def _bytes(data: bytes, rng: Random) -> bytes:
    out = bytearray(data)
    for _ in range(rng.choice((1, 1, 2, 5, 20))):
        if not out:
            break
        at = rng.randrange(len(out))
        how = rng.randrange(6)
        if how == 0:
            out[at] ^= rng.randrange(1, 256)
        elif how == 1:
            out[at : at + 4] = struct.pack("<I", rng.choice((0, 1, 2**31 - 1, 2**32 - 1, rng.getrandbits(32))))
        elif how == 2:
            del out[at : at + rng.choice((1, 4, 50))]
        elif how == 3:
            out[at:at] = out[at : at + rng.choice((1, 12, 100))]
        elif how == 4:
            out[at:at] = rng.randbytes(rng.choice((1, 4, 30)))
        else:
            del out[at:]
    return bytes(out)


def _numbers(data: bytes, rng: Random) -> bytes:
    found = list(_NUMBER.finditer(data))
    for match in sorted(rng.sample(found, min(len(found), rng.choice((1, 1, 3, 10)))), key=lambda m: -m.start()):
        data = data[: match.start()] + rng.choice(ODD_NUMBERS) + data[match.end() :]
    if rng.random() < 0.2:
        lines = data.split(b"\n")
        rng.shuffle(lines)
        data = b"\n".join(lines)
    return data


def _in_archive(data: bytes, rng: Random) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for name in old.namelist():
            content = old.read(name)
            if rng.random() < 0.7:
                content = (_numbers if rng.random() < 0.7 else _bytes)(content, rng)
            new.writestr(name, content)
    return out.getvalue()


def _in_glb(data: bytes, rng: Random) -> bytes:
    size = struct.unpack_from("<I", data, 12)[0]
    document, rest = json.loads(data[20 : 20 + size]), data[20 + size :]
    for _ in range(rng.choice((1, 1, 2, 4))):
        _one_value(document, rng)
    text = json.dumps(document).encode()
    text += b" " * (-len(text) % 4)
    parts = struct.pack("<II", len(text), 0x4E4F534A) + text + rest
    return struct.pack("<4sII", b"glTF", 2, 12 + len(parts)) + parts


def _one_value(node: object, rng: Random) -> None:
    """Replace one value somewhere in a document."""
    while True:
        keys = list(node) if isinstance(node, dict) else list(range(len(node))) if isinstance(node, list) else []
        if not keys:
            return
        key = rng.choice(keys)
        below = node[key]  # type: ignore[index]
        if not isinstance(below, dict | list) or not below or rng.random() < 0.25:
            if rng.random() < 0.2 and isinstance(node, dict):
                del node[key]
            else:
                node[key] = copy.deepcopy(rng.choice((*ODD_VALUES, rng.randrange(-5, 50))))  # type: ignore[index]
            return
        node = below

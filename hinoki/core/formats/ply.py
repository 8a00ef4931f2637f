"""PLY, text and binary: reading corners and faces, writing binary."""

import struct
from array import array
from dataclasses import dataclass, field

import numpy as np

from hinoki.core.errors import UnreadableModel
from hinoki.core.formats.base import ModelFile, checked, fans, refuse_empty, refuse_many, whole_file
from hinoki.core.geometry.mesh import Faces, Mesh, Points

_TYPES = {
    "char": "i1", "int8": "i1", "uchar": "u1", "uint8": "u1", "short": "i2", "int16": "i2", "ushort": "u2", "uint16": "u2",
    "int": "i4", "int32": "i4", "uint": "u4", "uint32": "u4", "float": "f4", "float32": "f4", "double": "f8", "float64": "f8",
}  # fmt: skip
_LONGEST_HEADER = 100_000


@dataclass(frozen=True)
class _Element:
    name: str
    count: int
    scalars: list[tuple[str, str]] = field(default_factory=list)
    lists: list[tuple[str, str, str, int]] = field(default_factory=list)
    """(name, type of the length, type of the items, number of scalars before it)"""


def read_ply(data: bytes) -> ModelFile:
    """Read a PLY file. Raises UnreadableModel naming the line of the header or the byte."""
    refuse_empty(data)
    elements, kind, start = _header(data)
    left = [
        f"{e.count:,} entries of “{e.name}” were left out" for e in elements if e.name not in ("vertex", "face") and e.count
    ]
    reader = _Text(data, start) if kind == "ascii" else _Binary(data, start, "<" if "little" in kind else ">")
    corners, faces = np.zeros((0, 3)), np.zeros((0, 3), np.int64)
    try:
        for element in elements:
            if element.name == "vertex":
                corners = reader.corners(element)
            elif element.name == "face":
                faces = reader.faces(element)
            elif any(e.name in ("vertex", "face") for e in elements[elements.index(element) :]):
                reader.skip(element)
    except (ValueError, IndexError, OverflowError):
        raise UnreadableModel(
            f"The PLY file is cut off or damaged within its {element.count:,} entries of “{element.name}”. "
            "Copy or export it again.",
            reader.place,
        ) from None
    return whole_file([checked("", corners, faces)], None, left, "PLY")


def write_ply(mesh: Mesh) -> bytes:
    """Binary little-endian PLY with 32-bit coordinates; byte-identical for equal input."""
    head = (
        "ply\nformat binary_little_endian 1.0\ncomment Hinoki, millimetres\n"
        f"element vertex {len(mesh.vertices)}\nproperty float x\nproperty float y\nproperty float z\n"
        f"element face {len(mesh.faces)}\nproperty list uchar int vertex_indices\nend_header\n"
    )
    rows = np.zeros(len(mesh.faces), dtype=[("n", "u1"), ("v", "<i4", (3,))])
    rows["n"], rows["v"] = 3, mesh.faces
    return head.encode() + mesh.vertices.astype("<f4").tobytes() + rows.tobytes()


def _header(data: bytes) -> tuple[list[_Element], str, int]:
    end = data.find(b"end_header", 0, _LONGEST_HEADER)
    if not data.startswith(b"ply") or end < 0:
        text = "This is not a PLY file: its header is missing or has no end. Choose the model's own file."
        raise UnreadableModel(text, "line 1")
    line_end = data.find(b"\n", end)
    start = line_end + 1 if line_end >= 0 else len(data)
    kind, elements = "", []
    for number, raw in enumerate(data[:end].splitlines(), start=1):
        words = raw.decode("ascii", "replace").split()
        try:
            if not words or words[0] in ("ply", "comment", "obj_info"):
                continue
            if words[0] == "format" and words[1] in ("ascii", "binary_little_endian", "binary_big_endian"):
                kind = words[1]
            elif words[0] == "element" and int(words[2]) >= 0:
                elements.append(_Element(words[1], int(words[2])))
            elif words[0] == "property" and words[1] == "list":
                elements[-1].lists.append((words[4], _TYPES[words[2]], _TYPES[words[3]], len(elements[-1].scalars)))
            elif words[0] == "property":
                elements[-1].scalars.append((words[2], _TYPES[words[1]]))
            else:
                raise ValueError
        except (ValueError, IndexError, KeyError):
            text = raw.strip()[:40].decode("utf-8", "replace")
            raise UnreadableModel(
                f"Line {number} of the PLY header cannot be read: “{text}”. Export the model again.", f"line {number}"
            ) from None
    if not kind or {"vertex", "face"} - {e.name for e in elements}:
        raise UnreadableModel("The PLY header names no format, no corners or no faces. Export the model as a mesh.", "header")
    return elements, kind, start


def _xyz(element: _Element) -> list[int]:
    names = [name for name, _ in element.scalars]
    if not {"x", "y", "z"} <= set(names) or element.lists:
        raise UnreadableModel("The corners of the PLY file have no x, y and z. Export the model as a mesh.", "header")
    return [names.index(axis) for axis in "xyz"]


def _corner_list(element: _Element) -> tuple[str, str, str, int]:
    for entry in element.lists:
        if entry[0] in ("vertex_indices", "vertex_index"):
            return entry
    raise UnreadableModel("The faces of the PLY file do not say their corners. Export the model as a mesh.", "header")


class _Text:
    """Entries of a text file, a line each."""

    def __init__(self, data: bytes, start: int) -> None:
        self._lines = data[start:].splitlines()
        self._line = 0
        self._first = data[:start].count(b"\n") + 1

    @property
    def place(self) -> str:
        return f"line {self._first + min(self._line, len(self._lines))}"

    def _take(self, count: int) -> list[bytes]:
        if count > len(self._lines) - self._line:
            raise ValueError
        rows = self._lines[self._line : self._line + count]
        self._line += count
        return rows

    def skip(self, element: _Element) -> None:
        self._take(element.count)

    def corners(self, element: _Element) -> Points:
        x, y, z = _xyz(element)
        rows = [row.split() for row in self._take(element.count)]
        return np.array([[float(r[x]), float(r[y]), float(r[z])] for r in rows], dtype=np.float64).reshape(-1, 3)

    def faces(self, element: _Element) -> Faces:
        _, _, _, before = _corner_list(element)
        sizes, flat = [], []
        for row in self._take(element.count):
            words = row.split()
            size = int(words[before])
            own = [int(w) for w in words[before + 1 : before + 1 + size]]
            if len(own) != size:
                raise ValueError
            sizes.append(size)
            flat += own
        return fans(np.array(sizes, dtype=np.int64), np.array(flat, dtype=np.int64))


class _Binary:
    """Entries of a binary file. Faces are usually all triangles, which is read in one go; others one by one."""

    def __init__(self, data: bytes, start: int, order: str) -> None:
        self._data, self._at, self._order = data, start, order

    @property
    def place(self) -> str:
        return f"byte {self._at}"

    def _table(self, dtype: "np.dtype", count: int) -> np.ndarray:
        if count * dtype.itemsize > len(self._data) - self._at:
            raise ValueError
        table = np.frombuffer(self._data, dtype, count, self._at)
        self._at += count * dtype.itemsize
        return table

    def _type(self, code: str) -> str:
        return code if code.endswith("1") else self._order + code

    def skip(self, element: _Element) -> None:
        if element.lists:
            self._walk(element)
        else:
            self._table(np.dtype([(f"s{k}", self._type(t)) for k, (_, t) in enumerate(element.scalars)]), element.count)

    def corners(self, element: _Element) -> Points:
        _xyz(element)
        table = self._table(np.dtype([(name, self._type(t)) for name, t in element.scalars]), element.count)
        return np.column_stack([table[axis].astype(np.float64) for axis in "xyz"])

    def faces(self, element: _Element) -> Faces:
        name, length, item, before = _corner_list(element)
        if element.count == 0:
            return np.zeros((0, 3), np.int64)
        if len(element.lists) == 1:
            head = [(f"s{k}", self._type(t)) for k, (_, t) in enumerate(element.scalars[:before])]
            tail = [(f"t{k}", self._type(t)) for k, (_, t) in enumerate(element.scalars[before:])]
            dtype = np.dtype([*head, ("n", self._type(length)), ("v", self._type(item), (3,)), *tail])
            at = self._at
            if element.count * dtype.itemsize <= len(self._data) - at:
                table = self._table(dtype, element.count)
                if (table["n"] == 3).all():
                    return table["v"].astype(np.int64)
                self._at = at
        sizes, flat = self._walk(element)[name]
        return fans(sizes, flat.astype(np.int64))

    def _walk(self, element: _Element) -> dict[str, tuple[np.ndarray, np.ndarray]]:
        """Lists of uneven length, entry by entry: for each by name the lengths (n,), and all items one behind the other."""
        if element.count > len(self._data) - self._at:
            raise ValueError
        refuse_many(0, element.count // 3)
        sizes = {name: array("q") for name, *_ in element.lists}
        places = {name: array("q") for name, *_ in element.lists}
        widths = [np.dtype(self._type(t)).itemsize for _, t in element.scalars]
        steps, done = [], 0
        for name, length, item, before in element.lists:
            number = struct.Struct(self._order + np.dtype(length).char)
            steps.append((sum(widths[done:before]), number, np.dtype(item).itemsize, sizes[name], places[name]))
            done = before
        tail, at, end = sum(widths[done:]), self._at, len(self._data)
        for _ in range(element.count):
            for skipped, number, width, own_sizes, own_places in steps:
                at += skipped
                if at + number.size > end:
                    raise ValueError
                size = int(number.unpack_from(self._data, at)[0])
                at += number.size
                if size < 0 or at + size * width > end:
                    raise ValueError
                own_sizes.append(size)
                own_places.append(at)
                at += size * width
            at += tail
        if at > end:
            raise ValueError
        self._at = at
        return {
            name: (np.array(sizes[name]), self._items(np.array(places[name]), np.array(sizes[name]), item))
            for name, _, item, _ in element.lists
        }

    def _items(self, places: np.ndarray, sizes: np.ndarray, item: str) -> np.ndarray:
        """Items of a type that stand at `places` (n,), so many as `sizes` (n,) says at each."""
        dtype = np.dtype(self._type(item))
        owner = np.repeat(np.arange(len(sizes)), sizes)
        within = np.arange(len(owner)) - np.repeat(np.cumsum(sizes) - sizes, sizes)
        starts = places[owner] + within * dtype.itemsize
        bytes_at = starts[:, None] + np.arange(dtype.itemsize)
        raw = np.frombuffer(self._data, np.uint8)[bytes_at.ravel()]
        return np.frombuffer(raw.tobytes(), dtype)

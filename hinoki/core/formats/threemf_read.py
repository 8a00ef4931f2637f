"""3MF (core specification): reading units, objects, components and build transforms."""

import posixpath
from collections.abc import Iterator
from dataclasses import dataclass, field
from io import BytesIO
from itertools import count
from xml.etree.ElementTree import Element, ParseError

import numpy as np
from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import iterparse

from hinoki.core.errors import UnreadableModel
from hinoki.core.formats.archive import open_archive, unpacked
from hinoki.core.formats.base import MOST_OBJECTS, MOST_TRIANGLES, ModelFile, NamedMesh, checked, refuse_empty, whole_file
from hinoki.core.geometry.mesh import Faces, Points, Unit

CORE = "{http://schemas.microsoft.com/3dmanufacturing/core/2015/02}"
MODEL_RELATION = "http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"
UNITS: dict[str, Unit] = {"millimeter": "mm", "centimeter": "cm", "meter": "m", "inch": "inch", "foot": "foot"}
DEEPEST = 32
MOST_VISITS = 50_000
"""places of components that are looked at, empty ones included"""


@dataclass
class _Object:
    name: str
    kind: str
    vertices: Points = field(default_factory=lambda: np.zeros((0, 3)))
    faces: Faces = field(default_factory=lambda: np.zeros((0, 3), np.int64))
    components: list[tuple[str, Points]] = field(default_factory=list)


def read_3mf(data: bytes) -> ModelFile:
    """Read a 3MF file. Raises UnreadableModel naming the part and the place."""
    refuse_empty(data)
    archive = open_archive(data, "3MF")
    name = _model_part(archive)
    objects, items, unit, scale, left = _parse(unpacked(archive, name, "3MF"), name)
    placed: list[NamedMesh] = []
    left_kinds = dict.fromkeys(("support", "solidsupport", "surface", "other"), 0)
    budget = [MOST_OBJECTS, MOST_TRIANGLES]
    visits = count()
    for object_id, matrix in items or [(i, _still()) for i in objects]:
        for one, where in _resolve(objects, object_id, matrix, 0, visits):
            if one.kind in ("support", "solidsupport"):
                left_kinds[one.kind] += 1
                continue
            budget[0] -= 1
            budget[1] -= len(one.faces)
            if min(budget) < 0:
                raise UnreadableModel(
                    f"The components of this 3MF file multiply to over {MOST_OBJECTS:,} objects or {MOST_TRIANGLES:,} "
                    "triangles. It was not opened.",
                    "build",
                )
            vertices = (one.vertices @ where[:, :3].T + where[:, 3]) * scale
            faces = one.faces if np.linalg.det(where[:, :3]) >= 0 else one.faces[:, ::-1]
            placed.append(checked(one.name, vertices, faces))
    supports = left_kinds["support"] + left_kinds["solidsupport"]
    left += [f"{supports} support objects were left out"] * bool(supports)
    return whole_file(placed, unit, left, "3MF")


def _model_part(archive: "object") -> str:
    names = archive.namelist()  # type: ignore[attr-defined]
    if "_rels/.rels" in names:
        try:
            for _, element in iterparse(BytesIO(unpacked(archive, "_rels/.rels", "3MF")), forbid_dtd=True):  # type: ignore[arg-type]
                if element.get("Type") == MODEL_RELATION:
                    target = posixpath.normpath(str(element.get("Target", "")).lstrip("/"))
                    if target in names:
                        return target
                    raise UnreadableModel(
                        f"The 3MF file points at “{target[:80]}”, which is not in it. Export it again.", "_rels/.rels"
                    )
        except (ParseError, DefusedXmlException, ValueError, LookupError):
            raise UnreadableModel("The list of parts of this 3MF file is damaged. Export it again.", "_rels/.rels") from None
    found = [n for n in names if n.lower().endswith(".model")]
    if not found:
        raise UnreadableModel("This archive holds no 3MF model. Choose the model's own file.", "archive")
    return str(found[0])


class _ModelReader:
    """What one model part of a 3MF file holds, gathered element by element."""

    def __init__(self, part: str) -> None:
        self.part = part
        self.objects: dict[str, _Object] = {}
        self.items: list[tuple[str, Points]] = []
        self.unit = "millimeter"
        self.left: dict[str, int] = {}
        self._now: _Object | None = None
        self._vertices: list[tuple[float, float, float]] = []
        self._faces: list[tuple[int, int, int]] = []
        self._seen_root = False

    @property
    def where(self) -> str:
        """Where reading has come to, in words."""
        return f"object {len(self.objects) + 1}, after corner {len(self._vertices):,} and face {len(self._faces):,}"

    def begin(self, tag: str, element: Element) -> None:
        """An element begins. Raises UnreadableModel for another document than a model."""
        if not self._seen_root:
            self._seen_root = True
            if tag != "model":
                raise UnreadableModel("This 3MF file holds no model in the core form. Export it again.", self.part)
            self.unit = element.get("unit", "millimeter")
            _refuse_needed(element, self.part)
        elif tag == "object":
            self._now = _Object(str(element.get("name", ""))[:80], str(element.get("type", "model")))
            self._vertices, self._faces = [], []

    def end(self, tag: str, element: Element) -> None:
        """An element is there whole."""
        if tag == "vertex":
            self._vertices.append((float(element.get("x")), float(element.get("y")), float(element.get("z"))))  # type: ignore[arg-type]
        elif tag == "triangle":
            self._faces.append((int(element.get("v1")), int(element.get("v2")), int(element.get("v3"))))  # type: ignore[arg-type]
        elif tag == "component" and self._now is not None:
            self._now.components.append((str(element.get("objectid")), _matrix(element.get("transform"))))
        elif tag == "object" and self._now is not None:
            self._keep(self._now, str(element.get("id")))
        elif tag == "item":
            self.items.append((str(element.get("objectid")), _matrix(element.get("transform"))))
        elif tag.startswith("{") or tag in ("basematerials", "colorgroup", "texture2d"):
            short = tag.rsplit("}", 1)[-1]
            self.left[short] = self.left.get(short, 0) + 1
        if tag in ("vertex", "triangle", "vertices", "triangles", "mesh", "object"):
            element.clear()

    def _keep(self, now: _Object, name: str) -> None:
        now.vertices = np.array(self._vertices, dtype=np.float64).reshape(-1, 3)
        now.faces = np.array(self._faces, dtype=np.int64).reshape(-1, 3)
        checked(now.name or f"object {name}", now.vertices, now.faces)
        self.objects[name] = now
        self._now = None


def _parse(content: bytes, part: str) -> tuple[dict[str, _Object], list[tuple[str, Points]], Unit, float, list[str]]:
    read = _ModelReader(part)
    try:
        for event, element in iterparse(BytesIO(content), events=("start", "end"), forbid_dtd=True):
            (read.begin if event == "start" else read.end)(element.tag.removeprefix(CORE), element)
    except DefusedXmlException:
        text = (
            f"The part “{part}” of the 3MF file defines entities or refers elsewhere, which no model needs. It was not opened."
        )
        raise UnreadableModel(text, part) from None
    except ParseError as error:
        line = error.position[0]
        raise UnreadableModel(
            f"The part “{part}” of the 3MF file is not in order at line {line}. Copy or export it again.", f"{part} line {line}"
        ) from None
    except (TypeError, ValueError, OverflowError, LookupError) as error:  # an encoding nobody knows is a LookupError
        raise UnreadableModel(f"The 3MF file cannot be read in {read.where} ({error}). Export it again.", read.where) from None
    unit, scale = ("millimeter", 0.001) if read.unit == "micron" else (read.unit, 1.0)
    if unit not in UNITS:
        raise UnreadableModel(
            f"The 3MF file is in “{unit[:40]}”, a unit that is not in the specification. Export it again.", "unit"
        )
    return read.objects, read.items, UNITS[unit], scale, [f"{n} × “{what}” was left out" for what, n in read.left.items()]


def _refuse_needed(root: Element, part: str) -> None:
    needed = [name for name in str(root.get("requiredextensions", "")).split() if name]
    if needed:
        raise UnreadableModel(
            f"The 3MF file needs extensions that Hinoki does not read ({', '.join(needed)[:80]}). "
            "Export it in the core form, as a plain mesh.",
            part,
        )


def _resolve(
    objects: dict[str, _Object], object_id: str, matrix: Points, depth: int, visits: Iterator[int]
) -> "list[tuple[_Object, Points]]":
    """What an object and its components come to, with where each is placed; `visits` counts all that are looked at."""
    if next(visits) > MOST_VISITS:
        raise UnreadableModel(
            f"The components of this 3MF file multiply to over {MOST_VISITS:,} places. It was not opened.",
            f"object {object_id[:20]}",
        )
    if depth > DEEPEST:
        raise UnreadableModel(
            f"The components of this 3MF file are nested over {DEEPEST} deep, or in a circle.", f"object {object_id}"
        )
    one = objects.get(object_id)
    if one is None:
        raise UnreadableModel(f"The 3MF file refers to object {object_id[:20]}, which is not in it. Export it again.", "build")
    found = [(one, matrix)] if len(one.faces) else []
    for child, own in one.components:
        both = np.column_stack([matrix[:, :3] @ own[:, :3], matrix[:, :3] @ own[:, 3] + matrix[:, 3]])
        found += _resolve(objects, child, both, depth + 1, visits)
        if len(found) > MOST_OBJECTS:
            raise UnreadableModel(
                f"The components of this 3MF file multiply to over {MOST_OBJECTS:,} objects.", f"object {object_id}"
            )
    return found


def _still() -> Points:
    return np.eye(3, 4)


def _matrix(text: str | None) -> Points:
    """3MF writes row vectors, 12 numbers: the rows of a 4 × 3 matrix."""
    if not text:
        return _still()
    numbers = [float(word) for word in text.split()]
    if len(numbers) != 12 or not np.isfinite(numbers).all():
        raise ValueError(f"a transform has {len(numbers)} numbers, not 12")
    return np.array(numbers).reshape(4, 3).T

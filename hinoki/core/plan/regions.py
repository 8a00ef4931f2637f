"""Marks the maker sets on the model: what no parting should cross, where seams hurt, where they are welcome.

A painted mark is a set of faces of one prepared model, packed small, with a trace of points by which it is found again when
a repair or another step changed the model. A boxed mark is every face whose middle lies in the box.
"""

import base64
import zlib
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, Field, model_validator

from hinoki.core.divide.partings.base import Spot
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.mesh import Faces, Mesh, Points

MarkKind = Literal["keep", "show", "hidden"]
KIND_WORDS: dict[MarkKind, str] = {"keep": "Keep whole", "show": "Show face", "hidden": "Hidden"}
TRACE_STEP_MM = 0.01
MOST_TRACE = 1500
Packed = Annotated[str, Field(max_length=8_000_000)]


class Trace(BaseModel, frozen=True):
    """Points spread evenly over a mark, by which it is found on another mesh: packed steps of TRACE_STEP_MM and normals in
    127ths, the area each point stands for, and the corners of the model they were taken on."""

    points: Packed
    normals: Packed
    area_mm2: float = Field(ge=0, allow_inf_nan=False, description="of the surface each point stands for")
    low_mm: Spot
    high_mm: Spot


class Painted(BaseModel, frozen=True):
    """Faces of one prepared model, named by its hash."""

    mesh: str = Field(pattern=r"^[0-9a-f]{8,64}$")
    faces: Packed = Field(description="rising numbers: differences as 7-bit groups, deflated, base64")
    trace: Trace


class Box(BaseModel, frozen=True):
    """An upright box between two corners."""

    low_mm: Spot
    high_mm: Spot

    @model_validator(mode="after")
    def _has_room(self) -> "Box":
        if any(a >= b for a, b in zip(self.low_mm, self.high_mm, strict=True)):
            raise ValueError("the box's low corner must lie below its high corner on every axis")
        return self


class Mark(BaseModel, frozen=True):
    """One mark: painted faces or a box."""

    id: str = Field(pattern=r"^k[1-9][0-9]{0,3}$")
    kind: MarkKind
    name: str = Field("", max_length=80)
    on: bool = True
    painted: Painted | None = None
    box: Box | None = None

    @model_validator(mode="after")
    def _one_way(self) -> "Mark":
        if (self.painted is None) == (self.box is None):
            raise ValueError("a mark is either painted or boxed")
        return self

    def label(self) -> str:
        """Such as “Keep whole · Inscription”."""
        return KIND_WORDS[self.kind] + (f" · {self.name}" if self.name else f" {self.id[1:]}")


def painted_on(mesh: Mesh, key: str, faces: Faces) -> Painted:
    """The mark of `faces` (rising) on the prepared model named `key`."""
    low, high = mesh.bounds
    points, normals, area = _spread(mesh, faces)
    steps = np.round(points / TRACE_STEP_MM).astype("<i4")
    trace = Trace(
        points=_deflated(steps.tobytes()),
        normals=_deflated(np.round(normals * 127).astype("i1").tobytes()),
        area_mm2=round(area, 6),
        low_mm=(float(low[0]), float(low[1]), float(low[2])),
        high_mm=(float(high[0]), float(high[1]), float(high[2])),
    )
    return Painted(mesh=key, faces=packed(faces), trace=trace)


def traced(trace: Trace) -> tuple[Points, Points]:
    """The points (n, 3) of a trace and their normals (n, 3). Raises BadPlan for what was not packed by Hinoki."""
    points = np.frombuffer(_inflated(trace.points), dtype="<i4")
    normals = np.frombuffer(_inflated(trace.normals), dtype="i1")
    if len(points) % 3 or len(points) != len(normals):
        raise BadPlan("A mark's trace is damaged; paint it again.", "marks")
    return points.reshape(-1, 3) * TRACE_STEP_MM, normals.reshape(-1, 3) / 127.0


def packed(faces: Faces) -> str:
    """Rising numbers as text: differences in groups of seven bits, deflated, base64."""
    gaps = np.diff(np.concatenate([[-1], np.asarray(faces, dtype=np.int64)])) - 1
    groups: list[Faces] = []
    for place in range(5):
        groups.append(np.where(gaps >> (7 * place) > 0, (gaps >> (7 * place)) & 127, 0))
    used = np.stack([gaps >= (1 << (7 * place)) if place else np.ones(len(gaps), bool) for place in range(5)], axis=1)
    more = np.concatenate([used[:, 1:], np.zeros((len(gaps), 1), bool)], axis=1)
    octets = (np.stack(groups, axis=1) | (more.astype(np.int64) << 7)).astype(np.uint8)
    return _deflated(octets[used].tobytes())


def unpacked(text: str) -> Faces:
    """The rising numbers of `packed`. Raises BadPlan for anything else."""
    octets = np.frombuffer(_inflated(text), dtype=np.uint8).astype(np.int64)
    if len(octets) == 0:
        return np.zeros(0, dtype=np.int64)
    if octets[-1] & 128:
        raise BadPlan("A mark's faces are damaged; paint it again.", "marks")
    last = octets < 128
    owner = np.concatenate([[0], np.cumsum(last)[:-1]])
    first = np.flatnonzero(np.concatenate([[True], last[:-1]]))
    place = np.arange(len(octets)) - first[owner]
    if place.max() > 4:
        raise BadPlan("A mark's faces are damaged; paint it again.", "marks")
    gaps = np.zeros(int(owner[-1]) + 1, dtype=np.int64)
    np.add.at(gaps, owner, (octets & 127) << (7 * place))
    return np.cumsum(gaps + 1) - 1


def _spread(mesh: Mesh, faces: Faces) -> tuple[Points, Points, float]:
    """At most MOST_TRACE points spread by area over `faces`, always the same; their normals; the area of each."""
    areas = mesh.face_areas[faces]
    total = float(areas.sum())
    if total <= 0:
        return np.zeros((0, 3)), np.zeros((0, 3)), 0.0
    count = min(MOST_TRACE, max(30, 4 * len(faces)))
    where = (np.arange(count) + 0.5) / count * total
    chosen = faces[np.minimum(np.searchsorted(np.cumsum(areas), where), len(faces) - 1)]
    # the R2 sequence (Roberts 2018) spreads points evenly over a square; folded, over a triangle
    r = (np.arange(1, count + 1)[:, None] * np.array([0.7548776662466927, 0.5698402909980532])) % 1
    r = np.where(r.sum(axis=1, keepdims=True) > 1, 1 - r, r)
    a, b, c = (mesh.vertices[mesh.faces[chosen, k]] for k in range(3))
    return a + r[:, :1] * (b - a) + r[:, 1:] * (c - a), mesh.face_normals[chosen], total / count


def _deflated(data: bytes) -> str:
    return base64.b64encode(zlib.compress(data, 9)).decode()


def _inflated(text: str) -> bytes:
    try:
        machine = zlib.decompressobj()
        data = machine.decompress(base64.b64decode(text, validate=True), 64_000_000)
    except (ValueError, zlib.error) as error:
        raise BadPlan("A mark's faces are damaged; paint it again.", "marks") from error
    if not machine.eof and not machine.unconsumed_tail:
        raise BadPlan("A mark's faces are damaged; paint it again.", "marks")
    if machine.unconsumed_tail:
        raise BadPlan("A mark holds more faces than any model; paint it again.", "marks")
    return data

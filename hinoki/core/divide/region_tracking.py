"""Marks on the model as it stands: which faces they cover now, found again by nearest points where the model changed."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from pydantic import BaseModel, Field, model_validator

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part
from hinoki.core.divide.partings.base import Spot
from hinoki.core.findings import Finding
from hinoki.core.geometry.mesh import Faces, Mesh, Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.regions import Box, Mark, MarkKind, Painted, Trace, painted_on, traced, unpacked
from hinoki.core.stages import Keyed, digest, stage

FITTING = 0.9
"""share of a trace that must lie on the surface for it to be the mark's"""
NEAR_MM = 0.3
FACING = 0.5
ON_MM = 1e-4
"""a point nearer to a surface than this lies on it"""


@dataclass(frozen=True)
class Marked:
    """The faces of every mark that is on, by its name, and what was found."""

    faces: dict[str, Faces] = field(default_factory=dict)
    kinds: dict[str, MarkKind] = field(default_factory=dict)
    findings: tuple[Finding, ...] = ()
    key: str = ""

    def of(self, kind: MarkKind) -> Faces:
        """All faces in marks of one kind, rising."""
        chosen = [faces for name, faces in self.faces.items() if self.kinds[name] == kind]
        return np.unique(np.concatenate(chosen)) if chosen else np.zeros(0, dtype=np.int64)


def marked(marks: Sequence[Mark], mesh: Mesh, key: str, cache: Cache) -> Marked:
    """Where every mark lies on the prepared model `mesh` named `key`. Raises BadPlan for damaged marks."""
    faces: dict[str, Faces] = {}
    findings = []
    for mark in marks:
        if not mark.on:
            continue
        found = _faces(cache, mark.painted, mark.box, Keyed(mesh, key))
        if found is None or len(found) == 0:
            findings.append(_lost(mark))
        else:
            faces[mark.id] = found
    return Marked(faces, {m.id: m.kind for m in marks}, tuple(findings), key)


def crossings(marks: Sequence[Mark], now: Marked, mesh: Mesh, parts: Sequence[Part], cache: Cache) -> dict[str, set[str]]:
    """For every mark to keep whole that is cut: the partings that cross it. A mark painted in several places may lie on
    several pieces, as long as no seam runs through any one place.

    The kernel joins flat neighbours while it cuts, so where a face went is told by points on it, not by its number.
    """
    out: dict[str, set[str]] = {}
    for mark in marks:
        own = now.faces.get(mark.id)
        if mark.kind != "keep" or own is None or len(parts) < 2:
            continue
        place = np.repeat(places_of(mesh, own), len(_WITHIN))
        points = _points_on(mesh, own)
        spots = Keyed(points, digest(points))
        holders: dict[int, list[Part]] = {}
        for part in parts:
            held = _held(cache, spots, part.body)
            for number in np.unique(place[held]).tolist():
                holders.setdefault(number, []).append(part)
        for several in holders.values():
            if len(several) > 1:
                out.setdefault(mark.id, set()).update(_between(several))
    return out


_WITHIN = np.array([[1, 1, 1], [1, 0, 0], [0, 1, 0], [0, 0, 1]]) * 0.98 + 0.02
"""the middle of a triangle and points just inside its corners, as shares of them (not yet normed)"""


def _points_on(mesh: Mesh, faces: Faces) -> Points:
    shares = _WITHIN / _WITHIN.sum(axis=1, keepdims=True)
    return np.asarray(np.einsum("pk,nkd->npd", shares, mesh.vertices[mesh.faces[faces]]).reshape(-1, 3))


@stage("held", weigh=len)
def _held(spots: Keyed[Points], body: Keyed[Solid]) -> Faces:
    """Numbers of the points that lie on a piece's surface."""
    import igl

    points = spots.value
    low, high = body.value.bounds
    near = np.flatnonzero(((points >= low - ON_MM) & (points <= high + ON_MM)).all(axis=1))
    if len(near) == 0:
        return near
    surface = body.value.mesh
    squared = igl.point_mesh_squared_distance(np.ascontiguousarray(points[near]), surface.vertices, surface.faces)[0]
    return near[np.asarray(squared) < ON_MM**2]


def crossing_findings(marks: Sequence[Mark], crossed: Mapping[str, set[str]]) -> list[Finding]:
    """A finding for every parting that crosses what is to stay whole."""
    by_id = {m.id: m for m in marks}
    return [
        Finding(
            severity="must-fix",
            code="mark-crossed",
            station="divide",
            parting=parting,
            params={"mark": by_id[mark].label()},
            about=mark,
        )
        for mark, partings in crossed.items()
        for parting in sorted(partings, key=lambda p: int(p[1:]))
    ]


class Stroke(BaseModel, frozen=True):
    """The brush moved over the model: where, the way the surface looks there, how wide; added to a mark or taken from it."""

    mark: str | None = Field(None, max_length=8, description="name of the mark it goes on with; none for a new one")
    erase: bool = False
    radius_mm: float = Field(ge=0.1, le=1000)
    at_mm: tuple[Spot, ...] = Field(min_length=1, max_length=2000)
    normals: tuple[Spot, ...] = Field(min_length=1, max_length=2000)

    @model_validator(mode="after")
    def _as_many(self) -> "Stroke":
        if len(self.at_mm) != len(self.normals):
            raise ValueError("a stroke needs as many normals as places")
        return self


def painted(stroke: Stroke, marks: Sequence[Mark], mesh: Mesh, key: str, cache: Cache) -> Painted | None:
    """The painted faces after a stroke; none where nothing is left. What the mark had is kept, also from an older model."""
    now = marked([m for m in marks if m.id == stroke.mark and m.painted], mesh, key, cache)
    had = now.faces.get(stroke.mark or "", np.zeros(0, dtype=np.int64))
    under = brushed(mesh, np.array(stroke.at_mm), np.array(stroke.normals), stroke.radius_mm)
    faces = np.setdiff1d(had, under) if stroke.erase else np.union1d(had, under)
    return painted_on(mesh, key, faces) if len(faces) else None


def brushed(mesh: Mesh, spots: Points, normals: Points, radius_mm: float) -> Faces:
    """Faces under a brush moved over `spots` (n, 3), where the surface looks along `normals` (n, 3): those whose middle lies
    within the radius and which look the same way, and the faces of the spots themselves."""
    import igl
    from scipy.spatial import cKDTree

    middles = mesh.vertices[mesh.faces].mean(axis=1)
    _, hit, _ = igl.point_mesh_squared_distance(
        np.ascontiguousarray(spots), np.ascontiguousarray(mesh.vertices), np.ascontiguousarray(mesh.faces)
    )[:3]
    away, nearest = cKDTree(spots).query(middles, distance_upper_bound=radius_mm)
    near = np.flatnonzero(np.isfinite(away))
    facing = np.einsum("ij,ij->i", mesh.face_normals[near], normals[nearest[near]]) > FACING
    return np.unique(np.concatenate([near[facing], np.asarray(hit, dtype=np.int64)]))


@stage("mark", weigh=lambda faces: 0 if faces is None else len(faces))
def _faces(painted: Painted | None, box: Box | None, model: Keyed[Mesh]) -> Faces | None:
    """The faces of the model that a mark covers; None where it cannot be told."""
    mesh = model.value
    if box is not None:
        return _boxed(mesh, box)
    if painted is None:
        return None
    if painted.mesh == model.fingerprint:
        faces = unpacked(painted.faces)
        return faces if len(faces) == 0 or faces[-1] < len(mesh.faces) else None
    return carried_over(painted.trace, mesh)


def _boxed(mesh: Mesh, box: Box) -> Faces:
    middles = mesh.vertices[mesh.faces].mean(axis=1)
    inside = (middles >= np.array(box.low_mm)) & (middles <= np.array(box.high_mm))
    return np.flatnonzero(inside.all(axis=1))


def carried_over(trace: Trace, mesh: Mesh) -> Faces | None:
    """The faces of another mesh that a trace covers, by nearest points; none where too little of it lies on the surface.

    It is tried as it lies and, where that does not fit, moved and scaled from the old model's box to the new one's.
    """
    import igl

    points, normals = traced(trace)
    if len(points) == 0:
        return None
    low, high = mesh.bounds
    old_low, old_high = np.array(trace.low_mm), np.array(trace.high_mm)
    scale = (high - low) / np.maximum(old_high - old_low, 1e-9)
    for try_points, area in ((points, 1.0), (low + (points - old_low) * scale, float(np.median(scale)) ** 2)):
        squared, hit, _ = igl.point_mesh_squared_distance(
            np.ascontiguousarray(try_points), np.ascontiguousarray(mesh.vertices), np.ascontiguousarray(mesh.faces)
        )[:3]
        hit = np.asarray(hit, dtype=np.int64)
        facing = np.einsum("ij,ij->i", mesh.face_normals[hit], normals)
        good = (np.asarray(squared) < NEAR_MM**2) & (facing > FACING)
        if good.mean() >= FITTING:
            return _covered(mesh, try_points[good], normals[good], hit[good], trace.area_mm2 * area)
    return None


def _covered(mesh: Mesh, points: Points, normals: Points, hit: Faces, area: float) -> Faces:
    """Faces of which the points cover half, and small ones next to a point."""
    from scipy.spatial import cKDTree

    areas = mesh.face_areas
    covered = np.bincount(hit, minlength=len(areas)) * area >= 0.5 * areas
    small = np.flatnonzero((areas < 4 * area) & ~covered)
    if len(small):
        middles = mesh.vertices[mesh.faces[small]].mean(axis=1)
        away, nearest = cKDTree(points).query(middles, distance_upper_bound=1.1 * float(np.sqrt(area)))
        near = np.isfinite(away)
        facing = np.einsum("ij,ij->i", mesh.face_normals[small[near]], normals[nearest[near]]) > FACING
        covered[small[near][facing]] = True
    return np.flatnonzero(covered)


def places_of(mesh: Mesh, faces: Faces) -> Faces:
    """For every face of a mark the number of the place it belongs to: faces that share a corner are one place."""
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components

    corners = mesh.faces[faces]
    rows = np.repeat(np.arange(len(faces)), 3)
    size = len(faces) + len(mesh.vertices)
    graph = coo_matrix((np.ones(len(rows), np.int8), (rows, len(faces) + corners.ravel())), shape=(size, size))
    return np.asarray(connected_components(graph, directed=False)[1][: len(faces)], dtype=np.int64)


def _between(parts: Sequence[Part]) -> set[str]:
    """The partings that tell these pieces apart."""
    sides = [{m.parting: m.side for m in part.made} for part in parts]
    names = {name for own in sides for name in own}
    found = {n for n in names if len({own.get(n) for own in sides if n in own}) > 1}
    return found or names


def _lost(mark: Mark) -> Finding:
    return Finding(
        severity="look-at",
        code="mark-lost",
        station="divide",
        params={"case": "box" if mark.box else "painted", "mark": mark.label()},
        about=mark.id,
    )

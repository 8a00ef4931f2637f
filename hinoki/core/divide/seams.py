"""Seams: the lines on the model's outside where pieces meet, found on the pieces themselves.

Every triangle of a piece is known by the surface it came from, so a seam is where a triangle of the model borders one that a
parting cut. Each seam runs on both pieces, so its length is half of what is found.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from hashlib import blake2b

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import Part
from hinoki.core.geometry.equal_rows import different
from hinoki.core.geometry.lumps import lumps_of
from hinoki.core.geometry.mesh import Faces, Mesh, Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.prepared_model import Prepared
from hinoki.core.progress import Tell, along, quiet
from hinoki.core.stages import Keyed, stage

THIN_MM = 0.05
STEP_MM = 1.0
ON_MM = 1e-3
"""a point nearer to a patch than this lies on it"""


@dataclass(frozen=True)
class Seam:
    """The edges of a parting's seams, (n, 2, 3)."""

    ends: Points

    @property
    def fingerprint(self) -> object:
        """A hash of the edges."""
        return blake2b(np.ascontiguousarray(self.ends).tobytes(), digest_size=16).hexdigest()

    @property
    def length(self) -> float:
        """Length of the seam: half of its edges, since each runs on two pieces."""
        return float(np.linalg.norm(self.ends[:, 1] - self.ends[:, 0], axis=1).sum()) / 2

    def length_on(self, patch: Mesh | None) -> float:
        """Length of what of the seam runs over a patch of the model, told by points at most STEP_MM apart."""
        import igl

        if patch is None or len(self.ends) == 0:
            return 0.0
        lengths = np.linalg.norm(self.ends[:, 1] - self.ends[:, 0], axis=1)
        counts = np.maximum(1, np.ceil(lengths / STEP_MM)).astype(np.int64)
        owner = np.repeat(np.arange(len(counts)), counts)
        share = (np.arange(len(owner)) - np.repeat(np.cumsum(counts) - counts, counts) + 0.5) / counts[owner]
        points = self.ends[owner, 0] + share[:, None] * (self.ends[owner, 1] - self.ends[owner, 0])
        squared = igl.point_mesh_squared_distance(np.ascontiguousarray(points), patch.vertices, patch.faces)[0]
        on = np.asarray(squared) < ON_MM**2
        return float((lengths / counts)[owner][on].sum()) / 2


def seams_of(parts: Sequence[Part], outside: Faces, cache: Cache, tell: Tell = quiet) -> dict[str, Seam]:
    """The seams of every parting, by its name, on the faces of the model that are `outside` (see outer_faces)."""
    found: dict[str, list[Points]] = {}
    for part in along(parts, tell, "Drawing seams"):
        if not part.made:
            continue
        ends, faces, cuts = _edges(cache, part.body)
        shown = np.isin(faces, outside)
        for made in part.made:
            low, high = made.surfaces
            own = shown & (cuts >= low) & (cuts < high)
            if own.any():
                found.setdefault(made.parting, []).append(ends[own])
    return {name: Seam(np.concatenate(ends)) for name, ends in found.items()}


@stage("outer faces", weigh=len)
def outer_faces_of(ready: Prepared) -> Faces:
    """Those of a model as prepared."""
    return outer_faces(ready.mesh)


def outer_faces(mesh: Mesh) -> Faces:
    """Numbers of the faces of a closed surface that are no wall of a closed cavity."""
    count, own = lumps_of(mesh)
    if count == 1:
        return np.arange(len(mesh.faces))
    corner = mesh.vertices[mesh.faces[:, 0]]
    volumes = np.bincount(own, np.einsum("ij,ij->i", corner, mesh.face_vectors), minlength=count)
    return np.flatnonzero(volumes[own] > 0)


@stage("seams", weigh=lambda edges: len(edges[1]))
def _edges(body: Keyed[Solid]) -> tuple[Points, Faces, Faces]:
    """Edges (n, 2, 3) between a triangle of the model and one that was cut, the model's face and the cut surface of each."""
    solid = body.value
    mesh, source, surface = solid.mesh, solid.source_faces, solid.surfaces
    cut = source < 0
    at_cut = np.zeros(len(mesh.vertices), dtype=bool)
    at_cut[mesh.faces[cut].ravel()] = True
    near = np.flatnonzero(cut | (at_cut[mesh.faces].sum(axis=1) >= 2))
    faces = mesh.faces[near]
    start, end = faces.ravel(), np.roll(faces, -1, axis=1).ravel()
    code = np.minimum(start, end) * np.int64(len(mesh.vertices)) + np.maximum(start, end)
    order = np.argsort(code, kind="stable")
    owner = near[np.repeat(np.arange(len(near)), 3)[order]]
    code, start, end = code[order], start[order], end[order]
    pair = np.flatnonzero(code[1:] == code[:-1])
    one, two = owner[pair], owner[pair + 1]
    border = cut[one] != cut[two]
    pair, one, two = pair[border], one[border], two[border]
    own, other = np.where(cut[one], two, one), np.where(cut[one], one, two)
    ends = np.stack([mesh.vertices[start[pair]], mesh.vertices[end[pair]]], axis=1)
    return ends, source[own], surface[other]


def lines_of(ends: Points, within_mm: float = THIN_MM, tell: Tell = quiet) -> list[Points]:
    """Edges (n, 2, 3) as lines of points (m, 3), each edge once, thinned to `within_mm`; a closed line ends where it began."""
    steps = np.round(ends / 1e-3).astype(np.int64)
    corners = different(steps.reshape(-1, 3))
    flat = steps.reshape(-1, 3)[corners.first]
    pairs = np.sort(corners.number.reshape(-1, 2), axis=1)
    pairs = pairs[different(pairs).first]
    pairs = pairs[pairs[:, 0] != pairs[:, 1]]
    points: Points = np.asarray(flat * 1e-3, dtype=np.float64)
    return [points[_thinned(points[line], line, within_mm)] for line in along(_chained(pairs), tell, "Drawing seams")]


def _chained(pairs: Faces) -> list[Faces]:
    """Edges (n, 2) as chains of vertex numbers; a chain ends where other than two edges meet."""
    beside: dict[int, list[int]] = {}
    for a, b in pairs.tolist():
        beside.setdefault(a, []).append(b)
        beside.setdefault(b, []).append(a)
    chains = []
    ends = {v for v, to in beside.items() if len(to) != 2}
    for start in [*sorted(ends), *beside]:
        while beside[start]:
            line = [start]
            while beside[line[-1]]:
                here = line[-1]
                after = beside[here].pop()
                beside[after].remove(here)
                line.append(after)
                if after in ends or after == start:
                    break
            chains.append(np.array(line))
    return chains


def _thinned(points: Points, line: Faces, within_mm: float) -> Faces:
    """The numbers of `line` that are kept by the Ramer-Douglas-Peucker rule."""
    keep = np.zeros(len(line), dtype=bool)
    keep[[0, -1]] = True
    spans = [(0, len(line) - 1)]
    while spans:
        first, last = spans.pop()
        if last - first < 2:
            continue
        a, b = points[first], points[last]
        way = b - a
        length = float(np.linalg.norm(way))
        inner = points[first + 1 : last] - a
        away = np.linalg.norm(np.cross(inner, way / length) if length > 1e-9 else inner, axis=1)
        far = int(np.argmax(away))
        if away[far] > within_mm:
            middle = first + 1 + far
            keep[middle] = True
            spans += [(first, middle), (middle, last)]
    return line[keep]

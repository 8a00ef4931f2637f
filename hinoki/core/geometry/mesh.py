"""Triangle meshes as arrays: merging corners, sizes, closedness and units."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]
Faces = NDArray[np.int64]
Unit = Literal["mm", "cm", "m", "inch", "foot"]

MM_PER_UNIT: dict[Unit, float] = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "inch": 25.4, "foot": 304.8}


@dataclass(frozen=True)
class Mesh:
    """Indexed triangles: `vertices` (n, 3) float64 and `faces` (m, 3) int64, counter-clockwise seen from outside."""

    vertices: Points
    faces: Faces

    @cached_property
    def bounds(self) -> tuple[Points, Points]:
        """Lowest and highest corner, each (3,)."""
        return self.vertices.min(axis=0), self.vertices.max(axis=0)

    @cached_property
    def face_vectors(self) -> Points:
        """Cross products of two edges of every face, (m, 3): twice the area times the normal."""
        a, b, c = (self.vertices[self.faces[:, k]] for k in range(3))
        return np.asarray(np.cross(b - a, c - a), dtype=np.float64)

    @cached_property
    def face_areas(self) -> Points:
        """Area of every face, (m,), mm²."""
        return np.asarray(np.linalg.norm(self.face_vectors, axis=1) / 2)

    @cached_property
    def longest_sides(self) -> Points:
        """Of every face, (m,), mm."""
        corners = self.vertices[self.faces]
        return np.asarray(np.linalg.norm(np.roll(corners, -1, axis=1) - corners, axis=2).max(axis=1))

    @cached_property
    def face_heights(self) -> Points:
        """Height of every face over its longest side, (m,), mm: next to nothing where its corners lie in a line."""
        return np.asarray(2 * self.face_areas / np.maximum(self.longest_sides, 1e-30))

    @cached_property
    def face_normals(self) -> Points:
        """Outward unit normal of every face, (m, 3); zeros where a face has no area."""
        length = 2 * self.face_areas[:, None]
        unit = np.divide(self.face_vectors, length, out=np.zeros_like(self.face_vectors), where=length > 0)
        return np.asarray(unit, dtype=np.float64)

    @cached_property
    def face_boxes(self) -> tuple[Points, Points]:
        """Lowest and highest corner of every face's box, each (m, 3)."""
        a, b, c = (self.vertices[self.faces[:, k]] for k in range(3))
        return np.minimum(np.minimum(a, b), c), np.maximum(np.maximum(a, b), c)

    @cached_property
    def volume_mm3(self) -> float:
        """Signed volume by the divergence theorem; only meaningful on a closed surface."""
        corner = self.vertices[self.faces[:, 0]] - self.vertices.mean(axis=0)
        return float(np.einsum("ij,ij->", corner, self.face_vectors) / 6.0)

    def placed(self, matrix: Points) -> "Mesh":
        """The mesh under a (3, 4) matrix; faces are turned round where it mirrors."""
        faces = self.faces if np.linalg.det(matrix[:, :3]) > 0 else self.faces[:, ::-1]
        return Mesh(self.vertices @ matrix[:, :3].T + matrix[:, 3], faces)

    def only(self, faces: Faces) -> "Mesh":
        """Some faces, by their numbers, as a mesh of their own."""
        used, inverse = np.unique(self.faces[faces], return_inverse=True)
        return Mesh(self.vertices[used], inverse.reshape(-1, 3).astype(np.int64))

    @cached_property
    def edge_table(self) -> tuple[Faces, Faces, Faces]:
        """For every side of every face its undirected edge's number (3m,); for every edge its low and high vertex."""
        start = self.faces.ravel()
        end = np.roll(self.faces, -1, axis=1).ravel()
        low, high = np.minimum(start, end), np.maximum(start, end)
        count = np.int64(len(self.vertices) or 1)
        code, inverse = np.unique(low * count + high, return_inverse=True)
        return inverse.astype(np.int64), code // count, code % count

    @cached_property
    def edges(self) -> "EdgeState":
        """How the edges are shared."""
        return edge_state(self.faces, len(self.vertices))


def stacked(meshes: Sequence[Mesh]) -> Mesh:
    """Several meshes as one; their vertices stay apart."""
    if len(meshes) == 1:
        return meshes[0]
    starts = np.cumsum([0, *(len(m.vertices) for m in meshes[:-1])])
    faces = np.concatenate([m.faces + start for m, start in zip(meshes, starts, strict=True)])
    return Mesh(np.concatenate([m.vertices for m in meshes]), faces)


@dataclass(frozen=True)
class EdgeState:
    """Counts of edges by how faces share them; all zero on a closed, consistently turned surface."""

    open: int
    """edges with a face on one side only"""
    crowded: int
    """edges shared by more than two faces"""
    turned: int
    """edges whose two faces run the same way round: one of them is flipped"""

    @property
    def closed(self) -> bool:
        """Whether every edge has as many faces one way as the other."""
        return self.open == 0 and self.turned == 0


def edge_state(faces: Faces, vertex_count: int) -> EdgeState:
    """Count open, crowded and turned edges of `faces` (m, 3)."""
    start = faces.ravel()
    end = np.roll(faces, -1, axis=1).ravel()
    forward = start < end
    low, high = np.where(forward, start, end), np.where(forward, end, start)
    code = low * np.int64(vertex_count) + high
    order = np.argsort(code)
    code, signs = code[order], np.where(forward, 1, -1)[order]
    first = np.flatnonzero(np.concatenate(([True], code[1:] != code[:-1]))) if len(code) else np.zeros(0, np.int64)
    count = np.diff(np.append(first, len(code)))
    balance = np.add.reduceat(signs, first) if len(code) else np.zeros(0, np.int64)
    odd = count % 2 == 1
    return EdgeState(
        open=int(np.count_nonzero(odd)),
        crowded=int(np.count_nonzero(count > 2)),
        turned=int(np.count_nonzero(~odd & (balance != 0))),
    )


def merge_corners(corners: NDArray[np.float32]) -> Mesh:
    """Index a soup of triangles: `corners` (m, 3, 3) float32; equal corners become one vertex.

    Triangles with two equal corners have no area and are left out.
    """
    flat = np.ascontiguousarray(corners, dtype=np.float32).reshape(-1, 3) + np.float32(0.0)  # -0.0 becomes 0.0
    bits = flat.view(np.uint32).astype(np.uint64)
    code = (
        bits[:, 0] * np.uint64(0x9E3779B97F4A7C15)
        ^ bits[:, 1] * np.uint64(0xC2B2AE3D27D4EB4F)
        ^ bits[:, 2] * np.uint64(0x165667B19E3779F9)
    )
    first, inverse = _alike(code)
    if not np.array_equal(flat[first][inverse], flat):  # two different corners share a code: take the slow, sure way
        _, first, inverse = np.unique(flat, axis=0, return_index=True, return_inverse=True)
    return _without_collapsed(flat[first].astype(np.float64), inverse.reshape(-1, 3).astype(np.int64))


def _alike(code: NDArray[np.uint64]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """One index (k,) of each code that there is, in rising order of codes, and for every code (n,) which of these it is.

    As numpy's `unique`, which sorts so that equals keep their order; without that, sorting takes a fraction of the time.
    """
    order = np.argsort(code)
    rising = code[order]
    new = np.ones(len(code), dtype=bool)
    np.not_equal(rising[1:], rising[:-1], out=new[1:])
    which = np.empty(len(code), dtype=np.int64)
    which[order] = np.cumsum(new) - 1
    return order[new], which


_MIXED = np.array([0x9E3779B97F4A7C15, 0xC2B2AE3D27D4EB4F, 0x165667B19E3779F9], dtype=np.uint64)
"""odd numbers with about as many ones as zeros: rows of whole numbers times these, added up, are hardly ever equal by chance"""
LEAST_STEP_MM = np.float32(1e-6)
"""corners that would fall together are kept this far apart, or by the last bit where that is more"""


def rounded_to_single(mesh: Mesh) -> Mesh:
    """The mesh as a file with 32-bit coordinates will hold it.

    A closed surface stays closed for whoever tells corners by their bits: corners that would fall together are kept a bit apart
    (a few nanometres to a few hundredths of a micrometre), so that no face collapses and no edge is shared by four. Of an open
    one equal corners are merged and collapsed faces left out.
    """
    rounded = mesh.vertices.astype(np.float32) + np.float32(0.0)  # -0.0 becomes 0.0
    if not _any_alike(rounded):
        return Mesh(rounded.astype(np.float64), mesh.faces)
    order = np.lexsort(rounded.T)
    same = np.concatenate([[False], (np.diff(rounded[order], axis=0) == 0).all(axis=1)]) if len(order) else np.zeros(0, bool)
    if not same.any():
        return Mesh(rounded.astype(np.float64), mesh.faces)
    if not mesh.edges.closed:
        return merge_corners(rounded[mesh.faces])
    taken = {corner.tobytes() for corner in rounded}
    for k in np.sort(order[same]):
        rounded[k] = _free_beside(rounded[k], taken)
        taken.add(rounded[k].tobytes())
    return Mesh(rounded.astype(np.float64), mesh.faces)


def box_corners(low: Points, high: Points) -> Points:
    """The eight corners (8, 3) of the upright box between two of them."""
    return np.array(np.meshgrid(*zip(low, high, strict=True))).reshape(3, -1).T


def placed_box(low: Points, high: Points, matrix: Points) -> tuple[Points, Points]:
    """The lowest and the highest corner (3,) of an upright box under a (3, 4) matrix."""
    corners = box_corners(low, high) @ matrix[:, :3].T + matrix[:, 3]
    return corners.min(axis=0), corners.max(axis=0)


def row_codes(rows: NDArray[np.uint64]) -> NDArray[np.uint64]:
    """A number for each row (n, 3), the same for equal rows and hardly ever for others."""
    return np.asarray((rows * _MIXED).sum(axis=1, dtype=np.uint64))


def _any_alike(rounded: NDArray[np.float32]) -> bool:
    """Whether any two corners (n, 3) may be the same. Numbers made of their bits are sorted, which takes a third of the time
    that sorting corners does; equal corners have equal numbers, others hardly ever."""
    codes = np.sort(row_codes(rounded.view(np.uint32).astype(np.uint64)))
    return bool((codes[1:] == codes[:-1]).any())


def _free_beside(corner: NDArray[np.float32], taken: set[bytes]) -> NDArray[np.float32]:
    """The nearest place of 32-bit coordinates that is not taken, by steps along X, Y and Z in turn."""
    for steps in itertools.count(1):
        for axis, way in itertools.product(range(3), (1, -1)):
            there = corner.copy()
            there[axis] += way * steps * max(np.spacing(np.abs(there[axis])), LEAST_STEP_MM)
            if there.tobytes() not in taken:
                return there
    raise AssertionError("there is always a free place")


def _without_collapsed(vertices: Points, faces: Faces) -> Mesh:
    keep = (faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])
    return Mesh(vertices, faces[keep])

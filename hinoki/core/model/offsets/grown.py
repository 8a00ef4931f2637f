"""Bodies made larger: every face moved out by a distance of its own, and bodies drawn out along a way."""

import numpy as np

from hinoki.core.geometry.frames import turned_to
from hinoki.core.geometry.lumps import lumps_of
from hinoki.core.geometry.mesh import Faces, Mesh, Points
from hinoki.core.geometry.solid import Solid

FARTHEST = 8.0
"""a corner moves at most this many times as far as its faces: edges sharper than 14° are cut off"""
EDGE_ON = 1e-6
"""faces whose normal is nearer to square with a way than this are seen edge on"""
SAME_SHARE = 1e-6
LEAST_MM = 1e-3
"""what reaches over the plane already is drawn out by this"""


def grown(mesh: Mesh, by_mm: Points) -> Mesh:
    """A closed mesh with every face moved outwards by its own distance `by_mm` (m,), its corners where the moved planes meet.

    Exact wherever up to three planes meet in a corner, and along curved surfaces to their chords; where more planes meet, the
    corner is nearest to all of them by least squares. Features narrower than the distance may fold over.
    """
    normals, corners = mesh.face_normals, mesh.faces
    weights = _angles(mesh)
    matrix = np.zeros((len(mesh.vertices), 3, 3))
    right = np.zeros((len(mesh.vertices), 3))
    for k in range(3):
        squares = weights[:, k, None, None] * normals[:, :, None] * normals[:, None, :]
        np.add.at(matrix, corners[:, k], squares)
        np.add.at(right, corners[:, k], weights[:, k, None] * normals * by_mm[:, None])
    values, axes = np.linalg.eigh(matrix)
    keep = values > 1e-4 * values[:, -1:]
    turned = np.einsum("nji,nj->ni", axes, right)
    shift = np.einsum("nij,nj->ni", axes, np.where(keep, turned / np.where(keep, values, 1.0), 0.0))
    most = np.zeros(len(mesh.vertices))
    for k in range(3):
        np.maximum.at(most, corners[:, k], np.abs(by_mm))
    length = np.linalg.norm(shift, axis=1)
    far = length > FARTHEST * most
    shift[far] *= (FARTHEST * most[far] / length[far])[:, None]
    return Mesh(mesh.vertices + shift, mesh.faces)


def _angles(mesh: Mesh) -> Points:
    """The angle of every face at each of its corners, (m, 3)."""
    at = mesh.vertices[mesh.faces]
    one, two = np.roll(at, -1, axis=1) - at, np.roll(at, 1, axis=1) - at
    lengths = np.linalg.norm(one, axis=2) * np.linalg.norm(two, axis=2)
    cosine = np.einsum("mij,mij->mi", one, two) / np.maximum(lengths, 1e-30)
    return np.asarray(np.arccos(np.clip(cosine, -1.0, 1.0)))


def drawn_out(solid: Solid, way: Points, top: float) -> Solid:
    """All that a body passes through when it moves along the unit vector `way` (3,) until nothing of it is below the plane
    way · x = top.

    The faces that look ahead are drawn out to that plane, patch by patch; a patch that lies over itself in halves.
    """
    mesh = solid.mesh
    facing = np.flatnonzero(mesh.face_normals @ way > EDGE_ON)
    if not len(facing):
        return solid
    patch = mesh.only(facing)
    heights = patch.vertices @ way
    patch = Mesh(patch.vertices, patch.faces[(heights[patch.faces] < top).any(axis=1)])
    if not len(patch.faces):
        return solid
    flat = patch.vertices @ turned_to(way)[:, :2]
    high = patch.vertices + np.maximum(top - heights, LEAST_MM)[:, None] * way
    count, lump = lumps_of(patch)
    columns = [_columns(patch, np.flatnonzero(lump == k), flat, heights, high) for k in range(count)]
    return Solid.united([solid, *(column for each in columns for column in each)])


def _columns(patch: Mesh, own: Faces, flat: Points, heights: Points, high: Points) -> list[Solid]:
    """The room over some faces of a patch: one body where they lie nowhere over each other, else those of two halves."""
    if len(own) > 1 and (_pinched(patch.faces[own]) or _lie_over_each_other(flat[patch.faces[own]])):
        level = heights[patch.faces[own]].mean(axis=1)
        order = own[np.argsort(level, kind="stable")]
        half = len(order) // 2
        return [c for each in (order[:half], order[half:]) for c in _columns(patch, np.sort(each), flat, heights, high)]
    used, faces = np.unique(patch.faces[own], return_inverse=True)
    faces = faces.reshape(-1, 3)
    count, rim = len(used), _rim(faces)
    sides = [
        np.column_stack([rim[:, 0], rim[:, 1], rim[:, 1] + count]),
        np.column_stack([rim[:, 0], rim[:, 1] + count, rim[:, 0] + count]),
    ]
    every = np.concatenate([faces[:, ::-1], faces + count, *sides]).astype(np.int64)
    return [Solid.from_mesh(Mesh(np.concatenate([patch.vertices[used], high[used]]), every))]


def _pinched(faces: Faces) -> bool:
    """Whether the rim of faces comes to one corner twice."""
    starts = _rim(faces)[:, 0]
    return len(np.unique(starts)) < len(starts)


def _lie_over_each_other(triangles: Points) -> bool:
    """Whether triangles (m, 3, 2) share more than their sides."""
    import shapely

    each = shapely.polygons(triangles)
    area = float(shapely.union_all(each).area)
    return float(shapely.area(each).sum()) - area > SAME_SHARE * max(area, 1.0)


def _rim(faces: Faces) -> Faces:
    """Directed edges (n, 2) that only one face has, as that face runs."""
    start, end = faces.ravel(), np.roll(faces, -1, axis=1).ravel()
    size = int(faces.max()) + 1
    codes, back = start * size + end, end * size + start
    alone = ~np.isin(codes, back)
    return np.column_stack([start[alone], end[alone]])

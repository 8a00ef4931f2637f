"""Display meshes: positions, normals that keep sharp edges sharp, and indices, as one small binary buffer.

Layout, little-endian: `HNK1`, uint32 vertices, uint32 triangles, float32 positions (n, 3), float32 normals (n, 3),
uint32 indices (m, 3). Only for the screen: computation and export never use a thinned mesh.
"""

import math

import numpy as np

from hinoki.core.geometry.mesh import Mesh
from hinoki.core.model.health.thickness import thickness

MAGIC = b"HNK1"
MOST_TRIANGLES = 400_000
CREASE_DEG = 32.0


def display_buffer(mesh: Mesh) -> bytes:
    """The buffer for `mesh`, thinned when it has more than MOST_TRIANGLES."""
    positions, normals, indices = display_arrays(mesh)
    head = MAGIC + len(positions).to_bytes(4, "little") + len(indices).to_bytes(4, "little")
    return head + positions.tobytes() + normals.tobytes() + indices.tobytes()


def thickness_buffer(mesh: Mesh, positions: np.ndarray, indices: np.ndarray) -> bytes:
    """Thickness of `mesh` at every corner of its display mesh, float32 (n,), in mm; 1e9 where nothing faces it.

    It is measured under the middle of every drawn triangle, since a ray from a corner would run along the next side, and
    averaged over the triangles of a corner.
    """
    shown = Mesh(positions.astype(np.float64), indices.astype(np.int64))
    under = thickness(mesh, shown.vertices[shown.faces].mean(axis=1), shown.face_normals)
    return _at_corners(under, shown.faces, len(positions))


def _at_corners(values: np.ndarray, faces: np.ndarray, count: int) -> bytes:
    """What is known of faces (m,), averaged over those of each corner, float32 (count,); 1e9 where nothing is known."""
    known = np.isfinite(values)
    corners = faces[known].ravel()
    total = np.bincount(corners, weights=np.repeat(values[known], 3), minlength=count)
    often = np.bincount(corners, minlength=count)
    return np.where(often > 0, total / np.maximum(often, 1), 1e9).astype("<f4").tobytes()


def gaps_buffer(surface: Mesh, gaps: np.ndarray) -> bytes:
    """Gaps (m,) over the faces of `surface` at every corner of its display mesh, float32 (n,), in mm, averaged over the faces
    of a corner; negative where another body lies there already, 1e9 where nothing looks at it."""
    positions, _, indices = display_arrays(surface)
    if len(indices) != len(surface.faces):  # thinned: of every drawn face the gap of the nearest
        from scipy.spatial import cKDTree

        drawn = positions.astype(np.float64)[indices].mean(axis=1)
        gaps = gaps[cKDTree(surface.vertices[surface.faces].mean(axis=1)).query(drawn)[1]]
    return _at_corners(gaps, indices, len(positions))


def display_arrays(mesh: Mesh) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Positions (n, 3), normals (n, 3) and indices (m, 3) of the display mesh, always the same for the same `mesh`."""
    import fast_simplification

    if len(mesh.faces) > MOST_TRIANGLES:
        vertices, faces = fast_simplification.simplify(
            mesh.vertices.astype(np.float32), mesh.faces.astype(np.uint32), target_count=MOST_TRIANGLES
        )
        mesh = Mesh(vertices.astype(np.float64), faces.astype(np.int64))
    return _creased(mesh)


def _creased(mesh: Mesh) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Vertices split where a face turns away from the smooth normal of its corner by more than CREASE_DEG."""
    vectors, flat = mesh.face_vectors, mesh.face_normals
    smooth = np.zeros_like(mesh.vertices)
    for corner in range(3):
        for axis in range(3):
            smooth[:, axis] += np.bincount(mesh.faces[:, corner], vectors[:, axis], minlength=len(smooth))
    norm = np.linalg.norm(smooth, axis=1, keepdims=True)
    smooth = np.divide(smooth, norm, out=np.zeros_like(smooth), where=norm > 0)
    corners = mesh.faces.ravel()
    own = np.repeat(flat, 3, axis=0)
    sharp = np.einsum("ij,ij->i", smooth[corners], own) < math.cos(math.radians(CREASE_DEG))
    indices = corners.copy()
    indices[sharp] = len(mesh.vertices) + np.arange(int(sharp.sum()))
    positions = np.concatenate([mesh.vertices, mesh.vertices[corners[sharp]]]).astype("<f4")
    normals = np.concatenate([smooth, own[sharp]]).astype("<f4")
    return positions, normals, indices.reshape(-1, 3).astype("<u4")

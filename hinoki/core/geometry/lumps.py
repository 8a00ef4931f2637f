"""Lumps of a surface: the parts of it that hang together by their edges."""

import numpy as np

from hinoki.core.geometry.mesh import Faces, Mesh


def directed_edges(faces: Faces) -> tuple[Faces, Faces, Faces]:
    """(start, end, face) of every side of every face, each (3m,)."""
    start = faces.ravel()
    end = np.roll(faces, -1, axis=1).ravel()
    return start, end, np.repeat(np.arange(len(faces)), 3)


SLOPE = np.array([0.5403023, 0.3012487, 0.7856741])
"""a direction along which corners of hardly any model lie level"""


def at_most_lumps(mesh: Mesh) -> int:
    """How many lumps there can be at the most, found in a fraction of the time: each has a corner lower than all beside it."""
    heights = mesh.vertices @ SLOPE
    corners = [mesh.faces[:, k] for k in range(3)]
    a, b, c = (heights[own] for own in corners)
    low = np.minimum(np.minimum(a, b), c)
    lowest = np.zeros(len(heights), dtype=bool)
    lowest[mesh.faces.ravel()] = True
    for own, high in zip(corners, (a, b, c), strict=True):
        lowest[own[high > low]] = False
    return int(lowest.sum())


def lumps_of(mesh: Mesh) -> tuple[int, Faces]:
    """How many lumps the surface has, and each face's lump, low numbers for the lumps that come first."""
    if at_most_lumps(mesh) == 1:
        return 1, np.zeros(len(mesh.faces), dtype=np.int64)
    from scipy.sparse import csr_matrix
    from scipy.sparse.csgraph import connected_components

    # corners first, then faces, each tied to its three corners: rows of a matrix that needs no sorting
    corners, faces = len(mesh.vertices), len(mesh.faces)
    rows = np.zeros(corners + faces + 1, dtype=np.int32)
    rows[corners:] = 3 * np.arange(faces + 1)
    ties = np.broadcast_to(np.float64(1), 3 * faces), mesh.faces.ravel().astype(np.int32), rows
    found, label = connected_components(csr_matrix(ties, shape=(corners + faces, corners + faces)), directed=False)
    own = label[corners:]
    used = np.bincount(own, minlength=found) > 0
    return int(used.sum()), (np.cumsum(used) - 1)[own].astype(np.int64)

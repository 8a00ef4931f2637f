"""Lumps of a surface: the parts of it that hang together by their edges."""

import numpy as np

from hinoki.core.geometry.mesh import Faces, Mesh


def directed_edges(faces: Faces) -> tuple[Faces, Faces, Faces]:
    """(start, end, face) of every side of every face, each (3m,)."""
    start = faces.ravel()
    end = np.roll(faces, -1, axis=1).ravel()
    return start, end, np.repeat(np.arange(len(faces)), 3)


def lumps_of(mesh: Mesh) -> tuple[int, Faces]:
    """How many lumps the surface has, and each face's lump, low numbers for the lumps that come first."""
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components

    start, end, _ = directed_edges(mesh.faces)
    count = len(mesh.vertices)
    graph = coo_matrix((np.ones(len(start), dtype=np.int8), (start, end)), shape=(count, count))
    _, label = connected_components(graph, directed=False)
    _, own = np.unique(label[mesh.faces[:, 0]], return_inverse=True)
    return int(own.max()) + 1 if len(own) else 0, own.astype(np.int64)

"""The axis that a picked place means: of the round wall it lies on, or of a circle near it in a flat face."""

from dataclasses import dataclass

import numpy as np

from hinoki.core.errors import BadPlan
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.solid import Solid

SMOOTH_DEG = 35.0
"""faces that meet at less are of one round wall"""
ROUND_SHARE = 0.02
ON_MM = 0.05


@dataclass(frozen=True)
class AxisFound:
    """A point (3,) of an axis in the middle of its wall, its direction (3,), the diameter of the wall and its length along the
    axis, mm."""

    at: Points
    along: Points
    diameter_mm: float
    long_mm: float


def axis_at(body: Solid, at: Points) -> AxisFound:
    """The axis of the round wall at a point (3,) of the surface. Raises BadPlan where it is not round there."""
    import igl

    mesh = body.mesh
    _, (face,), _ = igl.point_mesh_squared_distance(np.ascontiguousarray(at[None]), mesh.vertices, mesh.faces)
    own = _smooth(mesh, int(face))
    normals, areas = mesh.face_normals[own], mesh.face_areas[own]
    _, directions = np.linalg.eigh(np.einsum("i,ij,ik->jk", areas, normals, normals))
    along = directions[:, 0]
    points = mesh.vertices[np.unique(mesh.faces[own])]
    u, v = directions[:, 1], directions[:, 2]
    x, y = points @ u, points @ v
    (cx, cy, c), *_ = np.linalg.lstsq(np.column_stack([2 * x, 2 * y, np.ones(len(x))]), x**2 + y**2, rcond=None)
    radius = float(np.sqrt(max(0.0, c + cx**2 + cy**2)))
    radii = np.hypot(x - cx, y - cy)
    flat = float(np.abs(normals @ along).max()) > 0.1
    if len(own) < 6 or flat or radius <= 0 or float(np.abs(radii - radius).max()) > max(ROUND_SHARE * radius, ON_MM):
        raise BadPlan("The surface is not round there. Click the wall of a bore, or of an axle.", "at_mm")
    heights = points @ along
    middle = cx * u + cy * v + (heights.min() + heights.max()) / 2 * along
    k = int(np.argmax(np.abs(along)))
    return AxisFound(middle, along * np.sign(along[k]), 2 * radius, float(np.ptp(heights)))


def _smooth(mesh: Mesh, face: int) -> "np.ndarray":
    """The faces that hang together with one without a sharp edge between them."""
    from scipy.sparse import coo_array
    from scipy.sparse.csgraph import connected_components

    edges = np.sort(mesh.faces[:, [[0, 1], [1, 2], [2, 0]]].reshape(-1, 2), axis=1)
    order = np.lexsort(edges.T[::-1])
    same = (edges[order][:-1] == edges[order][1:]).all(axis=1)
    one, two = order[:-1][same] // 3, order[1:][same] // 3
    smooth = np.einsum("ij,ij->i", mesh.face_normals[one], mesh.face_normals[two]) > np.cos(np.radians(SMOOTH_DEG))
    count = len(mesh.faces)
    links = coo_array((np.ones(int(smooth.sum())), (one[smooth], two[smooth])), shape=(count, count))
    _, parts = connected_components(links, directed=False)
    return np.flatnonzero(parts == parts[face])

"""What a repair keeps of the surface that is seen from outside: the measure by which its means are judged."""

from dataclasses import dataclass

import numpy as np

from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.raycast import Rays
from hinoki.core.geometry.rotations import spread_over_sphere

VIEWS = 32
"""directions from which the surface is looked at"""
ACROSS = 64
"""rays across the model in each of them, each way"""
WITHIN_SHARE, LEAST_WITHIN_MM = 0.002, 0.1
"""what is kept lies within this share of the model's length, and at least so near, of where it was"""
MOST_LOST = 0.01
"""a repair that loses more of what is seen is none to recommend"""


@dataclass(frozen=True)
class Lost:
    """The share of the surface seen from outside that is no longer where it was, and a place (3,) where it is furthest off."""

    share: float
    at_mm: tuple[float, float, float]

    @property
    def too_much(self) -> bool:
        """Whether it is more than any repair should lose."""
        return self.share > MOST_LOST


def seen_from_outside(mesh: Mesh) -> Points:
    """Points (n, 3) of the surface that straight looks from outside meet first, evenly over the views."""
    rays = Rays(mesh)
    low, high = mesh.bounds
    middle, reach = (low + high) / 2, float(np.linalg.norm(high - low)) / 2 * 1.01
    at = (np.arange(ACROSS) + 0.5) / ACROSS * 2 - 1
    across, along = (a.ravel() * reach for a in np.meshgrid(at, at))
    found = []
    for way in spread_over_sphere(VIEWS):
        side = np.cross(way, np.eye(3)[int(np.argmin(np.abs(way)))])
        side /= np.linalg.norm(side)
        up = np.cross(way, side)
        starts = middle - 2 * reach * way + across[:, None] * side + along[:, None] * up
        distance, face = rays.first(starts, np.broadcast_to(way, starts.shape))
        met = face >= 0
        found.append(starts[met] + distance[met, None] * way)
    return np.concatenate(found)


def lost(seen: Points, after: Mesh, across_mm: float) -> Lost:
    """How much of the points `seen` (n, 3) of a surface is not on the surface `after`; `across_mm` is the model's length."""
    import igl

    if len(seen) == 0 or len(after.faces) == 0:
        return Lost(1.0 if len(seen) else 0.0, (0.0, 0.0, 0.0))
    squared = igl.point_mesh_squared_distance(np.ascontiguousarray(seen), after.vertices, after.faces)[0]
    off = np.sqrt(np.maximum(np.asarray(squared), 0))
    x, y, z = (float(v) for v in seen[int(np.argmax(off))])
    return Lost(float((off > max(LEAST_WITHIN_MM, WITHIN_SHARE * across_mm)).mean()), (x, y, z))

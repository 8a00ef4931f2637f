"""Directions and the turns between them."""

import numpy as np

from hinoki.core.mesh import Points


def turn_down(down: Points) -> Points:
    """(3, 3) rotation that brings the unit vector `down` to −Z by the shortest way."""
    if down[2] < -1 + 1e-12:
        return np.eye(3)
    if down[2] > 1 - 1e-12:
        return np.diag([1.0, -1.0, -1.0])
    axis = np.cross(down, [0.0, 0.0, -1.0])
    sine, cosine = float(np.linalg.norm(axis)), float(-down[2])
    k = axis / sine
    skew = np.array([[0, -k[2], k[1]], [k[2], 0, -k[0]], [-k[1], k[0], 0]])
    return np.asarray(np.eye(3) + sine * skew + (1 - cosine) * (skew @ skew))

"""Directions and the turns between them."""

import numpy as np

from hinoki.core.geometry.mesh import Points


def turn_down(down: Points) -> Points:
    """(3, 3) rotation that brings the unit vector `down` to −Z by the shortest way."""
    return np.asarray(turns_down(np.asarray(down, dtype=np.float64)[None])[0])


def turns_down(downs: Points) -> Points:
    """(n, 3, 3) rotations that bring each of the unit vectors `downs` (n, 3) to −Z by the shortest way (Rodrigues)."""
    x, y, z = downs.T
    sine = np.hypot(x, y)
    upright = np.abs(z) > 1 - 1e-12
    with np.errstate(invalid="ignore", divide="ignore"):
        kx, ky = np.where(upright, (np.ones_like(x), np.zeros_like(x)), np.array([-y, x]) / sine)
    sine = np.where(upright, 0.0, sine)
    rest = np.where(upright, 1 + np.sign(z), 1 + z)  # one less the cosine
    turns = np.empty((len(downs), 3, 3))
    turns[:, 0] = np.column_stack([1 - rest * ky * ky, rest * kx * ky, sine * ky])
    turns[:, 1] = np.column_stack([rest * kx * ky, 1 - rest * kx * kx, -sine * kx])
    turns[:, 2] = np.column_stack([-sine * ky, sine * kx, 1 - rest])
    return turns

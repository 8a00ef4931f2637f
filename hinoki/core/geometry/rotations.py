"""Directions and the turns between them."""

from collections.abc import Sequence

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


SPREAD = 640
"""directions spread evenly over the sphere"""


AROUND = 8


def spread_over_sphere(count: int = SPREAD) -> Points:
    """Unit vectors (count, 3), evenly spread: a spiral in steps of the golden angle (Fibonacci lattice, Swinbank 2006)."""
    k = np.arange(count) + 0.5
    z = 1 - 2 * k / count
    turn = np.pi * (3 - np.sqrt(5)) * k
    r = np.sqrt(1 - z**2)
    return np.column_stack([r * np.cos(turn), r * np.sin(turn), z])


def around(down: Points, degrees: float) -> Points:
    """Directions (AROUND, 3) on a cone about another."""
    side = np.cross(down, [1.0, 0, 0] if abs(down[0]) < 0.9 else [0, 1.0, 0])
    side = side / np.linalg.norm(side)
    other = np.cross(down, side)
    turn = 2 * np.pi * np.arange(AROUND) / AROUND
    lean = np.radians(degrees)
    ring = np.cos(turn)[:, None] * side + np.sin(turn)[:, None] * other
    return np.asarray(np.cos(lean) * down + np.sin(lean) * ring)


def turned_about_axes(degrees: Sequence[float]) -> Points:
    """(3, 3) turning about X, then Y, then Z, each of the fixed axes."""
    turn = np.eye(3)
    for axis, angle in enumerate(degrees):
        c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))
        if angle % 90 == 0:  # exactly square
            c, s = round(c), round(s)
        i, j = (axis + 1) % 3, (axis + 2) % 3
        about = np.eye(3)
        about[i, i] = about[j, j] = c
        about[i, j], about[j, i] = -s, s
        turn = about @ turn
    return turn


def degrees_about_axes(turn: Points) -> Points:
    """The degrees (3,) about X, then Y, then Z that make up a turn (3, 3); where Y is square, X is nought.

    Source: Slabaugh, “Computing Euler angles from a rotation matrix” (1999), from memory.
    """
    side = float(np.clip(-turn[2, 0], -1.0, 1.0))
    if abs(side) > 1 - 1e-12:  # X and Z turn about the same line
        return np.array([0.0, np.copysign(90.0, side), np.degrees(np.arctan2(-turn[0, 1], turn[1, 1]))])
    x, z = np.arctan2(turn[2, 1], turn[2, 2]), np.arctan2(turn[1, 0], turn[0, 0])
    return np.degrees([x, np.arcsin(side), z])

"""Directions in which a piece may look down on the bed."""

from collections.abc import Sequence

import numpy as np

from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.rotations import spread_over_sphere
from hinoki.core.orient.surface import Surface

MOST_FLATS = 24
LEAST_FLAT = 0.002
"""a flat face counts from this share of the hull's surface on"""
SAME = 1 - 1e-6
CLOSE_DEG = (4.0, 2.0, 1.0)
"""how far a refined direction moves, step by step"""


def candidates(surface: Surface, mating: Sequence[Points] = ()) -> list[tuple[Points, str]]:
    """As it stands, mating faces, flat faces of the piece that its hull rests on, axes, then a fine spread; no two alike."""
    options: list[tuple[Points, str]] = [(np.array([0.0, 0.0, -1.0]), "as it stands")]
    options += [(np.asarray(n, dtype=np.float64), "mating face") for n in mating]
    options += [(n, "flat face") for n in _flats(surface)]
    for axis, name in enumerate("XYZ"):
        options += [(np.eye(3)[axis] * sign, f"{name} {'down' if sign > 0 else 'up'}") for sign in (-1.0, 1.0)]
    kept: list[tuple[Points, str]] = []
    for down, what in options:
        if all(float(down @ other) < SAME for other, _ in kept):
            kept.append((down, what))
    named = np.array([down for down, _ in kept])
    fine = spread_over_sphere()
    free = (fine @ named.T).max(axis=1) < np.cos(np.radians(1.0))
    return kept + [(down, "leaning") for down in fine[free]]


def _flats(surface: Surface) -> list[Points]:
    vectors = surface.hull.face_vectors
    length = np.linalg.norm(vectors, axis=1)
    keep = length > 0
    normals = vectors[keep] / length[keep, None]
    codes, first, inverse = np.unique(np.round(normals, 3) @ [1e6, 1e3, 1.0], return_index=True, return_inverse=True)
    areas = np.bincount(inverse, weights=length[keep] / 2, minlength=len(codes))
    big = np.argsort(-areas, kind="stable")[:MOST_FLATS]
    return [normals[first[k]] for k in big if areas[k] >= LEAST_FLAT * float(length.sum() / 2)]

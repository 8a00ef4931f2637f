"""Which pieces are the same shape, or each other's mirror image: they should lie alike."""

from dataclasses import dataclass

import numpy as np

from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid

SAME = 1e-3
"""share by which volume and surface may differ"""
NEAR_MM = 0.05
SAMPLES = 400
FOLDS = (2, 3, 4, 5, 6, 8, 10, 12)
"""parts of a ring that a maker divides it into"""


@dataclass(frozen=True)
class Shape:
    """What tells shapes apart quickly, and corners of the surface about the middle."""

    volume_mm3: float
    area_mm2: float
    spread: Points
    """mean square distance of the corners along the principal axes, (3,)"""
    axes: Points
    """(3, 3), one a row"""
    corners: Points

    @classmethod
    def of(cls, solid: Solid) -> "Shape":
        """Of a solid."""
        mesh = solid.mesh
        area = float(mesh.face_areas.sum())
        corners = mesh.vertices - solid.centre_of_mass
        spread, axes = np.linalg.eigh(corners.T @ corners / len(corners))
        return cls(solid.volume_mm3, area, spread, axes.T, corners)

    def may_be(self, other: "Shape") -> bool:
        """Whether the two may be alike."""
        return (
            bool(np.isclose(self.volume_mm3, other.volume_mm3, rtol=SAME))
            and bool(np.isclose(self.area_mm2, other.area_mm2, rtol=SAME))
            and bool(np.allclose(self.spread, other.spread, rtol=5e-3, atol=0.01))
        )


def turn_between(shape: Shape, other: Shape) -> Points | None:
    """The turn (3, 3), a mirroring where its determinant is −1, that brings one shape onto another about their centres of
    mass; None where they are not alike. Turns in quarters, in the steps of divided rings, mirrorings, and those that bring
    principal axes together are tried."""
    from scipy.spatial import cKDTree

    if not shape.may_be(other):
        return None
    tree = cKDTree(other.corners)
    step = max(1, len(shape.corners) // SAMPLES)
    some = shape.corners[::step]
    for turn in _turns(shape, other):
        away, _ = tree.query(some @ turn.T, distance_upper_bound=NEAR_MM)
        if np.isfinite(away).all():
            return turn
    return None


def _turns(shape: Shape, other: Shape) -> list[Points]:
    signs = [np.diag([a, b, c]) for a in (1.0, -1.0) for b in (1.0, -1.0) for c in (1.0, -1.0)]
    turns = sorted(signs, key=lambda s: int((np.diag(s) < 0).sum()))
    for fold in FOLDS:
        for k in range(1, fold):
            turn = 2 * np.pi * k / fold
            c, s = np.cos(turn), np.sin(turn)
            for axis in (2, 0, 1):
                spin = np.eye(3)
                i, j = (axis + 1) % 3, (axis + 2) % 3
                spin[i, i] = spin[j, j] = c
                spin[i, j], spin[j, i] = -s, s
                turns += [spin, spin @ np.diag([-1.0, 1.0, 1.0])]
    turns += [other.axes.T @ sign @ shape.axes for sign in signs]
    return turns

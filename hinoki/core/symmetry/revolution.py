"""The axis of a body that is mostly round: the line that all its normals meet.

Pottmann & Randrup 1998, Computing 60 (rotational and helical surface approximation): a line through p along n meets an axis
when n·c̄ + (p × n)·c = 0; the best (c, c̄) is the eigenvector of the least eigenvalue of a 6 × 6 matrix. Normals that miss it
count for less in the next round, so that handles and ornaments do not turn it.
"""

from dataclasses import dataclass

import numpy as np

from hinoki.core.geometry.mesh import Mesh, Points

ROUNDS = 12
MEETS = 0.03
"""how near a normal must pass the axis, as a share of the body's size"""
LEAST_SHARE = 0.7
"""share of the surface whose normals must meet the axis"""
LEAST_ROUND = 0.25
"""share of the surface that must look neither along the axis nor be flat to count as round"""


@dataclass(frozen=True)
class Axis:
    """An axis: a point (3,) on it, its direction (3,), and the share of the surface that is round about it."""

    point: Points
    direction: Points
    share: float


def axis_of_revolution(mesh: Mesh) -> Axis | None:
    """The axis about which most of a surface is round; none where there is no such axis."""
    areas = mesh.face_areas
    good = areas > 0
    middles, normals, areas = mesh.vertices[mesh.faces[good]].mean(axis=1), mesh.face_normals[good], areas[good]
    centre = np.average(middles, axis=0, weights=areas)
    size = float(np.linalg.norm(np.ptp(middles, axis=0)))
    points = (middles - centre) / size
    rows = np.hstack([normals, np.cross(points, normals)])  # (c̄, c)
    weights = areas / areas.sum()
    best: tuple[Points, Points] | None = None
    for _ in range(ROUNDS):
        matrix = (rows * weights[:, None]).T @ rows
        # normed by the direction's length: the generalised problem, solved by eliminating c̄
        a, b, d = matrix[:3, :3], matrix[:3, 3:], matrix[3:, 3:]
        inverse = np.linalg.pinv(a + 1e-9 * np.eye(3))
        _, vectors = np.linalg.eigh(d - b.T @ inverse @ b)
        direction = vectors[:, 0]
        moment = -inverse @ b @ direction
        moment = moment - direction * (moment @ direction)  # an axis without pitch
        best = direction, moment
        misses = np.abs(rows @ np.concatenate([moment, direction]))
        weights = areas / (1 + (misses / MEETS) ** 2)
        weights = weights / weights.sum()
    if best is None:
        return None
    direction, moment = best
    across = np.linalg.norm(np.cross(normals, direction), axis=1)
    misses = np.abs(rows @ np.concatenate([moment, direction]))
    meets = (misses < MEETS * np.maximum(across, 0.05)) | (across < 0.05)
    share = float(areas[meets].sum() / areas.sum())
    if share < LEAST_SHARE or not _turns_round(normals[meets], areas[meets], direction, areas.sum()):
        return None
    return Axis(centre + np.cross(direction, moment) * size, direction, share)


def _turns_round(normals: Points, areas: Points, direction: Points, total: float) -> bool:
    """Whether normals look all round the axis, as on something round, and not in four ways, as on a box."""
    side = np.linalg.norm(np.cross(normals, direction), axis=1) > 0.2
    if areas[side].sum() < LEAST_ROUND * total:
        return False
    u = np.cross(direction, np.eye(3)[int(np.argmin(np.abs(direction)))])
    u = u / np.linalg.norm(u)
    v = np.cross(direction, u)
    angle = np.arctan2(normals[side] @ v, normals[side] @ u)
    bins = np.bincount(((angle + np.pi) / (2 * np.pi) * 24).astype(int) % 24, weights=areas[side], minlength=24)
    return bool(np.count_nonzero(bins > 0.2 * bins.mean()) >= 20)

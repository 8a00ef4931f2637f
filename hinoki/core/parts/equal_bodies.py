"""Which bodies are copies of one another, mirror images included, and how each lies to the first of its kind."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.shape import Body
from hinoki.core.orient.congruence import SAME

NEAR_MM = 0.01
"""corners that lie nearer are the same"""
SAMPLES = 60
"""corners that are tried first"""
MOST_TURNS = 4000
"""ways to bring two corners onto two others that are tried"""


@dataclass(frozen=True)
class Kind:
    """Bodies that are copies of one another: of each its number, and the rigid matrix (3, 4) that brings the first onto it."""

    copies: tuple[tuple[int, Points], ...]

    @property
    def first(self) -> int:
        """The number of the first of them."""
        return self.copies[0][0]


class Corners:
    """The corners of a body about their middle, and what tells it quickly from others."""

    def __init__(self, body: Body) -> None:
        mesh = body.mesh
        corners = mesh.vertices[np.unique(mesh.faces)]
        self.middle = corners.mean(axis=0)
        self.points: Points = corners - self.middle
        self.radii = np.linalg.norm(self.points, axis=1)
        self.figures = np.array([abs(mesh.volume_mm3), float(mesh.face_areas.sum()), float(self.radii.max(initial=0.0))])

    @cached_property
    def tree(self) -> Any:
        """Finds the nearest corner (scipy's tree)."""
        from scipy.spatial import cKDTree

        return cKDTree(self.points)

    def far_from(self, points: Points) -> float:
        """How far the farthest of some points is from all corners, mm."""
        away, _ = self.tree.query(points)
        return float(away.max(initial=0.0))

    @cached_property
    def pair(self) -> tuple[int, int]:
        """Two corners that tell how it is turned: the farthest from the middle, and the farthest from the line through both."""
        first = int(np.argmax(self.radii))
        beside = np.linalg.norm(np.cross(self.points, self.points[first]), axis=1)
        return first, int(np.argmax(beside))


def kinds_of(bodies: Sequence[Body]) -> list[Kind]:
    """The kinds among bodies, by the first of each."""
    corners = [Corners(body) for body in bodies]
    found: list[list[tuple[int, Points]]] = []
    for k, own in enumerate(corners):
        for kind in found:
            matrix = onto(corners[kind[0][0]], own)
            if matrix is not None:
                kind.append((k, matrix))
                break
        else:
            found.append([(k, np.column_stack([np.eye(3), np.zeros(3)]))])
    return [Kind(tuple(copies)) for copies in found]


def onto(first: Corners, other: Corners) -> Points | None:
    """The rigid matrix (3, 4), mirroring where its determinant is −1, that brings one body onto another; None where none does.

    Two corners of the one are brought onto every two of the other that lie as far from the middle and from each other; what
    brings all corners together is made exact by the least squares of all (Kabsch 1976). Turns come before mirrorings.
    """
    if len(first.points) != len(other.points) or not np.allclose(first.figures, other.figures, rtol=SAME, atol=NEAR_MM):
        return None
    some = first.points[:: max(1, len(first.points) // SAMPLES)]
    turns = list(_turns(first, other))
    for hand in (1.0, -1.0):
        for axes in turns:
            turn = axes @ np.diag([1.0, 1.0, hand]) @ _frame(first.points[list(first.pair)]).T
            if other.far_from(some @ turn.T) < 5 * NEAR_MM:
                exact = _fitted(first, other, turn)
                if other.far_from(first.points @ exact.T) < NEAR_MM and first.far_from(other.points @ exact) < NEAR_MM:
                    return np.column_stack([exact, other.middle - exact @ first.middle])
    return None


def _turns(first: Corners, other: Corners) -> Iterator[Points]:
    """Axes (3, 3) in the other body that the two corners of the first may be brought to."""
    one, two = (first.points[k] for k in first.pair)
    away = float(np.linalg.norm(one - two))
    starts, ends = (np.flatnonzero(np.abs(other.radii - np.linalg.norm(p)) < NEAR_MM) for p in (one, two))
    count = 0
    for start in starts:
        between = np.linalg.norm(other.points[ends] - other.points[start], axis=1)
        for end in ends[np.abs(between - away) < 2 * NEAR_MM]:
            yield _frame(other.points[[start, end]])
            count += 1
            if count == MOST_TURNS:
                return


def _frame(pair: Points) -> Points:
    """Axes (3, 3), one a column: along the first of two points (2, 3), towards the second, and square to both."""
    x = pair[0] / max(float(np.linalg.norm(pair[0])), 1e-12)
    z = np.cross(x, pair[1])
    z = z / max(float(np.linalg.norm(z)), 1e-12)
    return np.column_stack([x, np.cross(z, x), z])


def _fitted(first: Corners, other: Corners, turn: Points) -> Points:
    """A turn made exact by all corners, of the same hand."""
    _, nearest = other.tree.query(first.points @ turn.T)
    u, _, vt = np.linalg.svd(first.points.T @ other.points[nearest])
    sign = np.sign(np.linalg.det(turn)) * np.sign(np.linalg.det(u @ vt))
    return np.asarray(vt.T @ np.diag([1.0, 1.0, sign]) @ u.T)

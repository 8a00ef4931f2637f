"""Frames: a place and three perpendicular directions, and the change between world and frame coordinates."""

import math
from dataclasses import dataclass

import numpy as np

from hinoki.core.geometry.mesh import Points

AXES = {"x": np.array([1.0, 0.0, 0.0]), "y": np.array([0.0, 1.0, 0.0]), "z": np.array([0.0, 0.0, 1.0])}


@dataclass(frozen=True)
class Frame:
    """A plane with a sense of direction: `origin` (3,), unit `u`, `v` in the plane, `n` = u × v across it."""

    origin: Points
    u: Points
    v: Points
    n: Points

    @property
    def offset(self) -> float:
        """Distance of the plane from the world's origin along `n`."""
        return float(self.origin @ self.n)

    @property
    def to_world(self) -> Points:
        """(3, 4) matrix that takes frame coordinates to world coordinates."""
        return np.column_stack([self.u, self.v, self.n, self.origin])

    @property
    def to_frame(self) -> Points:
        """(3, 4) matrix that takes world coordinates to frame coordinates."""
        turn = np.vstack([self.u, self.v, self.n])
        return np.column_stack([turn, -turn @ self.origin])

    def heights(self, points: Points) -> Points:
        """Signed distances of `points` (n, 3) from the plane, (n,)."""
        return np.asarray(points @ self.n - self.offset, dtype=np.float64)

    def flat(self, points: Points) -> Points:
        """Coordinates of `points` (n, 3) in the plane, (n, 2)."""
        return np.asarray((points - self.origin) @ np.column_stack([self.u, self.v]), dtype=np.float64)

    def seen(self, points: Points) -> Points:
        """Frame coordinates (n, 3) of `points` (n, 3): along `u`, along `v`, above the plane."""
        return np.column_stack([self.flat(points), self.heights(points)])

    def world(self, flat: Points, height: float = 0.0) -> Points:
        """World points (n, 3) of plane coordinates `flat` (n, 2), `height` above the plane."""
        flat = np.atleast_2d(flat)
        return np.asarray(self.origin + flat[:, :1] * self.u + flat[:, 1:2] * self.v + height * self.n)

    def same_plane(self, other: "Frame", within_mm: float = 1e-3) -> bool:
        """Whether both lie in one plane, whichever way they look."""
        facing = float(self.n @ other.n)
        return abs(facing) > 1 - 1e-9 and abs(self.offset - np.sign(facing) * other.offset) < within_mm

    def raised(self, height: float) -> "Frame":
        """The same frame moved along its normal."""
        return Frame(self.origin + height * self.n, self.u, self.v, self.n)

    def placed(self, rigid: Points) -> "Frame":
        """The same frame after a turn and shift (3, 4)."""
        turn = rigid[:, :3]
        return Frame(turn @ self.origin + rigid[:, 3], turn @ self.u, turn @ self.v, turn @ self.n)

    def flipped(self) -> "Frame":
        """The same plane seen from the other side: `u` stays, `v` and `n` turn round."""
        return Frame(self.origin, self.u, -self.v, -self.n)


def plane_frame(point: Points, normal: Points) -> Frame:
    """The stable frame of a plane: it depends on the plane's direction and the foot of `point`, never on the model.

    `u` lies level (along X for a level plane), so moving a parting along its normal leaves every place in it as it was.
    """
    n = normal / np.linalg.norm(normal)
    length = math.hypot(n[0], n[1])
    u = AXES["x"] if length < 1e-9 else np.array([-n[1] / length, n[0] / length, 0.0])
    u = u - n * (u @ n)
    u = u / np.linalg.norm(u)
    return Frame(origin=np.asarray(point, dtype=np.float64), u=u, v=crossed(n, u), n=n)


def crossed(a: Points, b: Points) -> Points:
    """The cross product of two vectors (3,); numpy's own takes twenty times as long for a single pair."""
    return np.array([a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]])


def turned_to(way: Points) -> Points:
    """The (3, 4) matrix of the least turn that brings Z to a unit vector (3,)."""
    axis = np.cross(AXES["z"], way)
    sine, cosine = float(np.linalg.norm(axis)), float(way[2])
    if sine < 1e-9:
        return np.column_stack([np.diag([1.0, 1.0, 1.0] if cosine > 0 else [1.0, -1.0, -1.0]), np.zeros(3)])
    x, y, z = axis / sine
    cross = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    return np.column_stack([np.eye(3) + sine * cross + (1 - cosine) * (cross @ cross), np.zeros(3)])


def shifted(x: float, y: float, z: float) -> Points:
    """The (3, 4) matrix of a shift."""
    return np.column_stack([np.eye(3), np.array([x, y, z])])


def composed(after: Points, first: Points) -> Points:
    """The (3, 4) matrix that does `first` and then `after`."""
    return np.column_stack([after[:, :3] @ first[:, :3], after[:, :3] @ first[:, 3] + after[:, 3]])


def inverted(rigid: Points) -> Points:
    """The (3, 4) matrix that takes back a turn, a mirroring and a shift (3, 4)."""
    turn = rigid[:, :3].T
    return np.column_stack([turn, -turn @ rigid[:, 3]])

"""Whether two surfaces surely stand apart, seen by boxes alone: half of all pairs whose boxes meet need not be measured."""

import numpy as np

from hinoki.core.geometry.mesh import Mesh, Points

Box = tuple[Points, Points]
ROUNDS = 8
"""times the faces that matter are narrowed down"""


def surely_apart(one: Mesh, other: Mesh, mm: float) -> bool:
    """Whether no point of one closed surface is nearer than `mm` to the other, and none lies inside the other; False too where
    boxes do not tell.

    Only faces of one whose boxes come near the box around those of the other matter; what is left of both narrows the other
    down in turn, until nothing is left of one, or nothing changes.
    """
    if _within(one.bounds, other.bounds) or _within(other.bounds, one.bounds):
        return False  # one may lie inside the other, far from its surface
    (low_a, high_a), (low_b, high_b) = one.face_boxes, other.face_boxes
    a, b = np.arange(len(low_a)), np.arange(len(low_b))
    for _ in range(ROUNDS):
        before = len(a) + len(b)
        a = a[_near(low_a[a], high_a[a], _box(low_b[b], high_b[b]), mm)]
        if not len(a):
            return True
        b = b[_near(low_b[b], high_b[b], _box(low_a[a], high_a[a]), mm)]
        if not len(b):
            return True
        if len(a) + len(b) == before:
            break
    return False


def _box(low: Points, high: Points) -> Box:
    return low.min(axis=0), high.max(axis=0)


def _near(low: Points, high: Points, box: Box, mm: float) -> np.ndarray:
    return np.asarray(((low < box[1] + mm) & (high > box[0] - mm)).all(axis=1))


def _within(inner: Box, outer: Box) -> bool:
    return bool((inner[0] >= outer[0]).all() and (inner[1] <= outer[1]).all())

"""Where a body has flat faces across a direction: seams along their borders are edges that are there anyway."""

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from hinoki.core.geometry.mesh import Faces, Mesh, Points

SQUARE = 1 - 1e-7
"""cosine from which a face lies across a direction"""
SAME_MM = 1e-3
LEAST_SHARE = 0.03
"""of the box across the direction that all faces at one height cover at least"""
MOST = 6


def flat_offsets(mesh: Mesh, axis: Points) -> list[float]:
    """The heights along a direction (3,) at which the largest flat faces lie, its ends left out; the largest first."""
    normals, areas = mesh.face_normals, mesh.face_areas
    across = np.abs(normals @ axis) > SQUARE
    if not across.any():
        return []
    heights = mesh.vertices @ axis
    low, high = float(heights.min()), float(heights.max())
    at, weight = heights[mesh.faces[across, 0]], areas[across]
    order = np.argsort(at, kind="stable")
    at, weight = at[order], weight[order]
    starts = np.flatnonzero(np.concatenate([[True], np.diff(at) > SAME_MM]))
    sums, levels = np.add.reduceat(weight, starts), at[starts]
    inner = (levels > low + SAME_MM) & (levels < high - SAME_MM) & (sums >= LEAST_SHARE * _box_mm2(mesh, axis))
    levels, sums = levels[inner], sums[inner]
    return [float(level) for level in levels[np.argsort(-sums, kind="stable")][:MOST]]


def slabs(faces: Faces, heights: Points, offsets: Sequence[float]) -> list[NDArray[np.bool_]]:
    """Which corners of a body (n,), given their heights, belong to each part that planes at those offsets part it into: what
    lies in a plane belongs to the sides on which the faces (m, 3) at it go on."""
    bounds = [-np.inf, *offsets, np.inf]
    found = [(heights > low + SAME_MM) & (heights < high - SAME_MM) for low, high in pairwise(bounds)]
    for k, at in enumerate(offsets):
        on = np.abs(heights - at) <= SAME_MM
        if not on.any():
            continue
        there = faces[on[faces].any(axis=1)]
        for side, part in ((-1.0, found[k]), (1.0, found[k + 1])):
            going_on = there[(side * (heights[there] - at) > SAME_MM).any(axis=1)].ravel()
            part[going_on[on[going_on]]] = True
    return found


def _box_mm2(mesh: Mesh, axis: Points) -> float:
    """The area of the box across a direction, as its projection lies along the two other axes."""
    flat = mesh.vertices - np.outer(mesh.vertices @ axis, axis)
    sides = np.sort(np.ptp(flat, axis=0))[::-1]
    return float(sides[0] * sides[1])

"""Measures of many directions at once, from gathered normals: what hangs over, height, steps on shallow surfaces."""

import math
from dataclasses import dataclass

import numpy as np

from hinoki.core.geometry.mesh import Points
from hinoki.core.orient.surface import JOINT, MATING, SHOW, Surface

AT_ONCE = 64
"""directions worked on together, so that memory stays small"""
FLAT = 0.9998
"""cosine from which a surface counts as level, and has no steps"""
MARGIN = 1e-3


@dataclass(frozen=True)
class Quick:
    """For n directions: hanging area in all (what lies on the bed included), that of faces to be seen, of mating faces and of
    joints, each (n,) mm²; height (n,) mm; steps (n,), the area of shallow surfaces by how shallow they are, mm²."""

    hanging: Points
    hanging_show: Points
    hanging_mating: Points
    hanging_joint: Points
    height: Points
    steps: Points


def hanging_from(overhang_deg: float) -> float:
    """Cosine between a face's normal and down from which it needs support; the limit counts from the vertical."""
    return math.sin(math.radians(overhang_deg)) + MARGIN


def quick(surface: Surface, downs: Points, overhang_deg: float) -> Quick:
    """Measures for `downs` (n, 3).

    Steps: a layer of height t leaves a cusp of t·|cos| on a face that leans by that angle from the level (Dolenc & Mäkelä
    1994), so a face counts with its area times that cosine; level and upright ones have none. Where faces to be seen are
    named, only those count.
    """
    normals, areas = surface.bins
    limit = hanging_from(overhang_deg)
    total = areas.sum(axis=1)
    seen = areas[:, SHOW] if surface.has_show else total
    rows = np.column_stack([total, areas[:, SHOW], areas[:, MATING], areas[:, JOINT]]).T
    hanging = np.zeros((4, len(downs)))
    steps = np.zeros(len(downs))
    for at in range(0, len(downs), AT_ONCE):
        part = slice(at, at + AT_ONCE)
        facing = normals @ downs[part].T
        hanging[:, part] = rows @ (facing > limit)
        shallow = np.abs(facing)
        shallow[shallow > FLAT] = 0.0
        steps[part] = seen @ shallow
    height = np.ptp(surface.hull.vertices @ downs.T, axis=0)
    return Quick(hanging[0], hanging[1], hanging[2], hanging[3], np.asarray(height), steps)

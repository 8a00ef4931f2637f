"""Bodies of a rail's runner along its line: (across, height out of its piece, along)."""

import numpy as np

from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.pegs import tipped_bar

UPRIGHT = np.array([[1.0, 0.0, 0.0], [0.0, 0.0, 1.0], [0.0, -1.0, 0.0]])
"""turns a body about Z so that it stands along the height"""
TIP_MM = 0.3
"""chamfer of a pin's end beside its broken edge"""


def box_ring(half: float, low: float, high: float) -> Points:
    """A rectangle (4, 2) across the line, as high as told."""
    return np.array([[-half, low], [half, low], [half, high], [-half, high]])


def bump(first: float, last: float, low: float, tall: float, half_top: float, half: float) -> Solid:
    """A trapezoid drawn across the line, from a height `low` to `tall`, its slopes at 45°; as one that goes from one place to
    another leaves it."""
    foot = half_top + tall - low
    ring = np.array([[first - foot, low], [last + foot, low], [last + half_top, tall], [first - half_top, tall]])
    across = np.column_stack([[0.0, 0.0, 1.0], [0.0, 1.0, 0.0], [-1.0, 0.0, 0.0], [0.0, 0.0, 0.0]])
    return Solid.drawn_ring(ring, -half, half).placed(across)


def round_pin(radius: float, low: float, high: float, edge: float, at: float) -> Solid:
    """A round pin along the height, its end chamfered, `at` so far along its line."""
    tip = min(edge + TIP_MM, 0.4 * radius, 0.4 * high)
    return tipped_bar("round", radius, tip, low, high, both=False).placed(np.column_stack([UPRIGHT, [0.0, 0.0, at]]))

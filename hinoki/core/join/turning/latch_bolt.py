"""The bolt of a turning latch about Z, which goes into the piece it locks in: heads, and the shaft with its lugs."""

import math
from collections.abc import Sequence

from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.pegs import tipped_bar
from hinoki.core.join.turning.bayonet_body import Lug

SLOT_MM, SLOT_DEEP_MM = 1.8, 1.6
"""of the slot in a head: a coin turns it"""
FLUTES = 8
FLUTE = 0.2
"""radius of a flute as a share of the knob's"""
OVER_MM = 0.01


def slotted(across_mm: float, high_mm: float) -> Solid:
    """A round head under 0 with a slot for a coin in its end."""
    half, low = across_mm / 2, -high_mm
    slot = Solid.box([-SLOT_MM / 2, -across_mm, low - 1], [SLOT_MM / 2, across_mm, low + min(SLOT_DEEP_MM, 0.7 * high_mm)])
    return Solid.cylinder(half, low, 0.0).minus([slot])


def knob(across_mm: float, high_mm: float) -> Solid:
    """A round head under 0 with flutes for fingers."""
    half = across_mm / 2
    flute = Solid.cylinder(FLUTE * half, -high_mm - 1, 1.0)
    turns = [2 * math.pi * k / FLUTES for k in range(FLUTES)]
    return Solid.cylinder(half, -high_mm, 0.0).minus(
        [flute.moved(1.1 * half * math.cos(turn), 1.1 * half * math.sin(turn), 0.0) for turn in turns]
    )


def bolt(lug: Lug, angles: Sequence[float], grip_mm: float, end_gap_mm: float) -> Solid:
    """The shaft from the head at `-grip_mm` on, as thick as over its lugs, and the core with its lugs.

    The shaft ends before the face, at 0, so that the pieces meet first, and leads on to the core by 45°.
    """
    radius, end, out = lug.core_mm + lug.out_mm, -end_gap_mm, min(lug.out_mm, grip_mm / 2)
    shaft = tipped_bar("round", radius, out, -grip_mm - OVER_MM, end, both=False)
    core = Solid.cylinder(lug.core_mm, -grip_mm - OVER_MM, lug.top_mm)
    return Solid.united([shaft, core, *(lug.body(angle) for angle in angles)])

"""Knobs: what lids and drawers are held by."""

from dataclasses import dataclass

from hinoki.core.geometry.solid import Solid

NECK = 0.62
"""a knob's neck is so much thinner than its head"""


@dataclass(frozen=True)
class Knob:
    """A round knob: its widest diameter and its height, mm."""

    across_mm: float
    high_mm: float


def knob_on(knob: Knob, top: float) -> Solid:
    """A knob about Z on a surface at Z = `top`: a neck that widens to the head, its edge taken off.

    It prints either way up without support: its sides are at 45° or steeper.
    """
    radius, neck = knob.across_mm / 2, knob.across_mm / 2 * NECK
    edge = min(0.15 * radius, 0.2 * knob.high_mm)
    flare = min(radius - neck, 0.4 * knob.high_mm)
    levels = [top - 0.01, top + knob.high_mm - edge - 0.25 * knob.high_mm - flare, 0.0, 0.0, top + knob.high_mm]
    levels[2] = levels[1] + flare
    levels[3] = top + knob.high_mm - edge
    radii = [neck, neck, neck + flare, neck + flare, neck + flare - edge]
    stages = zip(levels, levels[1:], radii, radii[1:], strict=False)
    return Solid.united([Solid.cone(r0, r1, z0, z1) for z0, z1, r0, r1 in stages if z1 > z0 + 1e-6])

"""Which unit a file without one was probably drawn in, and why."""

from dataclasses import dataclass

import numpy as np

from hinoki.core.geometry.mesh import MM_PER_UNIT, Points, Unit

NAMES: dict[Unit, str] = {"mm": "millimetres", "cm": "centimetres", "m": "metres", "inch": "inches", "foot": "feet"}
LIKELY_MM = (20.0, 3000.0)
"""between a button and a doorway: what makers bring in"""

SMALL_MM = 4.0
"""smaller than this nothing is brought in to be divided"""


@dataclass(frozen=True)
class UnitChoice:
    """The unit proposed, the reason in words, and whether another one is likely too."""

    unit: Unit
    reason: str
    doubtful: bool


def propose_unit(size: Points) -> UnitChoice:
    """The likeliest unit for a model `size` (3,) numbers across. Millimetres unless they make it tiny."""
    across = float(np.max(size))
    low, high = LIKELY_MM
    if low <= across <= high:
        return UnitChoice("mm", f"{across:.4g} across: {_as(across, 'mm')} is a usual size.", False)
    order: tuple[Unit, ...] = ("m", "inch", "cm", "foot") if across < SMALL_MM else ("inch", "cm", "m", "foot")
    good = [u for u in order if low <= across * MM_PER_UNIT[u] <= high]
    if SMALL_MM <= across < low and good:
        others = " or ".join(f"{NAMES[u]} ({_as(across, u)})" for u in good[:2])
        return UnitChoice("mm", f"{across:.4g} across: {_as(across, 'mm')} is small; is it {others}?", True)
    if across > high or not good:
        word = "huge" if across > high else "tiny"
        return UnitChoice("mm", f"{across:.4g} across: {word} in any unit; taken as millimetres.", True)
    others = f" or {NAMES[good[1]]} ({_as(across, good[1])})" if len(good) > 1 else ""
    return UnitChoice(
        good[0],
        f"{across:.4g} across: {_as(across, 'mm')} would be tiny; {NAMES[good[0]]} ({_as(across, good[0])}){others}?",
        True,
    )


def _as(across: float, unit: Unit) -> str:
    return f"{across * MM_PER_UNIT[unit]:.4g} mm"

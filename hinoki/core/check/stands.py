"""Stands: whether the model would tip on its base, and whether the peg holds it."""

import math
from collections.abc import Sequence

import numpy as np

from hinoki.core.findings import Finding, Severity
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channel_cuts import Bored
from hinoki.core.join.channels import StandWay
from hinoki.core.join.walls import NOTHING_MM3

SAFE_DEG = 10.0
"""a model that tips at less falls when the table is knocked (common practice)"""
HELD = 1.5
"""a peg that goes in by less than so many diameters lets the model lean (common practice)"""


def stand_findings(ways: Sequence[Bored], whole: Solid) -> list[Finding]:
    """What the model's weight makes of each stand: the model taken as printed full, the base's own weight left out."""
    found: list[Finding] = []
    for one in ways:
        way = one.way
        if not isinstance(way, StandWay) or not one.pieces:
            continue
        label = way.label()
        base = way.loose(one.clearance_mm)[0][1].solid
        if base.box_meets(whole) and base.minus([one.bore]).common(whole).volume_mm3 > NOTHING_MM3:
            found.append(_said("way-stand-meets", "must-fix", f"The base of the {label} meets the model. Set its end lower."))
        held = one.bore.common(whole).volume_mm3 / (one.bore.volume_mm3 / (way.long_mm + 0.5))
        if held < HELD * way.diameter_mm:
            enough = HELD * way.diameter_mm
            text = f"The {label} goes {held:.1f} mm into the model; {enough:.0f} mm hold it. Move its end further in."
            found.append(_said("way-stand-shallow", "look-at", text))
        found.append(_tips(way, whole))
    return found


def _tips(way: StandWay, whole: Solid) -> Finding:
    centre = whole.centre_of_mass
    off = float(np.hypot(centre[0] - way.end_mm[0], centre[1] - way.end_mm[1]))
    high = float(centre[2]) - way.rests_on_mm
    angle = math.degrees(math.atan2(way.base_mm / 2 - off, high))
    needed = 2 * (off + high * math.tan(math.radians(SAFE_DEG)))
    label = f"The {way.label()}"
    why = f"its centre of gravity lies {high:.0f} mm above the table and {off:.0f} mm beside the peg"
    if angle <= 0:
        text = f"{label} does not hold the model up: {why}. Make the base {needed:.0f} mm wide, or move it."
        return _said("way-stand-falls", "must-fix", text)
    if angle < SAFE_DEG:
        text = f"{label} tips at {angle:.0f}°: {why}. With {needed:.0f} mm across it tips at {SAFE_DEG:.0f}°."
        return _said("way-stand-tips", "look-at", text)
    return _said("way-stand-holds", "note", f"{label} tips at {angle:.0f}°, the model taken as printed full.")


def _said(code: str, severity: Severity, message: str) -> Finding:
    return Finding(severity=severity, code=code, station="join", message=message)

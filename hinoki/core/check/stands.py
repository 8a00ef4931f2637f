"""Stands: whether the model would tip on its base, and whether the peg holds it."""

import math
from collections.abc import Sequence

import numpy as np

from hinoki.core.findings import Finding, Params, Severity
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
        base = way.loose(one.clearance_mm)[0][1].solid
        if base.box_meets(whole) and base.minus([one.bore]).common(whole).volume_mm3 > NOTHING_MM3:
            found.append(_about(way, "way-stand-meets", "must-fix"))
        held = one.bore.common(whole).volume_mm3 / (one.bore.volume_mm3 / (way.long_mm + 0.5))
        if held < HELD * way.diameter_mm:
            params: Params = {"held_mm": held, "enough_mm": HELD * way.diameter_mm}
            found.append(_about(way, "way-stand-shallow", "look-at", params))
        found.append(_tips(way, whole))
    return found


def _tips(way: StandWay, whole: Solid) -> Finding:
    centre = whole.centre_of_mass
    off = float(np.hypot(centre[0] - way.end_mm[0], centre[1] - way.end_mm[1]))
    high = float(centre[2]) - way.rests_on_mm
    angle = math.degrees(math.atan2(way.base_mm / 2 - off, high))
    needed = 2 * (off + high * math.tan(math.radians(SAFE_DEG)))
    params: Params = {"angle_deg": angle, "high_mm": high, "off_mm": off, "needed_mm": needed, "safe_deg": SAFE_DEG}
    if angle <= 0:
        return _about(way, "way-stand-falls", "must-fix", params)
    if angle < SAFE_DEG:
        return _about(way, "way-stand-tips", "look-at", params)
    return _about(way, "way-stand-holds", "note", {"angle_deg": angle})


def _about(way: StandWay, code: str, severity: Severity, params: Params | None = None) -> Finding:
    every: Params = {"way": way.label(), **(params or {})}
    return Finding(severity=severity, code=code, station="join", params=every, about=way.id)

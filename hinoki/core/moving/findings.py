"""What is wrong with what moves: it touches something, its play lets it touch, a rod does not reach, two at once meet."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from hinoki.core.findings import Finding, Fix, Params, Severity
from hinoki.core.geometry.mesh import Points
from hinoki.core.moving.bodies import Body
from hinoki.core.moving.mechanism import Mechanism
from hinoki.core.moving.movements import Travel, TurnMovement
from hinoki.core.moving.together import Both
from hinoki.core.moving.trial import Pair, Tried
from hinoki.core.workshop.fits import RATTLES_MM

ROOM_MM = 0.4
"""carved round what moves (common practice for printed parts that must not touch)"""
TILTS = 2.0
"""a thing in a guide tilts by its play at both ends of it"""


@dataclass(frozen=True)
class Playing:
    """The most by which the play of its bearings lets a pair of bodies come nearer, mm, at the place of its least gap."""

    pair: Pair
    worst_mm: float


def moving_findings(
    mechanism: Mechanism, bodies: Sequence[Body], tried: Sequence[Tried], both: Sequence[Both], sliding_mm: float
) -> list[Finding]:
    """Everything noticed about movements that were tried; `sliding_mm` is the play of those that name none."""
    found: list[Finding] = []
    for one in tried:
        driver = mechanism.by_id[one.movement]
        unit = driver.unit if isinstance(driver, Travel) else ""
        own: Params = {"movement": driver.label, "unit": unit}
        if one.breaks is not None:
            value, what = one.breaks
            more: Params = {"value": value, "what": mechanism.by_id[what].label}
            found.append(_finding("moves-breaks", "must-fix", own | more, one.movement))
        for pair in one.touches:
            more = {"case": "rests" if pair.rests else "touches", "value": pair.touch, "one": pair.one, "other": pair.other}
            told = _finding("moves-touch", "must-fix", own | more, f"{one.movement} {pair.one} {pair.other}", pair.at)
            found.append(told.model_copy(update={"fixes": _carved(one.movement, pair, bodies)}))
        bearing = one.bearing
        typed = isinstance(driver, Travel) and driver.play_mm is not None
        if bearing is not None and not typed and bearing.least_mm > RATTLES_MM:
            more = {"one": bearing.one, "other": bearing.other, "play_mm": bearing.least_mm, "most_mm": RATTLES_MM}
            found.append(_finding("moves-rattles", "note", own | more, one.movement, bearing.at))
        for playing in with_play(mechanism, bodies, one, sliding_mm):
            pair = playing.pair
            more = {"value": pair.value, "one": pair.one, "other": pair.other}
            more |= {"least_mm": pair.least_mm, "play_mm": playing.worst_mm}
            found.append(_finding("moves-play", "look-at", own | more, f"{one.movement} {pair.one} {pair.other}", pair.at))
    alone = {frozenset((pair.one, pair.other)) for one in tried for pair in one.touches}
    for two in both:
        if not two.touch or frozenset((two.one, two.other)) in alone:
            continue
        labels = [mechanism.by_id[one] for one in two.drivers]
        units = [one.unit if isinstance(one, Travel) else "" for one in labels]
        params: Params = {"first": labels[0].label, "second": labels[1].label, "one": two.one, "other": two.other}
        params |= {"first_value": two.values[0], "second_value": two.values[1], "first_unit": units[0], "second_unit": units[1]}
        found.append(_finding("moves-together", "must-fix", params, " ".join(two.drivers), two.at))
    return found


def _carved(driver: str, pair: Pair, bodies: Sequence[Body]) -> tuple[Fix, ...]:
    """The path of the one carved out of the other, where both are whole parts."""
    ids = {body.label: body.id for body in bodies}
    one, other = ids[pair.one], ids[pair.other]
    if " #" not in one or " #" not in other or one.partition(" #")[0] == other.partition(" #")[0]:
        return ()
    params: Params = {"other": pair.other, "by_mm": ROOM_MM}
    return (Fix(kind="carve", code="carve", params=params, pieces=(one, other), movement=driver, by_mm=ROOM_MM),)


def with_play(mechanism: Mechanism, bodies: Sequence[Body], one: Tried, sliding_mm: float) -> list[Playing]:
    """The pairs that come nearer than their play is at the worst: in every bearing of theirs to that side, and tilted in it.

    The driver's own play, where none is typed, is the gap that its bearing has.
    """
    by_label = {body.label: body for body in bodies}
    own = one.bearing
    plays = {m.id: m.play_mm for m in mechanism.by_id.values() if isinstance(m, Travel) and m.play_mm is not None}
    if own is not None:
        plays.setdefault(one.movement, own.least_mm)
    found = []
    for pair in one.clear:
        if pair.at is None or pair is own:
            continue
        worst = _worst(mechanism, (by_label[pair.one], by_label[pair.other]), pair.at, plays, sliding_mm)
        if pair.least_mm < worst:
            found.append(Playing(pair, worst))
    return found


def _worst(mechanism: Mechanism, pair: tuple[Body, Body], at: Points, plays: Mapping[str, float], sliding_mm: float) -> float:
    chains = [mechanism.chain(body.movement) for body in pair]
    common = {one.id for one in chains[0]} & {one.id for one in chains[1]}
    worst = 0.0
    for body, chain in zip(pair, chains, strict=True):
        for movement in chain:
            if not isinstance(movement, Travel) or movement.id in common:
                continue
            play = plays.get(movement.id, sliding_mm)
            held = np.array(movement.at_mm) if isinstance(movement, TurnMovement) else body.middle
            tilt = TILTS * math.dist(at, held) / movement.guide_mm if movement.guide_mm > 0 else 0.0
            worst += play * (1 + tilt)
    return worst


def _finding(code: str, severity: Severity, params: Params, about: str, at: Points | None = None) -> Finding:
    place = None if at is None else (round(float(at[0]), 2), round(float(at[1]), 2), round(float(at[2]), 2))
    return Finding(severity=severity, code=code, station="assemble", params=params, about=about, at_mm=place, whole=True)

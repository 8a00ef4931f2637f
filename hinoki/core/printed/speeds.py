"""How long lines take where a printer speeds up and slows down: at a bend it keeps only part of its speed, at an end none."""

import math

import numpy as np

from hinoki.core.geometry.mesh import Points

CORNER_MM_S = 5.0
"""by how much speed may change at once, which is how fast a square corner is taken (common practice)"""


def corner_speeds(bends_deg: Points, speed_mm_s: float) -> Points:
    """How fast bends (n,) are taken, mm/s: as fast as the change of velocity, 2 v sin(φ / 2), is no more than that of a square
    corner at 5 mm/s, √2 × 5."""
    change = 2 * np.sin(np.radians(np.clip(bends_deg, 0, 180)) / 2)
    most = math.sqrt(2) * CORNER_MM_S / np.maximum(change, 1e-9)
    return np.asarray(np.minimum(speed_mm_s, most))


def bends_of(points: Points, closed: bool) -> Points:
    """By how much a line (n, 2) turns at its points, degrees: (n − 2,), or (n − 1,) where it is closed, its last point being
    its first."""
    ways = np.diff(points, axis=0)
    ways = ways[np.hypot(ways[:, 0], ways[:, 1]) > 1e-9]
    if len(ways) < 2:
        return np.zeros(0)
    after = np.roll(ways, -1, axis=0) if closed else ways[1:]
    before = ways if closed else ways[:-1]
    cross = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    return np.asarray(np.abs(np.degrees(np.arctan2(cross, (before * after).sum(axis=1)))))


def seconds(points: Points, speed_mm_s: float, acceleration: float) -> float:
    """How long a line (n, 2) takes that begins and ends at rest: on every stretch as fast as it gets between the speeds of its
    bends, with an acceleration in mm/s² and at most `speed_mm_s`."""
    long = np.hypot(*np.diff(points, axis=0).T)
    long = long[long > 1e-9]
    if not len(long):
        return 0.0
    limits = np.concatenate([[0.0], corner_speeds(bends_of(points, closed=False), speed_mm_s), [0.0]])
    squares = (limits**2).tolist()
    gain = (2 * acceleration * long).tolist()
    for k, more in enumerate(gain):  # no faster than it can have become
        squares[k + 1] = min(squares[k + 1], squares[k] + more)
    for k in range(len(gain) - 1, -1, -1):  # nor than it can still slow down
        squares[k] = min(squares[k], squares[k + 1] + gain[k])
    at = np.sqrt(np.array(squares))
    start, end = at[:-1], at[1:]
    top = np.minimum(speed_mm_s, np.sqrt((start**2 + end**2) / 2 + acceleration * long))
    rising = (2 * top - start - end) / acceleration
    even = long - (2 * top**2 - start**2 - end**2) / (2 * acceleration)
    return float((rising + np.maximum(even, 0.0) / top).sum())


def length_of(points: Points) -> float:
    """Of a line (n, 2)."""
    return float(np.hypot(*np.diff(points, axis=0).T).sum())


def stop_seconds(speed_mm_s: float, acceleration: float, long_mm: float) -> float:
    """What stopping at both ends of stretches of a mean length costs beyond their way at full speed: v / a; on those too short
    for full speed, 2 √(L / a) − L / v."""
    if long_mm >= speed_mm_s**2 / acceleration:
        return speed_mm_s / acceleration
    return 2 * math.sqrt(long_mm / acceleration) - long_mm / speed_mm_s

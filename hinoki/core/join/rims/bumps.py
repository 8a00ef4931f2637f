"""Bumps: short beads at a few places along a rim; where they stand, and how far each is from the corners that hold the wall."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import as_multi

STEP_MM = 1.0
"""between the places along a line where its corners are sought"""
AROUND_MM = 2.0
CORNER_DEG = 30.0
"""a line that turns by more than this within AROUND_MM to either side has a corner there"""
LONG_MM = 8.0
"""of a bump along the rim; less where a side is short"""
SHARE, SHORTEST_MM = 3, 2.0
"""a bump is no longer than a third of the way from one corner or bump to the next, and no shorter than this"""


@dataclass(frozen=True)
class Bump:
    """Where one stands on the face, the way (2,) the rim runs there, and its length; how far it is to the nearest corner, or
    half the way to the next bump where there are none, and whether there are none."""

    at: Points
    along: Points
    long_mm: float
    free_mm: float
    cornerless: bool

    def patch(self, across_mm: float, grown: float) -> Polygon:
        """The part of the face on which it stands, so far across the rim to either side, made longer by `grown` at each end."""
        half, side = (self.long_mm / 2 + grown) * self.along, across_mm * np.array([-self.along[1], self.along[0]])
        return Polygon([self.at + a * half + b * side for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))])


@dataclass(frozen=True)
class _Side:
    """A stretch of a rim without corners: places (n, 2) along it, and whether it comes back to where it began."""

    line: Points
    closed: bool

    @property
    def long_mm(self) -> float:
        return float(np.linalg.norm(np.diff(self.line, axis=0), axis=1).sum())

    def each_mm(self, count: int) -> float:
        """From one of so many bumps to the next, or to a corner."""
        return self.long_mm / (count if self.closed else count + 1)

    def bumps(self, count: int) -> Iterator[Bump]:
        """So many of them, as far from each other and from its ends as can be."""
        gone = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(self.line, axis=0), axis=1))])
        each = self.each_mm(count) if count else 0.0
        for k in range(count):
            s = each * (k if self.closed else k + 1)
            at, before, after = (
                np.array([np.interp(x, gone, self.line[:, i]) for i in (0, 1)]) for x in (s, max(0.0, s - 0.5), s + 0.5)
            )
            along = (after - before) / max(1e-9, float(np.linalg.norm(after - before)))
            yield Bump(at, along, min(LONG_MM, each / SHARE), each / 2 if self.closed else each, self.closed)


def bumps_along(line: shapely.Geometry, count: int) -> list[Bump]:
    """So many bumps along a rim, or fewer where it is too short: those of a round one evenly, else in the middle of its sides,
    the longest first."""
    sides = [side for part in shapely.get_parts(line) for side in _sides(part)]
    on = [0] * len(sides)
    for _ in range(count):
        ranked = [(round(side.each_mm(n + 1), 1), -k) for k, (side, n) in enumerate(zip(sides, on, strict=True))]
        most, k = max(ranked, default=(0.0, 0))
        if most < SHARE * SHORTEST_MM:
            break
        on[-k] += 1
    return [bump for side, n in zip(sides, on, strict=True) for bump in side.bumps(n)]


def patches(bumps: Sequence[Bump], across_mm: float, grown: float = 0.0) -> MultiPolygon:
    """The parts of the face on which bumps stand."""
    return as_multi(shapely.union_all([bump.patch(across_mm, grown) for bump in bumps]), 1e-3)


def _sides(line: shapely.Geometry) -> Iterator[_Side]:
    """A line parted at its corners."""
    long = float(line.length)
    n = max(4, math.ceil(long / STEP_MM))
    closed = bool(line.is_ring)
    s = np.linspace(0.0, long, n + 1)
    places = shapely.get_coordinates(shapely.line_interpolate_point(line, s))
    ring = places[:-1] if closed else places
    around = max(1, round(AROUND_MM / (long / n)))
    if closed:
        ahead, behind = np.roll(ring, -around, axis=0) - ring, ring - np.roll(ring, around, axis=0)
    else:
        last = len(ring) - 1
        k = np.arange(len(ring))
        ahead = ring[np.minimum(k + around, last)] - ring[np.minimum(k, last - 1)]
        behind = ring[np.maximum(k, 1)] - ring[np.maximum(k - around, 0)]
    turn = np.degrees(np.abs(np.arctan2(_cross(behind, ahead), (behind * ahead).sum(axis=1))))
    bent = turn > CORNER_DEG
    if not bent.any():
        yield _Side(places, closed)
        return
    if bent.all():  # a round of a few millimetres: corners all the way
        yield _Side(places, closed)
        return
    if closed:
        first = int(np.flatnonzero(bent)[0])
        ring, bent = np.roll(ring, -first, axis=0), np.roll(bent, -first)
        ring, bent = np.vstack([ring, ring[:1]]), np.append(bent, True)
    runs = np.split(np.arange(len(ring)), np.flatnonzero(np.diff(bent.astype(int))) + 1)
    for run in runs:
        if not bent[run[0]] and len(run) > 1:
            yield _Side(ring[run], False)


def _cross(a: Points, b: Points) -> Points:
    return np.asarray(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0])

"""Screw threads: the ISO basic profile, sizes to choose from, and the threaded body as a solid.

Profile: ISO 68-1, triangle height H = √3/2·P, flat of P/8 at the crest and P/4 at the root; pitch and minor diameter by
ISO 724: D − 0.649519·P and D − 1.082532·P.
"""

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.polygons import round_sides
from hinoki.core.geometry.solid import Solid
from hinoki.core.workshop.hardware import table

FLANK_DEG = 30.0
"""between a flank and the plane square to the axis: the angle of the profile is 60°"""
FINER = 2
"""sides of a thread for every side of a round bar of its diameter"""
ROWS = 4
"""corners of the profile in one pitch"""


@dataclass(frozen=True)
class ThreadSize:
    """A size of ISO 261: nominal diameter and coarse pitch, in mm."""

    diameter_mm: float
    pitch_mm: float

    @property
    def name(self) -> str:
        """Such as “M30 × 3.5”."""
        return f"M{self.diameter_mm:g} × {self.pitch_mm:g}"


@lru_cache(maxsize=1)
def thread_sizes() -> tuple[ThreadSize, ...]:
    """The sizes of ISO 261 with their coarse pitch, large ones first."""
    found = [ThreadSize(float(r["diameter_mm"]), float(r["coarse_pitch_mm"])) for r in table("threads")]
    return tuple(sorted(found, key=lambda s: -s.diameter_mm))


def pitch_diameter_mm(major_mm: float, pitch_mm: float) -> float:
    """Where ridge and groove are equally wide (ISO 724)."""
    return major_mm - 0.75 * math.sqrt(3) / 2 * pitch_mm


def minor_diameter_mm(major_mm: float, pitch_mm: float) -> float:
    """At the roots of the male, the crests of the female (ISO 724)."""
    return major_mm - 1.25 * math.sqrt(3) / 2 * pitch_mm


def threaded(  # noqa: PLR0913 - a thread's measures, by name
    major_mm: float,
    pitch_mm: float,
    low: float,
    high: float,
    *,
    starts: int = 1,
    right: bool = True,
    grown_mm: float = 0.0,
    shifted_mm: float = 0.0,
    around: bool = False,
) -> Solid:
    """A threaded bar along Z from `low` to `high`, its ends cut flat.

    `grown_mm` moves the whole profile outwards (less than 0: inwards), `shifted_mm` along the axis. As with pins and bores it
    is drawn inside the true surface, or `around` it.
    """
    outer = major_mm / 2 + grown_mm
    inner = minor_diameter_mm(major_mm, pitch_mm) / 2 + grown_mm
    n = FINER * round_sides(outer)  # its clearance is told by flanks, which double what is off in the radius
    widen = 1 / math.cos(math.pi / n) if around else 1.0
    lead = starts * pitch_mm
    first = math.floor((low - shifted_mm) / pitch_mm) - starts - 1
    last = math.ceil((high - shifted_mm) / pitch_mm) + 1
    within = np.array([-1, 1, 6, 10]) / 16 * pitch_mm
    heights = shifted_mm + (np.arange(first, last + 1)[:, None] * pitch_mm + within).ravel()
    radii = np.tile(np.array([outer, outer, inner, inner]) * widen, last + 1 - first)
    turn = 2 * np.pi * np.arange(n) / n
    z = heights[None, :] + lead * (turn / (2 * np.pi))[:, None]
    side = 1.0 if right else -1.0
    points = np.stack([radii * np.cos(turn)[:, None], side * radii * np.sin(turn)[:, None], z], axis=-1).reshape(-1, 3)
    ends = np.array([[0, 0, z.min() - pitch_mm], [0, 0, z.max() + pitch_mm]])
    faces = _wound(n, len(heights), ROWS * starts)
    body = Solid.from_mesh(Mesh(np.vstack([points, ends]), faces if right else faces[:, ::-1]))
    return body.common(Solid.box([-2 * outer, -2 * outer, low], [2 * outer, 2 * outer, high]))


def _wound(n: int, rows: int, rise: int) -> np.ndarray:
    """Triangles (m, 3) of a surface of `n` columns of `rows` corners, where a whole turn leads `rise` rows up.

    It is closed by two points on the axis, which are numbered last.
    """

    def at(column: np.ndarray, row: np.ndarray) -> np.ndarray:
        over = column == n
        return np.where(over, row + rise, column * rows + row)

    column, row = (g.ravel() for g in np.meshgrid(np.arange(n), np.arange(rows - 1), indexing="ij"))
    there = (column < n - 1) | (row + 1 + rise < rows)
    column, row = column[there], row[there]
    a, b, c, d = at(column, row), at(column + 1, row), at(column + 1, row + 1), at(column, row + 1)
    sides = np.vstack([np.column_stack([a, b, c]), np.column_stack([a, c, d])])
    bottom, top = n * rows, n * rows + 1
    low = [*(np.arange(n) * rows), *range(rise, 0, -1)]
    high = [*(np.arange(n) * rows + rows - 1), *((n - 1) * rows + np.arange(rows - 2, rows - 2 - rise, -1))]
    caps = [[bottom, low[(k + 1) % len(low)], low[k]] for k in range(len(low))]
    caps += [[top, high[k], high[(k + 1) % len(high)]] for k in range(len(high))]
    return np.vstack([sides, np.array(caps)]).astype(np.int64)

"""Upright rays through a piece on a grid: where each goes into material and out of it, and through which faces."""

from dataclasses import dataclass

import numpy as np

from hinoki.core.geometry.frames import inverted
from hinoki.core.geometry.mesh import Faces, Points
from hinoki.core.orient.surface import Surface

COLUMNS = 120
"""rays along the longer side of a footprint, about"""
FINEST_MM, COARSEST_MM = 0.6, 4.0
STEP_OFF_MM = 2e-3
"""how far beyond a hit a ray goes on"""
MOST_WALLS = 40
"""walls one above the other that are looked at"""


@dataclass(frozen=True)
class Walls:
    """The rays' places (n, 2) in rows of `shape`, `step_mm` apart, and for each of them, in the order of height, where it goes
    into material and out of it (k, n), and the faces passed; NaN and −1 for none."""

    grid: Points
    shape: tuple[int, int]
    step_mm: float
    height_mm: float
    enter: Points
    leave: Points
    below: Faces
    above: Faces


def walls_of(surface: Surface, matrix: Points) -> Walls:
    """The walls of a piece that lies as `matrix` (3, 4) puts it, its underside at Z 0. Rays go up from below the bed; they are
    cast in the model's own coordinates, so that its scene is built once."""
    mesh = surface.mesh
    points = mesh.vertices @ matrix[:, :3].T + matrix[:, 3]
    low, high = points.min(axis=0), points.max(axis=0)
    step = float(np.clip(max(high[0] - low[0], high[1] - low[1]) / COLUMNS, FINEST_MM, COARSEST_MM))
    x = np.arange(low[0] + step / 2, high[0], step)
    y = np.arange(low[1] + step / 2, high[1], step)
    grid = np.stack(np.meshgrid(x, y, indexing="ij"), axis=-1).reshape(-1, 2)
    passed = _passed(surface, matrix, grid, float(low[2]))
    return Walls(grid, (len(x), len(y)), step, float(high[2]), *passed)


def _passed(surface: Surface, matrix: Points, grid: Points, low: float) -> tuple[Points, Points, Faces, Faces]:
    count = len(grid)
    back = inverted(matrix)
    facing_up = (surface.mesh.face_normals @ matrix[2, :3]) > 0
    at, going = np.full(count, low - 1.0), np.arange(count)
    up = back[:, :3] @ np.array([0.0, 0.0, 1.0])
    inside = np.zeros(count, dtype=bool)
    into, through = np.full(count, np.nan), np.full(count, -1)
    rows: list[tuple[Points, Points, np.ndarray, np.ndarray]] = []
    for _ in range(2 * MOST_WALLS):
        if not len(going):
            break
        starts = np.column_stack([grid[going], at[going]]) @ back[:, :3].T + back[:, 3]
        distance, face = surface.rays.first(starts, np.broadcast_to(up, starts.shape))
        hit = face >= 0
        going, distance, face = going[hit], distance[hit], face[hit]
        heights = at[going] + distance
        at[going] = heights + STEP_OFF_MM
        leaving = facing_up[face]
        enters, leaves = ~leaving & ~inside[going], leaving & inside[going]
        into[going[enters]], through[going[enters]] = heights[enters], face[enters]
        done = going[leaves]
        inside[going[enters]], inside[done] = True, False
        if len(done):
            row = np.full(count, np.nan), np.full(count, np.nan), np.full(count, -1), np.full(count, -1)
            row[0][done], row[1][done], row[2][done], row[3][done] = into[done], heights[leaves], through[done], face[leaves]
            rows.append(row)
    if not rows:
        nothing, none = np.full((1, count), np.nan), np.full((1, count), -1)
        return nothing, nothing, none, none
    enter, leave, below, above = (np.array([r[k] for r in rows]) for k in range(4))
    order = np.argsort(np.where(np.isnan(enter), np.inf, enter), axis=0, kind="stable")
    deepest = int((~np.isnan(enter)).sum(axis=0).max())
    enter, leave, below, above = (np.take_along_axis(a, order, axis=0)[:deepest] for a in (enter, leave, below, above))
    return enter, leave, below.astype(np.int64), above.astype(np.int64)

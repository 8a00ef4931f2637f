"""Support as columns: upright rays on a grid tell every gap below a hanging surface, and what lies above and below it."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from hinoki.core.frames import inverted
from hinoki.core.mesh import Faces, Points
from hinoki.core.orienting.quick import hanging_from
from hinoki.core.orienting.surface import JOINT, KINDS, Surface
from hinoki.core.rays import Rays

COLUMNS = 120
"""columns along the longer side of a footprint, about"""
FINEST_MM, COARSEST_MM = 0.6, 4.0
STEP_OFF_MM = 2e-3
"""how far beyond a hit a ray goes on"""
MOST_WALLS = 40
"""gaps one above the other that are looked at"""
LEAST_GAP_MM = 0.2
BRIDGE_MM = 10.0
"""a level roof between two walls prints without support up to this width (common practice: short bridges do)"""
LEVEL = 0.995


@dataclass
class Support:
    """What must be held up: volume of the columns, level area they hold, area by what it belongs to where columns touch the
    piece above and below (KINDS,), and for drawing the columns' places and ends (n, 4): x, y, from, to; grid step in mm."""

    step_mm: float
    volume_mm3: float = 0.0
    area_mm2: float = 0.0
    touch_mm2: Points = field(default_factory=lambda: np.zeros(KINDS))
    columns: Points = field(default_factory=lambda: np.zeros((0, 4)))

    @property
    def in_joints_mm2(self) -> float:
        """What of it touches joints: bores, threads, sockets."""
        return float(self.touch_mm2[JOINT])


@dataclass(frozen=True)
class _Walls:
    """Where upright rays pass the piece: heights (k, n) of entering and leaving, and the faces passed; NaN and −1 for none."""

    enter: Points
    leave: Points
    below: Faces
    above: Faces


def support_of(surface: Surface, matrix: Points, overhang_deg: float, bridge_mm: float = BRIDGE_MM) -> Support:
    """The columns under a piece that lies as `matrix` (3, 4) puts it, its underside at Z 0."""
    mesh = surface.mesh
    points = mesh.vertices @ matrix[:, :3].T + matrix[:, 3]
    low, high = points.min(axis=0), points.max(axis=0)
    step = float(np.clip(max(high[0] - low[0], high[1] - low[1]) / COLUMNS, FINEST_MM, COARSEST_MM))
    x = np.arange(low[0] + step / 2, high[0], step)
    y = np.arange(low[1] + step / 2, high[1], step)
    grid = np.stack(np.meshgrid(x, y, indexing="ij"), axis=-1).reshape(-1, 2)
    ups = -(mesh.face_normals @ matrix[:, :3].T)[:, 2]
    walls = _walls(surface.rays, matrix, ups < 0, grid, float(low[2]))
    return _columns(surface, walls, grid, (len(x), len(y)), step, ups, hanging_from(overhang_deg), bridge_mm)


def _walls(rays: Rays, matrix: Points, facing_up: np.ndarray, grid: Points, low: float) -> _Walls:
    """Rays go up from below the bed; they are cast in the model's own coordinates, so that its scene is built once."""
    back = inverted(matrix)
    at = np.full(len(grid), low - 1.0)
    going = np.arange(len(grid))
    up = back[:, :3] @ np.array([0.0, 0.0, 1.0])
    enter, leave, below, above = [], [], [], []
    state = np.zeros(len(grid), dtype=bool)  # inside
    rows = [np.full(len(grid), np.nan), np.full(len(grid), -1)]
    now_enter, now_below = rows[0].copy(), rows[1].copy()
    now_leave, now_above = rows[0].copy(), rows[1].copy()
    for _ in range(2 * MOST_WALLS):
        if not len(going):
            break
        starts = np.column_stack([grid[going], at[going]]) @ back[:, :3].T + back[:, 3]
        distance, face = rays.first(starts, np.broadcast_to(up, starts.shape))
        hit = face >= 0
        going, distance, face = going[hit], distance[hit], face[hit]
        heights = at[going] + distance
        at[going] = heights + STEP_OFF_MM
        leaving = facing_up[face]
        into = going[~leaving & ~state[going]]
        pick = ~leaving & ~state[going]
        now_enter[into], now_below[into] = heights[pick], face[pick]
        out_pick = leaving & state[going]
        out = going[out_pick]
        now_leave[out], now_above[out] = heights[out_pick], face[out_pick]
        state[into] = True
        state[out] = False
        done = out
        if len(done):
            row_e, row_l = np.full(len(grid), np.nan), np.full(len(grid), np.nan)
            row_b, row_a = np.full(len(grid), -1), np.full(len(grid), -1)
            row_e[done], row_l[done], row_b[done], row_a[done] = (
                now_enter[done],
                now_leave[done],
                now_below[done],
                now_above[done],
            )
            enter.append(row_e)
            leave.append(row_l)
            below.append(row_b)
            above.append(row_a)
    if not enter:
        nothing = np.full((1, len(grid)), np.nan)
        return _Walls(nothing, nothing, np.full((1, len(grid)), -1), np.full((1, len(grid)), -1))
    return _sorted(np.array(enter), np.array(leave), np.array(below).astype(np.int64), np.array(above).astype(np.int64))


def _sorted(enter: Points, leave: Points, below: Faces, above: Faces) -> _Walls:
    """Rows in the order of height for every ray, NaN last."""
    order = np.argsort(np.where(np.isnan(enter), np.inf, enter), axis=0, kind="stable")
    deepest = int((~np.isnan(enter)).sum(axis=0).max())
    heights = [np.take_along_axis(a, order, axis=0)[:deepest] for a in (enter, leave)]
    faces = [np.take_along_axis(a, order, axis=0)[:deepest] for a in (below, above)]
    return _Walls(heights[0], heights[1], faces[0], faces[1])


def _columns(
    surface: Surface, walls: _Walls, grid: Points, shape: tuple[int, int], step: float, ups: Points, limit: float, bridge: float
) -> Support:
    found = Support(step)
    cell = step * step
    columns = []
    for k in range(len(walls.enter)):
        top = walls.enter[k]
        floor = np.zeros(len(top)) if k == 0 else walls.leave[k - 1]
        face = walls.below[k]
        gap = top - floor
        held = (face >= 0) & (gap > LEAST_GAP_MM)
        held[held] = ups[face[held]] > limit
        level = held.copy()
        level[level] = ups[face[level]] > LEVEL
        if level.any():
            held &= ~_bridged(level.reshape(shape), top.reshape(shape), walls, shape, step, bridge).ravel()
        if not held.any():
            continue
        found.volume_mm3 += cell * float(gap[held].sum())
        found.area_mm2 += cell * int(held.sum())
        slant = np.maximum(ups[face[held]], 0.1)
        found.touch_mm2 += np.bincount(surface.kinds[face[held]], weights=cell / slant, minlength=KINDS)
        if k:
            under = walls.above[k - 1][held]
            found.touch_mm2 += cell * np.bincount(surface.kinds[under[under >= 0]], minlength=KINDS)
        columns.append(np.column_stack([grid[held], floor[held], top[held]]))
    if columns:
        found.columns = np.concatenate(columns)
    return found


def _bridged(level: np.ndarray, top: Points, walls: _Walls, shape: tuple[int, int], step: float, bridge: float) -> np.ndarray:
    """Which of the level roof's cells hang between two walls no further apart than a bridge spans, along X or along Y."""
    most = math.floor(bridge / step + 1e-9)
    solid = _solid_at(walls, shape)
    out = np.zeros(shape, dtype=bool)
    for turned in (False, True):
        rows = level.T if turned else level
        heights = top.T if turned else top
        done = out.T if turned else out
        for i in range(rows.shape[0]):
            row = rows[i]
            if not row.any():
                continue
            edges = np.flatnonzero(np.diff(np.concatenate([[0], row.view(np.int8), [0]])))
            for a, b in zip(edges[::2], edges[1::2], strict=True):
                if b - a > most or a == 0 or b == rows.shape[1]:
                    continue
                z = float(heights[i, a]) - LEAST_GAP_MM
                ends = [(a - 1, i), (b, i)] if turned else [(i, a - 1), (i, b)]
                if all(solid(x, y, z) for x, y in ends):
                    done[i, a:b] = True
    return out


def _solid_at(walls: _Walls, shape: tuple[int, int]) -> Callable[[int, int, float], bool]:
    """Whether there is material in a cell at a height."""
    enter = walls.enter.reshape(-1, *shape)
    leave = walls.leave.reshape(-1, *shape)

    def solid(i: int, j: int, z: float) -> bool:
        return bool(((enter[:, i, j] <= z) & (leave[:, i, j] >= z)).any())

    return solid

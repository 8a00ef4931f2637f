"""Support as columns: upright rays on a grid tell every gap below a hanging surface, and what lies above and below it."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from hinoki.core.geometry.mesh import Points
from hinoki.core.orient.fast_scores import hanging_from
from hinoki.core.orient.ray_grid import Walls, walls_of
from hinoki.core.orient.surface import JOINT, KINDS, Surface

LEAST_GAP_MM = 0.2
BRIDGE_MM = 10.0
"""a level roof between two walls prints without support up to this width (common practice: short bridges do)"""
LEDGE_MM = 1.5
"""a ledge no wider than this along a wall holds itself (common practice: threads are never printed with support)"""
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


def support_of(surface: Surface, matrix: Points, overhang_deg: float, bridge_mm: float = BRIDGE_MM) -> Support:
    """The columns under a piece that lies as `matrix` (3, 4) puts it, its underside at Z 0."""
    return columns_under(surface, walls_of(surface, matrix), matrix, overhang_deg, bridge_mm)


def columns_under(surface: Surface, walls: Walls, matrix: Points, overhang_deg: float, bridge_mm: float = BRIDGE_MM) -> Support:
    """The same by walls that are known."""
    ups = -(surface.mesh.face_normals @ matrix[2, :3])
    return _columns(surface, walls, ups, hanging_from(overhang_deg), bridge_mm)


def _columns(surface: Surface, walls: Walls, ups: Points, limit: float, bridge: float) -> Support:
    grid, shape, step = walls.grid, walls.shape, walls.step_mm
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
        held = _wide_enough(held.reshape(shape), step).ravel()
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


def _wide_enough(held: np.ndarray, step: float) -> np.ndarray:
    """Hanging regions without those that are a narrow ledge everywhere, such as the ridges of an upright thread."""
    from scipy import ndimage

    cells = max(2, math.ceil(LEDGE_MM / step - 1e-9) + 1)
    core = ndimage.binary_opening(held, np.ones((cells, cells)))
    return np.asarray(ndimage.binary_propagation(core, mask=held))


def _bridged(level: np.ndarray, top: Points, walls: Walls, shape: tuple[int, int], step: float, bridge: float) -> np.ndarray:
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


def _solid_at(walls: Walls, shape: tuple[int, int]) -> Callable[[int, int, float], bool]:
    """Whether there is material in a cell at a height."""
    enter = walls.enter.reshape(-1, *shape)
    leave = walls.leave.reshape(-1, *shape)

    def solid(i: int, j: int, z: float) -> bool:
        return bool(((enter[:, i, j] <= z) & (leave[:, i, j] >= z)).any())

    return solid

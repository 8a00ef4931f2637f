"""Shapes for the demo models, drawn as grids of points that close exactly."""

import numpy as np
from shapely.geometry import Polygon

from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.solid import Solid


def turned(profile: Points, around: int, wobble: Points | None = None) -> Solid:
    """A body turned about Z from `profile` (n, 2) of radius and height, from the axis to the axis.

    `wobble` (n, around) multiplies the radius at each point, for what is not quite round.
    """
    angles = np.linspace(0, 2 * np.pi, around, endpoint=False)
    inner = profile[1:-1]
    radius = inner[:, :1] * (np.ones((1, around)) if wobble is None else wobble[1:-1])
    points = np.stack([radius * np.cos(angles), radius * np.sin(angles), np.broadcast_to(inner[:, 1:], radius.shape)], axis=-1)
    rows = len(inner)
    vertices = np.concatenate([points.reshape(-1, 3), [[0, 0, profile[0, 1]], [0, 0, profile[-1, 1]]]])
    i = np.repeat(np.arange(rows - 1), around)
    j = np.tile(np.arange(around), rows - 1)
    k = (j + 1) % around
    a, b, c, d = i * around + j, i * around + k, (i + 1) * around + k, (i + 1) * around + j
    side = np.concatenate([np.stack([a, b, c], 1), np.stack([a, c, d], 1)])
    ring = np.arange(around)
    after = (ring + 1) % around
    low, high = rows * around, rows * around + 1
    top = (rows - 1) * around
    caps = np.concatenate(
        [
            np.stack([np.full(around, low), after, ring], 1),
            np.stack([np.full(around, high), top + ring, top + after], 1),
        ]
    )
    return Solid.from_mesh(Mesh(vertices, np.concatenate([side, caps])))


def noise(shape: tuple[int, int], scale: int, seed: int) -> Points:
    """Smooth, repeatable bumps, about −1 to 1, that join up around the second axis."""
    rng = np.random.default_rng(seed)
    rows, columns = shape
    out = np.zeros(shape)
    share, cells = 1.0, scale
    for _ in range(4):
        grid = rng.uniform(-1, 1, (cells + 1, 2 * cells))
        y = np.linspace(0, cells, rows, endpoint=False)[:, None]
        x = np.linspace(0, 2 * cells, columns, endpoint=False)[None, :]
        y0, x0 = np.floor(y).astype(int), np.floor(x).astype(int)
        fy, fx = _ease(y - y0), _ease(x - x0)
        x1 = (x0 + 1) % (2 * cells)
        out += share * (
            grid[y0, x0] * (1 - fy) * (1 - fx)
            + grid[y0, x1] * (1 - fy) * fx
            + grid[y0 + 1, x0] * fy * (1 - fx)
            + grid[y0 + 1, x1] * fy * fx
        )
        share, cells = share / 2, cells * 2
    return out / 1.6


def drawn_out(outline: Polygon, low: float, high: float) -> Solid:
    """The convex outline drawn out straight from `low` to `high`."""
    flat = np.asarray(outline.exterior.coords)[:-1]
    return Solid.hull_of(np.concatenate([np.column_stack([flat, np.full(len(flat), z)]) for z in (low, high)]))


def _ease(t: Points) -> Points:
    return np.asarray(t * t * (3 - 2 * t))

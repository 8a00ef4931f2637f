"""Which side of a wall is hidden where its face does not tell: the hollow side of a shell looks at the shell itself."""

from collections.abc import Iterator
from functools import lru_cache

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.mesh import Points, stacked
from hinoki.core.geometry.raycast import Rays
from hinoki.core.geometry.rotations import spread_over_sphere
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import SIDES, Standing
from hinoki.core.join.contract.wall_runs import wall_runs

LOOKS, WAYS = 9, 240
"""places along a wall, and ways in all directions, in which it is looked"""
AWAY = (0.0, 0.6)
"""cosines from the way square to a wall within which it is looked in turn: all ahead, as a strip along a shell needs; then less
to the side, where the outside of a shell that leans sees the shell, too"""
OFF_MM = 0.5
HIDDEN, TIMES = 0.12, 2.0
"""share of ways on which the hidden side sees its own pieces at least, and how many times as many as the other one"""


def hidden_lines(standing: Standing) -> list[shapely.LineString]:
    """The lines at which walls look into a hollow that their face does not go round, as where a shell is cut along; nothing for
    flat sheets, and where the pieces are not known."""
    if standing.sections is None:
        return []
    a, b = (standing.sections.solid(side) for side in SIDES)
    return list(_lines(a, b, standing.shape, tuple(map(float, standing.frame.to_world.ravel()))))


@lru_cache(maxsize=8)
def _lines(a: Solid, b: Solid, shape: MultiPolygon, to_world: tuple[float, ...]) -> tuple[shapely.LineString, ...]:
    """Asked again for every size of a joint; the face is told by the matrix (3, 4) from its plane."""
    runs = wall_runs(shape)
    if not runs:
        return ()
    x, y, n, at = np.reshape(to_world, (3, 4)).T
    frame, rays = Frame(at, x, y, n), Rays(stacked([a.mesh, b.mesh]))
    return tuple(line for run in runs for line in _hidden(run.middles, run.inward, run.thick_mm, frame, rays))


def _hidden(middles: Points, inward: Points, thick_mm: Points, frame: Frame, rays: Rays) -> Iterator[shapely.LineString]:
    """The line along the hidden side of a wall, if one is."""
    sides = [(sign, middles + sign * inward * thick_mm[:, None] / 2) for sign in (-1.0, 1.0)]
    # not at the very ends: what stands out at a corner there may be within the wall
    some = np.unique(np.linspace(0, len(middles) - 1, LOOKS + 2).astype(int)[1:-1])
    for away in AWAY if len(middles) > 1 else ():
        seen = [
            _share_seen(line[some] + sign * OFF_MM * inward[some], sign * inward[some], frame, rays, away)
            for sign, line in sides
        ]
        if max(seen) >= max(HIDDEN, TIMES * min(seen)):
            yield shapely.LineString(sides[int(np.argmax(seen))][1])
            return


def _share_seen(points: Points, outward: Points, frame: Frame, rays: Rays, away: float) -> float:
    """The share of the ways out of points (n, 2), within a cosine of the ways (n, 2) `outward`, that meet the pieces."""
    ways = spread_over_sphere(WAYS)
    out = outward[:, :1] * frame.u + outward[:, 1:] * frame.v
    ahead = out @ ways.T > away
    which, way = np.nonzero(ahead)
    far, _ = rays.first(frame.world(points)[which], ways[way])
    return float(np.isfinite(far).mean())

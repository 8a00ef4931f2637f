"""Flat sections: outlines of a solid at a plane, and what can be measured on them."""

import math
from functools import lru_cache

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.mesh import Faces, Mesh, Points
from hinoki.core.geometry.polygons import as_multi, polygons_of
from hinoki.core.geometry.solid import Solid

AT_ONCE = 60_000
"""pairs of rays and edges looked at in one go, so that they stay in the processor's cache"""
ON_PLANE_MM = 1e-5
"""how far a vertex may lie off a parting plane and still count as on it"""


class FramedSolid:
    """A solid seen in a frame, so that sections parallel to the frame's plane cost next to nothing."""

    def __init__(self, solid: Solid, frame: Frame) -> None:
        self._turned = solid.placed(frame.to_frame)

    def section(self, height: float) -> MultiPolygon:
        """The section `height` above the frame's plane, in plane coordinates."""
        return self._turned.slice(height)


def section_of(solid: Solid, frame: Frame) -> MultiPolygon:
    """The section of `solid` at the plane of `frame`, in plane coordinates."""
    return FramedSolid(solid, frame).section(0.0)


def box_sides(solid: Solid, frame: Frame) -> tuple[float, float]:
    """Lowest and highest reach of the upright box around a solid along the normal of `frame`, from its plane; costs nothing."""
    low, high = solid.bounds
    middle = float((low + high) @ frame.n) / 2 - frame.offset
    half = float((high - low) @ np.abs(frame.n)) / 2
    return middle - half, middle + half


def flat_faces_at(mesh: Mesh, frame: Frame, upward: bool, within_mm: float = ON_PLANE_MM) -> MultiPolygon:
    """Outline of the triangles of `mesh` that lie in the plane of `frame` and look along (or against) its normal."""
    heights = np.abs(frame.heights(mesh.vertices)) < within_mm
    inside = heights[mesh.faces].all(axis=1)
    if not inside.any():
        return MultiPolygon()
    faces = mesh.faces[inside]
    flat = frame.flat(mesh.vertices[faces].reshape(-1, 3)).reshape(-1, 3, 2)
    ab, ac = flat[:, 1] - flat[:, 0], flat[:, 2] - flat[:, 0]
    turn = ab[:, 0] * ac[:, 1] - ab[:, 1] * ac[:, 0]
    chosen = flat[turn > 1e-12] if upward else flat[turn < -1e-12]
    if len(chosen) == 0:
        return MultiPolygon()
    rings = np.concatenate([chosen, chosen[:, :1]], axis=1)
    triangles = shapely.polygons(rings)
    try:
        joined = shapely.coverage_union_all(triangles)
    except shapely.GEOSException:
        joined = shapely.union_all(triangles, grid_size=1e-6)
    if not joined.is_valid:
        joined = shapely.union_all(triangles, grid_size=1e-6)
    return as_multi(joined)


def least_wall(shape: MultiPolygon, samples: int = 240) -> tuple[float, Points] | None:
    """Smallest thickness of a section, and where (2,)."""
    walls, middles = _walls(shape, samples)
    least = int(np.argmin(walls)) if len(walls) else 0
    return (float(walls[least]), middles[least]) if len(walls) else None


def usual_wall(shape: MultiPolygon, samples: int = 240) -> float | None:
    """The thickness that three quarters of a section's outline have at least: what it is thinner at its ends does not count."""
    walls, _ = _walls(shape, samples)
    return float(np.quantile(walls, 0.25)) if len(walls) else None


@lru_cache(maxsize=256)
def _walls(shape: MultiPolygon, samples: int) -> tuple[Points, Points]:
    """Thicknesses of a section along its outlines (n,), and the middles of the wall there (n, 2).

    From points along every outline a ray runs inwards, at right angles, to the opposite outline; a hit counts only
    where the opposite side faces back (within 60°), so that corners are not taken for thin walls. Many rules ask this of the
    same few sections, so they are remembered.
    """
    rings = [np.asarray(ring.coords)[:-1] for part in shape.geoms for ring in (part.exterior, *part.interiors)]
    if not rings:
        return np.zeros(0), np.zeros((0, 2))
    starts = np.concatenate(rings)
    ends = np.concatenate([np.roll(ring, -1, axis=0) for ring in rings])
    along = ends - starts
    length = np.linalg.norm(along, axis=1)
    keep = length > 1e-9
    starts, along, length = starts[keep], along[keep] / length[keep, None], length[keep]
    inward = np.column_stack([-along[:, 1], along[:, 0]])
    flips = np.concatenate(
        [
            np.full(len(r), 1.0 if _runs_left(r, i == 0) else -1.0)
            for part in shape.geoms
            for i, r in enumerate(np.asarray(x.coords)[:-1] for x in (part.exterior, *part.interiors))
        ]
    )
    inward *= flips[keep][:, None]
    where = (np.arange(samples) + 0.5) / samples * length.sum()
    edge = np.minimum(np.searchsorted(np.cumsum(length), where), len(length) - 1)
    before = np.concatenate([[0.0], np.cumsum(length)[:-1]])
    points = starts[edge] + along[edge] * (where - before[edge])[:, None]
    directions = inward[edge]
    far = np.full(samples, np.inf)
    opposite = np.zeros(samples, dtype=np.int64)
    for first in range(0, samples, at_once := max(1, AT_ONCE // len(starts))):
        some = slice(first, first + at_once)
        far[some], opposite[some] = _nearest(points[some], directions[some], edge[some], starts, along, length)
    facing = np.einsum("ij,ij->i", inward[opposite], directions) < -0.5
    met = facing & np.isfinite(far)
    walls, middles = far[met], points[met] + directions[met] * far[met, None] / 2
    walls.setflags(write=False)
    middles.setflags(write=False)
    return walls, middles


def _nearest(
    points: Points, directions: Points, own: Faces, starts: Points, along: Points, length: Points
) -> tuple[Points, Faces]:
    """How far from each point (k, 2) along its direction the nearest of the edges lies, and which; its own does not count."""
    x, y = directions[:, :1], directions[:, 1:]
    to_x, to_y = starts[:, 0] - points[:, :1], starts[:, 1] - points[:, 1:]
    cross = x * along[:, 1] - y * along[:, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        t = (to_x * along[:, 1] - to_y * along[:, 0]) / cross
        s = (to_x * y - to_y * x) / cross
    hit = (t > 1e-6) & (s >= -1e-9) & (s <= length + 1e-9) & (np.abs(cross) > 1e-9)
    hit[np.arange(len(own)), own] = False
    t[~hit] = np.inf
    nearest = np.argmin(t, axis=1)
    return t[np.arange(len(own)), nearest], nearest


def largest_circle(shape: MultiPolygon) -> tuple[float, Points]:
    """Radius and centre (2,) of the largest circle within a section; (0, origin) for nothing."""
    best = 0.0, np.zeros(2)
    for part in shape.geoms:
        if part.area <= np.pi * best[0] ** 2:
            continue
        tolerance = max(0.05, 0.01 * math.sqrt(part.area))
        line = shapely.maximum_inscribed_circle(part, tolerance=tolerance)
        if line.length > best[0]:
            best = float(line.length), np.asarray(line.coords[0])
    return best


def slim(shape: MultiPolygon, tolerance_mm: float = 0.01) -> list[list[list[tuple[float, float]]]]:
    """Outlines for drawing: polygons of rings of points, thinned to `tolerance_mm` and rounded."""
    thin = as_multi(shapely.simplify(shape, tolerance_mm))
    return [
        [[(round(x, 3), round(y, 3)) for x, y in np.asarray(ring.coords)[:-1]] for ring in (part.exterior, *part.interiors)]
        for part in thin.geoms
    ]


def _runs_left(ring: Points, outer: bool) -> bool:
    """Whether the material lies left of the ring's edges."""
    x, y = ring[:, 0], ring[:, 1]
    ccw = float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) > 0
    return ccw if outer else not ccw


__all__ = ["FramedSolid", "flat_faces_at", "largest_circle", "least_wall", "polygons_of", "section_of", "slim"]

"""Whether a body can slide along a straight line past another: exact on their triangles, within a stated tolerance.

Seen along the way, the moving body is stopped where one of its leading faces (those that look ahead) lies before a face of
the other that looks back, over an area. Both are flat, so the depth between them is linear over the area that they share,
and it is enough to look at the corners of that area. Faces that only touch side by side share no area and stop nothing.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from hinoki.core.geometry.frames import turned_to
from hinoki.core.geometry.mesh import Faces, Mesh, Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.raycast import Rays

WITHIN_MM = 0.02
"""bodies that overlap by less, or would meet over a strip narrower than this, count as free: rounding, and files that hold
single-precision numbers"""
GRID = 48
"""cells each way of the raster that tells apart, without looking at faces, where nothing can meet"""
FEW_PAIRS = 40_000
"""so few pairs of faces are looked at without a raster"""
MOST_RAYS = 500
CHUNK = 40_000
FIRST_CHUNK = 64
EDGEWISE = 1e-6
"""a face whose normal is nearer to square with the way than this is seen edge on"""
Numbers = NDArray[np.int64]


@dataclass(frozen=True)
class Slide:
    """How a slide goes: it is free to the end, or stopped after `after_mm` at the point `at` (3,).

    `exact_stop` tells whether no meeting comes earlier than `after_mm`.
    """

    free: bool
    after_mm: float = np.inf
    at: tuple[float, float, float] | None = None
    exact_stop: bool = True


FREE = Slide(True)


class Form:
    """A body as its triangles, with what is worked out once: rays against it, its faces seen along a way."""

    def __init__(self, mesh: Mesh) -> None:
        self.mesh = mesh
        self._seen: dict[tuple[float, ...], _Seen] = {}

    @cached_property
    def rays(self) -> Rays:
        """For rays against its surface."""
        return Rays(self.mesh)

    @property
    def bounds(self) -> tuple[Points, Points]:
        """Lowest and highest corner, each (3,)."""
        return self.mesh.bounds

    def seen(self, way: Points) -> "_Seen":
        """Its faces seen along a unit vector (3,)."""
        key = tuple(np.round(way, 9).tolist())
        found = self._seen.get(key)
        if found is None:
            if len(self._seen) > 12:
                self._seen.clear()
            found = self._seen[key] = _Seen(self.mesh, way)
        return found


class _Seen:
    """Triangles seen along a way, in the way's own frame (across, across, along): the box of each triangle, `facing` (m,) how
    far each looks along the way, and the box of all."""

    def __init__(self, mesh: Mesh, way: Points) -> None:
        self.turn = turned_to(way)[:, :3]
        self._mesh, self._way = mesh, way
        self._turned = Mesh(mesh.vertices @ self.turn, mesh.faces)
        self.least, self.most = self._turned.bounds

    @cached_property
    def facing(self) -> Points:
        return np.asarray(self._mesh.face_normals @ self._way)

    @property
    def low(self) -> Points:
        return self._turned.face_boxes[0]

    @property
    def high(self) -> Points:
        return self._turned.face_boxes[1]

    def corners(self, faces: Numbers) -> Points:
        """The corners (n, 3, 3) of some triangles."""
        return np.asarray(self._turned.vertices[self._turned.faces[faces]])


def slide(moving: Form, still: Form, way: Points, exact: bool = False, shift: Points | None = None) -> Slide:
    """Whether `moving` can slide along the unit vector `way` (3,) without end past `still`.

    With `exact` a stop is the first there is; else any one is given, which is found sooner. `shift` (3,) is where the moving
    body has come to before.
    """
    a, b = moving.seen(way), still.seen(way)
    by = np.zeros(3) if shift is None else shift @ a.turn
    least, most = a.least + by, a.most + by
    low, high = np.maximum(least[:2], b.least[:2]), np.minimum(most[:2], b.most[:2])
    if (high - low < WITHIN_MM).any() or b.most[2] <= least[2] + WITHIN_MM:
        return FREE
    ahead = np.flatnonzero((a.facing > EDGEWISE) & _reaches(a.low + by, a.high + by, low, high))
    ahead = ahead[(a.low[ahead, 2] + by[2]) < b.most[2] + WITHIN_MM]
    behind = np.flatnonzero((b.facing < -EDGEWISE) & _reaches(b.low, b.high, low, high))
    behind = behind[b.high[behind, 2] > least[2] - WITHIN_MM]
    if not len(ahead) or not len(behind):
        return FREE
    stopped = None
    hit = _by_rays(moving, still, b, ahead, way, np.zeros(3) if shift is None else shift)
    if hit is not None:
        stopped = _meets(a, b, *hit, by, exact)
        if stopped is not None and (not exact or stopped.after_mm <= 0):
            return stopped
    ahead, behind = _may_meet(a, b, ahead, behind, by, low, high)
    if not len(ahead) or not len(behind):
        return stopped or FREE
    known = np.inf if stopped is None else stopped.after_mm
    sooner = _meets(a, b, *_pairs(a, b, ahead, behind, by, known), by, exact)
    return min((s for s in (stopped, sooner) if s is not None), key=lambda s: s.after_mm, default=FREE)


def _reaches(low: Points, high: Points, box_low: Points, box_high: Points) -> NDArray[np.bool_]:
    return np.asarray(((low[:, :2] < box_high) & (high[:, :2] > box_low)).all(axis=1))


def _may_meet(  # noqa: PLR0913 - two boxes and the way between them
    a: _Seen, b: _Seen, ahead: Numbers, behind: Numbers, by: Points, low: Points, high: Points
) -> tuple[Numbers, Numbers]:
    """The faces left once a raster has told where all that lies ahead lies below all that looks back."""
    if len(ahead) * len(behind) < FEW_PAIRS:
        return ahead, behind
    size = np.maximum(high - low, 1e-9) / GRID
    floor = np.full(GRID * GRID, np.inf)
    roof = np.full(GRID * GRID, -np.inf)
    own_a, cell_a = _cells(a.low[ahead] + by, a.high[ahead] + by, low, size)
    own_b, cell_b = _cells(b.low[behind], b.high[behind], low, size)
    np.minimum.at(floor, cell_a, a.low[ahead, 2][own_a] + by[2])
    np.maximum.at(roof, cell_b, b.high[behind, 2][own_b])
    keep_a = np.zeros(len(ahead), dtype=bool)
    keep_b = np.zeros(len(behind), dtype=bool)
    keep_a[own_a[roof[cell_a] > a.low[ahead, 2][own_a] + by[2] - WITHIN_MM]] = True
    keep_b[own_b[floor[cell_b] < b.high[behind, 2][own_b] + WITHIN_MM]] = True
    return ahead[keep_a], behind[keep_b]


def _cells(low: Points, high: Points, start: Points, size: Points) -> tuple[Numbers, Numbers]:
    """For boxes in the plane the raster cells that each covers: the box's number, and the cell's."""
    first = np.clip(((low[:, :2] - start) / size).astype(np.int64), 0, GRID - 1)
    last = np.clip(((high[:, :2] - start) / size).astype(np.int64), 0, GRID - 1)
    wide = last - first + 1
    many = wide[:, 0] * wide[:, 1]
    own = np.repeat(np.arange(len(low)), many)
    k = np.arange(len(own)) - np.repeat(np.cumsum(many) - many, many)
    x, y = first[own, 0] + k % wide[own, 0], first[own, 1] + k // wide[own, 0]
    return own, x * GRID + y


def _by_rays(
    moving: Form, still: Form, seen: _Seen, ahead: Numbers, way: Points, shift: Points
) -> tuple[Numbers, Numbers] | None:
    """Pairs of faces that rays from the moving body's leading faces find; they are only where to look first. Faces that look
    the same way are left by a ray that began inside, where surfaces touch, and stop nothing."""
    chosen = ahead[:: max(1, len(ahead) // MOST_RAYS)]
    mesh = moving.mesh
    starts = mesh.vertices[mesh.faces[chosen]].mean(axis=1) + shift - WITHIN_MM * way
    _, hit = still.rays.first(starts, np.broadcast_to(way, starts.shape))
    found = (hit >= 0) & (seen.facing[hit] < -EDGEWISE)
    if not found.any():
        return None
    return chosen[found], hit[found]


def _pairs(a: _Seen, b: _Seen, ahead: Numbers, behind: Numbers, by: Points, known: float) -> tuple[Numbers, Numbers]:
    """All pairs of faces whose boxes overlap seen along the way, that are not past each other, and that may meet sooner than
    after `known` mm."""
    lows, highs = a.low[ahead] + by, a.high[ahead] + by
    tree = shapely.STRtree(shapely.box(b.low[behind, 0], b.low[behind, 1], b.high[behind, 0], b.high[behind, 1]))
    one, two = tree.query(shapely.box(lows[:, 0], lows[:, 1], highs[:, 0], highs[:, 1]))
    near = (b.high[behind[two], 2] > lows[one, 2] - WITHIN_MM) & (b.low[behind[two], 2] - highs[one, 2] < known)
    return ahead[one[near]], behind[two[near]]


def _meets(a: _Seen, b: _Seen, ahead: Numbers, behind: Numbers, by: Points, exact: bool) -> Slide | None:
    """The first meeting (or any) among pairs of faces; None where there is none."""
    best: tuple[float, Points] | None = None
    thin: list[shapely.Geometry] = []
    thin_best: tuple[float, Points] | None = None
    # no pair meets sooner than its boxes do: those that may meet soon come first
    soonest = b.low[behind, 2] - (a.high[ahead, 2] + by[2])
    turn = np.argsort(soonest, kind="stable")
    ahead, behind, soonest = ahead[turn], behind[turn], soonest[turn]
    for start, size in _chunks(len(ahead)):
        if best is not None and (not exact or best[0] <= max(0.0, float(soonest[start]))):
            break
        part = slice(start, start + size)
        found = _shared(a, b, ahead[part], behind[part], by)
        if found is None:
            continue
        shared, _, second, least = found
        wide = shapely.area(shared) / np.maximum(shapely.length(shared), 1e-12) > WITHIN_MM / 4
        for picked, is_thin in ((np.flatnonzero(wide), False), (np.flatnonzero(~wide), True)):
            if not len(picked):
                continue
            k = picked[int(np.argmin(least[picked]))]
            middle = np.asarray(shapely.centroid(shared[k]).coords[0])
            met = max(0.0, float(least[k])), a.turn @ np.array([*middle, float(_height(second[k][None], middle[None])[0])])
            if is_thin:
                thin += list(shared[picked])
                thin_best = met if thin_best is None or met[0] < thin_best[0] else thin_best
            elif best is None or met[0] < best[0]:
                best = met
    if thin and thin_best is not None and (best is None or (exact and thin_best[0] < best[0])):
        # many narrow strips side by side are an area after all
        whole = shapely.union_all([t.buffer(1e-6) for t in thin])
        if not whole.buffer(-WITHIN_MM / 2).is_empty:
            best = thin_best
    if best is None:
        return None
    x, y, z = (round(float(c), 3) for c in best[1])
    return Slide(False, best[0], (x, y, z), exact)


def _chunks(count: int) -> Iterator[tuple[int, int]]:
    """Where parts begin and how large they are: few first, since one meeting is often all that is wanted."""
    start, size = 0, FIRST_CHUNK
    while start < count:
        yield start, size
        start += size
        size = min(4 * size, CHUNK)


def _shared(
    a: _Seen, b: _Seen, ahead: Numbers, behind: Numbers, by: Points
) -> tuple[NDArray[np.object_], Points, Points, Points] | None:
    """The areas, seen along the way, over which faces of the moving body lie before faces of the other: their outlines, the two
    triangles of each, and the least depth between them. None where there is none."""
    first, second = a.corners(ahead) + by, b.corners(behind)
    areas = shapely.intersection(shapely.polygons(_rings(first)), shapely.polygons(_rings(second)))
    some = np.flatnonzero(shapely.area(areas) > 1e-9)
    if not len(some):
        return None
    areas, first, second = areas[some], first[some], second[some]
    most, least = _depths(areas, first, second)
    meets = most > -WITHIN_MM
    if not meets.any():
        return None
    areas, first, second, least = areas[meets], first[meets], second[meets], least[meets]
    mixed = np.flatnonzero(least < -WITHIN_MM)
    if len(mixed):
        # only the part counts where the one lies before the other: surfaces that go on across a seam share a hair
        areas[mixed] = _before(areas[mixed], first[mixed], second[mixed])
        least[mixed] = np.maximum(least[mixed], -WITHIN_MM)
    keep = np.flatnonzero(shapely.area(areas) > 1e-9)
    return (areas[keep], first[keep], second[keep], least[keep]) if len(keep) else None


def _depths(areas: NDArray[np.object_], first: Points, second: Points) -> tuple[Points, Points]:
    """The most and the least depth between two triangles over each area."""
    points, owner = shapely.get_coordinates(areas, return_index=True)
    gap = _height(second[owner], points) - _height(first[owner], points)
    most, least = np.full(len(areas), -np.inf), np.full(len(areas), np.inf)
    np.maximum.at(most, owner, gap)
    np.minimum.at(least, owner, gap)
    return most, least


def _before(areas: NDArray[np.object_], first: Points, second: Points) -> NDArray[np.object_]:
    """Of each area the part over which the first triangle lies before the second, or less than WITHIN_MM past it."""
    at = shapely.get_coordinates(shapely.centroid(areas))
    here, across, along = (
        _height(second, at + step) - _height(first, at + step) + WITHIN_MM for step in ((0.0, 0.0), (1.0, 0.0), (0.0, 1.0))
    )
    slope = np.stack([across - here, along - here], axis=1)
    steep = np.linalg.norm(slope, axis=1)
    far = 1.0 + shapely.length(areas)
    away = here / np.maximum(steep, 1e-9)
    out = np.where(here > 0, areas, shapely.Polygon())
    cut = np.flatnonzero((steep >= 1e-9) & (np.abs(away) < far))
    if len(cut):
        ahead = slope[cut] / steep[cut, None]
        side = np.stack([-ahead[:, 1], ahead[:, 0]], axis=1) * far[cut, None]
        edge = at[cut] - ahead * away[cut, None]
        deep = ahead * far[cut, None]
        halves = shapely.polygons(np.stack([edge - side, edge + side, edge + side + deep, edge - side + deep], axis=1))
        out[cut] = [as_multi(one) for one in shapely.intersection(areas[cut], halves)]
    return out


def _rings(corners: Points) -> Points:
    return np.asarray(np.concatenate([corners[:, :, :2], corners[:, :1, :2]], axis=1))


def _height(corners: Points, points: Points) -> Points:
    """How far along the way the planes of triangles (n, 3, 3) lie at points (n, 2)."""
    p, q = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    normal = np.cross(p, q)
    off = points - corners[:, 0, :2]
    return np.asarray(corners[:, 0, 2] - (normal[:, 0] * off[:, 0] + normal[:, 1] * off[:, 1]) / normal[:, 2])


def faces_towards(mesh: Mesh, way: Points) -> Faces:
    """Numbers of the faces that look along a way."""
    return np.flatnonzero(mesh.face_normals @ way > EDGEWISE).astype(np.int64)

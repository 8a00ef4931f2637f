"""Limbs: what reaches out of a body, and the narrow place where it begins.

Distances over the surface from the middle of a body have a farthest place at the end of every limb, and the limb is what lies
beyond the level at which it joins others (Hilaga, Shinagawa, Kohmura & Kunii 2001, SIGGRAPH: Reeb graphs of the geodesic
distance). It begins at the last crease before it widens into the body (the minima rule, Hoffman & Richards 1984).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np
from shapely.geometry import Point, Polygon

from hinoki.core.geometry.frames import Frame, plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.sections import section_of
from hinoki.core.geometry.solid import Solid

if TYPE_CHECKING:
    from scipy.sparse import csr_matrix

EDGE_SHARE = 1 / 100
"""of a body's diagonal, its surface's edges are no longer than that"""
LEAST_SHARE = 0.06
"""of the diagonal, a limb is longer than that"""
STEPS = 24
"""sections that are looked at along a limb"""
BACK = 6
"""sections over which the way of a limb is taken; so far its end may have any form"""
CREASE_STEPS = 3
"""sections within which it widens"""
SLOPE, WIDENS = 0.7, 1.5
"""a limb begins where its half width grows by this slope (a cone of 35°) and is soon so many times as much"""
SLENDER = 1.1
"""how many times as long as it is wide at its root a limb is at least"""
AHEAD = 0.75
"""cosine between the way of a limb at its root and that to its end, at least: else it was cut askew"""
SQUARE = np.cos(np.radians(8.0))
"""a root that looks along X, Y or Z but for so much does so"""
NARROWER = 0.85
"""a section has begun to widen where the one before it is so many times as wide"""
LINE_STEPS, LEAST_LINE = 8, 4
"""sections whose middles tell the line of a limb at its root"""
ALONG = 0.6
"""a plane cuts along a limb where its middle lies no farther off than so many times its half width"""
BESIDE = 1.3
"""a plane clears a root that is so many times its half width off"""
NEAR = 2.0
"""a section belongs to a limb that is no farther off the middle of its corners there than so many times its half width"""


@dataclass(frozen=True, eq=False)
class Limb:
    """The middle of its root (3,), the unit way out of the body (3,), its farthest place (3,), how long it is and half as wide
    as it is at its root, in mm: the radius of a circle as large as its section there."""

    root: Points
    out: Points
    tip: Points
    length_mm: float
    half_mm: float


def cut_along(limbs: Sequence[Limb], frame: Frame) -> int:
    """How many limbs a plane cuts along, from their roots to their middles at least."""
    ends = [frame.heights(np.array([limb.root, (limb.root + limb.tip) / 2])) for limb in limbs]
    return sum(bool((np.abs(heights) < ALONG * limb.half_mm).all()) for limb, heights in zip(limbs, ends, strict=True))


def through_roots(limbs: Sequence[Limb], frame: Frame) -> int:
    """How many roots a plane runs through, so that what stands there would be left with a part of its face."""
    return sum(bool(abs(float(frame.heights(limb.root[None])[0])) < BESIDE * limb.half_mm) for limb in limbs)


@dataclass(frozen=True)
class _Branch:
    """The corner where it ends, all of its corners, and the distance at which it joins others."""

    tip: int
    own: Points
    joins: float


@dataclass(frozen=True, eq=False)
class _Section:
    """A section of a limb: where it was looked for and its middle, (3,), the way it is square to, and half its width as that of
    a circle as large."""

    at: Points
    middle: Points
    out: Points
    half_mm: float


def limbs_of(solid: Solid) -> tuple[Limb, ...]:
    """The limbs of a body, the longest first; none for one that has none."""
    diagonal = float(np.linalg.norm(solid.size))
    if not diagonal:
        return ()
    fine = solid.refined(EDGE_SHARE * diagonal)
    points, edges = fine.mesh.vertices, _edges(fine)
    far = _distances(points, edges)
    found = [_rooted(solid, points, far, branch) for branch in _branches(edges, far, LEAST_SHARE * diagonal)]
    return tuple(sorted((limb for limb in found if limb is not None), key=lambda limb: -limb.length_mm))


def _distances(points: Points, edges: "csr_matrix") -> Points:
    """How far each corner of a surface is from the middle of the lump that reaches farthest, (n,); infinite on others."""
    from scipy.sparse.csgraph import dijkstra

    def away_from(corner: int) -> Points:
        return np.asarray(dijkstra(edges, directed=False, indices=corner))

    def farthest(away: Points) -> int:
        return int(np.argmax(np.where(np.isfinite(away), away, -1.0)))

    outermost = int(np.argmax(np.linalg.norm(points - points.mean(axis=0), axis=1)))
    from_one_end = away_from(farthest(away_from(outermost)))
    from_other = away_from(farthest(from_one_end))
    return away_from(int(np.argmin(np.maximum(from_one_end, from_other))))


def _edges(fine: Solid) -> "csr_matrix":
    """The edges of a surface as a sparse matrix of their lengths."""
    from scipy.sparse import csr_matrix

    mesh = fine.mesh
    pairs = np.concatenate([mesh.faces[:, [0, 1]], mesh.faces[:, [1, 2]], mesh.faces[:, [2, 0]]])
    pairs = pairs[pairs[:, 0] < pairs[:, 1]]  # closed: each edge comes both ways
    long = np.linalg.norm(mesh.vertices[pairs[:, 0]] - mesh.vertices[pairs[:, 1]], axis=1)
    return csr_matrix((long, (pairs[:, 0], pairs[:, 1])), shape=(len(mesh.vertices), len(mesh.vertices)))


def _branches(edges: "csr_matrix", far: Points, least_mm: float) -> list[_Branch]:
    """The places that are farther than all around them by `least_mm` before they join others that are, too."""
    order = np.argsort(-far, kind="stable")
    order = order[np.isfinite(far[order])]
    beside = (edges + edges.T).tocsr()
    above: dict[int, int] = {}  # a corner's way to the farthest place it hangs together with
    corners: dict[int, list[int]] = {}
    joins: dict[int, tuple[float, list[int]]] = {}

    def top(corner: int) -> int:
        while above[corner] != corner:
            above[corner] = above[above[corner]]
            corner = above[corner]
        return corner

    for corner in order.tolist():
        level = float(far[corner])
        near = {top(n) for n in beside.indices[beside.indptr[corner] : beside.indptr[corner + 1]].tolist() if n in above}
        tips = sorted(near, key=lambda t: -far[t])
        long = [t for t in tips if far[t] - level >= least_mm]
        if len(long) > 1:
            for tip in long:
                joins.setdefault(tip, (level, list(corners[tip])))
        tip = tips[0] if tips else corner
        above[corner] = tip
        if not tips:
            corners[corner] = []
        corners[tip].append(corner)
        for other in tips[1:]:
            above[other] = tip
            corners[tip] += corners.pop(other)
    return [_Branch(tip, np.array(own), level) for tip, (level, own) in joins.items()]


def _rooted(solid: Solid, points: Points, far: Points, branch: _Branch) -> Limb | None:
    """The limb at a branch: followed from its end, it begins where it widens most. None where it does nowhere, or is short."""
    tip = points[branch.tip]
    seen = _seen(solid, _followed(points[branch.own], far[branch.own], branch.joins), tip)
    best: tuple[float, int] | None = None
    for k, section in enumerate(seen[:-1]):
        then = max(later.half_mm for later in seen[k + 1 : k + 1 + CREASE_STEPS])
        gone = float(np.linalg.norm(seen[k + 1].at - section.at))
        slope = (seen[k + 1].half_mm - section.half_mm) / max(gone, 1e-9)
        if slope > SLOPE and then > WIDENS * section.half_mm and (best is None or then / section.half_mm > best[0]):
            best = then / section.half_mm, k
    if best is None:
        return None
    last = best[1]
    while last and seen[last - 1].half_mm < NARROWER * seen[last].half_mm:  # it has begun to widen there already
        last -= 1
    root = _squarely(solid, seen[: last + 1])
    length = float((tip - root.middle) @ root.out)
    if length < max(SLENDER * 2 * root.half_mm, AHEAD * float(np.linalg.norm(tip - root.middle))):
        return None
    return Limb(root.middle, root.out, tip, length, root.half_mm)


def _squarely(solid: Solid, seen: Sequence[_Section]) -> _Section:
    """The last of the sections along a limb, square to the line that their middles lie on."""
    last = seen[-1]
    if len(seen) < LEAST_LINE:
        return last
    row = np.array([section.middle for section in seen[-LINE_STEPS:]])
    along = np.linalg.svd(row - row.mean(axis=0))[2][0]
    out = _squared(along * np.sign(along @ last.out))
    for back in (0.0, 0.5):
        found = _section_at(solid, last.middle + back * last.half_mm * out, out)
        if found is not None and found.half_mm < WIDENS * last.half_mm:
            return found
    return last


def _seen(solid: Solid, places: Sequence[tuple[Points, Points]], tip: Points) -> list[_Section]:
    """The sections at places along a limb, and straight on until it has widened, for its length once more at the most."""
    seen = [section for at, out in places if (section := _section_at(solid, at, out)) is not None]
    if not seen:
        return []
    last, out, half = *places[-1], seen[-1].half_mm
    step, wide = float(np.linalg.norm(tip - last)) / STEPS, 0
    for k in range(1, STEPS + 1):
        section = _section_at(solid, last - k * step * out, out)
        if section is None or wide == CREASE_STEPS:
            break
        wide += section.half_mm > WIDENS * half
        seen.append(section)
    return seen


def _followed(own: Points, away: Points, joins: float) -> list[tuple[Points, Points]]:
    """The middles of a limb and the way out there, from near its end to its join."""
    levels = np.linspace(float(away.max()), joins, STEPS + 1)
    bands = [own[(away <= high) & (away > low)] for high, low in pairwise(levels)]
    middles = [band.mean(axis=0) for band in bands if len(band)]
    return [(here, _unit(back - here)) for back, here in zip(middles, middles[BACK:], strict=False)]


def _section_at(solid: Solid, at: Points, out: Points) -> _Section | None:
    """What is round a place, square to a way; hollows count as full. None where nothing is near."""
    frame = plane_frame(at, out)
    here = Point(0.0, 0.0)
    parts = [Polygon(p.exterior) for p in section_of(solid, frame).geoms]
    part = min(parts, key=lambda p: (p.distance(here), p.area), default=None)
    if part is None:
        return None
    half = float(np.sqrt(part.area / np.pi))
    middle = frame.world(np.array([part.centroid.coords[0]]))[0]
    return _Section(at, middle, out, half) if part.distance(here) <= NEAR * half else None


def _unit(way: Points) -> Points:
    return way / max(float(np.linalg.norm(way)), 1e-12)


def _squared(out: Points) -> Points:
    """The way itself, or that of X, Y or Z where it is near one."""
    k = int(np.argmax(np.abs(out)))
    return np.eye(3)[k] * np.sign(out[k]) if abs(out[k]) > SQUARE else out

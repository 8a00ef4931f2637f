"""Coarse round holes: bores drawn with so few sides that they are too small across the flats by D(1 − cos(π/n))."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hinoki.core.geometry.lumps import directed_edges
from hinoki.core.geometry.mesh import Faces, Mesh, Points
from hinoki.core.model.health.report import MOST_PLACES, Issue, Place

FLAT_RAD = 0.008
LEAST_TURN = 2 * math.pi / 100
MOST_TURN = 2 * math.pi / 5 + 0.05
LEAST_LOSS_MM = 0.04
"""how much too small a bore must be before it is worth a finding"""

MANY_SIDES = 10
"""an opening with so many equal sides is a circle that somebody drew coarsely"""
BORED_MM, MOST_BORED_MM, SIZE_OFF_MM = 0.5, 30.0, 0.02
"""drills come in steps of half a millimetre, and few people bore wider (common practice)"""
IN_LINE_MM = 0.05


@dataclass(frozen=True)
class Bore:
    """A straight hole of `sides` flats: its drawn diameter (across the corners), axis from `start` to `end`."""

    sides: int
    diameter_mm: float
    start: Points
    end: Points
    rings: tuple[Points, Points]
    """its corners at either end, (sides, 3) each"""

    @property
    def loss_mm(self) -> float:
        """How much too small it is across the flats: D(1 − cos(π/n))."""
        return self.diameter_mm * (1 - math.cos(math.pi / self.sides))


def find_bores(mesh: Mesh, least_loss_mm: float = LEAST_LOSS_MM) -> list[Bore]:
    """All straight polygonal holes of 5 to 100 sides that lose at least `least_loss_mm`, largest first.

    The flats of a hole are facets whose shared edges are parallel, fold towards the hole by equal angles, and lie on one
    circle when seen along the axis.
    """
    a, b, low, high, angle = _folds(mesh)
    facets = _facets(len(mesh.faces), a, b, angle)
    hollow = (angle < -LEAST_TURN * 0.9) & (angle > -MOST_TURN)
    if not hollow.any():
        return []
    return sorted(_chains(mesh, facets, a[hollow], b[hollow], low[hollow], high[hollow], least_loss_mm), key=_order)


def meant_round(bores: Sequence[Bore]) -> list[Bore]:
    """Those that are likely to be meant round: with many sides, of a size someone would bore, or in line with a round one.

    An opening of few sides otherwise is a frame, a grip or the pocket of a nut, and is meant as it is drawn.
    """
    many = [b for b in bores if b.sides >= MANY_SIDES]
    return [b for b in bores if b.sides >= MANY_SIDES or _size_bored(b) or any(_in_line(b, other) for other in many)]


def _size_bored(bore: Bore) -> bool:
    """Whether its corners lie on a circle of a whole or half millimetre, as drills have, and its flats do not."""
    off = [abs(d - round(d / BORED_MM) * BORED_MM) for d in (bore.diameter_mm, bore.diameter_mm - bore.loss_mm)]
    return bore.diameter_mm <= MOST_BORED_MM and off[0] < SIZE_OFF_MM < off[1]


def _in_line(bore: Bore, other: Bore) -> bool:
    along = (other.end - other.start) / np.linalg.norm(other.end - other.start)
    away = np.cross(np.array([bore.start - other.start, bore.end - other.start]), along)
    return bool(np.linalg.norm(away, axis=1).max() < IN_LINE_MM)


def _order(bore: Bore) -> tuple[float, ...]:
    return (-bore.diameter_mm, *np.round(bore.start, 4).tolist())


def _folds(mesh: Mesh) -> tuple[Faces, Faces, Faces, Faces, Points]:
    """Inner edges: their two faces, two vertices, and the signed angle between the faces (negative: folds inwards)."""
    numbers, low, high = mesh.edge_table
    start, _, face = directed_edges(mesh.faces)
    order = np.argsort(numbers, kind="stable")
    uses = np.bincount(numbers, minlength=len(low))
    pair = np.flatnonzero(uses == 2)
    first = np.concatenate([[0], np.cumsum(uses)[:-1]])[pair]
    one, two = order[first], order[first + 1]
    a, b = face[one], face[two]
    normals = mesh.face_normals
    cosine = np.einsum("ij,ij->i", normals[a], normals[b])
    along = np.where((start[one] == low[pair])[:, None], 1, -1) * (mesh.vertices[high[pair]] - mesh.vertices[low[pair]])
    sine = np.einsum("ij,ij->i", np.cross(normals[a], normals[b]), along)
    sign = np.where(sine < 0, -1.0, 1.0)
    return a, b, low[pair], high[pair], sign * np.arccos(np.clip(cosine, -1, 1))


def _facets(count: int, a: Faces, b: Faces, angle: Points) -> Faces:
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components

    flat = np.abs(angle) < FLAT_RAD
    graph = coo_matrix((np.ones(int(flat.sum()), dtype=np.int8), (a[flat], b[flat])), shape=(count, count))
    return np.asarray(connected_components(graph, directed=False)[1], dtype=np.int64)


def _chains(mesh: Mesh, facets: Faces, a: Faces, b: Faces, low: Faces, high: Faces, least_loss_mm: float) -> list[Bore]:  # noqa: PLR0913 - arrays over the same edges
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components

    run = mesh.vertices[high] - mesh.vertices[low]
    length = np.linalg.norm(run, axis=1)
    keep = length > 1e-6
    a, b, low, high, run = a[keep], b[keep], low[keep], high[keep], run[keep] / length[keep, None]
    lead = np.argmax(np.abs(run) > 0.3, axis=1)
    run = run * np.where(run[np.arange(len(run)), lead] < 0, -1, 1)[:, None]
    grid = np.round(run * 200).astype(np.int64)
    _, way = np.unique((grid[:, 0] * 1009 + grid[:, 1]) * 1009 + grid[:, 2], return_inverse=True)
    # a facet seen along one direction is a node; its folds along that direction are its links
    nodes, at = np.unique(
        np.concatenate([facets[a], facets[b]]) * np.int64(way.max() + 1) + np.tile(way, 2), return_inverse=True
    )
    one, two = at[: len(a)], at[len(a) :]
    graph = coo_matrix((np.ones(len(one), dtype=np.int8), (one, two)), shape=(len(nodes), len(nodes)))
    count, label = connected_components(graph, directed=False)
    order = np.argsort(label[one], kind="stable")
    starts = np.searchsorted(label[one][order], np.arange(count + 1))
    found = []
    for k in range(count):
        own = order[starts[k] : starts[k + 1]]
        if len(own) < 5:
            continue
        bore = _bore(mesh, run[own].mean(axis=0), one[own], two[own], low[own], high[own])
        if bore is not None and bore.loss_mm >= least_loss_mm:
            found.append(bore)
    return found


def _bore(mesh: Mesh, axis: Points, faces: Faces, two: Faces, low: Faces, high: Faces) -> Bore | None:
    """A bore from the folds of one chain of flats, if they close to a ring of equal corners."""
    pairs = np.unique(np.sort(np.column_stack([faces, two]), axis=1), axis=0)
    flats, links = np.unique(pairs, return_counts=True)
    n = len(flats)
    if len(pairs) != n or (links != 2).any() or not 5 <= n <= 100:
        return None
    axis = axis / np.linalg.norm(axis)
    u = np.cross(axis, np.eye(3)[int(np.argmin(np.abs(axis)))])
    u /= np.linalg.norm(u)
    v = np.cross(axis, u)
    points = mesh.vertices[np.concatenate([low, high])]
    flat = np.column_stack([points @ u, points @ v])
    # the circle through the corners, by least squares: x² + y² = 2ax + 2by + c
    system = np.column_stack([2 * flat, np.ones(len(flat))])
    (cx, cy, c), *_ = np.linalg.lstsq(system, (flat**2).sum(axis=1), rcond=None)
    radius = math.sqrt(max(0.0, c + cx * cx + cy * cy))
    off = np.abs(np.linalg.norm(flat - [cx, cy], axis=1) - radius)
    if radius < 0.2 or off.max() > 0.01 * radius + 1e-3:
        return None
    turn = np.arctan2(flat[:, 1] - cy, flat[:, 0] - cx)
    corners = np.unique(np.round(np.mod(turn, 2 * math.pi) * n / (2 * math.pi) * 1000).astype(np.int64))
    gaps = np.diff(np.append(corners, corners[0] + 1000 * n)) / 1000
    gaps = gaps[gaps > 0.02]
    if len(gaps) != n or np.abs(gaps - 1).max() > 0.05:
        return None
    height = points @ axis
    middle = cx * u + cy * v
    steps = 2 * math.pi * np.arange(n) / n + float(turn[0])
    ring = middle + radius * (np.cos(steps)[:, None] * u + np.sin(steps)[:, None] * v)
    ends = float(height.min()), float(height.max())
    return Bore(n, 2 * radius, middle + ends[0] * axis, middle + ends[1] * axis, (ring + ends[0] * axis, ring + ends[1] * axis))


def bore_issue(bores: list[Bore]) -> Issue | None:
    """Coarse round holes as one finding."""
    if not bores:
        return None
    worst = max(bores, key=lambda b: b.loss_mm)
    places = []
    for bore in bores[:MOST_PLACES]:
        ring = bore.rings[1]
        line = np.concatenate([np.stack([r, np.roll(r, -1, axis=0)], axis=1).reshape(-1, 3) for r in bore.rings])
        text = f"bore of {bore.diameter_mm:.4g} mm has {bore.sides} sides: {bore.loss_mm:.2f} mm too small across the flats"
        places.append(Place((bore.start + bore.end) / 2, float(np.ptp(ring, axis=0).max()), line, text))
    return Issue(
        "bores-coarse",
        "look-at",
        len(bores),
        {"diameter_mm": float(worst.diameter_mm), "sides": worst.sides, "loss_mm": float(worst.loss_mm)},
        places,
    )

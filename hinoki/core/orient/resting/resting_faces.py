"""Resting faces: which side a piece lies on while it prints.

Candidates are the piece's flat faces that its hull rests on, its mating faces and the six axes; the one that fits the bed
with the least overhang wins. (Ezair, Massarwi & Elber 2015 on overhang as a measure; 45° is common practice.)
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely

from hinoki.core.geometry.frames import composed
from hinoki.core.geometry.mesh import Faces, Mesh, Points
from hinoki.core.geometry.rotations import turn_down
from hinoki.core.geometry.solid import Solid
from hinoki.core.workshop.printers import Printer, circle_around

OVERHANG_LIMIT_DEG = 45.0
TOUCH_MM = 0.05
LEAST_CONTACT_MM2 = 4.0
AS_IT_STANDS = np.array([0.0, 0.0, -1.0])
LEAST_TIP_DEG = 2.0
"""a piece that falls over when it is tilted by less does not stand"""
LEAST_SHARE = 0.03
"""a piece that touches the bed with less than this share of its footprint comes loose"""
MOST_FLATS = 8
HANGING = math.cos(math.radians(90 - OVERHANG_LIMIT_DEG)) + 1e-3
"""cosine from which a face hangs over"""
UPRIGHT = math.cos(math.radians(5))
"""cosine from which an axis counts as upright"""
ALONG = 0.999
"""cosine from which a face counts as lying flat on the bed"""
NEARLY_ALONG = math.cos(math.acos(ALONG) + math.radians(1.0))
"""the same for the middle of a bin of normals, which is less than a degree off"""


@dataclass(frozen=True)
class Rest:
    """One way to lay a piece: `down` (3,) points at the bed; `matrix` (3, 4) brings the piece onto it."""

    down: Points
    what: str
    overhang_mm2: float
    contact_mm2: float
    size_mm: Points
    fits: bool
    matrix: Points
    tip_deg: float = 90.0
    """the least angle by which it tips over the edge of its contact; 0 where its centre of mass is not over it"""

    @property
    def height_mm(self) -> float:
        """How high it stands above the bed."""
        return float(self.size_mm[2])

    @property
    def stands(self) -> bool:
        """Whether it stands by itself: on more than a point or an edge, and steadily."""
        return self.contact_mm2 >= LEAST_CONTACT_MM2 and self.tip_deg >= LEAST_TIP_DEG

    def after(self, turn: Points) -> "Rest":
        """The same rest for what is brought to where it was found by a turn (3, 4) first."""
        return replace(self, down=turn[:, :3].T @ self.down, matrix=composed(self.matrix, turn))

    @property
    def rank(self) -> tuple[bool, bool, float, float]:
        """Small is good: fits, stands on something, least overhang, low."""
        return (
            not self.fits,
            not self.stands or self.contact_mm2 < LEAST_SHARE * float(self.size_mm[0] * self.size_mm[1]),
            round(self.overhang_mm2, 0),
            round(float(self.size_mm[2]), 1),
        )


def rests(
    solid: Solid, mating_normals: Sequence[Points], printer: Printer, only_best: bool = False, upright: Sequence[Points] = ()
) -> list[Rest]:
    """The candidates that stand on something, best first. `mating_normals` point out of the piece at its mating faces.

    Those that leave the `upright` axes (threads) upright come first, where any of them fits and stands. With `only_best` no
    candidate is worked out that cannot be the best any more: its overhang is at least what hangs over less all that could lie
    flat on the bed.
    """
    mesh, centre = solid.mesh, solid.centre_of_mass
    vectors = mesh.face_vectors
    areas = mesh.face_areas
    hull = solid.hull.mesh
    bins = _binned(vectors, areas)
    directions = down_directions(hull, mating_normals)
    along = {k for k, (down, _) in enumerate(directions) if all(abs(float(down @ axis)) > UPRIGHT for axis in upright)}
    if only_best:
        if upright and along:
            best = _best(centre, mesh, hull, vectors, areas, bins, [directions[k] for k in sorted(along)], printer)
            if best.rank[:2] == (False, False):
                return [best]
        return [_best(centre, mesh, hull, vectors, areas, bins, directions, printer)]
    found = [_rest(centre, mesh, hull, vectors, areas, bins, down, what, printer) for down, what in directions]
    ranked = sorted(enumerate(found), key=lambda r: (*r[1].rank[:2], r[0] not in along, *r[1].rank[2:]))
    best, *others = [rest for _, rest in ranked]
    return [best, *(r for r in others if r.contact_mm2 >= LEAST_CONTACT_MM2)]


def _best(  # noqa: PLR0913 - arrays that are the same for all directions
    centre: Points,
    mesh: Mesh,
    hull: Mesh,
    vectors: Points,
    areas: Points,
    bins: "_Bins",
    directions: list[tuple[Points, str]],
    printer: Printer,
) -> Rest:
    facing = bins.centres @ np.array([down for down, _ in directions]).T
    hanging = np.where(facing > HANGING, bins.areas[:, None], 0.0).sum(axis=0)
    flat = np.where(facing > NEARLY_ALONG, bins.areas[:, None], 0.0).sum(axis=0)
    least = np.round(np.maximum(hanging - flat, 0.0), 0)
    best: Rest | None = None
    at = 0
    for k in np.argsort(least, kind="stable"):
        if best is not None and best.rank[:2] == (False, False) and least[k] > best.rank[2]:
            break
        down, what = directions[int(k)]
        rest = _rest(centre, mesh, hull, vectors, areas, bins, down, what, printer)
        # of equals the first in the order of the directions counts, as it does in the full list
        if best is None or (*rest.rank, k) < (*best.rank, at):
            best, at = rest, k
    if best is None:
        raise ValueError("a solid has at least the six axes to lie on")
    return best


def rest_on(solid: Solid, down: Points, printer: Printer, what: str = "chosen") -> Rest:
    """The piece laid with `down` towards the bed."""
    mesh = solid.mesh
    vectors = mesh.face_vectors
    areas = mesh.face_areas
    bins = _binned(vectors, areas)
    return _rest(solid.centre_of_mass, mesh, solid.hull.mesh, vectors, areas, bins, down / np.linalg.norm(down), what, printer)


def laid_open(mesh: Mesh, printer: Printer) -> Rest:
    """An open surface as it stands; nothing is known of its overhang's other side."""
    vectors = mesh.face_vectors
    areas = mesh.face_areas
    return _rest(None, mesh, mesh, vectors, areas, _binned(vectors, areas), AS_IT_STANDS, "as it stands", printer)


def down_directions(hull: Mesh, mating_normals: Sequence[Points]) -> list[tuple[Points, str]]:
    """The ways to lay a piece: as it stands, on its mating faces, on flat faces of its hull, on the six axes."""
    options: list[tuple[Points, str]] = [(AS_IT_STANDS, "as it stands")]
    options += [(np.asarray(n, dtype=np.float64), "mating face") for n in mating_normals]
    vectors = hull.face_vectors
    length = np.linalg.norm(vectors, axis=1)
    normals = vectors[length > 0] / length[length > 0, None]
    grid = np.round(normals * 1000).astype(np.int64) + 1000
    code = (grid[:, 0] * 2001 + grid[:, 1]) * 2001 + grid[:, 2]
    codes, first, inverse = np.unique(code, return_index=True, return_inverse=True)
    flat_areas = np.bincount(inverse, weights=length[length > 0] / 2, minlength=len(codes))
    big = np.argsort(-flat_areas, kind="stable")[:MOST_FLATS]
    least = max(LEAST_CONTACT_MM2, 0.005 * float(length.sum() / 2))
    options += [(normals[first[k]], "flat face") for k in big if flat_areas[k] >= least]
    for axis, name in enumerate("XYZ"):
        for sign in (-1.0, 1.0):
            options.append((np.eye(3)[axis] * sign, f"{name} {'down' if sign > 0 else 'up'}"))
    kept: list[tuple[Points, str]] = []
    for down, what in options:
        if not any(down @ other > 1 - 1e-6 for other, _ in kept):
            kept.append((down, what))
    return kept


@dataclass(frozen=True)
class _Bins:
    """Face normals gathered into bins of about half a degree."""

    centres: Points
    """(b, 3) unit vectors"""
    areas: Points
    """(b,) summed area of the faces in each"""
    faces: Faces
    """the faces in the order of their bins"""
    starts: Faces
    """(b + 1,) where each bin begins in `faces`"""

    def facing(self, down: Points) -> Faces:
        """The faces that look along `down`, and some that nearly do."""
        near = np.flatnonzero(self.centres @ down > NEARLY_ALONG)
        return np.concatenate([self.faces[self.starts[b] : self.starts[b + 1]] for b in near] or [self.faces[:0]])


def _binned(vectors: Points, areas: Points) -> _Bins:
    keep = np.flatnonzero(areas > 0)
    normals = vectors[keep] / (2 * areas[keep, None])
    grid = np.round(normals * 128).astype(np.int64) + 128
    code = (grid[:, 0] * 257 + grid[:, 1]) * 257 + grid[:, 2]
    order = np.argsort(code, kind="stable")
    ordered = code[order]
    first = np.flatnonzero(np.concatenate(([True], ordered[1:] != ordered[:-1])))
    used = ordered[first]
    sums = np.add.reduceat(areas[keep][order], first)
    centres = np.column_stack([used // (257 * 257), used // 257 % 257, used % 257]).astype(np.float64) / 128 - 1
    lengths = np.linalg.norm(centres, axis=1, keepdims=True)
    return _Bins(np.asarray(centres / lengths), np.asarray(sums), keep[order], np.append(first, len(ordered)))


def _rest(  # noqa: PLR0913 - arrays that are the same for all directions
    centre: Points | None,
    mesh: Mesh,
    hull: Mesh,
    vectors: Points,
    areas: Points,
    bins: _Bins,
    down: Points,
    what: str,
    printer: Printer,
) -> Rest:
    turn = turn_down(down)
    around = hull.vertices @ turn.T
    height = float(np.ptp(around[:, 2]))
    angle = printer.turn(around[:, :2])
    fits = angle is not None and height <= printer.room_mm[2] + 1e-4
    lying = around
    if angle:
        c, s = math.cos(math.radians(angle)), math.sin(math.radians(angle))
        turn = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]]) @ turn
        lying = hull.vertices @ turn.T
    low, high = lying.min(axis=0), lying.max(axis=0)
    shift = np.array([-(low[0] + high[0]) / 2, -(low[1] + high[1]) / 2, -low[2]])
    if printer.bed_shape == "round":
        shift[:2] = -circle_around(lying[:, :2])[0]
    bottom = -float(low[2])
    facing = bins.facing(down)
    facing = facing[vectors[facing] @ down > 2 * areas[facing] * ALONG]
    touching = facing[(mesh.vertices[mesh.faces[facing]] @ down > bottom - TOUCH_MM).all(axis=1)]
    contact = float(areas[touching].sum())
    hanging = float(bins.areas[bins.centres @ down > HANGING].sum())
    return Rest(
        down=down,
        what=what,
        overhang_mm2=max(0.0, hanging - contact),
        contact_mm2=contact,
        size_mm=high - low,
        fits=fits,
        matrix=np.column_stack([turn, shift]),
        tip_deg=90.0 if centre is None else tipping(around, turn_down(down) @ centre),
    )


def tipping(hull: Points, centre: Points) -> float:
    """The least angle in degrees by which a body tips over the edge of its contact: its centre of mass (3,) over that edge. Its
    hull's corners (n, 3) stand as it does, at any height."""
    low = float(hull[:, 2].min())
    feet = shapely.MultiPoint(hull[hull[:, 2] < low + TOUCH_MM][:, :2]).convex_hull
    over = shapely.Point(centre[:2])
    if feet.geom_type != "Polygon" or not feet.contains(over):
        return 0.0
    return math.degrees(math.atan2(float(feet.exterior.distance(over)), float(centre[2]) - low))

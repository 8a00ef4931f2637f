"""Mating faces: the flat areas where two pieces meet, each in the frame of its parting plane."""

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import combinations, product

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.cache import Cache
from hinoki.core.divide.contacts import contacts, separate_pairs
from hinoki.core.divide.cut import End, Part
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import box_sides, flat_faces_at
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import FaceRef, Place, SideName
from hinoki.core.progress import Tell, along, part_of, quiet
from hinoki.core.stages import Keyed, key_of, stage

LEAST_AREA_MM2 = 0.5
NOTHING = MultiPolygon()
FAR_MM = 1e4
NEAR_PLANE_MM, FLAT_TO_IT = 0.1, 1e-3
"""an outline lies in a plane that is so near; planes at less of an angle than this do not cross"""
FROM_FACE_MM = 0.02
FEW = 16
"""areas that are looked at one and all"""
NEAR_MM = 0.5
"""pieces nearer than this are neighbours"""


@dataclass(frozen=True)
class MatingFace:
    """Where piece `a` (below the plane) and piece `b` (above it) meet; `shape` is in the frame's plane."""

    ref: FaceRef
    frame: Frame
    shape: MultiPolygon
    a: Part
    b: Part
    off: Points | None = None
    """direction (3,) in which piece B comes off A, where the parting tells it; else along the normal"""
    apart_mm: float = 0.0
    """how far the pieces are apart, half of it on either side of the plane"""

    def part(self, side: SideName) -> Part:
        """The piece on a side."""
        return self.a if side == "a" else self.b

    def thick_at(self, side: SideName, place: Place, way: Points | None = None) -> float:
        """How far it is from a place on the face to where the piece on a side ends, along the normal or a way (3,), in mm."""
        if way is None:
            way = self.frame.n if side == "b" else -self.frame.n
        start = self.frame.world(np.array([place]))[0] + FROM_FACE_MM * way
        hits = self.part(side).solid.ray(start, start + FAR_MM * way)
        return FROM_FACE_MM + float(np.linalg.norm(hits[0] - start)) if len(hits) else 0.0

    def top_at(self, side: SideName, place: Place) -> float:
        """How far above the plane, towards B, the piece on a side reaches at a place; −∞ where it does not."""
        start = self.frame.world(np.array([place]))[0]
        hits = self.part(side).solid.ray(start + FAR_MM * self.frame.n, start + 1e-6 * self.frame.n)
        return float((hits[0] - start) @ self.frame.n) if len(hits) else -math.inf

    @cached_property
    def sections(self) -> dict[tuple[SideName, float], MultiPolygon]:
        """Sections of its pieces that have been asked for, by side and depth, mm, in the plane's coordinates."""
        return {}

    @cached_property
    def crossed(self) -> shapely.Geometry:
        """The lines on its plane in which the planes of other partings end it."""
        x0, y0, x1, y1 = self.shape.bounds
        middle, far = np.array([(x0 + x1) / 2, (y0 + y1) / 2]), float(np.hypot(x1 - x0, y1 - y0))
        lines = []
        for other in {(end.parting, end.member): end.frame for part in (self.a, self.b) for end in part.ends}.values():
            across = np.array([self.frame.u @ other.n, self.frame.v @ other.n])
            steep = float(np.linalg.norm(across))
            if steep < FLAT_TO_IT:
                continue
            across /= steep
            away = float((self.frame.origin - other.origin) @ other.n) / steep + float(middle @ across)
            at, along = middle - away * across, np.array([-across[1], across[0]])
            lines.append(shapely.LineString([at - far * along, at + far * along]))
        return shapely.intersection(shapely.union_all(lines), self.shape.buffer(NEAR_PLANE_MM)) if lines else NOTHING

    @property
    def made_by(self) -> str:
        """Hash of all that made the face."""
        return key_of("face", self.a.made_by, self.b.made_by, self.ref)

    @property
    def fingerprint(self) -> object:
        """What made it; its pieces with their collars, where they have some."""
        return self.made_by


def mating_faces(parts: Sequence[Part], cache: Cache, tell: Tell = quiet) -> list[MatingFace]:
    """All mating faces, in the order of partings, members and pieces; then the contacts of parts that came in separate."""
    below: dict[tuple[str, int], list[tuple[Part, Keyed[_Flat]]]] = defaultdict(list)
    above: dict[tuple[str, int], list[tuple[Part, Keyed[_Flat]]]] = defaultdict(list)
    planes: dict[tuple[str, int], End] = {}
    looking = part_of(tell, 0.0, 0.5)
    for part, end in along([(p, end) for p in parts for end in p.ends], looking, "Looking at cut faces"):
        place = end.parting, end.member
        planes[place] = end
        low = end.side < 0
        flat = Keyed(_Flat(_flat(part, end.ends_at, low, cache)), [part.made_by, end.ends_at, low])
        (below if low else above)[place].append((part, flat))
    found = []
    pairs = [(place, one, two) for place in planes for one, two in product(below[place], above[place])]
    for place, (a, under), (b, over) in along(pairs, part_of(tell, 0.5, 1.0), "Finding mating faces"):
        if a is b or not under.value.may_meet(over.value):  # joined again across the plane, or apart
            continue
        shape = _meeting(cache, under, over)
        if shape.area >= LEAST_AREA_MM2:
            ref, end = FaceRef(parting=place[0], member=place[1], a=a.key, b=b.key), planes[place]
            found.append(MatingFace(ref, end.frame, shape, a, b, _off(b, place[0]), 2 * end.off_mm))
    for parting, a, b in separate_pairs(parts):
        touch = contacts(cache, a, b)
        found += [
            MatingFace(FaceRef(parting=parting, member=k, a=a.key, b=b.key), frame, shape, a, b)
            for k, (frame, shape) in enumerate(touch)
        ]
    return found


def touching(parts: Sequence[Part], faces: Sequence[MatingFace], cache: Cache) -> list[tuple[Part, Part]]:
    """Pairs of pieces that meet without a mating face: around a hub, along a curved profile, over a gap of a hatch."""
    flat = {frozenset((f.a.key, f.b.key)) for f in faces}
    made: dict[tuple[str, tuple[int, int]], list[tuple[Part, str, bool]]] = defaultdict(list)
    for part in parts:
        for one in part.made:
            made[one.parting, one.surfaces].append((part, one.side, one.off is not None))
    found: dict[frozenset[str], tuple[Part, Part]] = {}
    for several in made.values():
        if not any(off for _, _, off in several):
            continue
        for (a, side_a, off_a), (b, side_b, off_b) in combinations(several, 2):
            pair = frozenset((a.key, b.key))
            if side_a == side_b or not (off_a or off_b) or pair in flat or pair in found:
                continue
            if _gap(cache, *sorted((a.body, b.body), key=lambda body: str(body.fingerprint))) < NEAR_MM:
                found[pair] = a, b
    return list(found.values())


@stage("gap")
def _gap(a: Keyed[Solid], b: Keyed[Solid]) -> float:
    """How far two pieces are apart, in mm; NEAR_MM where it is more."""
    return a.value.gap(b.value, NEAR_MM)


def face_label(face: MatingFace, numbers: Mapping[str, int]) -> str:
    """Such as 5|6, the lower number first."""
    return "|".join(str(n) for n in sorted((numbers[face.a.key], numbers[face.b.key])))


def _off(part: Part, parting: str) -> Points | None:
    """The direction in which a part comes off the others of a parting, where that is told."""
    return next((np.array(m.off) for m in part.made if m.parting == parting and m.off is not None), None)


def _flat(part: Part, frame: Frame, upward: bool, cache: Cache) -> MultiPolygon:
    low, high = box_sides(part.solid, frame)
    if low > NEAR_MM or high < -NEAR_MM:  # other cuts took it away from the plane
        return NOTHING
    return _lying_in(cache, part.body, frame, upward)


@stage("flat")
def _lying_in(body: Keyed[Solid], frame: Frame, upward: bool) -> MultiPolygon:
    """What of a piece's surface lies in a plane and looks one way."""
    return flat_faces_at(body.value.mesh, frame, upward)


class _Flat:
    """What of a piece lies flat in a plane; of many areas only those near another are looked at."""

    def __init__(self, shape: MultiPolygon) -> None:
        self.shape = shape

    @cached_property
    def _tree(self) -> "shapely.STRtree":
        return shapely.STRtree(self.shape.geoms)

    def near(self, other: "_Flat") -> MultiPolygon:
        """Its areas whose boxes meet that of the other."""
        if len(self.shape.geoms) <= FEW:
            return self.shape
        return MultiPolygon(list(self._tree.geometries[np.sort(self._tree.query(shapely.box(*other.shape.bounds)))]))

    def may_meet(self, other: "_Flat") -> bool:
        """Whether the boxes around the two meet."""
        if self.shape.is_empty or other.shape.is_empty:
            return False
        return bool(shapely.intersects(shapely.box(*self.shape.bounds), shapely.box(*other.shape.bounds)))

    def meets(self, other: "_Flat") -> MultiPolygon:
        """Where it meets what lies flat of another piece."""
        low, high = self.near(other), other.near(self)
        if low.is_empty or high.is_empty or not shapely.intersects(shapely.box(*low.bounds), shapely.box(*high.bounds)):
            return NOTHING
        if low.equals_exact(high, 1e-7, normalize=True):
            return low
        return as_multi(shapely.intersection(low, high), 1e-3)


@stage("meeting")
def _meeting(under: Keyed[_Flat], over: Keyed[_Flat]) -> MultiPolygon:
    """Where what lies flat of two pieces meets."""
    return under.value.meets(over.value)

"""Planes and rows of planes that could divide one piece, judged by sections alone.

Offsets are equal parts, lengths of the bed from either end, places where the section's outline is short, and flat faces.
Sections of a framed solid cost next to nothing, so many are tried; only the best are cut.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.divide.cut import Part
from hinoki.core.divide.partings import EvenParting, FlatParting, PartingBase
from hinoki.core.divide.partings.base import spot
from hinoki.core.divide.partings.flat import plane_fields
from hinoki.core.geometry.frames import Frame, plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import FramedSolid, largest_circle
from hinoki.core.limbs.limbs import Limb, cut_along, through_roots
from hinoki.core.propose.search.bed_fit import Room
from hinoki.core.propose.search.constraints import Heed
from hinoki.core.propose.search.flat_faces import flat_offsets, slabs
from hinoki.core.propose.search.mirrored_cuts import mirrors_row, own_mirrors
from hinoki.core.propose.search.plates import DEEP_MM, plate_share, plates
from hinoki.core.symmetry.mirror_planes import MirrorPlane

SCANNED = 16
"""places along an axis at which the outline is measured"""
NEAR_MM = 0.5
BORDER_MM, LEAST_MM2 = 0.02, 1e-3
"""so far beside a flat face the section is taken, and what of it is none"""
MOST_THIN = 0.3
"""of a flat face that may be of a thin wall, where a plane in it is tried as a cut"""
SLANTED_DEG = 8.0
"""principal axes nearer to X, Y, Z than this are not tried as well"""
BESIDE_MM = 2 * DEEP_MM
"""how far beside a wall a plane is tried that would run within it"""
MOST_SPANS = 60
ALIKE = 1 - 1e-9
"""cosine from which two directions are the same"""


@dataclass(frozen=True)
class Judged:
    """A parting for a piece (without its targets): how many pieces its parts still need, the weighted length of its seam,
    the share of the piece's length that its shortest part has, its sections, the share of the planes mirroring the piece
    that do not mirror its cuts, where its sections are over plates, and how many limbs it cuts along, or through the roots
    of those that came off."""

    parting: PartingBase
    needs: int
    seam: float
    smallest: float
    sections: tuple[MultiPolygon, ...] = ()
    lopsided: float = 0.0
    plates: tuple[MultiPolygon, ...] = ()
    halved: int = 0

    @property
    def plate_share(self) -> float:
        """How much of the sections is over plates."""
        return plate_share(self.sections, self.plates)


class Cuttings:
    """The candidates of one piece."""

    def __init__(
        self, part: Part, room: Room, heed: Heed, mirrors: Sequence[MirrorPlane] = (), limbs: Sequence[Limb] = ()
    ) -> None:
        self._part, self._room, self._heed, self._mirrors = part, room, heed, mirrors
        low, high = part.solid.bounds
        self._limbs = [limb for limb in limbs if within(limb.tip, low, high)]
        self._roots = [limb for limb in limbs if limb not in self._limbs and within(limb.root, low - NEAR_MM, high + NEAR_MM)]
        self._points = part.solid.mesh.vertices
        self._low, self._high = part.solid.bounds
        self._mirrored = own_mirrors(part.solid, mirrors)
        self._sections: dict[tuple[float, ...], MultiPolygon] = {}
        self._plates: dict[tuple[float, ...], MultiPolygon] = {}
        self._borders: set[tuple[float, ...]] = set()
        """planes in which flat faces lie: what meets there is what the sections on both sides share"""
        self.blocked: set[str] = set()
        """marks that forbade a plane"""

    def all(self) -> list[Judged]:
        """Every candidate that lets the parts come nearer to fitting."""
        found = []
        for axis in self._directions():
            found += self._along(axis)
        return found

    def _directions(self) -> list[Points]:
        axes = [np.eye(3)[k] for k in range(3)]
        if len(self._points) > 3:
            _, own = np.linalg.eigh(np.cov(self._points.T))
            slanted = math.cos(math.radians(SLANTED_DEG))
            axes += [spot_unit(own[:, k]) for k in range(3) if np.abs(own[:, k]).max() < slanted]
        return axes + [m.normal for m in self._mirrors if not any(abs(float(m.normal @ a)) > ALIKE for a in axes)]

    def _along(self, axis: Points) -> list[Judged]:
        heights = self._points @ axis
        low, high = float(heights.min()), float(heights.max())
        length = high - low
        if length <= self._room.lengths[-1] + 1e-4 and self._room.needed_by(self._points) <= 1:
            return []
        framed = FramedSolid(self._part.solid, plane_frame(np.zeros(3), axis))
        found = []
        spans = {math.ceil((length - 1e-4) / room) for room in self._room.lengths}
        for count in sorted(s for s in spans if 2 <= s <= MOST_SPANS):
            offsets = [low + length * k / count for k in range(1, count)]
            judged = self._judge(framed, axis, heights, offsets, self._even(axis, count))
            if judged is not None:
                found.append(judged)
        for offset in self._offsets(framed, axis, low, high, spans):
            flat = FlatParting.model_validate({"id": "p1", **plane_fields(self._middle(axis, offset), axis)})
            judged = self._judge(framed, axis, heights, [offset], flat)
            if judged is not None:
                found.append(judged)
        return found

    def _even(self, axis: Points, count: int) -> PartingBase:
        fields = plane_fields(np.zeros(3), axis)
        return EvenParting(id="p1", axis=fields["axis"], tilt_deg=fields["tilt_deg"], parts=count)

    def _middle(self, axis: Points, offset: float) -> Points:
        """A point on the plane; for a slanted one in the middle of the piece."""
        if np.abs(axis).max() > 1 - 1e-9:
            return axis * offset
        middle = (self._low + self._high) / 2
        return np.asarray(middle + axis * (offset - float(middle @ axis)))

    def _offsets(self, framed: FramedSolid, axis: Points, low: float, high: float, spans: set[int]) -> list[float]:
        """Where one plane may be worth it."""
        length = high - low
        wanted = [low + length * k / count for count in spans if 2 <= count <= 6 for k in range(1, count)]
        wanted += [at + side * BESIDE_MM for at in wanted if self._over(framed, axis, at).area for side in (-1, 1)]
        wanted += [edge for room in self._room.lengths for edge in (low + room, high - room)]
        scan = low + length * (np.arange(SCANNED) + 0.5) / SCANNED
        costs = np.array([self._heed.seam_cost(self._section(framed, axis, at), self._frame(axis, at)) for at in scan])
        lowest = np.flatnonzero((costs[1:-1] <= costs[:-2]) & (costs[1:-1] <= costs[2:])) + 1
        wanted += scan[lowest[np.argsort(costs[lowest], kind="stable")[:4]]].tolist()
        wanted += [m.offset_mm for m in self._mirrors if float(m.normal @ axis) > ALIKE]
        # beside what is to stay whole, the plane goes to its edge
        for kept in self._heed.kept:
            heights = kept.points @ axis
            wanted += [float(heights.min()) - 1.0, float(heights.max()) + 1.0]
        borders = [at for at in flat_offsets(self._part.solid.mesh, axis) if not self._at_thin_wall(framed, at)]
        self._borders.update(_place(axis, at) for at in borders)
        wanted += borders
        out: list[float] = []
        for at in sorted(wanted):
            if low + NEAR_MM < at < high - NEAR_MM and (not out or at - out[-1] > 1e-6):
                out.append(at)
        return out

    def _at_thin_wall(self, framed: FramedSolid, offset: float) -> bool:
        """Whether the flat face at an offset is that of a thin wall, at which what is on the other side would end bare."""
        near = {side: framed.section(offset + side * BORDER_MM) for side in (-1, 1)}
        side = max(near, key=lambda s: float(near[s].area))
        bare = shapely.difference(near[side], near[-side])
        behind = framed.section(offset + side * DEEP_MM)
        return bool(shapely.difference(bare, behind).area > MOST_THIN * bare.area)

    def _frame(self, axis: Points, offset: float) -> Frame:
        return plane_frame(axis * offset, axis)

    def _section(self, framed: FramedSolid, axis: Points, offset: float) -> MultiPolygon:
        key = _place(axis, offset)
        if key not in self._sections:
            if key in self._borders:
                both = (framed.section(offset + side * BORDER_MM) for side in (-1, 1))
                self._sections[key] = as_multi(shapely.intersection(*both), LEAST_MM2)
            else:
                self._sections[key] = framed.section(offset)
        return self._sections[key]

    def _over(self, framed: FramedSolid, axis: Points, offset: float) -> MultiPolygon:
        """Where the section at an offset is over a plate."""
        key = _place(axis, offset)
        if key not in self._plates:
            beside = [self._section(framed, axis, offset + side * DEEP_MM) for side in (-1, 1)]
            self._plates[key] = plates(self._section(framed, axis, offset), beside)
        return self._plates[key]

    def _judge(
        self, framed: FramedSolid, axis: Points, heights: Points, offsets: Sequence[float], parting: PartingBase
    ) -> Judged | None:
        seam, rims, sections, over, halved = 0.0, [], [], [], 0
        for at in offsets:
            frame = self._frame(axis, at)
            kept = self._heed.crossed(frame, self._low, self._high)
            if kept is not None:
                self.blocked.add(kept.mark)
                return None
            section = self._section(framed, axis, at)
            if section.is_empty:
                return None
            seam += self._heed.seam_cost(section, frame)
            rims.append(_rim(section, frame))
            sections.append(section)
            over.append(self._over(framed, axis, at))
            halved += cut_along(self._limbs, frame) + through_roots(self._roots, frame)
        needs = 0
        for k, own in enumerate(slabs(self._part.solid.mesh.faces, heights, offsets)):
            needs += self._room.needed_by(np.vstack([self._points[own], *rims[max(0, k - 1) : k + 1]]))
        spans = np.diff([heights.min(), *offsets, heights.max()])
        lopsided = sum(not mirrors_row(m, axis, offsets) for m in self._mirrored) / max(1, len(self._mirrors))
        smallest = float(spans.min() / spans.sum())
        return Judged(parting, needs, seam, smallest, tuple(sections), lopsided, tuple(over), halved)


def within(point: Points, low: Points, high: Points) -> bool:
    """Whether a point lies in a box."""
    return bool((point >= low).all() and (point <= high).all())


def _place(axis: Points, offset: float) -> tuple[float, ...]:
    """A plane's name among those of one piece."""
    return (*np.round(axis, 9).tolist(), round(offset, 6))


def room_of(judged: Judged) -> float:
    """The least room for joints on the sections of a candidate, the radius of a circle in mm, plates left out."""
    rooms = []
    for section, over in zip(judged.sections, judged.plates, strict=True):
        for part in section.geoms:
            firm = as_multi(shapely.difference(part, over))
            rooms.append(max((largest_circle(MultiPolygon([one]))[0] for one in firm.geoms), default=0.0))
    return min(rooms, default=0.0)


def spot_unit(direction: Points) -> Points:
    """A unit vector that looks along its longest component."""
    k = int(np.argmax(np.abs(direction)))
    return np.array(spot(direction if direction[k] > 0 else -direction))


def axis_of(parting: PartingBase) -> Points:
    """The direction (3,) across a candidate's planes."""
    if isinstance(parting, FlatParting):
        return parting.frame.n
    return parting.direction if isinstance(parting, EvenParting) else np.array([0.0, 0.0, 1.0])


def _rim(section: MultiPolygon, frame: Frame) -> Points:
    """Corners of a section's outer outlines as points (n, 3)."""
    return np.vstack([frame.world(np.asarray(p.exterior.coords)[:-1]) for p in section.geoms])

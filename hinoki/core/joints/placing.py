"""Where joints may stand on a mating face, and how pegs are spread over it."""

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.faces import MatingFace
from hinoki.core.frames import Frame
from hinoki.core.joints.base import JointBase, Place, SideName
from hinoki.core.joints.pegs import END_GAP_MM, PegJoint
from hinoki.core.mesh import Points
from hinoki.core.sections import FramedSolid, largest_circle
from hinoki.core.solid import Solid, as_multi

SHARES = (0.0, 0.35, 0.7, 1.0)
"""how far along a bore's depth (its end wall included) the sections are looked at"""

MOST_CANDIDATES = 250


@dataclass
class Depths:
    """Sections of the two pieces of a face at growing depths, remembered."""

    face: MatingFace
    _framed: dict[SideName, FramedSolid] = field(default_factory=dict)
    _seen: dict[tuple[SideName, float], MultiPolygon] = field(default_factory=dict)

    def section(self, side: SideName, depth: float) -> MultiPolygon:
        """Section of the piece on `side`, `depth` into it, in the face's plane coordinates."""
        if side not in self._framed:
            self._framed[side] = FramedSolid((self.face.a if side == "a" else self.face.b).solid, self.face.frame)
        key = side, round(depth, 3)
        if key not in self._seen:
            self._seen[key] = self._framed[side].section(key[1] if side == "b" else -key[1])
        return self._seen[key]


def room_for(
    joint: PegJoint,
    depths: Depths,
    clearance_mm: float,
    least_wall_mm: float,
    taken: Sequence[tuple[SideName, Solid]] = (),
) -> MultiPolygon:
    """Where the centre of a peg may stand: radius, clearance and least wall inside the material all along its depth.

    `taken` are solids in the pieces (bores of other joints) that the peg's guard must keep clear of.
    """
    face = depths.face
    grown = joint.radius_mm + clearance_mm + least_wall_mm
    room: shapely.Geometry = face.shape.buffer(-grown)
    for side in ("a", "b"):
        reach = joint.reach_mm(side)
        if room.is_empty:
            break
        deep = least_wall_mm  # under a pin's foot, too, no bore may come close
        if reach > 0:
            deep = reach + END_GAP_MM + least_wall_mm
            for share in SHARES[1:]:
                room = room.intersection(depths.section(side, share * deep).buffer(-grown))
        for owner, solid in taken:
            if owner == side:
                room = room.difference(_shadow(solid, face.frame, side, deep).buffer(grown))
    return as_multi(room, 1e-3)


def spread(room: MultiPolygon, count: int, apart_mm: float) -> list[Place]:
    """Up to `count` places in `room`, at least `apart_mm` from each other.

    One place stands at the centre of the largest circle; the first two of several at the far ends of the longest
    chord, every further one as far from the others as can be (farthest-point choice).
    """
    if room.is_empty or count < 1:
        return []
    radius, centre = largest_circle(room)
    if count == 1:
        return [_round(centre)]
    inner = as_multi(room.buffer(-radius * 0.5))
    points = _candidates(inner if not inner.is_empty else room)
    between = np.linalg.norm(points[:, None, :] - points[None, :, :], axis=2)
    level = np.abs(points[:, None, 1] - points[None, :, 1])
    first, second = np.unravel_index(int(np.argmax(np.round(between, 1) - 1e-3 * level)), between.shape)
    if between[first, second] < apart_mm:
        return [_round(centre)]
    chosen = sorted([int(first), int(second)], key=lambda i: points[i, 0])
    while len(chosen) < count:
        nearest = between[:, chosen].min(axis=1)
        best = int(np.argmax(np.round(nearest, 1) + 1e-6 * points[:, 1]))
        if nearest[best] < apart_mm:
            break
        chosen.append(best)
    return [_round(points[i]) for i in chosen]


def auto_places(
    joint: JointBase,
    depths: Depths,
    clearance_mm: float,
    least_wall_mm: float,
    taken: Sequence[tuple[SideName, Solid]] = (),
) -> tuple[list[Place], MultiPolygon]:
    """Places for a joint that has none typed, and the room they were chosen from."""
    if not isinstance(joint, PegJoint):
        raise TypeError(f"{type(joint).__name__} has no pegs to spread")
    room = room_for(joint, depths, clearance_mm, least_wall_mm, taken)
    apart = 2 * (joint.radius_mm + clearance_mm) + least_wall_mm
    return spread(room, joint.wanted, apart), room


def _candidates(room: MultiPolygon, about: int = 120) -> Points:
    """Points on the outlines of `room` and on a grid inside it, in a fixed order."""
    x0, y0, x1, y1 = room.bounds
    step = max(0.2, float(np.sqrt(room.area / about)), float(room.length / about))
    outline = shapely.get_coordinates(shapely.segmentize(room.boundary, step))
    along = [np.arange(low + step / 2, high, step) for low, high in ((x0, x1), (y0, y1))]
    grid = np.array(np.meshgrid(*along)).reshape(2, -1).T
    inside = grid[shapely.contains_xy(room, grid)] if len(grid) else grid
    fine = np.round(np.concatenate([outline, inside]) * 1000).astype(np.int64)
    wide = int(np.ptp(fine[:, 1])) + 1
    codes = np.unique((fine[:, 0] - fine[:, 0].min()) * wide + fine[:, 1] - fine[:, 1].min())
    points = np.column_stack([codes // wide + fine[:, 0].min(), codes % wide + fine[:, 1].min()]) / 1000
    return points if len(points) <= MOST_CANDIDATES else points[:: len(points) // MOST_CANDIDATES + 1]


def _shadow(solid: Solid, frame: Frame, side: SideName, deep: float) -> shapely.Geometry:
    """What `solid` covers of the plane where it lies within `deep` of it on `side`."""
    points = solid.mesh.vertices
    heights = frame.heights(points) * (1 if side == "b" else -1)
    if heights.max() < 0 or heights.min() > deep:
        return MultiPolygon()
    return shapely.convex_hull(shapely.multipoints(frame.flat(points)))


def _round(point: Points) -> Place:
    return round(float(point[0]), 2) + 0.0, round(float(point[1]), 2) + 0.0

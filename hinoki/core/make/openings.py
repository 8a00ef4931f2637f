"""Openings of a part: flat rims with a way in, found on its surface; what lids, drawers and plugs are fitted to."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.geometry.frames import Frame, plane_frame
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import FramedSolid, flat_faces_at
from hinoki.core.geometry.solid import Solid
from hinoki.core.make.base import NotMade

LEAST_MM2 = 6.0
"""smaller holes are no openings"""
LEAST_RIM_MM2 = 3.0
MOST_PLANES = 80
JUST_MM = 0.02
SAME_PLACE_MM = 0.05
FREE_SHARE = 0.02
"""so much of a hole may be filled just above and below its rim, by rounding"""
LEVELS = 12
NEAR_RIM = 3.0
"""a point that is further from an opening than this many times its size does not mean it"""


@dataclass(frozen=True)
class Opening:
    """A hole in a flat face: `frame` lies in the rim, its normal pointing out; `hole` and `rim` (the face about it, filled) are
    outlines in it, mm."""

    body: Solid
    frame: Frame
    hole: Polygon
    rim: Polygon

    @property
    def middle(self) -> Points:
        """(3,), in the part's coordinates."""
        centre = self.hole.centroid
        return np.asarray(self.frame.world(np.array([[centre.x, centre.y]]))[0])

    @property
    def rim_point(self) -> Points:
        """A point (3,) of the rim, by which the opening can be found again."""
        return np.asarray(self.frame.world(np.array([self.hole.exterior.coords[0]]))[0])

    @property
    def size_mm(self) -> tuple[float, float]:
        """Width and height of the hole in the rim's plane."""
        x0, y0, x1, y1 = self.hole.bounds
        return x1 - x0, y1 - y0

    @cached_property
    def seen(self) -> FramedSolid:
        """The part in the rim's frame."""
        return FramedSolid(self.body, self.frame)

    def solid_at(self, height: float) -> MultiPolygon:
        """The section of the part `height` above the rim."""
        return self.seen.section(height)

    @cached_property
    def depth_mm(self) -> float:
        """How far its middle goes in before it meets something; the size of the part where it goes through."""
        x, y = self.hole.representative_point().coords[0]
        start = self.frame.world(np.array([[x, y]]), -JUST_MM)[0]
        far = float(np.linalg.norm(self.body.size))
        hits = self.body.ray(start, start - far * self.frame.n)
        return float(np.linalg.norm(hits[0] - start)) + JUST_MM if len(hits) else far

    def free_to(self, depth: float) -> Polygon:
        """What is free of the hole all the way down to `depth`: what goes straight in that far. Raises NotMade."""
        free: shapely.Geometry = self.hole
        for level in np.linspace(JUST_MM, depth, LEVELS):
            free = free.difference(self.solid_at(-float(level)))
        parts = as_multi(free, LEAST_MM2)
        largest = max(parts.geoms, key=lambda p: p.area, default=None)
        if largest is None or largest.area < 0.3 * self.hole.area:
            raise NotMade(
                f"The opening is only {self.depth_mm:.1f} mm deep where it is free; what goes {depth:.1f} mm in does not fit. "
                "Make it shorter."
            )
        return Polygon(largest.exterior)

    def outside_to(self, depth: float) -> Polygon:
        """The outline of what stands about the hole, from the rim down to `depth`: what goes over it must clear this."""
        walls: shapely.Geometry = self.rim
        for level in np.linspace(JUST_MM, depth, LEVELS):
            walls = walls.union(self._about(-float(level)))
        return Polygon(max(as_multi(walls).geoms, key=lambda p: p.area).exterior)

    def _about(self, height: float) -> Polygon:
        """The filled outline of the lump of a section that surrounds the hole."""
        filled = [Polygon(part.exterior) for part in self.solid_at(height).geoms]
        middle = self.hole.representative_point()
        return max((p for p in filled if p.contains(middle)), key=lambda p: p.area, default=Polygon())


def openings(body: Solid) -> list[Opening]:
    """The openings of a part, the largest first."""
    mesh = body.mesh
    found = [
        Opening(body, frame, hole, rim) for frame in flat_planes(mesh) for hole, rim in _holes(body, frame) if hole.area > 0
    ]
    return sorted(found, key=_order)


def _order(one: Opening) -> tuple[float, ...]:
    """Large ones first; of equal ones those that look up."""
    return -round(one.hole.area, 2), -round(float(one.frame.n[2]), 3), *(round(float(v), 2) for v in one.middle)


def opening_at(body: Solid, at: Points | None) -> Opening:
    """The opening whose rim is nearest to a point (3,), the largest one where none is said. Raises NotMade."""
    every = openings(body)
    if not every:
        raise NotMade(
            "This part has no opening with a flat rim. Cut the rim flat first, at Prepare or with a parting, or choose another "
            "part."
        )
    if at is None:
        return every[0]
    best = min(every, key=lambda one: _apart(one, at))
    far, size = _apart(best, at), max(best.size_mm)
    if far > NEAR_RIM * size:
        raise NotMade(f"There is no opening with a flat rim near this place; the nearest is {far:.0f} mm away. Pick its rim.")
    return best


def _apart(one: Opening, at: Points) -> float:
    flat = shapely.Point(one.frame.flat(at[None])[0])
    return float(np.hypot(one.hole.exterior.distance(flat), one.frame.heights(at[None])[0]))


def flat_planes(mesh: Mesh) -> Iterator[Frame]:
    """The planes in which most of a surface's flat area lies, looking outwards."""
    normals, areas = mesh.face_normals, mesh.face_areas
    offsets = np.einsum("ij,ij->i", normals, mesh.vertices[mesh.faces[:, 0]])
    rows = np.column_stack([np.round(normals / 1e-3), np.round(offsets / SAME_PLACE_MM)]).astype(np.int64)
    kinds, first, which = np.unique(rows, axis=0, return_index=True, return_inverse=True)
    area = np.bincount(which.ravel(), weights=areas, minlength=len(kinds))
    for k in np.argsort(-area, kind="stable")[:MOST_PLANES]:
        if area[k] < LEAST_RIM_MM2:
            return
        face = first[k]
        yield plane_frame(mesh.vertices[mesh.faces[face, 0]], normals[face])


def _holes(body: Solid, frame: Frame) -> Iterator[tuple[Polygon, Polygon]]:
    """Holes of the flat faces in a plane that lead into the part, and the faces about them, filled."""
    faces = flat_faces_at(body.mesh, frame, upward=True, within_mm=SAME_PLACE_MM)
    if not any(face.interiors for face in faces.geoms):
        return
    seen = FramedSolid(body, frame)
    near = seen.section(-JUST_MM).union(seen.section(JUST_MM))
    for face in faces.geoms:
        for ring in face.interiors:
            hole = Polygon(ring)
            if hole.area >= LEAST_MM2 and near.intersection(hole).area < FREE_SHARE * hole.area + 4 * JUST_MM * hole.length:
                yield hole, Polygon(face.exterior)

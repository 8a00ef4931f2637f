"""Cuts that leave no film.

A plane that lies in a face of a solid is there only to within rounding. Where rounding puts it a hair inside the wall, the
kernel leaves that hair: a double face of no thickness over all the face, closed and counted as surface on both sides. So where
a face lies in the plane of a cut each part is trimmed a little beyond it, on its own side, and the corners of the cut are put
back into the plane. What was thinner than that kerf is gone, as it should be: nothing so thin can be printed.
"""

from itertools import pairwise

import numpy as np
import shapely
from shapely.geometry import LineString, MultiPolygon

from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid

FILM_MM = 2e-3
"""faces nearer to a cut than this count as lying in it: nothing thinner can be printed"""
LEAST_KERF_MM = 1e-5
"""far above the kernel's rounding, far below anything that can be measured"""
LEAST_FACE_MM2 = 1e-3
"""faces in a cut of less area in all leave nothing that counts"""


def split_at(solid: Solid, frame: Frame) -> tuple[Solid, Solid]:
    """The parts above (along the normal) and below the plane of `frame`, without a film where a face lies in the plane."""
    kerf = kerf_for(solid.mesh, frame.heights(solid.mesh.vertices))
    if not kerf:
        return solid.halves(frame)
    above, below = (solid.ahead_of(f) for f in (frame.raised(kerf), frame.raised(-kerf).flipped()))
    return _put_back(above, frame, kerf), _put_back(below, frame, -kerf)


def cut_out(solid: Solid, outline: MultiPolygon, line: LineString, frame: Frame) -> tuple[Solid, Solid]:
    """What of a solid lies within `outline`, drawn out along the normal of `frame`, and what does not.

    `line` is the part of the outline's edge that cuts. No film is left where a face lies in the surface of the cut.
    """
    turned = solid.placed(frame.to_frame)
    low, high = float(turned.bounds[0][2]) - 1, float(turned.bounds[1][2]) + 1

    def knife(shape: MultiPolygon) -> Solid:
        return Solid.drawn(shape, low, high).placed(frame.to_world)

    flat, corners = frame.flat(solid.mesh.vertices), np.asarray(line.coords)
    kerf = max(kerf_for(solid.mesh, *_beside(flat, a, b)) for a, b in pairwise(corners))
    if not kerf:
        return solid.cut_by(knife(outline))
    inner, outer = (as_multi(outline.buffer(k, join_style="mitre", mitre_limit=100)) for k in (-kerf, kerf))
    within, without = solid.cut_by(knife(inner))[0], solid.cut_by(knife(outer))[1]
    return tuple(s.reshaped(lambda p: _onto(p, line, frame, kerf)) for s in (within, without))  # type: ignore[return-value]


def kerf_for(mesh: Mesh, off: Points, along: Points | None = None) -> float:
    """How wide a cut has to be to leave nothing of the faces that lie in it; 0 where none does.

    `off` (n,) tells how far the corners are off the cut, `along` (n,) where they are along it: it reaches from 0 to 1.
    """
    near = np.abs(off) < FILM_MM
    if np.count_nonzero(near) < 3:
        return 0.0
    faces = mesh.faces[near[mesh.faces].all(axis=1)]
    if along is not None:
        faces = faces[(along[faces].max(axis=1) > 0) & (along[faces].min(axis=1) < 1)]
    a, b, c = (mesh.vertices[faces[:, k]] for k in range(3))
    if np.linalg.norm(np.cross(b - a, c - a), axis=1).sum() / 2 < LEAST_FACE_MM2:
        return 0.0
    return 1.5 * float(np.abs(off[faces]).max()) + LEAST_KERF_MM


def _beside(flat: Points, start: Points, end: Points) -> tuple[Points, Points]:
    """How far places (n, 2) are off the straight line through two points (2,), and where they are along it, 0 to 1."""
    way = (end - start) / float((end - start) @ (end - start))
    off = (flat - start) @ np.array([-way[1], way[0]]) * float(np.linalg.norm(end - start))
    return np.asarray(off), np.asarray((flat - start) @ way)


def _put_back(part: Solid, frame: Frame, kerf: float) -> Solid:
    """A part whose corners `kerf` above the plane lie in the plane again."""

    def moved(points: Points) -> Points:
        heights = frame.heights(points)
        cut = np.abs(heights - kerf) < abs(kerf) / 4
        out = points.copy()
        out[cut] -= np.outer(heights[cut], frame.n)
        return out

    return part.reshaped(moved)


def _onto(points: Points, line: LineString, frame: Frame, kerf: float) -> Points:
    """Corners that lie beside the line by no more than a mitred kerf moved onto it, to its corner where one is near."""
    seen = frame.seen(points)
    flat = shapely.points(seen[:, :2])
    beside = shapely.distance(line, flat)
    cut = (beside > kerf / 2) & (beside < 1.5 * kerf)
    corners = np.asarray(line.coords)
    apart = np.linalg.norm(seen[:, None, :2] - corners[None], axis=2)
    at_corner = apart.min(axis=1) < 3 * kerf
    out = points.copy()
    there = np.asarray(shapely.get_coordinates(shapely.line_interpolate_point(line, shapely.line_locate_point(line, flat))))
    there[at_corner] = corners[apart[at_corner].argmin(axis=1)]
    which = cut | at_corner
    out[which] = frame.world(there[which]) + np.outer(seen[which, 2], frame.n)
    return out

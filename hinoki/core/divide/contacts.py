"""Contacts: flat areas along which parts that came in separate touch each other, so that they can be joined like any other."""

from collections.abc import Iterator, Sequence
from itertools import combinations

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.divide.cut import Part
from hinoki.core.geometry.equal_rows import different
from hinoki.core.geometry.frames import Frame, plane_frame
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import flat_faces_at
from hinoki.core.stages import stage

TOUCH_MM = 0.02
"""surfaces nearer than this touch"""
LEAST_AREA_MM2 = 0.5


def separate_pairs(parts: Sequence[Part]) -> Iterator[tuple[str, Part, Part]]:
    """Pairs of parts that a parting told apart without a plane and whose boxes touch, the lower first, with its id."""
    planar = {end.parting for part in parts for end in part.ends}
    groups: dict[str, list[tuple[Part, str]]] = {}
    for part in parts:
        for made in part.made:
            if made.parting not in planar and made.off is None:
                groups.setdefault(made.parting, []).append((part, made.side))
    for parting, members in groups.items():
        for (one, side), (two, other) in combinations(members, 2):
            (low, high), (start, end) = one.solid.bounds, two.solid.bounds
            if side != other and (low <= end + TOUCH_MM).all() and (start <= high + TOUCH_MM).all():
                a, b = sorted((one, two), key=lambda p: tuple(np.round(p.solid.centre_of_box[::-1], 3)))
                yield parting, a, b


@stage("contacts")
def contacts(a: Part, b: Part) -> list[tuple[Frame, MultiPolygon]]:
    """The flat areas where two parts touch, each in a frame whose normal points from `a` into `b`, in a fixed order."""
    low = np.maximum(a.solid.bounds[0], b.solid.bounds[0]) - TOUCH_MM
    high = np.minimum(a.solid.bounds[1], b.solid.bounds[1]) + TOUCH_MM
    found = []
    against = _planes(b.solid.mesh, low, high)
    for normal, offset in _planes(a.solid.mesh, low, high):
        for facing, other in against:
            if facing @ normal < -1 + 1e-6 and abs(offset + other) <= TOUCH_MM:
                frame = plane_frame(normal * offset, normal)
                beyond = frame.raised(-other - offset)
                shape = as_multi(
                    shapely.intersection(
                        flat_faces_at(a.solid.mesh, frame, upward=True), flat_faces_at(b.solid.mesh, beyond, upward=False)
                    ),
                    LEAST_AREA_MM2,
                )
                if not shape.is_empty:
                    found.append((frame, shape))
                break
    return found


def _planes(mesh: Mesh, low: Points, high: Points) -> list[tuple[Points, float]]:
    """Planes (unit normal outwards, offset) of the flat areas of a mesh that reach into a box, in a fixed order."""
    start, end = mesh.face_boxes
    near = np.flatnonzero(((start <= high) & (end >= low)).all(axis=1))
    vectors = mesh.face_vectors[near]
    areas = np.linalg.norm(vectors, axis=1)
    keep = areas > 1e-9
    normals = vectors[keep] / areas[keep, None]
    corners = mesh.vertices[mesh.faces[near[keep], 0]]
    offsets = np.einsum("ij,ij->i", normals, corners)
    rounded = np.round(np.column_stack([normals * 1e4, offsets * 1e2])).astype(np.int64)
    planes = different(rounded)
    total = np.bincount(planes.number, weights=areas[keep] / 2)
    return [(normals[k], float(offsets[k])) for k, area in zip(planes.first, total, strict=True) if area >= LEAST_AREA_MM2]

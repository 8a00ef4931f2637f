"""Planes that all but lie in a face of the model are moved into it, so that no film thinner than any print is left."""

from collections.abc import Sequence

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.divide.partings.base import Member, Remark
from hinoki.core.geometry.filmless_cut import FILM_MM
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.sections import box_sides
from hinoki.core.geometry.solid import Solid
from hinoki.core.stages import Keyed, stage

ON_FACE_MM = 1e-7
LEAST_FACE_MM2 = 0.01


def settle(members: Sequence[Member], bodies: Sequence[Keyed[Solid]], cache: Cache) -> tuple[list[Member], list[Remark]]:
    """The planes, each moved by less than FILM_MM into the model's own face where it all but lies in one, and what was moved.

    `bodies` are the pieces to cut.
    """
    out, said = [], []
    for member in members:
        frame = member.frame
        shift = 0.0
        if member.beside_mm is not None:
            out.append(member)
            continue
        for body in bodies:
            low, high = box_sides(body.value, frame)
            if low > FILM_MM or high < -FILM_MM:
                continue
            shift = _shift(cache, body, frame) or shift
        if shift:
            said.append(Remark("note", "parting-settled", {"by_mm": abs(float(shift))}))
        out.append(Member(member.number, frame.raised(shift)) if shift else member)
    return out, said


@stage("settle")
def _shift(body: Keyed[Solid], frame: Frame) -> float:
    """How far the nearest face that is parallel to the plane and nearer than FILM_MM lies above it; 0 for none."""
    mesh = body.value.mesh
    heights = frame.heights(mesh.vertices)
    near = np.abs(heights) < FILM_MM
    if np.count_nonzero(near) < 3:
        return 0.0
    faces = mesh.faces[near[mesh.faces].all(axis=1)]
    if len(faces) == 0:
        return 0.0
    a, b, c = (mesh.vertices[faces[:, k]] for k in range(3))
    areas = np.linalg.norm(np.cross(b - a, c - a), axis=1) / 2
    largest = int(np.argmax(areas))
    at = heights[faces[largest]]
    level = float(np.ptp(at)) < ON_FACE_MM
    if areas[largest] < LEAST_FACE_MM2 or not level or abs(at.mean()) < ON_FACE_MM:
        return 0.0
    return float(at.mean())

"""A plate that follows the inner side of a wall: cut from what is free above it, so that it fits however the wall bends."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hinoki.core.geometry.frames import inverted
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid

LEANS_DEG = 40.0
"""what leans more towards the plate's middle is no surface it can follow"""
LEAN = math.tan(math.radians(LEANS_DEG))
FLOOR, LEAST_FACE_MM2 = 0.3, 1e-3
"""cosine from which on a face of the hollow is its floor: the sides of the box are upright; smaller faces are rounding"""
BEYOND_MM = 0.5
"""what is looked at beyond the plate's edges, so that its sides are cut through what is there and not along its end"""
JUST_OFF_MM = 0.2
SMALL = 0.5
"""of a plate: over so much of it the way the wall leans is told"""


@dataclass(frozen=True)
class InnerPlate:
    """A plate as assembled, the matrix (3, 4) from its own coordinates (x along the seam, y across it, z into the hollow), the
    cosine of how much its lower side leans at most, and how far it bends."""

    solid: Solid
    matrix: Points
    cos: float
    bend_mm: float


def inner_plate(
    pieces: Sequence[Solid], at: Points, along: Points, across: Points, size_mm: tuple[float, float, float], clearance_mm: float
) -> InnerPlate | None:
    """The plate over a seam at a point (3,), the seam running `along` and the pieces parted `across` (unit vectors, (3,)): so
    wide along the seam, so long across it, and so thick; None where no hollow is there."""
    wide, long, thick = size_mm
    reach = 2 * (math.hypot(wide, long) + thick) + BEYOND_MM
    near = Solid.box([-reach] * 3, [reach] * 3).moved(*(float(c) for c in at))
    pieces = [piece.common(near) for piece in pieces]  # large ones are looked through once
    # first square to the seam, then square to the wall as it leans there
    matrix = _across(at, along, across)
    small = _room(matrix, pieces, (SMALL * wide, SMALL * long, thick))
    if small is None:
        return None
    normals, areas = small.mesh.face_normals, small.mesh.face_areas
    floor = _floor_of(small)
    up = np.cross(matrix[:, :3] @ -(normals[floor] * areas[floor, None]).sum(axis=0), along)
    matrix = _across(at, along, up / np.linalg.norm(up))
    room = _room(matrix, pieces, size_mm)
    return None if room is None else _made(room, matrix, size_mm, clearance_mm)


def _room(matrix: Points, pieces: Sequence[Solid], size_mm: tuple[float, float, float]) -> Solid | None:
    """What is free above the wall in a box a little larger than a plate, in its own coordinates."""
    half_x, half_y = size_mm[0] / 2 + BEYOND_MM, size_mm[1] / 2 + BEYOND_MM
    low = LEAN * math.hypot(half_x, half_y)
    high = low + 2 * size_mm[2] + 2.0
    block = Solid.box([-half_x, -half_y, -low], [half_x, half_y, high])
    void = block.placed(matrix).minus(pieces).placed(inverted(matrix))
    rooms = [] if void.empty else [room for room in void.lumps() if room.bounds[1][2] > high - JUST_OFF_MM]
    room = max(rooms, key=lambda r: r.volume_mm3, default=None)
    return room if room is not None and _floor_of(room).any() else None


def _made(room: Solid, matrix: Points, size_mm: tuple[float, float, float], clearance_mm: float) -> InnerPlate:
    """The plate in a room: its lower side is the floor moved up, so far that the clearance is left where it is steepest."""
    floor = _floor_of(room)
    cos = float(-room.mesh.face_normals[floor, 2].max())
    gap, (low, high) = clearance_mm / cos, room.bounds
    x, y, thick = size_mm[0] / 2, size_mm[1] / 2, size_mm[2]
    box = Solid.box([-x, -y, float(low[2]) - 1.0], [x, y, float(high[2]) - JUST_OFF_MM])
    body = box.common(room).common(room.moved(0.0, 0.0, gap)).minus([room.moved(0.0, 0.0, gap + thick)])
    heights = room.mesh.vertices[room.mesh.faces[floor]][..., 2]
    return InnerPlate(body.placed(matrix), matrix, cos, float(np.ptp(heights)))


def _across(at: Points, along: Points, across: Points) -> Points:
    """The matrix (3, 4) from (along the seam, across it, into the hollow) to the world."""
    return np.column_stack([along, across, np.cross(along, across), at])


def _floor_of(room: Solid) -> "np.ndarray":
    """Which faces of what is free above a wall lie on the wall, (n,)."""
    mesh = room.mesh
    return np.asarray((mesh.face_normals[:, 2] < -FLOOR) & (mesh.face_areas > LEAST_FACE_MM2))

"""A demo model: a festival mask of a barn owl, thin-walled and curved, as a careless export leaves it. All made up.

The raw file lies on its back (Y is up when it is worn), has one hole in the cheek and a few faces turned over.
"""

import numpy as np

from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.solid import Solid
from hinoki.demo.shapes import noise

NAME = "Barn owl festival mask"
FILE_NAME = "barn-owl-mask.stl"
WALL = 4.2
HOLE_AT, HOLE_RADIUS = np.array([92.0, -62.0]), 9.0
BOX_AT, BOX_OUT = np.array([-58.0, 74.0, 139.0]), np.array([-0.42, 0.28, 0.86])
"""where the brow is flattest: a place on its surface and the way out"""
TURNED_AT, TURNED_RADIUS = np.array([-88.0, 60.0]), 3.2


def owl_mask() -> Mesh:
    """The whole mask as drawn, closed: 320 wide, 360 high, 210 deep, in millimetres."""
    rows, around, rows_within = 130, 340, 80
    outer = _front(rows, around, 0.0)
    inner = _front(rows_within, around, WALL)
    faces = [_net(rows, around, 0, False), _net(rows_within, around, rows * around, True)]
    i = np.arange(around)
    k = (i + 1) % around
    rim, back = (rows - 1) * around, (rows + rows_within - 1) * around
    faces.append(np.concatenate([np.stack([rim + i, back + i, back + k], 1), np.stack([rim + i, back + k, rim + k], 1)]))
    points = np.concatenate([outer, inner])
    middle = len(points)
    points = np.concatenate([points, [outer[:around].mean(axis=0)], [inner[:around].mean(axis=0)]])
    faces.append(np.stack([np.full(around, middle), i, k], 1))
    faces.append(np.stack([np.full(around, middle + 1), rows * around + k, rows * around + i], 1))
    body = Solid.from_mesh(Mesh(points, np.concatenate(faces)))
    eyes = [Solid.cylinder(20, -50, 300).moved(x, 24, 0) for x in (-55.0, 55.0)]
    nostrils = [Solid.cylinder(2.6, -50, 300).moved(x, -60, 0) for x in (-9.0, 9.0)]
    return body.minus([*eyes, *nostrils]).plus([_battery_box()]).mesh


def _battery_box() -> Solid:
    """A box behind the left brow for the battery of lights in the eyes: closed but for the way of its wire."""
    out = BOX_OUT / np.linalg.norm(BOX_OUT)
    across = np.cross([0.0, 1.0, 0.0], out)
    across = across / np.linalg.norm(across)
    matrix = np.column_stack([across, np.cross(out, across), out, BOX_AT])
    box = Solid.box([-37, -28, -19], [37, 28, -5.8])
    wire = Solid.cylinder(3.0, 0, 60).placed(np.array([[1.0, 0, 0, 0], [0, 0, -1, 0], [0, 1, 0, -12.8]]))
    return box.minus([Solid.box([-23, -15, -17], [23, 15, -8.5]), wire]).placed(matrix)


def raw_owl_mask() -> Mesh:
    """The mask as it comes: with a hole and faces turned over."""
    mesh = owl_mask()
    middles = mesh.vertices[mesh.faces].mean(axis=1)
    front = mesh.face_vectors[:, 2] > 0
    faces = mesh.faces.copy()
    turned = front & (np.linalg.norm(middles[:, :2] - TURNED_AT, axis=1) < TURNED_RADIUS)
    faces[turned] = faces[turned][:, ::-1]
    gone = front & (np.linalg.norm(middles[:, :2] - HOLE_AT, axis=1) < HOLE_RADIUS)
    return Mesh(mesh.vertices, faces[~gone])


def _front(rows: int, around: int, inset: float) -> Points:
    """Points (rows · around, 3) of a surface `inset` behind the front, from the middle to the rim; the rim lies at Z 0."""
    s = np.linspace(0, 1, rows + 1)[1:, None] ** 0.85
    angle = np.linspace(0, 2 * np.pi, around, endpoint=False)[None, :]
    edge = _outline(angle) - inset
    x, y = edge * s * np.cos(angle), edge * s * np.sin(angle)
    dome = np.clip(1 - s**2.6, 0, 1) ** 0.62
    depth = (176 - inset) * dome * np.ones_like(angle)
    depth += _features(x, y, dome)
    if inset == 0.0:
        depth += _feathers(x, y, dome, noise((rows, around), 12, seed=23))
    depth = np.where(s >= 1 - 1e-9, 0.0, np.maximum(depth, 0.4 * (1 - s)))
    return np.column_stack([x.ravel(), y.ravel(), depth.ravel()])


def _outline(angle: Points) -> Points:
    """Distance of the rim from the middle: an upright oval, fuller at the cheeks, with a dip at the crown."""
    oval = 1 / np.sqrt((np.cos(angle) / 160) ** 2 + (np.sin(angle) / 180) ** 2)
    return np.asarray(oval - 9 * np.exp(-(((angle - np.pi / 2) / 0.16) ** 2)))


def _disc(x: Points, y: Points) -> Points:
    """How far inside (positive) or outside the heart-shaped face a point lies, about in millimetres."""
    lobes = np.maximum(78 - np.hypot(x - 52, (y - 34) * 0.95), 78 - np.hypot(x + 52, (y - 34) * 0.95))
    chin = 74 - np.hypot(x * 1.05, (y + 26) * 0.9)
    # a soft maximum, so that the lobes and the chin flow into each other
    return np.asarray(12 * np.logaddexp(lobes / 12, chin / 12))


def _features(x: Points, y: Points, dome: Points) -> Points:
    """What shows on both sides: the hollow face with its ruff, the ridge between the eyes, the hooked beak."""
    inside = _disc(x, y)
    out = -15 / (1 + np.exp(-(inside - 14) / 6))
    out += 9 * np.exp(-((inside / 9) ** 2))
    for side in (-1, 1):
        out -= 11 * np.exp(-(((x - side * 55) / 30) ** 2) - ((y - 24) / 30) ** 2)
    out += 19 * np.exp(-((x / 13) ** 2) - ((y - 30) / 62) ** 2)
    out += 36 * np.exp(-((x / 14) ** 2) - ((y + 30) / 27) ** 2)
    return np.asarray(out * np.minimum(1, 1.6 * dome))


def _feathers(x: Points, y: Points, dome: Points, coat: Points) -> Points:
    """Fine relief on the front only: scales of feathers outside the face, fine rays around the eyes within it."""
    inside = _disc(x, y)
    row = np.floor(y / 13)
    along = np.mod(x / 15 + 0.5 * np.mod(row, 2), 1) - 0.5
    down = np.mod(y / 13, 1)
    scale = 1.5 * np.clip(1 - 2.1 * np.hypot(along, 0.55 * (1 - down)), 0, 1)
    coat = 0.5 * coat
    eye = np.where(x > 0, 1, -1) * 55.0
    rays = 0.45 * np.cos(34 * np.arctan2(y - 24, x - eye)) * np.clip((np.hypot(x - eye, y - 24) - 26) / 20, 0, 1)
    outside = 1 / (1 + np.exp((inside + 8) / 3))
    return np.asarray((outside * (scale + coat) + (1 - outside) * rays) * np.minimum(1, 3 * dome))


def _net(rows: int, around: int, start: int, turned: bool) -> np.ndarray:
    i = np.repeat(np.arange(rows - 1), around)
    j = np.tile(np.arange(around), rows - 1)
    k = (j + 1) % around
    a, b, c, d = i * around + j, i * around + k, (i + 1) * around + k, (i + 1) * around + j
    faces = np.concatenate([np.stack([a, d, c], 1), np.stack([a, c, b], 1)]) + start
    return faces[:, ::-1] if turned else faces

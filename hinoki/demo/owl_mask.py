"""A demo model: a festival mask of a barn owl, thin-walled and curved, as a careless export leaves it. All made up.

The raw file lies on its back (Y is up when it is worn), has one hole in the cheek and a few faces turned over.
"""

import numpy as np

from hinoki.core.mesh import Mesh, Points
from hinoki.core.solid import Solid
from hinoki.demo.shapes import noise

NAME = "Barn owl festival mask"
FILE_NAME = "barn-owl-mask.stl"
WALL = 4.2
HOLE_AT, HOLE_RADIUS = np.array([92.0, -62.0]), 9.0
TURNED_AT, TURNED_RADIUS = np.array([-88.0, 60.0]), 3.2


def owl_mask() -> Mesh:
    """The whole mask as drawn, closed: 320 wide, 360 high, 210 deep, in millimetres."""
    rows, around = 210, 520
    outer = _front(rows, around, 0.0)
    inner = _front(130, around, WALL)
    faces = [_net(rows, around, 0, False), _net(130, around, rows * around, True)]
    i = np.arange(around)
    k = (i + 1) % around
    rim, back = (rows - 1) * around, rows * around + 129 * around
    faces.append(np.concatenate([np.stack([rim + i, back + i, back + k], 1), np.stack([rim + i, back + k, rim + k], 1)]))
    points = np.concatenate([outer, inner])
    middle = len(points)
    points = np.concatenate([points, [outer[:around].mean(axis=0)], [inner[:around].mean(axis=0)]])
    faces.append(np.stack([np.full(around, middle), i, k], 1))
    faces.append(np.stack([np.full(around, middle + 1), rows * around + k, rows * around + i], 1))
    body = Solid.from_mesh(Mesh(points, np.concatenate(faces)))
    eyes = [Solid.cylinder(23, -50, 300).moved(x, 24, 0) for x in (-60.0, 60.0)]
    nostrils = [Solid.cylinder(2.6, -50, 300).moved(x, -52, 0) for x in (-7.0, 7.0)]
    return body.minus([*eyes, *nostrils]).mesh


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
    depth = (165 - inset) * dome * np.ones_like(angle)
    depth += _features(x, y, dome)
    if inset == 0.0:
        depth += _feathers(s, angle, dome, rows, around, x, y)
    depth = np.where(s >= 1 - 1e-9, 0.0, np.maximum(depth, 0.4 * (1 - s)))
    return np.column_stack([x.ravel(), y.ravel(), depth.ravel()])


def _outline(angle: Points) -> Points:
    """Distance of the rim from the middle: an upright oval, fuller at the cheeks, with a dip at the crown."""
    oval = 1 / np.sqrt((np.cos(angle) / 160) ** 2 + (np.sin(angle) / 180) ** 2)
    return np.asarray(oval - 9 * np.exp(-(((angle - np.pi / 2) / 0.16) ** 2)))


def _features(x: Points, y: Points, dome: Points) -> Points:
    """What shows on both sides: the two dishes around the eyes, the ridge between them, and the beak."""
    out = np.zeros_like(x)
    for side in (-1, 1):
        out -= 24 * np.exp(-(((x - side * 60) / 46) ** 2) - ((y - 22) / 58) ** 2)
    out += 16 * np.exp(-((x / 15) ** 2) - ((y - 40) / 70) ** 2)
    out += 44 * np.exp(-((x / 17) ** 2) - ((y + 34) / 30) ** 2)
    return np.asarray(out * dome)


def _feathers(s: Points, angle: Points, dome: Points, rows: int, around: int, x: Points, y: Points) -> Points:
    """Fine relief on the front only: rows of feathers that fan out, and a ruff along the edge of the dishes."""
    fan = np.sin(26 * s + 0.6 * np.sin(18 * angle)) * np.cos(36 * angle)
    coat = 0.7 * noise((rows, around), 12, seed=23)
    dish = np.minimum(np.hypot((x - 60) / 1.0, (y - 22) / 1.25), np.hypot((x + 60) / 1.0, (y - 22) / 1.25))
    ruff = 2.2 * np.exp(-(((dish - 66) / 7) ** 2))
    return np.asarray((0.9 * fan + coat + ruff) * np.minimum(1, 3 * dome) * np.clip(s / 0.15, 0, 1))


def _net(rows: int, around: int, start: int, turned: bool) -> np.ndarray:
    i = np.repeat(np.arange(rows - 1), around)
    j = np.tile(np.arange(around), rows - 1)
    k = (j + 1) % around
    a, b, c, d = i * around + j, i * around + k, (i + 1) * around + k, (i + 1) * around + j
    faces = np.concatenate([np.stack([a, d, c], 1), np.stack([a, c, b], 1)]) + start
    return faces[:, ::-1] if turned else faces

"""The demo model: a lighthouse on a rock, at 1:60. All measures are made up."""

from itertools import pairwise

import numpy as np

from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.demo.shapes import noise, turned

NAME = "Tern Holm lighthouse"
FILE_NAME = "tern-holm-lighthouse.stl"
ROCK_TOP = 104.0
GALLERY = 488.0
TOWER_WALL = 10.0


def lighthouse() -> Mesh:
    """The whole model, closed, about 310 × 300 × 640 mm, in millimetres, standing at Z 0."""
    inside = _smooth([(0, 30), (44, 30), (44, ROCK_TOP), (42, 120), (35, 300), (29, 470), (0, 470)], 60, 128)
    body = Solid.united([_rock(), _tower(), _gallery(), _lantern(), _roof()])
    return body.minus([inside, *_openings()]).plus(_railing()).mesh


def _rock() -> Solid:
    """An irregular base: a dome with ledges and bumps, flat where the tower stands."""
    rows, around = 130, 420
    t = np.linspace(0, 1, rows)
    height = ROCK_TOP * np.minimum(1, t * 1.25) ** 0.9
    radius = np.where(t < 0.8, 140 - 24 * t - 30 * t**3, (140 - 19.2 - 15.4) * (1 - (t - 0.8) / 0.2))
    bumps = noise((rows, around), 5, seed=7)
    fade = np.clip((0.86 - t) / 0.2, 0, 1)[:, None]
    ledges = 0.03 * np.sign(np.sin(t * 34))[:, None] * fade
    wobble = 1 + 0.13 * bumps * fade + ledges
    angles = np.linspace(0, 2 * np.pi, around, endpoint=False)
    wobble *= 1 + 0.02 * np.cos(2 * angles)[None, :]
    profile = np.concatenate([[[0, 0]], np.column_stack([radius, height])[:-1], [[0, ROCK_TOP]]])
    return turned(profile, around, np.concatenate([wobble[:1], wobble[:-1], wobble[-1:]]))


def _tower() -> Solid:
    rings: list[tuple[float, float]] = [(0, 60), (58, 60), (58, 112), (54, 116)]
    rings += [(53.5 - 14.5 * (z - 116) / (476 - 116), z) for z in np.linspace(118, 476, 40)]
    return turned(np.array([*rings, (0, 476)]), 256)


def _gallery() -> Solid:
    return turned(np.array([(0, 468), (38, 468), (58, 484), (58, GALLERY + 4), (0, GALLERY + 4)]), 256)


def _lantern() -> Solid:
    around = 240
    angles = np.linspace(0, 2 * np.pi, around, endpoint=False)
    bars = 1 + 0.05 * (np.cos(8 * angles) > 0.86)
    rows: list[tuple[float, float]] = [
        (0, 490),
        (36, 490),
        (36, 512),
        (33, 514),
        (31, 520),
        (31, 556),
        (33, 562),
        (36, 564),
        (36, 570),
        (0, 570),
    ]
    wobble = np.ones((len(rows), around))
    wobble[4:6] = bars
    return turned(np.array(rows, dtype=float), around, wobble)


def _roof() -> Solid:
    rows: list[tuple[float, float]] = [(0, 568), (43, 568), (43, 573), (40, 574)]
    rows += [(40 * np.cos(a) ** 0.8 + 3, 574 + 30 * np.sin(a)) for a in np.linspace(0.1, 1.5, 24)]
    rows += [(4, 606), (4, 610), (6, 613), (6, 616), (2.2, 619), (2.2, 640), (0, 640)]
    return turned(np.array(rows, dtype=float), 160)


def _openings() -> list[Solid]:
    """The door and the windows, cut through the wall."""
    door = Solid.united(
        [
            Solid.box([-9, -70, 118], [9, -20, 148]),
            Solid.cylinder(9, 0, 50).placed(np.array([[1, 0, 0, 0], [0, 0, -1, -20], [0, 1, 0, 148]], dtype=float)),
        ]
    )
    windows = []
    for level, z in enumerate((210.0, 280.0, 350.0, 420.0)):
        turn = np.radians(90 * level + 20)
        matrix = np.array([[np.cos(turn), -np.sin(turn), 0, 0], [np.sin(turn), np.cos(turn), 0, 0], [0, 0, 1, z]], dtype=float)
        windows.append(Solid.box([20, -5, -9], [70, 5, 9]).placed(matrix))
    return [door, *windows]


def _railing() -> list[Solid]:
    posts = [
        Solid.cylinder(1.6, GALLERY + 3, GALLERY + 22).moved(54 * np.cos(a), 54 * np.sin(a), 0)
        for a in np.linspace(0, 2 * np.pi, 24, endpoint=False)
    ]
    hoops = [_hoop(54, 1.5, GALLERY + z) for z in (12.0, 22.0)]
    return [*posts, *hoops]


def _hoop(radius: float, thick: float, z: float) -> Solid:
    """A flat-sided ring."""
    disc, hole = (
        turned(np.array([(0, low), (r, low), (r, high), (0, high)]), 192)
        for r, low, high in ((radius + thick, z - thick, z + thick), (radius - thick, z - 2 * thick, z + 2 * thick))
    )
    return disc.minus([hole])


def _smooth(points: list[tuple[float, float]], rows: int, around: int) -> Solid:
    """A turned body whose profile is drawn with at least `rows` rings."""
    fine: list[tuple[float, float]] = []
    for (r0, z0), (r1, z1) in pairwise(points):
        steps = max(1, round(rows * abs(z1 - z0) / 440))
        fine += [(r0 + (r1 - r0) * s / steps, z0 + (z1 - z0) * s / steps) for s in range(steps)]
    return turned(np.array([*fine, points[-1]], dtype=float), around)

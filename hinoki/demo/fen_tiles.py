"""A demo model: a fen with paths of boards, a game board 240 mm square of four tiles that go together in any order.

All made up.
"""

import numpy as np

from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.solid import Solid
from hinoki.demo.shapes import noise

NAME = "Withy fen board"
FILE_NAME = "withy-fen-board.stl"
TILE = 120.0
LEVEL = 16.0
STEP = 1.5
PATH = 11.0


def fen() -> Mesh:
    """The whole board, closed, standing at Z 0; ground and paths meet in the same way at the middle of every tile's side."""
    return _ground().plus([*_hut(), *_willows(), *_stones()]).mesh


def _ground() -> Solid:
    count = round(2 * TILE / STEP) + 1
    line = np.linspace(-TILE, TILE, count)
    x, y = np.meshgrid(line, line, indexing="ij")
    own_x, own_y = np.mod(x + TILE, TILE) - TILE / 2, np.mod(y + TILE, TILE) - TILE / 2
    rim = np.clip((TILE / 2 - np.maximum(abs(own_x), abs(own_y))) / 14, 0, 1)
    bumps = noise((count, count), 8, seed=61)
    land = LEVEL + rim * 3.2 * bumps
    for at_x, at_y, radius in ((-84, -86, 17), (-30, -92, 12), (88, -34, 19), (-88, 34, 15), (30, 90, 20), (86, 88, 11)):
        deep = np.clip(1.25 - np.hypot(x - at_x, y - at_y) / radius, 0, 0.5) * 2
        land = land * (1 - deep) + (LEVEL - 3.4) * deep
    off = np.minimum(abs(own_x), abs(own_y))
    boards = 0.35 * (np.mod(np.where(abs(own_x) < abs(own_y), own_y, own_x), 6) < 4.5)
    on_path = np.clip((PATH - off) / 1.5, 0, 1) * np.clip((TILE / 2 - np.maximum(abs(own_x), abs(own_y))) / 3, 0, 1)
    land = land * (1 - on_path) + (LEVEL + 2.2 + boards) * on_path
    return _standing(x, y, land)


def _standing(x: Points, y: Points, top: Points) -> Solid:
    """A block under a grid of heights (n, n), its sides and underside flat."""
    n = len(x)
    upper = np.stack([x, y, top], -1).reshape(-1, 3)
    lower = np.stack([x, y, np.zeros_like(top)], -1).reshape(-1, 3)
    i, j = (a.ravel() for a in np.meshgrid(np.arange(n - 1), np.arange(n - 1), indexing="ij"))
    a, b, c, d = i * n + j, (i + 1) * n + j, (i + 1) * n + j + 1, i * n + j + 1
    faces = [np.stack([a, b, c], 1), np.stack([a, c, d], 1)]
    k = np.arange(n - 1)
    rim = np.concatenate([k * n, (n - 1) * n + k, (n - 1 - k) * n + n - 1, n - 1 - k])
    after = np.roll(rim, -1)
    corner = n * n
    faces += [np.stack([rim, rim + corner, after + corner], 1), np.stack([rim, after + corner, after], 1)]
    faces += [np.stack([a, c, b], 1) + corner, np.stack([a, d, c], 1) + corner]
    return Solid.from_mesh(Mesh(np.concatenate([upper, lower]), np.concatenate(faces)))


def _hut() -> list[Solid]:
    """A reed cutter's hut on posts."""
    walls = Solid.box([24, -36, 12], [48, -18, 33])
    eaves = [(x, y, 32.0) for x in (21.0, 51.0) for y in (-40.0, -14.0)]
    roof = Solid.hull_of(np.array([*eaves, (25.0, -27.0, 46.0), (47.0, -27.0, 46.0)]))
    return [walls.minus([Solid.box([33, -40, 18], [39, -34, 29])]), roof]


def _willows() -> list[Solid]:
    """Pollarded willows: a thick trunk with a round head."""
    spots = ((-100, -28), (-38, -40), (-24, 32), (-96, 92), (28, 32), (98, 30), (84, -98))
    trunk = Solid.cone(4.2, 3.2, 11, 32).plus([Solid.cone(3.2, 7.5, 31, 37), Solid.cone(7.5, 3.5, 37, 43)])
    return [trunk.moved(x, y, 0) for x, y in spots]


def _stones() -> list[Solid]:
    """Boundary stones, and the stump of a beacon."""
    stone = Solid.prism(4.0, 12, 23, 6).plus([Solid.cone(3.6, 1.2, 22.5, 26)])
    beacon = Solid.cone(9, 7, 11, 34).minus([Solid.cylinder(4.5, 27, 40)])
    return [stone.moved(x, y, 0) for x, y in ((-36, -82), (36, -88), (-88, 84), (90, 40))] + [beacon.moved(-34, 88, 0)]

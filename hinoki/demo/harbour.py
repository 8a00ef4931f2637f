"""A demo model: a round harbour, a ring of quay around a sunken basin, about 420 mm across. All made up."""

import numpy as np

from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.demo.shapes import noise, turned

NAME = "Saltmarket harbour"
FILE_NAME = "saltmarket-harbour.stl"
OUTSIDE, INSIDE, QUAY, FLOOR = 210.0, 150.0, 46.0, 14.0


def harbour() -> Mesh:
    """The whole diorama, closed, standing at Z 0."""
    base = _quay().plus([_water()])
    return base.minus([_gateway(), *_steps()]).plus([*_bollards(), *_houses(), _crane()]).mesh


def _quay() -> Solid:
    """The ring: a cobbled top, a coping along the basin, an outside of rough stone."""
    around, rows = 360, 24
    t = np.linspace(0, 1, 14)
    profile = [(0.0, 0.0), *((OUTSIDE - 2.5 * h, QUAY * h) for h in t)]
    top = np.linspace(OUTSIDE - 2.5, INSIDE + 7, rows)
    profile += [(r, QUAY) for r in top[1:]]
    profile += [(INSIDE + 7, QUAY + 2.4), (INSIDE, QUAY + 2.4), (INSIDE, FLOOR - 1), (0.0, FLOOR - 1)]
    points = np.array(profile)
    wobble = np.ones((len(points), around))
    wobble[2:14] += 0.006 * noise((12, around), 9, seed=41)
    return turned(points, around, wobble)


def _water() -> Solid:
    """The basin's floor as still water with a few long waves."""
    rings, around = 40, 240
    radius = np.linspace(0, INSIDE + 2, rings)[1:]
    points = np.array([(0.0, 2.0), (INSIDE + 2, 2.0), *((r, FLOOR) for r in radius[::-1]), (0.0, FLOOR)])
    body = turned(points, around)
    mesh = body.mesh
    top = mesh.vertices[:, 2] > FLOOR - 0.01
    x, y = mesh.vertices[:, 0], mesh.vertices[:, 1]
    reach = np.clip((INSIDE - np.hypot(x, y)) / 20, 0, 1)
    waves = 0.7 * np.sin(x / 7 + 0.4 * np.sin(y / 19)) * np.cos(y / 31) * reach
    vertices = mesh.vertices.copy()
    vertices[top, 2] += waves[top]
    return Solid.from_mesh(Mesh(vertices, mesh.faces))


def _gateway() -> Solid:
    """The way out to sea, through the quay."""
    return Solid.box([-24, 130, FLOOR + 1], [24, 260, QUAY + 10])


def _steps() -> list[Solid]:
    """Two flights of steps cut into the quay's inner side."""
    cuts = []
    for turn in (20.0, 200.0):
        for k in range(6):
            step = Solid.box([INSIDE - 5, -14 + 4.5 * k, QUAY - 5 * (k + 1)], [INSIDE + 9, 14, QUAY + 5])
            cuts.append(_at(step, turn))
    return cuts


def _bollards() -> list[Solid]:
    """Mooring posts along the coping, thicker at the top."""
    post = Solid.cone(3.2, 2.4, 0, 7).plus([Solid.cone(2.4, 4.0, 6.5, 10), Solid.cylinder(4.0, 10, 12)])
    return [_at(post.moved(INSIDE + 12, 0, QUAY - 0.5), turn) for turn in range(40, 400, 30) if turn not in (70, 100)]


def _houses() -> list[Solid]:
    """A row of narrow houses with steep roofs on the landward side."""
    row = []
    for k, (turn, tall) in enumerate(((236, 44), (248, 58), (260, 50), (272, 64), (284, 52), (296, 46))):
        deep = 30 + 4 * (k % 2)
        walls = Solid.box([0, -15, -0.5], [deep, 15, tall])
        eaves = [(x, y, tall) for x in (0.0, deep) for y in (-16.0, 16.0)]
        ridge = np.array([*eaves, (0.0, 0.0, tall + 22), (deep, 0.0, tall + 22)])
        windows = [Solid.box([-1, y - 2.5, z], [1.2, y + 2.5, z + 7]) for z in range(10, tall - 8, 14) for y in (-8, 0, 8)]
        chimney = Solid.box([deep - 9, 5, tall], [deep - 3, 10, tall + 26])
        house = walls.plus([Solid.hull_of(ridge), chimney]).minus(windows)
        row.append(_at(house.moved(INSIDE + 22, 0, QUAY), float(turn)))
    return row


def _crane() -> Solid:
    """A quayside crane with a slender jib."""
    foot = Solid.box([-9, -9, -0.5], [9, 9, 16])
    mast = Solid.cylinder(3.2, 15, 58)
    jib = Solid.hull_of(np.concatenate([_square(3.0, 0, 54), _square(1.4, 44, 78)]))
    return _at(foot.plus([mast, jib]).moved(INSIDE + 34, 0, QUAY), 165)


def _square(half: float, x: float, z: float) -> np.ndarray:
    return np.array([[x, sy * half, z + sz * half] for sy in (-1, 1) for sz in (-1, 1)])


def _at(solid: Solid, degrees: float) -> Solid:
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    return solid.placed(np.array([[c, -s, 0, 0], [s, c, 0, 0], [0, 0, 1.0, 0]]))

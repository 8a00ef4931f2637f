"""Boxes with lids and inserts, reliefs and terrain, lattices."""

import numpy as np

from bench.corpus.entry import Entry, Wants
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.core.geometry.text_outlines import lettered
from hinoki.demo.shapes import noise
from tests.shapes import box, ellipsoid, tube


def open_box() -> Solid:
    """A box without a lid, 3 mm."""
    return box(320, 200, 120).minus([Solid.box([-157, -97, 3], [157, 97, 121])])


def tray() -> Solid:
    """A tray with twelve compartments, walls of 1.6 mm."""
    cells = [
        Solid.box([-150 + 75 * i + 0.8, -110 + 73 * j + 0.8, 2], [-150 + 75 * (i + 1) - 0.8, -110 + 73 * (j + 1) - 0.8, 41])
        for i in range(4)
        for j in range(3)
    ]
    return Solid.box([-150.8, -110.8, 0], [150.8, 109.8, 40]).minus(cells)


def cabinet() -> Solid:
    """A carcass with a shelf and a back, open in front."""
    rooms = [Solid.box([-114, -81, low], [114, 69, high]) for low, high in ((6, 147), (153, 294))]
    return Solid.box([-120, -75, 0], [120, 75, 300]).minus(rooms)


def plaque() -> Solid:
    """A board with a raised word that no seam should cross."""
    board = Solid.box([-210, -60, 0], [210, 60, 9])
    letters = Solid.drawn(lettered("HINOKI", 70.0), 8.5, 13)
    return board.plus([letters])


def field(size: float, rough: float, floor: float) -> Solid:
    """Terrain on a flat base."""
    count = 56
    bumps = noise((count, count), 3, 11) * rough
    x = np.linspace(-size / 2, size / 2, count)
    tops = [[x[i], x[j], floor + float(bumps[i, j]) + rough * 1.2] for i in range(count) for j in range(count)]
    vertices = np.array([*tops, *([p[0], p[1], 0.0] for p in tops)])
    return Solid.from_mesh(_closed(vertices, count))


def _closed(vertices: np.ndarray, count: int):  # type: ignore[no-untyped-def]

    i, j = (a.ravel() for a in np.meshgrid(np.arange(count - 1), np.arange(count - 1), indexing="ij"))
    a, b, c, d = i * count + j, (i + 1) * count + j, (i + 1) * count + j + 1, i * count + j + 1
    top = np.concatenate([np.stack([a, b, c], 1), np.stack([a, c, d], 1)])
    n = count * count
    bottom = top[:, ::-1] + n
    walls = []
    k = np.arange(count - 1)
    edges = [
        (k * count, (k + 1) * count),
        ((k + 1) * count + count - 1, k * count + count - 1),
        (k + 1, k),
        (n - count + k, n - count + k + 1),
    ]
    for p, q in edges:
        walls += [np.stack([p, p + n, q], 1), np.stack([q, p + n, q + n], 1)]
    return Mesh(vertices, np.concatenate([top, bottom, *walls]))


def relief() -> Solid:
    """A round medallion, 330 mm, with a raised rim and a head in profile (an ellipsoid cut flat)."""
    return Solid.united(
        [
            Solid.cylinder(165, 0, 8),
            tube(165, 153, 16),
            ellipsoid(70, 95, 22).moved(0, 0, 7).minus([Solid.box([-200, -200, -50], [200, 200, 0])]),
        ]
    )


def truss() -> Solid:
    """A bridge girder of bars of 9 mm, 640 mm long."""
    bars = []
    for k in range(8):
        x = -320 + 80 * k
        for y in (-45, 45):
            bars += [
                _bar((x, y, 0), (x + 80, y, 0)),
                _bar((x, y, 80), (x + 80, y, 80)),
                _bar((x, y, 0), (x + 80, y, 80)),
                _bar((x, y, 0), (x, y, 80)),
            ]
        bars += [_bar((x, -45, 0), (x, 45, 0)), _bar((x, -45, 80), (x, 45, 80))]
    bars += [_bar((320, y, 0), (320, y, 80)) for y in (-45, 45)] + [_bar((320, -45, z), (320, 45, z)) for z in (0, 80)]
    return Solid.united(bars)


def _bar(a: tuple[float, float, float], b: tuple[float, float, float]) -> Solid:
    half = 4.5
    corners = np.array([[x, y, z] for x in (-half, half) for y in (-half, half) for z in (-half, half)])
    return Solid.hull_of(np.concatenate([corners + a, corners + b]))


def grid() -> Solid:
    """A screen of 400 × 260 with square holes, 4 mm thick."""
    holes = [
        Solid.box([-193 + 28 * i, -123 + 28 * j, -1], [-193 + 28 * i + 22, -123 + 28 * j + 22, 5])
        for i in range(14)
        for j in range(9)
    ]
    return Solid.box([-200, -130, 0], [200, 130, 4]).minus(holes)


ENTRIES = (
    Entry("boxes", "open box", open_box, Wants(mirror="x")),
    Entry("boxes", "tray", tray, Wants(mirror="x")),
    Entry("boxes", "cabinet", cabinet, Wants(mirror="x")),
    Entry("reliefs", "plaque", plaque),
    Entry("reliefs", "terrain", lambda: field(400, 22, 6)),
    Entry("reliefs", "high terrain", lambda: field(260, 60, 10)),
    Entry("reliefs", "medallion", relief, Wants(mirror="x", clear=(((-60, -60, 9), (60, 60, 40)),))),
    Entry("lattices", "truss", truss, Wants(mirror="y")),
    Entry("lattices", "screen", grid, Wants(mirror="x")),
)

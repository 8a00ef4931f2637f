"""Ten models made by code, of families that makers bring: what `bench.kept` compares the results of."""

from collections.abc import Callable

import numpy as np

from hinoki.core.formats.stl import write_stl
from hinoki.core.geometry.solid import Solid
from hinoki.demo.shapes import noise, turned
from tests.shapes import box, ellipsoid, torus, tube


def _vase() -> Solid:
    z = np.linspace(0, 300, 40)
    radius = 70 + 35 * np.sin(z / 300 * 2.4 * np.pi)
    outer = [(0.0, 0.0), *zip(radius, z, strict=True), (0.0, 300.0)]
    inner = [(0.0, 4.0), *zip(radius[1:] - 4, z[1:], strict=True), (0.0, 301.0)]
    inner[-2] = (inner[-2][0], 301.0)
    return turned(np.array(outer), 96).minus([turned(np.array(inner), 96)])


def _helmet() -> Solid:
    shell = ellipsoid(130, 160, 150).minus([ellipsoid(125, 155, 145), Solid.box([-200, -200, -200], [200, 200, -60])])
    eyes = [Solid.box([x - 30, 100, 0], [x + 30, 200, 35]) for x in (-45, 45)]
    return shell.minus(eyes)


def _crown() -> Solid:
    band = tube(95, 88, 60)
    teeth = [Solid.cone(14, 2, 55, 130).moved(91.5 * np.cos(a), 91.5 * np.sin(a), 0) for a in np.linspace(0, 2 * np.pi, 9)[:-1]]
    return Solid.united([band, *teeth])


def _sword() -> Solid:
    blade = Solid.hull_of(
        np.array([[x, y, z] for z, w in ((120, 24), (700, 14)) for x, y in ((-w, 0), (w, 0), (0, -5), (0, 5))])
    )
    tip = Solid.hull_of(np.array([[-14, 0, 699], [14, 0, 699], [0, -5, 699], [0, 5, 699], [0, 0, 800]]))
    return Solid.united(
        [blade, tip, Solid.box([-70, -9, 108], [70, 9, 124]), Solid.cylinder(12, 0, 112), ellipsoid(20, 20, 16)]
    )


def _figure() -> Solid:
    body = ellipsoid(45, 30, 80).moved(0, 0, 190)
    limbs = [Solid.cylinder(15, 0, 140).moved(x, 0, 0) for x in (-24, 24)]
    arms = [
        Solid.hull_of(np.array([[s * 35 + x, y, z] for z in (220, 235) for y in (-9, 9) for x in (0, s * 110)]))
        for s in (-1, 1)
    ]
    return Solid.united([body, *limbs, *arms, ellipsoid(28, 28, 32).moved(0, 0, 295), Solid.box([-60, -40, -8], [60, 40, 2])])


def _openbox() -> Solid:
    return box(260, 180, 120).minus([Solid.box([-127, -87, 3], [127, 87, 121])])


def _terrain() -> Solid:
    bumps = noise((48, 48), 3, 7) * 12
    top = [[8.0 * i, 8.0 * j, 20 + float(bumps[i, j])] for i in range(48) for j in range(48)]
    columns = []
    for i in range(0, 47):
        row = [p for j in range(48) for p in (top[48 * i + j], top[48 * (i + 1) + j])]
        cells = [np.array([*row[2 * j : 2 * j + 4], *([x, y, 0.0] for x, y, _ in row[2 * j : 2 * j + 4])]) for j in range(47)]
        columns += [Solid.hull_of(cell) for cell in cells]
    return Solid.united(columns)


def _hull() -> Solid:
    outside = ellipsoid(320, 60, 70)
    below = outside.minus([Solid.box([-400, -100, 0], [400, 100, 100])])
    return below.minus([ellipsoid(314, 54, 64).moved(0, 0, 2)])


def _pipes() -> Solid:
    legs = [Solid.cylinder(16, 0, 260).moved(x, y, 0) for x in (-120, 120) for y in (-80, 80)]
    bars = [Solid.box([-130, y - 8, z], [130, y + 8, z + 16]) for y in (-80, 80) for z in (20, 220)]
    rungs = [Solid.box([x - 8, -90, z], [x + 8, 90, z + 16]) for x in (-120, 120) for z in (20, 220)]
    return Solid.united([*legs, *bars, *rungs])


def _ring() -> Solid:
    return Solid.from_mesh(torus(150, 22, 128, 40))


MODELS: dict[str, Callable[[], Solid]] = {
    "vase": _vase,
    "helmet": _helmet,
    "crown": _crown,
    "sword": _sword,
    "figure": _figure,
    "openbox": _openbox,
    "terrain": _terrain,
    "hull": _hull,
    "pipes": _pipes,
    "ring": _ring,
}


def model_file(name: str) -> bytes:
    """The STL file of one of them."""
    return write_stl(MODELS[name]().mesh)

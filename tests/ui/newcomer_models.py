"""The six models that newcomers bring: made here, in no test besides, none tuned for."""

import numpy as np

from hinoki.core.formats.base import NamedMesh
from hinoki.core.formats.stl import write_stl
from hinoki.core.formats.write import write_file
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from tests.shapes import box, ellipsoid, stl_of


def helmet() -> bytes:
    """A diver's helmet, 250 × 280 × 250 mm, its wall 5 mm, open below and with a window."""
    shell = ellipsoid(125, 140, 150, 36).minus([ellipsoid(120, 135, 145, 36), Solid.box([-200, -200, -220], [200, 200, -100])])
    window = Solid.cylinder(48, 0, 200).placed(np.array([[1, 0, 0, 0], [0, 0, -1, 0], [0, 1, 0, 30]], dtype=float))
    return stl_of(shell.minus([window]))


def schooner() -> bytes:
    """A hull of 620 mm with a deck house and two masts."""
    t = np.linspace(0, 1, 25)
    wide = 62 * np.sin(np.pi * np.clip(t * 0.93 + 0.07, 0, 1)) ** 0.6
    rail = np.array(
        [[x, s * w, 70 + 18 * (2 * u - 1) ** 2] for u, x, w in zip(t, 620 * t - 310, wide, strict=True) for s in (-1, 1)]
    )
    keel = np.array([[x, 0, 12 * abs(2 * u - 1)] for u, x in zip(t, 560 * t - 280, strict=True)])
    masts = [Solid.cylinder(7, 30, 330).moved(x, 0, 0) for x in (-120, 90)]
    house = Solid.box([-40, -26, 50], [40, 26, 110])
    return stl_of(Solid.united([Solid.hull_of(np.vstack([rail, keel])), house, *masts]))


def crate() -> bytes:
    """An open box of 420 × 260 × 150 mm, its walls 6 mm."""
    return stl_of(box(420, 260, 150).minus([Solid.box([-204, -124, 6], [204, 124, 160])]))


def cart() -> bytes:
    """A hand cart as five bodies of one 3MF: a bed, a handle, and three wheels."""
    bed = box(340, 180, 60).minus([Solid.box([-164, -84, 8], [164, 84, 70])])
    handle = Solid.box([170, -12, 20], [420, 12, 44]).moved(0.4, 0, 0)
    wheel = Solid.cylinder(46, 0, 16).minus([Solid.cylinder(8, -1, 17)])
    wheels = [wheel.moved(x, 220, 0) for x in (-120, 0, 120)]
    names = ("Bed", "Handle", "Wheel one", "Wheel two", "Wheel three")
    return write_file([NamedMesh(n, b.mesh) for n, b in zip(names, [bed, handle, *wheels], strict=True)], "cart.3mf")


def scan() -> bytes:
    """A scanned stone head, 300 mm high: rough, with two holes, faces turned round, and a crumb beside it."""
    head = ellipsoid(95, 115, 150, 48)
    mesh = Solid.united([head, ellipsoid(22, 34, 40, 24).moved(0, -112, -10)]).mesh
    rng = np.random.default_rng(7)
    points = mesh.vertices * (1 + 0.012 * rng.standard_normal((len(mesh.vertices), 1)))
    middle = points[mesh.faces].mean(1)
    whole = (np.linalg.norm(middle - [70, 60, 40], axis=1) > 22) & (np.linalg.norm(middle - [-60, 70, -60], axis=1) > 16)
    faces = mesh.faces[whole]
    turned = np.linalg.norm(points[faces].mean(1) - [0, 0, 150], axis=1) < 40
    faces = np.where(turned[:, None], faces[:, ::-1], faces)
    crumb = Solid.box([130, 0, 0], [134, 4, 4]).mesh
    both = Mesh(np.vstack([points, crumb.vertices]), np.vstack([faces, crumb.faces + len(points)]))
    return write_stl(Mesh(both.vertices + np.array([0, 0, 160]), both.faces))


def relief() -> bytes:
    """A landscape in relief, 460 × 300 mm, 8 to 34 mm thick."""
    across, along = 93, 61
    x, y = np.meshgrid(np.linspace(-230, 230, across), np.linspace(-150, 150, along))
    z = 18 + 9 * np.sin(x / 47) * np.cos(y / 38) + 6 * np.cos(x / 90 + y / 60)
    top = np.stack([x, y, z], -1).reshape(-1, 3)
    low = top * [1, 1, 0]
    i, j = (n.ravel() for n in np.meshgrid(np.arange(along - 1), np.arange(across - 1), indexing="ij"))
    a, b, c, d = i * across + j, i * across + j + 1, (i + 1) * across + j + 1, (i + 1) * across + j
    upper = np.concatenate([np.stack([a, b, c], 1), np.stack([a, c, d], 1)])
    row, column = np.arange(across), np.arange(along) * across
    rim = np.concatenate([row, column[1:] + across - 1, row[::-1][1:] + across * (along - 1), column[::-1][1:-1]])
    n, after = len(top), np.roll(rim, -1)
    sides = np.concatenate([np.stack([rim, rim + n, after + n], 1), np.stack([rim, after + n, after], 1)])
    return write_stl(Mesh(np.vstack([top, low]), np.vstack([upper, upper[:, ::-1] + n, sides])))

"""Bodies placed as assembled, for tests of assemblies."""

import itertools
from collections.abc import Iterable

import numpy as np

from hinoki.core.geometry.solid import Solid
from tests.shapes import box, tube

Cell = tuple[int, int, int]


def of_cells(cells: Iterable[Cell], size: float = 10.0) -> Solid:
    """A body of cubes; what touches is one."""
    return Solid.united(Solid.box([c * size for c in cell], [(c + 1) * size for c in cell]) for cell in cells)


def open_box(outer: float, inner: float, floor: float, high: float) -> Solid:
    """A square box, open above, about the z axis, standing at 0."""
    half, hole = outer / 2, inner / 2
    return Solid.box([-half, -half, 0], [half, half, high]).minus([Solid.box([-hole, -hole, floor], [hole, hole, high + 1])])


def rings_on_a_post(count: int) -> dict[str, Solid]:
    """A foot with a post, and rings on it from the largest up, all with play."""
    foot = Solid.united([box(80, 80, 10), Solid.cylinder(10, 10, 20.0 * count + 20)])
    rings = {f"ring {k}": tube(38.0 - 2 * k, 10.3, 19.9).moved(0, 0, 10.05 + 20 * k) for k in range(count)}
    return {"foot": foot, **rings}


def cabinet() -> dict[str, Solid]:
    """A carcass open in front (towards -y), a drawer in it, a face frame before it with an opening smaller than the drawer."""
    carcass = Solid.box([-50, 0, 0], [50, 80, 60]).minus([Solid.box([-44, -1, 6], [44, 74, 54])])
    drawer = Solid.box([-43.8, 0.2, 6.2], [43.8, 73.8, 50]).minus([Solid.box([-40, 4, 10], [40, 70, 51])])
    frame = Solid.box([-50, -8, 0], [50, -0.1, 60]).minus([Solid.box([-38, -9, 12], [38, 1, 46])])
    return {"carcass": carcass, "drawer": drawer, "frame": frame}


def square_link(at: Cell, plane: str) -> Solid:
    """A link of a chain: a square ring of 60 mm with bars of 8 mm, in the plane named by its two axes."""
    axes = ["xyz".index(c) for c in plane]
    half = np.full(3, 4.0)
    half[axes] = 30.0
    hole = np.full(3, 5.0)
    hole[axes] = 22.0
    centre = np.array(at, dtype=float)
    return Solid.box(list(centre - half), list(centre + half)).minus([Solid.box(list(centre - hole), list(centre + hole))])


BURR_CUTS = (
    (),
    (123, 133, 223, 224, 233, 323, 324, 333, 423, 433),
    (122, 132, 212, 213, 222, 223, 232, 233, 242, 243),
    (312, 313, 322, 323, 332, 343, 422, 432),
    (221, 222, 321, 322),
    (231, 232, 234, 331, 332, 333, 334, 342),
)
"""cells cut out of each rod of a six-piece burr, as digits x, y, z from 0 to 5 in a cube of 6; the first rod is the key"""


def burr() -> dict[str, set[Cell]]:
    """The standard six-piece burr: three crossing pairs of rods of 2 × 2 × 6, notched in the middle; one is the uncut key."""
    pieces = {}
    for number, cuts in enumerate(BURR_CUTS):
        along, side = number // 2, (1, 3)[number % 2]
        across, stacked = (along + 1) % 3, (along + 2) % 3
        ranges = {along: range(6), across: (2, 3), stacked: (side, side + 1)}
        cells = set(itertools.product(*(ranges[k] for k in range(3))))
        pieces[f"rod {number + 1}"] = cells - {(c // 100, c // 10 % 10, c % 10) for c in cuts}
    return pieces

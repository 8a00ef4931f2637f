"""Block worlds: bodies of a few cubes, of which every division between cubes is tried; proposals need hardly more pieces."""

import functools
import unittest

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.geometry.solid import Solid
from hinoki.core.progress import quiet
from hinoki.core.propose import Wishes, propose
from tests.effort import either
from tests.shapes import plan_for, stl_of

Cell = tuple[int, int, int]
World = frozenset[Cell]
CUBE_MM = 60.0
FITS = 2
"""so many cubes in a row fit the bed, in any direction"""
NEAR = 1.1
"""what the best proposals of all worlds may need, in times the fewest there can be; each world one more at most"""


def grown(count: int, room: Cell, seed: int) -> World:
    """A body of so many cubes that hang together by their sides, in a box of cubes."""
    rng = np.random.default_rng(seed)
    world: set[Cell] = {(0, 0, 0)}
    while len(world) < count:
        x, y, z = sorted(world)[rng.integers(len(world))]
        step = np.eye(3, dtype=int)[rng.integers(3)] * rng.choice([-1, 1])
        new = (x + int(step[0]), y + int(step[1]), z + int(step[2]))
        if all(0 <= v < most for v, most in zip(new, room, strict=True)):
            world.add(new)
    return frozenset(world)


def lumps(world: World) -> list[World]:
    """What hangs together by sides."""
    left, found = set(world), []
    while left:
        lump, edge = set(), [left.pop()]
        while edge:
            cell = edge.pop()
            lump.add(cell)
            for k in range(3):
                for way in (-1, 1):
                    beside = (*cell[:k], cell[k] + way, *cell[k + 1 :])
                    if beside in left:
                        left.remove(beside)  # type: ignore[arg-type]
                        edge.append(beside)  # type: ignore[arg-type]
        found.append(frozenset(lump))
    return found


@functools.cache
def fewest(world: World) -> int:
    """The fewest pieces that fit, whatever planes between cubes cut it, one piece after another."""
    spans = [(min(c[k] for c in world), max(c[k] for c in world)) for k in range(3)]
    if all(high - low < FITS for low, high in spans):
        return 1
    best = len(world)
    for k, (low, high) in enumerate(spans):
        for at in range(low + 1, high + 1):
            sides = [frozenset(c for c in world if (c[k] < at) is below) for below in (True, False)]
            best = min(best, sum(fewest(lump) for side in sides for lump in lumps(side)))
    return best


def solid_of(world: World) -> Solid:
    """Its cubes as one body."""
    corners = [np.array(cell) * CUBE_MM for cell in sorted(world)]
    return Solid.united([Solid.box(c.tolist(), (c + CUBE_MM).tolist()) for c in corners])


class Worlds(unittest.TestCase):
    def test_the_fewest_of_rows_and_corners_are_known(self) -> None:
        row = frozenset((x, 0, 0) for x in range(5))
        corner = frozenset([*((x, 0, 0) for x in range(3)), (0, 1, 0), (0, 2, 0)])
        plate = frozenset((x, y, 0) for x in range(4) for y in range(4))
        self.assertEqual([fewest(world) for world in (row, corner, plate)], [3, 3, 4])

    def test_proposals_need_hardly_more_than_the_fewest(self) -> None:
        bed, needed, least_needed = FITS * CUBE_MM + 1, 0, 0
        for seed in range(either(5, 40)):
            world = grown(6 + seed % 4, (4, 3, 2), seed)
            data = stl_of(solid_of(world))
            found = propose(plan_for(data, bed=(bed, bed, bed)), lambda _, d=data: d, Cache(), Wishes(), quiet)  # type: ignore[misc]
            with self.subTest(seed=seed, cells=sorted(world)):
                least = min(proposal.figures.pieces for proposal in found.proposals)
                self.assertLessEqual(least, fewest(world) + 1)
                self.assertTrue(all(p.figures.fitting == p.figures.pieces for p in found.proposals))
            needed, least_needed = needed + least, least_needed + fewest(world)
        self.assertLessEqual(needed, NEAR * least_needed)

"""Block worlds put together: blocks of a few cubes, of which every order is tried; the one found is hardly ever worse."""

import functools
import unittest

import numpy as np

from hinoki.core.geometry.solid import Solid
from tests.assembling import of_bodies, proofs, way_in
from tests.effort import either

Cell = tuple[int, int, int]
Block = frozenset[Cell]
CUBE_MM = 20.0
ROOM: Cell = (3, 3, 3)
WAYS: tuple[Cell, ...] = ((0, 0, 1), (1, 0, 0), (-1, 0, 0), (0, 1, 0), (0, -1, 0), (0, 0, -1))
NEAR = 1.1
"""what the orders of all worlds may take, in times the least there is"""
NO_WAY = 1000


def blocks(seed: int, count: int) -> tuple[Block, ...]:
    """A box of cubes shared out among so many blocks, each of which hangs together."""
    rng = np.random.default_rng(seed)
    cells = [(x, y, z) for x in range(ROOM[0]) for y in range(ROOM[1]) for z in range(ROOM[2])]
    owner = {cells[k]: n for n, k in enumerate(rng.choice(len(cells), count, replace=False))}
    while len(owner) < len(cells):
        cell = cells[rng.integers(len(cells))]
        beside = [(cell[0] + x, cell[1] + y, cell[2] + z) for x, y, z in WAYS]
        owned = [owner[b] for b in beside if b in owner]
        if cell not in owner and owned:
            owner[cell] = owned[rng.integers(len(owned))]
    return tuple(frozenset(c for c, n in owner.items() if n == k) for k in range(count))


def comes_off(block: Block, rest: frozenset[Cell], way: Cell) -> bool:
    """Whether a block goes straight off along a way without meeting what is left."""
    return all(
        (x + step * way[0], y + step * way[1], z + step * way[2]) not in rest
        for x, y, z in block
        for step in range(1, max(ROOM) + 1)
    )


def least(world: tuple[Block, ...]) -> int:
    """The fewest moves that are not straight down, over all orders of single straight moves; NO_WAY where there is none."""

    @functools.cache
    def left(units: frozenset[int]) -> int:
        if len(units) == 1:
            return 0
        best = NO_WAY
        for one in units:
            rest = frozenset(c for k in units if k != one for c in world[k])
            free = [way for way in WAYS if comes_off(world[one], rest, way)]
            if free:
                best = min(best, left(units - {one}) + (WAYS[0] not in free))
        return best

    return left(frozenset(range(len(world))))


def body(block: Block) -> Solid:
    """Its cubes as one body."""
    corners = [np.array(cell) * CUBE_MM for cell in sorted(block)]
    return Solid.united([Solid.box(c.tolist(), (c + CUBE_MM).tolist()) for c in corners])


class Orders(unittest.TestCase):
    def test_the_least_of_rows_and_stacks_is_known(self) -> None:
        stack = tuple(frozenset([(0, 0, z)]) for z in range(2))
        row = tuple(frozenset([(x, 0, 0)]) for x in range(3))
        hook = (frozenset([(0, 0, 0), (0, 0, 1), (0, 0, 2), (1, 0, 0), (1, 0, 2)]), frozenset([(1, 0, 1)]))
        self.assertEqual([least(world) for world in (stack, row, hook)], [0, 0, 1])

    def test_where_single_straight_moves_do_they_are_found_and_hardly_more_of_them_are_not_downwards(self) -> None:
        found = fewest = 0
        for seed in range(either(12, 120)):
            world = blocks(seed, 5 + seed % 4)
            out = of_bodies({f"b{k}": body(block) for k, block in enumerate(world)})
            with self.subTest(seed=seed):
                best = least(world)
                moves = [step for step in out.order.steps if step.motion is not None]
                if best == NO_WAY:  # blocks that lock each other, or go in as groups
                    continue
                self.assertEqual(out.order.locked, [])
                self.assertEqual(set(proofs(out)), {"proved"})
                self.assertTrue(all(step.motion.kind == "slide" and not step.is_group for step in moves))  # type: ignore[union-attr]
                sideways = sum(float(way_in(step)[2]) > -0.99 for step in moves)
                found, fewest = found + sideways, fewest + best
        self.assertLessEqual(found, NEAR * fewest)

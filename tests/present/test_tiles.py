"""Tiles in words: what the pattern, the table of all pairs and the turns say; the report."""

import itertools
import json
import unittest

import numpy as np

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.tiles.tiles import all_modules
from hinoki.core.plan.tile_set import ModuleSet
from tests.presented import exported, view_of
from tests.shapes import across, box, built, plan_for, stl_of


def regular(sides: int, wide: float, high: float = 20.0) -> Solid:
    """An upright prism with sides of one width, one of them looking along −Y."""
    turn = 2 * np.pi * np.arange(sides) / sides - np.pi / 2 - np.pi / sides
    return Solid.drawn_ring(wide / (2 * np.sin(np.pi / sides)) * np.column_stack([np.cos(turn), np.sin(turn)]), 0, high)


def field(wanted: ModuleSet, solid: Solid | None = None) -> Build:
    """Four square tiles of 60 mm."""
    data = stl_of(solid or box(120, 120, 20))
    return built(data, plan_for(data, across(1, "x", 0), across(2, "y", 0), modules=(wanted,)))


def held_in_space(result: Build) -> tuple[int, int]:
    """How many magnets of different pieces look at each other across a seam, and how many of those pull: told by where their
    pockets are in space, not by the table."""
    plan = plan_for(b"", across(1, "x", 0))
    sets = view_of(result).modules[0]
    placed = []
    wanted = ModuleSet(id="m1", a_side=2 if len(sets.sides[0].magnets) == 2 else 1)
    for one in all_modules(plan.model_copy(update={"modules": (wanted,)}), result.before, Cache()):
        for module in one.each:
            count = len(module.sides)
            for k, side in enumerate(module.sides):
                for x, z, pole in one.pattern[(k - module.turned) % count]:
                    placed.append((side.frame.world(np.array([[x, z]]))[0], side.frame.n, pole))
    facing = [(p, q) for p, q in itertools.combinations(placed, 2) if np.linalg.norm(p[0] - q[0]) < 0.1 and p[1] @ q[1] < -0.99]
    return len(facing), sum(p[2] != q[2] for p, q in facing)


class Told(unittest.TestCase):
    def test_neighbours_and_all_pairs(self) -> None:
        (told,) = view_of(field(ModuleSet(id="m1"))).modules
        self.assertIn("As they stand in the model, all 4 neighbouring sides hold.", told.says)
        for count in (3, 5, 6):
            data = stl_of(regular(count, 50))
            view = view_of(built(data, plan_for(data, modules=(ModuleSet(id="m1"),)))).modules[0]
            self.assertEqual((len(view.sides), len(view.drawn)), (count, 2 * count))
            self.assertIn(f"All {count**2} pairs", view.says[0])

    def test_with_one_a_side_the_turned_pattern_is_told(self) -> None:
        view = view_of(field(ModuleSet(id="m1", a_side=1))).modules[0]
        self.assertEqual(sorted(view.turned.values()), [1, 1])
        self.assertIn("8 after one module is turned by 1 side", view.says[0])

    def test_the_report_tells_pattern_table_and_turns(self) -> None:
        result = field(ModuleSet(id="m1", a_side=1))
        told = json.loads(exported(result)["report.json"]) if view_of(result).model else {}
        (modules,) = told["modules"]
        self.assertEqual([t["sides"] for t in modules["turned"]], [1, 1])
        self.assertEqual([side[0]["pole"] for side in modules["sides"]], ["n", "s", "n", "s"])
        self.assertEqual(modules["table"][0], [1, 0, 1, 0])


if __name__ == "__main__":
    unittest.main()

"""Tiles in words: what the pattern, the table of all pairs and the turns say; the report."""

import json
import unittest

from hinoki.core.plan.tile_set import ModuleSet
from tests.core.join.test_tiles import field, regular
from tests.presented import exported, view_of
from tests.shapes import built, plan_for, stl_of


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

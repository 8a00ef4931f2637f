"""A part that comes later is given the sides of modules that are there, and meets them."""

import unittest

from hinoki.core.check.check import check_project
from hinoki.core.errors import BadPlan
from hinoki.core.parts.same_interface import with_interface_of
from hinoki.core.plan.parts import Instance, KeptPart
from hinoki.core.plan.plan import Plan
from hinoki.core.plan.tile_set import ModuleSet
from hinoki.core.project import project_pieces
from tests.parts import everything, part, plan_of, source, use_of
from tests.shapes import COMMON, box, stl_of

TILE = use_of(stl_of(box(60, 60, 12)), "tile.stl")


def with_later(later: KeptPart, **figures: object) -> Plan:
    wanted = ModuleSet(id="m1", **figures)  # type: ignore[arg-type]
    return plan_of(TILE, modules=(wanted,), parts=(later,)).working_on("q2")


class Later(unittest.TestCase):
    def test_a_longer_part_meets_the_tiles_by_their_figures(self) -> None:
        later = part(2, box(60, 120, 18), Instance(at_mm=(60, 0, 0)))
        for by in ("dovetails", "keys", "pegs", "magnets"):
            with self.subTest(by=by):
                plan, said = with_interface_of(with_later(later, by=by), "q1", source, COMMON)
                self.assertIn("16 pairs of its sides", said[0])
                self.assertEqual(plan.modules[0].apart_mm, 30)  # half of the tile's side, and not of its own
                built = everything(plan)
                self.assertEqual(len(project_pieces(built)), 2)
                self.assertEqual(check_project(built, COMMON).must_fix, [])  # as they stand side by side, too

    def test_what_is_too_narrow_has_none_or_is_the_same_is_refused(self) -> None:
        thin = part(2, box(60, 8, 12), Instance(at_mm=(60, 0, 0)))
        with self.assertRaisesRegex(BadPlan, "no three flat, upright sides"):
            with_interface_of(with_later(thin, by="dovetails"), "q1", source, COMMON)
        bare = plan_of(TILE, parts=(part(2, box(60, 60, 12)),)).working_on("q2")
        with self.assertRaisesRegex(BadPlan, "has no modules whose sides"):
            with_interface_of(bare, "q1", source, COMMON)
        with self.assertRaisesRegex(BadPlan, "has no modules whose sides"):
            with_interface_of(plan_of(TILE, modules=(ModuleSet(id="m1"),)), "q1", source, COMMON)

    def test_halves_that_do_not_fit_its_narrow_sides_are_told(self) -> None:
        short = part(2, box(60, 34, 12), Instance(at_mm=(60, 0, 0)))
        with self.assertRaisesRegex(BadPlan, "no three flat"):
            with_interface_of(with_later(short, by="dovetails"), "q1", source, COMMON)

"""Modules that hold by tails, keys and pegs: all pairs of sides put together with real bodies; fields, rows, what fails."""

import itertools
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.tiles.polarity import meets
from hinoki.core.join.tiles.put_together import Tried, shaped, tried
from hinoki.core.plan.parts import Instance
from hinoki.core.plan.plan import plan_from
from hinoki.core.plan.tile_set import ModuleSet
from tests.core.join.test_tiles import regular
from tests.effort import tried as tries
from tests.parts import everything, plan_of, use_of
from tests.shapes import COMMON, box, stl_of

TILE = box(60, 60, 12)
FIELD = tuple(Instance(at_mm=(60.0 * x, 60.0 * y, 0)) for x in range(4) for y in range(2))


def tiles(solid: Solid = TILE, instances: tuple[Instance, ...] = (Instance(),), **figures: object) -> Build:
    wanted = ModuleSet(id="m1", **figures)  # type: ignore[arg-type]
    return everything(plan_of(use_of(stl_of(solid)), modules=(wanted,), instances=instances), COMMON)


def seen(result: Build) -> Tried:
    return tried(result.modules[0], COMMON)


def codes(result: Build) -> list[str]:
    return [f.code for f in check(result, COMMON).findings if f.severity == "must-fix"]


class HalfTailHalfGroove(unittest.TestCase):
    def test_any_side_meets_any_other_and_all_are_alike(self) -> None:
        for count in (3, 4, 6):
            result = tiles(regular(count, 50, 12), by="dovetails")
            (modules,) = result.modules
            pairs = [meets(a, b) for a, b in itertools.product(modules.pattern, repeat=2)]
            self.assertEqual((len(pairs), sum(pairs)), (count**2, count**2))
            self.assertEqual(seen(result), Tried(count**2))
            self.assertEqual(codes(result), [])

    def test_a_field_stands_with_nothing_in_each_other_and_none_can_be_drawn_out(self) -> None:
        result = tiles(by="dovetails", instances=FIELD)
        bodies = [result.parts[0].solid.placed(one.matrix) for one in FIELD]
        for a, b in itertools.combinations(bodies, 2):
            self.assertLess(a.common(b).volume_mm3, 1e-3)
        corner = bodies[0]  # with a neighbour to the right and one behind
        for way in ((-1.0, 0, 0), (0, -1.0, 0), (-0.7, -0.7, 0)):
            moved = corner.moved(*way)
            self.assertGreater(sum(moved.common(other).volume_mm3 for other in bodies[1:]), 1.0)
        self.assertLess(sum(corner.moved(0, 0, 20).common(other).volume_mm3 for other in bodies[1:]), 1e-3)

    def test_its_volume_is_that_of_the_tails_more_and_of_the_grooves_less(self) -> None:
        # trapezoids (5 + 9) / 2 × 4 = 28 mm² over 12 mm on four sides; edges are broken by 0.2 mm and the groove is wider
        result = tiles(by="dovetails", neck_mm=5.0, head_mm=9.0, out_mm=4.0)
        tail = 28.0 * 12
        volume = result.parts[0].solid.volume_mm3
        clearance = result.modules[0].clearance_mm
        self.assertLess(volume, 60 * 60 * 12)
        self.assertGreater(volume, 60 * 60 * 12 - 4 * 12 * clearance * (5 + 2 * 4.5 + 9) - 0.05 * 4 * tail)

    @tries(6)
    @given(st.floats(4, 8), st.floats(1.5, 5), st.floats(2.5, 6), st.floats(0.05, 0.35))
    def test_whatever_their_measures_what_is_proved_is_so(self, neck: float, more: float, out: float, snug: float) -> None:
        wanted = ModuleSet(id="m1", by="dovetails", neck_mm=neck, head_mm=neck + more, out_mm=out)
        plan = plan_of(use_of(stl_of(TILE)), modules=(wanted,), instances=FIELD[:2])
        plan = plan.model_copy(update={"fits": plan.fits.model_copy(update={"snug": snug})})
        result = everything(plan, Cache())
        found = tried(result.modules[0], Cache())
        one, two = (result.parts[0].solid.placed(i.matrix) for i in (FIELD[0], FIELD[2]))
        self.assertLess(one.common(two).volume_mm3, 1e-3)
        self.assertEqual((found.pairs, found.into_each_other, found.do_not_go_in), (16, (), ()))
        pulled = one.moved(-(2 * snug + 0.5), 0, 0).common(two).volume_mm3
        self.assertEqual(not found.come_apart, pulled > 1e-2)


class RowsAndCorners(unittest.TestCase):
    def test_a_row_stops_at_its_end(self) -> None:
        result = tiles(by="dovetails", layout="row", end_mm=3.0)
        self.assertEqual((seen(result), codes(result)), (Tried(2), []))
        first = result.parts[0].solid
        second = first.moved(60, 0, 0)  # its groove is over the first one's tail
        self.assertLess(first.common(second).volume_mm3, 1e-3)
        self.assertLess(first.moved(0, 0, 15).common(second).volume_mm3, 1e-3)  # it is let down from above
        self.assertGreater(first.moved(0, 0, -1).common(second).volume_mm3, 0.5)  # and stops

    def test_a_corner_has_them_on_neighbouring_sides(self) -> None:
        pattern = tiles(by="dovetails", layout="corner").modules[0].pattern
        self.assertEqual([len(side) for side in pattern], [1, 1, 0, 0])

    def test_bare_sides_hold_nothing(self) -> None:
        self.assertFalse(meets((), ()))


class KeysAndPegs(unittest.TestCase):
    def test_a_key_for_every_two_sides_that_fits_both(self) -> None:
        result = tiles(by="keys", end_mm=2.0, instances=FIELD)
        self.assertEqual((seen(result), codes(result)), (Tried(16), []))
        (key,) = result.loose
        self.assertEqual((key.name, key.count), ("module key 5/9, 10 long", 16))
        one = result.parts[0].solid
        two = one.moved(60, 0, 0)
        turn = np.array([[0.0, 1.0, 0, 30], [1.0, 0, 0, 0], [0, 0, 1.0, 2 + 0.1]])
        standing = key.solid.placed(turn)  # across the seam, on its stop
        self.assertLess(standing.common(one).volume_mm3 + standing.common(two).volume_mm3, 1e-2)
        self.assertGreater(standing.common(one.moved(-1.2, 0, 0)).volume_mm3, 0.5)  # it holds them together

    def test_pegs_go_in_sideways(self) -> None:
        result = tiles(by="pegs", diameter_mm=5.0, out_mm=6.0)
        self.assertEqual((seen(result), codes(result)), (Tried(16), []))
        one = result.parts[0].solid
        two = one.moved(60, 0, 0)
        self.assertLess(one.common(two).volume_mm3, 1e-3)
        self.assertGreater(one.moved(0, 1, 0).common(two).volume_mm3, 1)


class Hooks(unittest.TestCase):
    def test_they_go_in_bent_and_hold_whichever_way_a_module_is_moved(self) -> None:
        for layout, pairs in (("all", 16), ("row", 2)):
            result = tiles(by="hooks", layout=layout)
            self.assertEqual((seen(result), codes(result)), (Tried(pairs), []))
            one = result.parts[0].solid
            two = one.moved(60, 0, 0)
            self.assertLess(one.common(two).volume_mm3, 1e-3)
            for way in ((1, 0, 0), (0, 0.9, 0), (0, -0.9, 0), (0, 0, 0.9), (0, 0, -0.9)):
                self.assertGreater(one.common(two.moved(*way)).volume_mm3, 1e-2, (layout, way))

    def test_straight_ones_could_not_go_in(self) -> None:
        (module,) = tiles(by="hooks").modules[0].each
        straight, bent = shaped(module), shaped(module, bent=True)
        on_the_way = np.array([7.0, 0, 0])  # half pulled out
        at = on_the_way + np.array([60.0, 0, 0])
        self.assertGreater(straight.common(straight.moved(*at)).volume_mm3, 1.0)
        self.assertLess(bent.common(bent.moved(*at)).volume_mm3, 1e-2)

    def test_strain_by_the_formula_and_the_length_that_is_told_is_enough(self) -> None:
        (found,) = [f for f in check(tiles(by="hooks", long_mm=8.0), COMMON).findings if f.code == "module-strain"]
        percent = found.params["strain_percent"]
        self.assertAlmostEqual(percent, 100 * 1.8 * 0.9 / (1.09 * 8**2), delta=0.01)  # ε = t y / (1.09 L²)
        self.assertEqual(codes(tiles(by="hooks", long_mm=found.params["long_mm"])), [])
        self.assertIn("module-strain", codes(tiles(by="hooks", long_mm=found.params["long_mm"] - 1.0)))

    def test_noses_that_hardly_catch_thin_ends_and_short_ones(self) -> None:
        self.assertIn("module-hook", codes(tiles(by="hooks", nose_mm=0.35)))
        self.assertIn("module-hook", codes(tiles(by="hooks", spring_mm=1.0)))
        data = {"schema": "hinoki-plan/1", "modules": [{"id": "m1", "by": "hooks", "long_mm": 3}]}
        with self.assertRaisesRegex(BadPlan, "twice as long as it is thick"):
            plan_from(data)


class WhatFails(unittest.TestCase):
    def test_a_head_that_pulls_through_its_neck(self) -> None:
        result = tiles(by="dovetails", neck_mm=6.0, head_mm=6.3, out_mm=4.0)
        self.assertIn("module-pair", codes(result))
        self.assertEqual(len(seen(result).come_apart), 16)

    def test_two_halves_that_have_no_room_beside_each_other(self) -> None:
        self.assertIn("module-own-meet", codes(tiles(by="dovetails", apart_mm=4.0)))
        self.assertIn("module-narrow", codes(tiles(by="dovetails", apart_mm=54.0)))

    def test_grooves_that_break_through_a_thin_tile(self) -> None:
        frame = TILE.minus([box(54, 54, 12).moved(0, 0, 2)])
        self.assertIn("module-wall", codes(tiles(frame, by="dovetails")))

    def test_a_head_narrower_than_its_neck_is_refused(self) -> None:
        data = {"schema": "hinoki-plan/1", "modules": [{"id": "m1", "by": "dovetails", "neck_mm": 9, "head_mm": 5}]}
        with self.assertRaisesRegex(BadPlan, "must be wider than its neck"):
            plan_from(data)

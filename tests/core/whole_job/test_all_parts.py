"""The whole job of a project of several parts: each is divided, joined and laid, once, whichever is open."""

import unittest

from hinoki.core.cache import Cache
from hinoki.core.check.check import check_all
from hinoki.core.plan.parts import Instance
from hinoki.core.whole_job.planned import WholeJobWish, all_planned
from tests.parts import everything, part, plan_of, source, use_of
from tests.shapes import box, stl_of


class AllParts(unittest.TestCase):
    def setUp(self) -> None:
        bars = part(2, box(24, 24, 300), Instance(at_mm=(100, 0, 0)), Instance(at_mm=(150, 0, 0)), name="Bar")
        self.plan = plan_of(use_of(stl_of(box(60, 60, 320))), parts=(bars,)).working_on("q2")

    def test_each_fits_with_joints_and_the_open_one_stays_open(self) -> None:
        made, plan = all_planned(self.plan, source, Cache(), WholeJobWish())
        self.assertEqual((list(made), plan.part_id), (["q1", "q2"], "q2"))
        built = everything(plan)
        for one in built.all_parts:
            self.assertEqual(len(one.pieces), 2)
            self.assertTrue(all(piece.fits for piece in one.pieces))
            self.assertTrue(one.placed)
        self.assertEqual([f.code for c in check_all(built, Cache()).values() for f in c.must_fix], [])

    def test_or_the_open_one_alone(self) -> None:
        made, plan = all_planned(self.plan, source, Cache(), WholeJobWish(all_parts=False))
        self.assertEqual(list(made), ["q2"])
        self.assertEqual(plan.working_on("q1").partings, ())

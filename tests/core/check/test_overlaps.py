"""Parts that run into each other where they stand are told, with how much they share."""

import unittest

from hinoki.core.check.check import check_project
from hinoki.core.findings import Finding
from hinoki.core.geometry.solid import Solid
from hinoki.core.parts.arrange import RingOf, Row, arranged
from hinoki.core.plan.parts import Instance
from hinoki.core.plan.plan import Plan
from tests.parts import everything, part, plan_of, use_of
from tests.shapes import COMMON, box, stl_of


def told(plan: Plan) -> list[Finding]:
    return [f for f in check_project(everything(plan), COMMON).findings if f.code == "parts-overlap"]


class Overlaps(unittest.TestCase):
    def test_how_much_two_boxes_share(self) -> None:
        plan = plan_of(use_of(stl_of(box(20, 20, 20))), parts=(part(2, box(20, 20, 20), Instance(at_mm=(15, 12, 5))),))
        for opened in ("q1", "q2"):
            (finding,) = told(plan.working_on(opened))
            self.assertAlmostEqual(float(finding.params["cm3"]), 5 * 8 * 15 / 1000, places=6)  # type: ignore[arg-type]
            self.assertEqual(finding.params["at_mm"], [7.5, 6.0, 12.5])

    def test_what_only_touches_or_stands_apart_is_not_told(self) -> None:
        for x in (20.0, 20.01, 60.0):
            beside = part(2, box(20, 20, 20), Instance(at_mm=(x, 0, 0)))
            self.assertEqual(told(plan_of(use_of(stl_of(box(20, 20, 20))), parts=(beside,))), [])

    def test_boxes_that_meet_are_no_overlap_where_bodies_do_not(self) -> None:
        hollow = box(40, 40, 40).minus([Solid.box([-15, -15, 5], [15, 15, 41])])
        within = part(2, box(20, 20, 20), Instance(at_mm=(0, 0, 5)))
        self.assertEqual(told(plan_of(use_of(stl_of(hollow)), parts=(within,))), [])

    def test_instances_of_one_part_run_into_each_other_too(self) -> None:
        row = arranged((Instance(),), 0, Row(count=3, step_mm=(15, 0, 0)))
        self.assertEqual(len(told(plan_of(use_of(stl_of(box(20, 20, 20))), instances=row))), 2)
        ring = arranged((Instance(at_mm=(40, 0, 0)),), 0, RingOf(count=6))
        self.assertEqual(told(plan_of(use_of(stl_of(box(20, 20, 20))), instances=ring)), [])

    def test_each_pair_has_an_id_of_its_own(self) -> None:
        row = arranged((Instance(),), 0, Row(count=4, step_mm=(15, 0, 0)))
        found = told(plan_of(use_of(stl_of(box(20, 20, 20))), instances=row))
        self.assertEqual(len({f.id for f in found}), len(found))

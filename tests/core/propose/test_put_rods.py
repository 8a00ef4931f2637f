"""Rods that are looked for: as thick and long as seams need, through all along a line, never against the checks."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.build import Build, build
from hinoki.core.cache import Cache
from hinoki.core.check.bending import SAFE_BENDING, bent_seams
from hinoki.core.check.check import check
from hinoki.core.errors import Cancelled
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import ButtJoint, DowelJoint, FaceRef
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.put_rods import Rodded, with_rod
from tests.assembling import assembly, proofs
from tests.effort import tried
from tests.shapes import box, level, plan_for, stl_of


def dowels(at: int, below: str, above: str, **more: object) -> DowelJoint:
    """Dowels on a face."""
    face = FaceRef(parting=f"p{at}", member=0, a=below, b=above)
    return DowelJoint.model_validate({"id": f"j{at}", "face": face, "count": 1, "length_mm": 10, **more})


class RodCase(unittest.TestCase):
    def begun(self, solid: Solid, *cuts: float, **plan: object) -> None:
        """A body cut level, its plan and how it is built."""
        self.data, self.cache = stl_of(solid), Cache()
        self.plan = plan_for(self.data, *(level(k, at) for k, at in enumerate(cuts, 1)), **plan)
        self.build = self.again(self.plan)

    def again(self, plan: Plan) -> Build:
        return build(plan, lambda _: self.data, self.cache)

    def found(self, number: int = 0) -> Rodded:
        face = bent_seams(self.build)[number].load.faces[0]
        return with_rod(self.plan, self.build, face.ref.id, self.again, self.cache)


class Found(RodCase):
    def test_where_a_peg_stands_in_its_way_it_takes_its_place(self) -> None:
        """A round mast of 8.8 mm: its peg is in the only place there is."""
        self.begun(Solid.cylinder(4.4, 0, 240), 100.0, joints=[dowels(1, "p1-", "p1+", diameter_mm=2)])
        found = self.found()
        self.assertEqual((found.rod, found.given_up), ("w1", ("j1",)))
        self.assertGreaterEqual(found.times, SAFE_BENDING)
        self.assertEqual([type(j) for j in found.plan.joints], [ButtJoint])
        after = self.again(found.plan)
        self.assertEqual(check(after, self.cache).must_fix, [])
        self.assertNotIn("seam-bends", [f.code for f in check(after, self.cache).findings])

    def test_one_goes_through_all_that_lie_along_its_line(self) -> None:
        keys = ("p1-", "p1+ p2-", "p1+ p2+ p3-", "p1+ p2+ p3+")
        joints = [dowels(k + 1, keys[k], keys[k + 1], count=2, diameter_mm=4) for k in range(3)]
        self.begun(box(40, 12, 700), 200.0, 350.0, 500.0, joints=joints)
        weak = [s for s in bent_seams(self.build) if s.times < SAFE_BENDING]
        self.assertGreater(len(weak), 1)
        found = self.found()
        (way,) = found.plan.ways
        after = {s.load.faces[0].ref.id: s.times for s in bent_seams(self.again(found.plan))}
        for seam in weak:
            self.assertGreaterEqual(after[seam.load.faces[0].ref.id], SAFE_BENDING)
        self.assertAlmostEqual(abs(way.start_mm[0]) + abs(way.start_mm[1]), 0.0, delta=1.0)  # in the middle
        self.assertEqual(way.long_mm % 5.0, 0.0)

    def test_pieces_threaded_on_a_rod_go_together_in_a_proved_order(self) -> None:
        keys = ("p1-", "p1+ p2-", "p1+ p2+")
        joints = [dowels(k + 1, keys[k], keys[k + 1], diameter_mm=3) for k in range(2)]
        self.begun(Solid.cylinder(6, 0, 420), 140.0, 290.0, joints=joints)
        found = self.found()
        self.assertEqual(found.rod, "w1")
        out = assembly(self.again(found.plan), found.plan)
        self.assertEqual(out.refusals, {})
        self.assertLessEqual(set(proofs(out)), {"proved", "tried by sampling"})
        self.assertIn("w1", {u for step in out.order.steps for u in step.units})

    def test_it_tells_how_far_it_is_and_can_be_stopped(self) -> None:
        self.begun(box(14, 14, 400), 200.0, joints=[dowels(1, "p1-", "p1+", diameter_mm=3)])
        face, told = bent_seams(self.build)[0].load.faces[0].ref.id, list[float]()
        with_rod(self.plan, self.build, face, self.again, self.cache, lambda share, _: told.append(share))
        self.assertEqual(told, sorted(told))
        self.assertGreater(len(told), 1)

        def stop(_share: float, _at: str) -> None:
            raise Cancelled("stopped")

        with self.assertRaises(Cancelled):
            with_rod(self.plan, self.build, face, self.again, self.cache, stop)

    def test_no_thicker_than_is_needed(self) -> None:
        """The same seam with half the force at its end is held by a thinner one."""
        across = []
        for force in (20.0, 5.0):
            self.begun(box(14, 14, 400), 200.0, handling_n=force, joints=[dowels(1, "p1-", "p1+", diameter_mm=3)])
            across.append(self.found().plan.ways[0].diameter_mm)
        self.assertGreater(across[0], across[1])

    def test_why_there_is_none(self) -> None:
        self.begun(box(60, 60, 200), 100.0, joints=[dowels(1, "p1-", "p1+", diameter_mm=14)])
        self.assertIn("bears what bends it", self.found().why)
        self.begun(box(30, 2.2, 300), 150.0, joints=[ButtJoint(id="j1", face=dowels(1, "p1-", "p1+").face)])
        found = self.found()
        self.assertIn("No rod has room", found.why)
        self.assertIs(found.plan, self.plan)

    def test_one_that_does_too_little_is_not_put(self) -> None:
        """A flat bar: there is room for a thin rod only, beside glue that bears most."""
        self.begun(box(60, 6.5, 340), 170.0, joints=[ButtJoint(id="j1", face=dowels(1, "p1-", "p1+").face)])
        found = self.found()
        self.assertIn("would bear", found.why)
        self.assertIs(found.plan, self.plan)

    def test_pegs_beside_it_become_fewer_where_there_is_room_for_fewer(self) -> None:
        self.begun(box(24, 12, 420), 210.0, joints=[dowels(1, "p1-", "p1+", count=3, diameter_mm=4)])
        found = self.found()
        self.assertEqual((found.rod, found.given_up), ("w1", ("j1",)))
        codes = [f.code for f in check(self.again(found.plan), self.cache).findings]
        self.assertFalse({"joint-no-room", "seam-bends"} & set(codes), codes)

    @tried(12, 6.0)
    @given(st.floats(7, 30), st.floats(7, 30), st.floats(0.3, 0.7), st.floats(-0.3, 0.3))
    def test_on_any_bar_it_lies_within_the_walls_and_leaves_nothing_to_fix(
        self, wide: float, deep: float, share: float, lean: float
    ) -> None:
        c, s = math.cos(lean), math.sin(lean)
        turned = np.column_stack([[[c, 0, s], [0, 1, 0], [-s, 0, c]], np.zeros(3)])
        self.begun(box(wide, deep, 300).placed(turned), 300 * share, joints=[dowels(1, "p1-", "p1+", diameter_mm=2)])
        known = {f.id for f in check(self.build, self.cache).must_fix}
        found = self.found()
        if not found.rod:
            return
        after = self.again(found.plan)
        self.assertEqual({f.id for f in check(after, self.cache).must_fix} - known, set())
        whole = after.whole
        assert whole is not None
        (bored,) = after.ways
        grown = found.plan.ways[0].bore(bored.clearance_mm, self.plan.least_wall_mm - 0.05)
        self.assertLess(grown.minus([whole]).volume_mm3, 0.02 * grown.volume_mm3)


if __name__ == "__main__":
    unittest.main()

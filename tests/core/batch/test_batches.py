"""Batches of a built plan: everything on a bed once, files with everything in its place, figures that add up."""

import unittest

import shapely

from hinoki.core.batch.batches import batched, on_bed
from hinoki.core.batch.print_plan import printing_of
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.export.archive import Outgoing, export_zip
from hinoki.core.join.joints import DowelJoint, FaceRef, HingeJoint
from hinoki.core.plan.batch_settings import Batching
from hinoki.core.plan.contents import PieceNote
from hinoki.core.plan.plan import Plan
from hinoki.core.workshop.printers import Printer
from tests.shapes import across, box, built, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
BLOCK = box(60, 50, 60)


def made(*joints: object, **more: object) -> tuple[Plan, Build]:
    data = stl_of(BLOCK)
    plan = plan_for(data, level(1, 30), joints=joints, bed=(100, 100, 100), **more)
    return plan, built(data, plan)


class Batched(unittest.TestCase):
    def test_every_piece_and_every_copy_is_laid_once(self) -> None:
        plan, result = made(DowelJoint(id="j1", face=FACE, count=2, spares=3, length_mm=10))
        found = batched(plan, result, Cache())
        names = sorted(t.name for b in found.each for t, _ in b.things)
        self.assertEqual(names, ["1 Piece 1", "2 Piece 2", *(f"dowel 5 × 10, {k} of 5" for k in range(1, 6))])

    def test_what_lies_on_the_bed_is_where_the_outline_says(self) -> None:
        for turn in (45.0, 30.0):
            plan, result = made(DowelJoint(id="j1", face=FACE, count=2), batching=Batching(turn_deg=turn))
            found = batched(plan, result, Cache())
            for batch in found.each:
                for thing, place in batch.things:
                    shadow = shapely.union_all([body.solid.placed(m).silhouette() for body, m in on_bed(thing, place)])
                    outline = place.outline(thing.item)
                    self.assertLess(shadow.difference(outline.buffer(0.02)).area, 1e-3)
                    self.assertLess(outline.difference(shadow.buffer(0.3)).area, 1e-3)

    def test_also_of_a_model_that_is_not_about_the_origin(self) -> None:
        data = stl_of(BLOCK.moved(130, -45, 12))
        plan = plan_for(data, level(1, 42), bed=(100, 100, 100), batching=Batching(turn_deg=30.0))
        found = batched(plan, built(data, plan), Cache())
        for batch in found.each:
            for thing, place in batch.things:
                shadow = shapely.union_all([body.solid.placed(m).silhouette() for body, m in on_bed(thing, place)])
                self.assertLess(shadow.symmetric_difference(place.outline(thing.item)).area, 0.3 * shadow.length)
                self.assertAlmostEqual(float(shadow.centroid.x), place.x_mm, delta=0.2)
                self.assertAlmostEqual(float(shadow.centroid.y), place.y_mm, delta=0.2)

    def test_what_prints_as_one_lies_as_one(self) -> None:
        plan, result = made(HingeJoint(id="j1", face=FACE, pin="in place", opens_deg=180))
        (batch,) = batched(plan, result, Cache()).each
        self.assertEqual([t.thing.numbers for t, _ in batch.things], [(1, 2)])
        one, other = (body.solid.placed(matrix) for body, matrix in on_bed(*batch.things[0]))
        gap = one.gap(other, 2.0)
        self.assertAlmostEqual(gap, 0.4, delta=0.02)


class Told(unittest.TestCase):
    def test_how_far_it_is_only_grows_over_all_printers(self) -> None:
        told: list[float] = []
        other = Printer(id="other", name="Other", bed_mm=(120, 120), height_mm=120)
        many = Batching(copies={"p1-": 4, "p1+": 4})
        plan, result = made(more_printers=(other,), pieces={"p1+": PieceNote(printer_id="other")}, batching=many)
        found = batched(plan, result, Cache(), tell=lambda f, _p: told.append(f))
        self.assertEqual({b.printer.id for b in found.each}, {plan.printer.id, "other"})
        self.assertEqual(told, sorted(told))
        self.assertTrue(0 <= told[0] < 0.5 < told[-1] <= 1)
        self.assertTrue(any(0.5 < f < 0.75 for f in told))
        self.assertGreater(told[-1], 0.75)

    def test_each_of_them_has_its_own_beds_by_number(self) -> None:
        other = Printer(id="other", name="Other", bed_mm=(120, 120), height_mm=120)
        plan, result = made(more_printers=(other,), pieces={"p1+": PieceNote(printer_id="other")})
        found = batched(plan, result, Cache())
        self.assertEqual([(b.number, b.bed) for b in found.each], [(1, 1), (2, 1)])
        self.assertEqual([[t.thing.numbers for t, _ in b.things] for b in found.each], [[(1,)], [(2,)]])


class Heights(unittest.TestCase):
    def test_what_is_just_as_high_as_the_printer_prints_fits_and_a_hair_more_does_not(self) -> None:
        cube = stl_of(box(40, 40, 40))
        for high, left in ((40.0, []), (39.6, ["it is 40 mm high as it lies, and Typed bed prints 40 mm"])):
            plan = plan_for(cube, bed=(100, 100, high))
            found = batched(plan, built(cube, plan), Cache())
            self.assertEqual([why for _, why in found.left_over], left)
            self.assertEqual(len(found.each), 0 if left else 1)

    def test_what_is_just_as_large_as_the_bed_is_laid_on_it_and_a_hair_more_is_not(self) -> None:
        for wide, deep, high, laid in ((100.0, 100.0, 40.0, 1), (100.0, 40.0, 40.0, 1), (100.02, 100.0, 100.0, 0)):
            block = stl_of(box(wide, deep, high))
            plan = plan_for(block, bed=(100, 100, 100))
            found = batched(plan, built(block, plan), Cache())
            self.assertEqual((len(found.each), len(found.left_over)), (laid, 1 - laid), (wide, deep, high))

    def test_what_is_too_wide_is_told_by_its_width_also_where_it_is_as_high_as_can_be(self) -> None:
        slab = stl_of(box(150, 150, 40))
        plan = plan_for(slab, bed=(100, 100, 40))
        ((_, why),) = batched(plan, built(slab, plan), Cache()).left_over
        self.assertRegex(why, "larger than what may be used of the bed of .*, 100 × 100 mm")


class Files(unittest.TestCase):
    def test_equal_plans_give_equal_bytes(self) -> None:
        data = stl_of(BLOCK)
        plan = plan_for(data, level(1, 30), across(2, "x", 0), bed=(100, 100, 100))
        one, two = (
            export_zip(plan, result, outgoing=Outgoing(printing=printing_of(plan, result, Cache())))
            for result in (built(data, plan), built(data, plan))
        )
        self.assertEqual(one, two)

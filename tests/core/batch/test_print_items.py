"""What is printed of a built plan: pieces, loose parts and their copies, as they lie, with their figures."""

import unittest

import numpy as np

from hinoki.core.batch.print_items import Known, estimated, printables, things
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.errors import BadPlan
from hinoki.core.join.joints import DowelJoint, FaceRef, HingeJoint, KeyJoint
from hinoki.core.plan.batch_settings import Batching, LadderAsked
from hinoki.core.plan.contents import PieceNote
from hinoki.core.plan.plan import Plan
from hinoki.core.workshop.materials import Material
from tests.shapes import box, built, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
BLOCK = stl_of(box(60, 50, 60))


def made(*joints: object, **more: object) -> tuple[Plan, Build]:
    plan = plan_for(BLOCK, level(1, 30), joints=joints, bed=(100, 100, 100), **more)
    return plan, built(BLOCK, plan)


class Things(unittest.TestCase):
    def test_pieces_by_number_then_loose_parts(self) -> None:
        plan, result = made(DowelJoint(id="j1", face=FACE, count=2, diameter_mm=6, length_mm=20))
        one, two, dowel = things(plan, result)
        self.assertEqual([(t.name, t.numbers, t.wanted) for t in (one, two)], [("1 Piece 1", (1,), 1), ("2 Piece 2", (2,), 1)])
        self.assertEqual((dowel.numbers, dowel.wanted), ((), 3))  # one is spare
        self.assertIn("dowel", dowel.name)
        for thing, piece in zip((one, two), result.pieces, strict=True):
            self.assertEqual(thing.foot_mm2, piece.rest.contact_mm2)

    def test_the_foot_of_a_loose_part_is_the_box_around_it_seen_from_above(self) -> None:
        plan, result = made(KeyJoint(id="j1", face=FACE, count=1))
        key = next(t for t in things(plan, result) if not t.numbers)
        low, high = result.loose[0].solid.bounds
        self.assertAlmostEqual(key.foot_mm2, (high[0] - low[0]) * (high[1] - low[1]))
        self.assertNotAlmostEqual(key.foot_mm2, (high[0] - low[0]) * (high[2] - low[2]), places=1)

    def test_everything_stands_on_the_bed_and_is_larger_by_what_its_material_shrinks(self) -> None:
        shrinks = Material(shrinkage_percent=2.0, compensated=True)
        plan, result = made(DowelJoint(id="j1", face=FACE, count=1, diameter_mm=6, length_mm=20), material=shrinks)
        for thing in things(plan, result):
            (body,) = thing.bodies
            low, high = body.solid.placed(body.matrix).bounds
            self.assertAlmostEqual(float(low[2]), 0.0, places=6)
            grown = np.sort(high - low) / np.sort(body.solid.size)
            np.testing.assert_allclose(grown, shrinks.enlarged, rtol=1e-6)
            self.assertGreater(shrinks.enlarged, 1.0)

    def test_what_prints_as_one_is_one_thing_with_all_its_bodies(self) -> None:
        plan, result = made(HingeJoint(id="j1", face=FACE, pin="in place", opens_deg=180))
        (both,) = [t for t in things(plan, result) if t.numbers]
        self.assertEqual((both.numbers, both.name, len(both.bodies)), ((1, 2), "1 Piece 1 + 2 Piece 2", 2))
        self.assertEqual(both.foot_mm2, result.pieces[0].rest.contact_mm2)

    def test_a_piece_is_printed_on_its_own_printer_and_of_its_own_material(self) -> None:
        plan, result = made(pieces={"p1+": PieceNote(material_id="petg")}, more_materials=(Material(id="petg", name="PETG"),))
        self.assertEqual([t.material.name for t in things(plan, result)], [plan.material.name, "PETG"])


class Ladders(unittest.TestCase):
    def test_the_pieces_of_a_ladder_that_is_printed_along_stand_on_the_bed(self) -> None:
        joint = DowelJoint(id="j1", face=FACE, count=1, diameter_mm=6, length_mm=20)
        plan, result = made(joint, batching=Batching(ladders=(LadderAsked(joint="j1", from_mm=0.05, to_mm=0.3),)))
        rungs = [t for t in things(plan, result) if t.name.startswith("ladder of")]
        self.assertGreater(len(rungs), 1)
        for thing in rungs:
            (body,) = thing.bodies
            low, high = body.solid.placed(body.matrix).bounds
            self.assertAlmostEqual(float(low[2]), 0.0, places=9)
            self.assertAlmostEqual(thing.foot_mm2, float((high[0] - low[0]) * (high[1] - low[1])), places=6)
            self.assertEqual(thing.wanted, 1)
        self.assertEqual(len({t.key for t in rungs}), len(rungs))


class Printed(unittest.TestCase):
    def test_every_copy_is_one_and_weighs_the_same(self) -> None:
        plan, result = made(batching=Batching(copies={"p1-": 3}))
        every = printables(plan, result, 0.0, Cache())
        self.assertEqual([(t.name, t.copy) for t in every][:3], [(f"1 Piece 1, {k} of 3", k) for k in (1, 2, 3)])
        self.assertEqual(len({t.key for t in every}), 4)
        self.assertEqual(len({t.took.mass_g for t in every[:3]}), 1)

    def test_its_outline_is_a_hair_larger_than_its_shadow_and_its_height_its_own(self) -> None:
        plan, result = made()
        for one in printables(plan, result, 0.0, Cache()):
            x0, y0, x1, y1 = one.item.outline.bounds
            self.assertAlmostEqual(x1 - x0, 60.1, places=6)
            self.assertAlmostEqual(y1 - y0, 50.1, places=6)
            self.assertAlmostEqual(one.item.height_mm, 30.0, places=6)
            self.assertEqual((x0, y0), (-x1, -y1))

    def test_the_minutes_of_its_layers_are_shared_and_the_rest_its_own(self) -> None:
        plan, result = made()
        one = printables(plan, result, 0.0, Cache())[0]
        self.assertAlmostEqual(one.item.height_minutes, one.raw.layers * plan.printer.layer_time_s / 60)
        self.assertEqual(one.item.minutes, one.raw.minutes)
        body = one.thing.bodies[0]
        self.assertEqual(estimated(body, plan, plan.printer, plan.material, 0.0).minutes, one.raw.minutes)

    def test_of_a_reprint_only_what_is_asked_for(self) -> None:
        plan, result = made(DowelJoint(id="j1", face=FACE, count=4, length_mm=20))
        loose = next(t.key for t in things(plan, result) if not t.numbers)
        every = printables(plan, result, 0.0, Cache(), known=Known(only={"p1+": 1, loose: 2}))
        self.assertEqual([(t.thing.key, t.copy) for t in every], [("p1+", 1), (loose, 1), (loose, 2)])

    def test_too_many_are_refused_with_what_there_is_most_of(self) -> None:
        plan, result = made(batching=Batching(copies={"p1-": 1000, "p1+": 999}))
        self.assertEqual(len(printables(plan, result, 0.0, Cache())), 1999)
        plan = plan.model_copy(update={"batching": Batching(copies={"p1-": 1000, "p1+": 1000})})
        self.assertEqual(len(printables(plan, result, 0.0, Cache())), 2000)
        more = made(DowelJoint(id="j1", face=FACE, count=1, length_mm=20, spares=0))[1]
        with self.assertRaisesRegex(BadPlan, "2001 things .* 1 Piece 1 \\(1000\\)"):
            printables(plan, more, 0.0, Cache())

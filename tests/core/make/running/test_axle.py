"""Axles run in their bores as their fit says, with washers that run as well; bores are made for axles, seats for bearings."""

import math
import unittest

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.geometry.shape import Body, Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.make import AxleMaker, NotMade
from hinoki.core.model.steps import BearingSeatStep, BoreStep, Outcome, StepRefused
from hinoki.core.moving.axis_at import axis_at
from hinoki.core.parts.make_part import Place, with_made
from hinoki.core.progress import quiet
from hinoki.core.workshop.hardware import table
from hinoki.core.workshop.inventory import bearings_on_sale
from tests.core.make.test_fitted import made
from tests.parts import plan_of, use_of
from tests.shapes import box, stl_of

PLATE = box(60, 40, 12).minus([Solid.cylinder(3.0, -1, 13, around=True)])


class Axles(unittest.TestCase):
    def test_it_is_thinner_than_its_bore_by_the_clearance_on_each_side(self) -> None:
        maker = AxleMaker(bore_mm=6, through_mm=12, washers=2, washer_thick_mm=1, pin_mm=1.4)
        axle = made(maker, None, 0.2)
        self.assertAlmostEqual(axle.bounds[0][2], -(12 + 2 + 2.5 * 1.4), places=4)
        self.assertAlmostEqual(axle.bounds[1][0], 3 + 2, places=2)  # its head reaches over the bore
        inside = axle.moved(0, 0, 12.0)
        self.assertAlmostEqual(inside.common(Solid.box((-9, -9, 1), (9, 9, 11))).gap(PLATE, 2.0), 0.2, delta=0.01)

    def test_the_hole_for_its_pin_lies_beyond_the_washers(self) -> None:
        maker = AxleMaker(bore_mm=6, through_mm=12, washers=1, washer_thick_mm=1, pin_mm=1.4)
        axle = made(maker, None, 0.2)
        at = -(12 + 1 + 1.4)  # its middle is 1.5 pins above the end, which is 2.5 pins beyond
        x = axle.ray(np.array([-20.0, 0.0, at - 0.0]), np.array([20.0, 0.0, at - 0.0]))
        self.assertEqual(len(x), 0)
        self.assertGreater(at + 0.7, -(12 + 1 + 1.4 * 2.5))
        self.assertLessEqual(at + 0.7, -(12 + 1) + 1e-9)

    def test_what_would_be_too_thin_or_weak_is_refused(self) -> None:
        for maker, why in (
            (AxleMaker(bore_mm=1.5), "least that prints round"),
            (AxleMaker(bore_mm=4, pin_mm=2), "leaves it weak"),
            (AxleMaker(piece="washer", bore_mm=8, washer_mm=9), "no room round a bore"),
        ):
            with self.subTest(why), self.assertRaisesRegex(NotMade, why):
                made(maker, None, 0.2)
        self.assertIn("rattles", AxleMaker(bore_mm=8).make(None, 0.5, quiet).said[0])

    def test_it_comes_with_its_washers_as_often_as_it_has_them(self) -> None:
        use = use_of(stl_of(PLATE))
        place = Place(at_mm=(0, 0, 12), facing=(0, 0, 1))
        found = with_made(plan_of(use), AxleMaker(bore_mm=6, washers=3), [place], lambda _: stl_of(PLATE), Cache())
        axle, washer = (found.plan.working_on(i) for i in ("q2", "q3"))
        self.assertEqual((len(axle.instances), len(washer.instances), washer.part_name), (1, 3, "Washer"))
        self.assertEqual(washer.made and washer.made.comes_with, "q2")
        np.testing.assert_allclose(axle.instances[0].at_mm[:2], (0, 0), atol=1e-6)

    def test_a_bore_that_is_picked_tells_its_diameter_and_length(self) -> None:
        found = axis_at(PLATE, np.array([3.0, 0.0, 6.0]))
        self.assertAlmostEqual(found.diameter_mm, 6.0, delta=0.02)
        self.assertAlmostEqual(found.long_mm, 12.0, places=6)


def cut(step: BoreStep | BearingSeatStep, body: Solid, clearance_mm: float = 0.2) -> Outcome:
    return step.apply_with(Shape((Body("part", solid=body),)), clearance_mm, 1.2, 0.45, quiet)


def removed(outcome: Outcome, body: Solid) -> Solid:
    (one,) = outcome.shape.bodies
    assert one.solid is not None
    return body.minus([one.solid])


class Bores(unittest.TestCase):
    def test_one_for_an_axle_is_wider_by_the_clearance_on_each_side(self) -> None:
        block = box(40, 40, 20)
        for takes, across in (("as drawn", 6.0), ("sliding", 6.4)):
            step = BoreStep(id="s1", from_mm=(0, 0, 20), to_mm=(0, 0, 0), diameter_mm=6, takes=takes)  # type: ignore[arg-type]
            hole = removed(cut(step, block), block)
            self.assertAlmostEqual(hole.volume_mm3 / (math.pi / 4 * across**2 * 20), 1, delta=0.005)


class BearingSeats(unittest.TestCase):
    def test_pocket_shoulder_and_what_is_open_by_hand(self) -> None:
        block = box(40, 40, 20)
        step = BearingSeatStep(id="s1", at_mm=(0, 0, 20), bevel_mm=0)
        found = cut(step, block, 0.05)
        opening = 22 - 2 * 0.11 * 14
        by_hand = math.pi / 4 * (22.1**2 * 7 + opening**2 * 13)
        self.assertEqual(found.findings, [])
        self.assertAlmostEqual(removed(found, block).volume_mm3 / by_hand, 1, delta=0.003)
        self.assertEqual([(item.name, item.count) for item in found.hardware], [("ball bearing 8 × 22 × 7", 1)])

    def test_a_bearing_lies_on_its_outer_ring_alone(self) -> None:
        """The shoulder lies within the abutments catalogues give: 608 from 19.2 (inside of the outer ring) to 20 mm, 6200 from
        24.8 to 25.8 mm (from memory), a little to either side."""
        for outside, bore, least, most in ((22, 8, 19.2, 20.0), (30, 10, 24.8, 25.8), (16, 5, 13.4, 14.0)):
            opening = BearingSeatStep(id="s1", outside_mm=outside, bore_mm=bore).opening_mm
            self.assertTrue(least - 0.4 < opening < most, (outside, opening))

    def test_the_table_has_the_dimensions_of_the_standard(self) -> None:
        """ISO 15 (from memory): 608 is 8 × 22 × 7, 6200 is 10 × 30 × 9, 6805 is 25 × 37 × 7. The bore of series 60 and 62
        from 04 on is five times their last figures."""
        rows = {
            row["name"]: (float(row["bore_mm"]), float(row["outside_mm"]), float(row["wide_mm"])) for row in table("bearings")
        }
        self.assertEqual((rows["608"], rows["6200"], rows["6805"]), ((8, 22, 7), (10, 30, 9), (25, 37, 7)))
        for name, (bore, outside, wide) in rows.items():
            self.assertTrue(bore + 2 <= outside and wide < outside, name)
            if len(name) == 4 and int(name[2:]) >= 4:
                self.assertEqual(bore, 5 * int(name[2:]), name)
        self.assertEqual(len(bearings_on_sale()), len(rows))

    def test_seats_in_a_row_off_the_face_in_each_other_and_too_deep_are_told(self) -> None:
        block = box(100, 40, 20)
        row = {"id": "s1", "pattern": "row", "count": 2}
        good = BearingSeatStep(at_mm=(-20, 0, 20), step_mm=40, **row)  # type: ignore[arg-type]
        near = BearingSeatStep(at_mm=(-10, 0, 20), step_mm=20, **row)  # type: ignore[arg-type]
        off = BearingSeatStep(id="s1", at_mm=(45, 0, 20))
        thin = BearingSeatStep(id="s1", at_mm=(0, 0, 20), wide_mm=18.5, behind="closed")
        codes = [[f.code for f in cut(step, block, 0.05).findings] for step in (good, near, off)]
        self.assertEqual(codes[0], [])
        self.assertIn("on-face-meet", codes[1])
        self.assertIn("on-face-off", codes[2])
        self.assertTrue({f.code for f in cut(thin, block, 0.05).findings} & {"on-face-through", "on-face-thin"})

    def test_figures_of_no_bearing_and_round_faces_are_refused(self) -> None:
        with self.assertRaisesRegex(StepRefused, "wider outside than its bore"):
            cut(BearingSeatStep(id="s1", at_mm=(0, 0, 20), bore_mm=21), box(40, 40, 20))
        with self.assertRaisesRegex(StepRefused, "no flat face"):
            cut(BearingSeatStep(id="s1", at_mm=(0, 0, 20), facing=(1, 0, 0)), box(40, 40, 20))

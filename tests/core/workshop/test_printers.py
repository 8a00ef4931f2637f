"""Printers: the room they have, and what fits it; no bed is larger than it says."""

import unittest

import numpy as np

from hinoki.core.geometry.rotations import spread_over_sphere
from hinoki.core.orient.resting.bed_fit import fits, fitting
from hinoki.core.workshop.printers import Printer, turn_on_bed
from tests.checked import findings_of
from tests.effort import either
from tests.shapes import box, built, ellipsoid, plan_for, stl_of

BED = Printer(bed_mm=(200, 150), height_mm=100, margin_mm=5)


class Room(unittest.TestCase):
    def test_the_margin_is_taken_off_every_edge_and_nothing_off_the_height(self) -> None:
        self.assertEqual(BED.room_mm.tolist(), [190.0, 140.0, 100.0])

    def test_what_is_a_tenth_of_a_millimetre_over_in_any_direction_does_not_fit(self) -> None:
        for axis in range(3):
            size = np.array(BED.room_mm)
            self.assertTrue(BED.holds(size))
            size[axis] += 0.1
            with self.subTest(axis=axis):
                self.assertFalse(BED.holds(size))

    def test_a_smaller_printer_is_smaller_in_every_direction(self) -> None:
        self.assertTrue(np.allclose(BED.smaller(2.0).room_mm, BED.room_mm / 2))

    def test_a_piece_just_over_the_height_is_found_and_one_just_under_it_is_not(self) -> None:
        for height, codes in ((99.9, set()), (100.1, {"piece-over"})):
            data = stl_of(box(149.9, 149.9, height))
            plan = plan_for(data, bed=(150, 150, 100))
            with self.subTest(height=height):
                self.assertEqual({f.code for f in findings_of(built(data, plan))} & {"piece-over"}, codes)


if __name__ == "__main__":
    unittest.main()


class Turned(unittest.TestCase):
    def test_a_footprint_fits_where_some_turn_of_it_is_small_enough_and_only_there(self) -> None:
        # against turning all of its points by a quarter of a degree at a time
        rng = np.random.default_rng(7)
        turns = np.radians(np.arange(0.0, 180.0, 0.25))
        across = np.array([np.cos(turns), -np.sin(turns)])
        for _ in range(either(60, 600)):
            footprint = rng.normal(size=(int(rng.integers(4, 400)), 2)) * rng.uniform(20, 60, 2)
            widths = np.ptp(footprint @ across, axis=0)
            deep = np.roll(widths, len(turns) // 2)
            bed = rng.uniform(0.7, 1.1, 2) * [np.median(widths), np.median(deep)]
            spare = float(np.minimum(bed[0] - widths, bed[1] - deep).max())
            if abs(spare) > 0.5:  # else the step of a quarter of a degree decides
                angle = turn_on_bed(footprint, np.array([*bed, 1.0]))
                self.assertEqual(angle is not None, spare > 0)
                if angle is not None:
                    c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))
                    self.assertTrue((np.ptp(footprint @ np.array([[c, s], [-s, c]]), axis=0) <= bed + 1e-3).all())

    def test_many_directions_at_once_are_judged_as_one_by_one(self) -> None:
        body = ellipsoid(97, 64, 44)
        downs = spread_over_sphere(80)
        at_once = fitting(body.hull.mesh.vertices, BED, downs)
        self.assertEqual(at_once.tolist(), [fits(body.hull.mesh.vertices, down, BED) for down in downs])
        self.assertEqual({True, False}, set(at_once.tolist()))

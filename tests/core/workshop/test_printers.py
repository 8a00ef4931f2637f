"""Printers: the room they have, and what fits it; no bed is larger than it says."""

import unittest

import numpy as np

from hinoki.core.workshop.printers import Printer
from tests.checked import findings_of
from tests.shapes import box, built, plan_for, stl_of

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

"""Openings are found where a flat rim leads in, and nowhere else."""

import math
import unittest

import numpy as np

from hinoki.core.geometry.rotations import turned_about_axes
from hinoki.core.geometry.solid import Solid
from hinoki.core.make import NotMade
from hinoki.core.make.openings import opening_at, openings
from tests.shapes import box

OPEN_BOX = Solid.box((-50, -35, 0), (50, 35, 60)).minus([Solid.box((-46, -31, 3), (46, 31, 70))])


class OpeningsOfAnalyticBodies(unittest.TestCase):
    def test_a_box_has_the_one_at_its_top(self) -> None:
        (found,) = openings(OPEN_BOX)
        self.assertAlmostEqual(found.size_mm[0], 92, places=3)
        self.assertAlmostEqual(found.size_mm[1], 62, places=3)
        self.assertAlmostEqual(found.depth_mm, 57, places=2)
        np.testing.assert_allclose(found.middle, (0, 0, 60), atol=1e-6)
        np.testing.assert_allclose(found.frame.n, (0, 0, 1), atol=1e-9)

    def test_it_is_the_same_however_the_box_is_turned(self) -> None:
        turn = np.column_stack([turned_about_axes((31, -54, 117)), (12.0, -7.0, 4.0)])
        (found,) = openings(OPEN_BOX.placed(turn))
        self.assertAlmostEqual(found.hole.area, 92 * 62, places=2)
        self.assertAlmostEqual(found.depth_mm, 57, places=2)
        np.testing.assert_allclose(found.middle, turn[:, :3] @ (0, 0, 60) + turn[:, 3], atol=1e-4)

    def test_a_hole_right_through_is_one_on_either_side(self) -> None:
        plate = box(60, 40, 10).minus([Solid.cylinder(8, -1, 11, around=True)])
        top, below = openings(plate)
        np.testing.assert_allclose([top.frame.n[2], below.frame.n[2]], (1, -1), atol=1e-9)
        self.assertAlmostEqual(top.hole.area, math.pi * 64, delta=1.0)
        self.assertGreater(top.depth_mm, 10)

    def test_a_knob_on_a_face_is_none(self) -> None:
        self.assertEqual(openings(box(60, 40, 10).plus([Solid.cylinder(8, 5, 20)])), [])

    def test_what_narrows_further_in_is_free_only_where_it_is_all_the_way(self) -> None:
        step = Solid.box((-50, -35, 0), (50, 35, 60)).minus(
            [Solid.box((-40, -25, 3), (40, 25, 70)), Solid.box((-46, -31, 50), (46, 31, 70))]
        )
        found, ledge = openings(step)
        self.assertAlmostEqual(ledge.hole.area, 80 * 50, delta=0.1)  # where a lid can lie sunk
        self.assertAlmostEqual(found.free_to(9.0).area, 92 * 62, delta=0.1)
        self.assertAlmostEqual(found.free_to(20.0).area, 80 * 50, delta=0.1)
        self.assertAlmostEqual(found.outside_to(20.0).area, 100 * 70, delta=0.1)

    def test_the_one_near_a_point_is_meant_and_none_far_away(self) -> None:
        plate = box(120, 40, 10).minus([Solid.cylinder(8, -1, 11, around=True), Solid.cylinder(5, -1, 11).moved(40, 0, 0)])
        self.assertAlmostEqual(opening_at(plate, np.array([44.0, 2.0, 10.0])).size_mm[0], 10, delta=0.1)
        with self.assertRaisesRegex(NotMade, "no opening with a flat rim near this place"):
            opening_at(plate, np.array([-400.0, 0.0, 10.0]))

    def test_a_rim_that_is_not_flat_is_refused_in_words(self) -> None:
        waved = OPEN_BOX.minus([Solid.cylinder(30, -60, 60).placed(np.array([[1, 0, 0, 0], [0, 0, 1, 0], [0, -1.0, 0, 75]]))])
        with self.assertRaisesRegex(NotMade, "no opening with a flat rim"):
            opening_at(waved, None)

"""Whether a body slides past another: exact on the triangles."""

import math
import unittest

import numpy as np

from hinoki.core.geometry.slide_collision import Form, slide
from hinoki.core.geometry.solid import Solid
from tests.shapes import box, tube

UP, RIGHT = np.array([0.0, 0, 1]), np.array([1.0, 0, 0])


def along(moving: Solid, still: Solid, way: np.ndarray, exact: bool = True):  # type: ignore[no-untyped-def]
    return slide(Form(moving.mesh), Form(still.mesh), way / np.linalg.norm(way), exact)


class Sliding(unittest.TestCase):
    def test_a_plug_that_fills_its_hole_goes_along_it_and_nowhere_else(self) -> None:
        for exact in (True, False):
            plug, plate = Solid.cylinder(10, 0, 20), tube(30, 10, 20)
            self.assertTrue(along(plug, plate, UP, exact).free)
            self.assertTrue(along(plug, plate, -UP, exact).free)
            self.assertFalse(along(plug, plate, RIGHT, exact).free)

    def test_a_cup_filled_wholly_lets_its_filling_out_upwards_only(self) -> None:
        filling, cup = Solid.cylinder(10, 5, 20), tube(14, 10, 20).plus([Solid.cylinder(14, 0, 5)])
        self.assertTrue(along(filling, cup, UP).free)
        down = along(filling, cup, -UP)
        self.assertEqual((down.free, down.after_mm), (False, 0.0))

    def test_a_stop_is_as_far_as_the_gap_and_where_they_meet(self) -> None:
        stop = along(box(20, 20, 20), box(10, 10, 10).moved(40, 0, 5), RIGHT)
        self.assertAlmostEqual(stop.after_mm, 25.0, places=6)
        assert stop.at is not None
        self.assertAlmostEqual(stop.at[0], 35.0, places=3)

    def test_faces_side_by_side_stop_nothing(self) -> None:
        self.assertTrue(along(box(20, 20, 20), box(20, 20, 20).moved(20, 0, 0), UP).free)
        self.assertTrue(along(box(20, 20, 20), box(20, 20, 20).moved(20.01, 0, 0), np.array([0.0, 1, 1])).free)

    def test_a_wedge_is_stopped_by_its_slope(self) -> None:
        # two halves of a box cut at 45°: the upper one leaves across its slope and up, and is held along the slope's foot
        plane = np.array([1.0, 0, 1]) / math.sqrt(2)
        whole = box(40, 40, 40)
        low = whole.minus([Solid.hull_of(np.array([[20.0, y, 0] for y in (-21, 21)] + [[-20.0, y, 40] for y in (-21, 21)]
                                                  + [[60.0, y, 40] for y in (-21, 21)]))])  # fmt: skip
        high = whole.minus([low])
        self.assertTrue(along(high, low, plane).free)
        self.assertTrue(along(high, low, UP).free)
        self.assertTrue(along(high, low, RIGHT).free)
        self.assertFalse(along(high, low, -RIGHT).free)
        self.assertTrue(along(high, low, np.array([1.0, 0, -1])).free)

    def test_what_was_moved_before_is_tried_from_there(self) -> None:
        bar, gate = box(10, 10, 10), box(60, 10, 10).moved(0, 0, 30)
        self.assertFalse(along(bar, gate, UP).free)
        self.assertTrue(slide(Form(bar.mesh), Form(gate.mesh), UP, shift=np.array([0.0, 20, 0])).free)

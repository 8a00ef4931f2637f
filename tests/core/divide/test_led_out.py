"""Lines led out of a shadow before they cut, and what the cutter makes of them."""

import unittest

import numpy as np
from shapely.geometry import LineString, MultiPolygon, box

from hinoki.core.divide.partings.extruded_cutter import SWING_DEG, Line, cut_along, reaching_out
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.solid import Solid
from tests import shapes

SHADOW = MultiPolygon([box(-50, -20, 50, 20)])
FRONT = plane_frame(np.zeros(3), np.array([0.0, -1.0, 0.0]))


class LedOut(unittest.TestCase):
    def test_both_ends_go_straight_on_beyond_all_there_is(self) -> None:
        made, remark = reaching_out(np.array([[-60.0, 0.0], [60.0, 0.0]]), SHADOW)
        assert made is not None
        self.assertIsNone(remark)
        # twice across the box around the shadow and the line, and 10 mm
        far = 2 * float(np.hypot(120, 40)) + 10
        np.testing.assert_allclose(made, [[-60 - far, 0], [-60, 0], [60, 0], [60 + far, 0]], atol=1e-9)

    def test_far_is_beyond_what_lies_away_from_the_line_too(self) -> None:
        away = MultiPolygon([box(-50, -20, 50, 20), box(-10, 900, 10, 1000)])
        made, _ = reaching_out(np.array([[-60.0, 0.0], [60.0, 0.0]]), away)
        assert made is not None
        self.assertGreater(float(np.ptp(made[:, 0])), 4 * 1000)

    def test_an_end_that_would_meet_the_shadow_swings_as_little_as_it_can(self) -> None:
        """The last end looks at a second block; 30° do not clear it, 45° do, and to the left first."""
        blocks = MultiPolygon([box(-50, -20, 50, 20), box(80, -15, 120, 15)])
        made, remark = reaching_out(np.array([[-60.0, 0.0], [55.0, 0.0]]), blocks)
        assert made is not None
        self.assertIsNone(remark)
        way = made[-1] - made[-2]
        self.assertAlmostEqual(float(np.degrees(np.arctan2(way[1], way[0]))), 45.0)
        self.assertFalse(LineString(made[-2:]).intersects(blocks))

    def test_swings_are_tried_from_straight_on_to_square_each_to_both_sides(self) -> None:
        self.assertEqual(SWING_DEG[0], 0.0)
        self.assertEqual(SWING_DEG[1::2], tuple(-s for s in SWING_DEG[2::2]))
        self.assertEqual(sorted(map(abs, SWING_DEG)), list(map(abs, SWING_DEG)))
        self.assertEqual(max(SWING_DEG), 90.0)

    def test_an_end_that_is_shut_in_has_no_way_out_and_says_which(self) -> None:
        yard = MultiPolygon([box(-50, -50, 50, 50).difference(box(-40, -40, 40, 40))])
        for points, end in (([[0.0, 0.0], [90.0, 0.0]], "first"), ([[-90.0, 0.0], [0.0, 0.0]], "last")):
            made, remark = reaching_out(np.array(points), yard)
            self.assertIsNone(made)
            assert remark is not None
            self.assertEqual((remark.code, remark.params), ("line-ends-inside", {"end": end, "case": "no way"}))

    def test_an_end_inside_the_shadow_is_told_apart(self) -> None:
        made, remark = reaching_out(np.array([[-60.0, 0.0], [10.0, 0.0]]), SHADOW)
        self.assertIsNone(made)
        assert remark is not None
        self.assertEqual(remark.params, {"end": "last", "case": "inside"})


class Cut(unittest.TestCase):
    def test_right_and_left_of_the_line_seen_with_the_normal_towards_the_eye(self) -> None:
        line = Line(FRONT, np.array([[-500.0, 20.0], [500.0, 20.0]]), ((0, 1),))
        minus, plus = cut_along(shapes.box(100, 40, 60), line, (0.0, 0.0, 1.0))
        self.assertEqual((minus.side, plus.side), ("-", "+"))
        self.assertAlmostEqual(minus.solid.volume_mm3, 100 * 40 * 20, places=6)
        self.assertAlmostEqual(plus.solid.volume_mm3, 100 * 40 * 40, places=6)
        self.assertEqual((minus.ends, plus.ends), (((0, -1),), ((0, 1),)))
        self.assertEqual((minus.off, plus.off), (None, (0.0, 0.0, 1.0)))

    def test_a_line_along_a_face_cuts_nothing_off(self) -> None:
        for height, side in ((60.0, "-"), (0.0, "+"), (60.0 - 3e-4, "-"), (3e-4, "+")):  # also a hair off
            line = Line(FRONT, np.array([[-500.0, height], [500.0, height]]), ((0, 1),))
            self.assertEqual([c.side for c in cut_along(shapes.box(100, 40, 60), line)], [side])

    def test_a_line_that_grazes_a_round_body_cuts_no_crumb_off(self) -> None:
        """Seen from anywhere: a crumb of 0.4 micrometres is none, one of 3 is a piece, however small."""
        rng = np.random.default_rng(1)
        for _ in range(6):
            frame = plane_frame(np.zeros(3), rng.normal(size=3))
            body = shapes.tube(30, 20, 50).placed(np.column_stack([frame.to_world[:, :3], np.zeros(3)]))
            edge = float(body.placed(frame.to_frame).bounds[0][0])
            for into, count in ((4e-4, 1), (3e-3, 2)):
                line = Line(frame, np.array([[edge + into, -900.0], [edge + into, 900.0]]), ((0, 1),))
                self.assertEqual(len(cut_along(body, line)), count, into)

    def test_what_is_thin_is_no_skin_where_it_is_not_along_the_face(self) -> None:
        """A tenth of a millimetre off is a piece, however thin."""
        line = Line(FRONT, np.array([[-500.0, 59.9], [500.0, 59.9]]), ((0, 1),))
        cuts = cut_along(shapes.box(100, 40, 60), line)
        self.assertAlmostEqual(cuts[1].solid.volume_mm3, 100 * 40 * 0.1, places=4)

    def test_a_model_far_from_the_line_is_on_one_side_of_it(self) -> None:
        line = Line(FRONT, np.array([[-5.0, 0.0], [5.0, 0.0]]), ((0, 1),))
        far = Solid.box([3000.0, 0.0, 50.0], [3010.0, 10.0, 60.0])
        self.assertEqual([c.side for c in cut_along(far, line)], ["+"])
        self.assertEqual([c.side for c in cut_along(far.moved(0, 0, -200), line)], ["-"])

    def test_its_planes_look_to_the_left_and_lie_through_its_straight_pieces(self) -> None:
        line = Line(FRONT, np.array([[-9.0, 4.0], [0.0, 4.0], [0.0, 9.0]]), ((0, 1), (1, 2)))
        level, upright = line.planes()
        np.testing.assert_allclose(level.n, [0, 0, 1], atol=1e-12)
        np.testing.assert_allclose(upright.n, [-1, 0, 0], atol=1e-12)
        self.assertAlmostEqual(level.offset, 4.0)
        self.assertAlmostEqual(upright.offset, 0.0)

    def test_pieces_settled_into_other_planes_move_the_points_between_them(self) -> None:
        line = Line(FRONT, np.array([[-9.0, 4.0], [0.0, 4.0], [0.0, 9.0]]), ((0, 1), (1, 2)))
        level, upright = line.planes()
        moved = line.in_planes([level.raised(0.25), upright.raised(-0.5)])
        np.testing.assert_allclose(moved.points, [[-9.0, 4.25], [0.5, 4.25], [0.5, 9.0]], atol=1e-9)


if __name__ == "__main__":
    unittest.main()

"""The room that walls enclose, closed and open ones, by shapes whose room is known; how thick a wall is for the most part."""

import math
import unittest

import shapely
from shapely.geometry import MultiPolygon, Point, Polygon, box

from hinoki.core.geometry.enclosed import enclosed, is_closed
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import least_wall, usual_wall

RING = Point(0, 0).buffer(40, 64).difference(Point(0, 0).buffer(37, 64))
CHANNEL = box(-50, 0, 50, 60).difference(box(-47, 3, 47, 61))


def half_ring(radius: float, wall: float) -> Polygon:
    return Point(0, 0).buffer(radius, 64).difference(Point(0, 0).buffer(radius - wall, 64)).intersection(box(-99, 0, 99, 99))


class Rooms(unittest.TestCase):
    def test_a_closed_wall_encloses_its_hole(self) -> None:
        room, mouths = enclosed(as_multi(RING))
        self.assertAlmostEqual(room.area, math.pi * 37**2, delta=10)
        self.assertTrue(mouths.is_empty)

    def test_a_channel_encloses_what_is_between_its_walls_and_is_open_from_one_to_the_other(self) -> None:
        room, mouths = enclosed(as_multi(CHANNEL))
        self.assertAlmostEqual(room.area, 94 * 57)
        self.assertAlmostEqual(mouths.length, 94, delta=0.01)
        self.assertEqual(mouths.bounds[1::2], (60, 60))

    def test_half_a_ring_encloses_half_a_disc(self) -> None:
        room, mouths = enclosed(as_multi(half_ring(40, 3)))
        self.assertAlmostEqual(room.area, math.pi * 37**2 / 2, delta=5)
        self.assertAlmostEqual(mouths.length, 74, delta=0.01)

    def test_two_walls_that_face_each_other_enclose_what_is_between(self) -> None:
        room, _ = enclosed(MultiPolygon([box(0, 0, 3, 120), box(60, 0, 63, 120)]))
        self.assertAlmostEqual(room.area, 57 * 120)

    def test_a_straight_wall_one_that_bends_both_ways_and_legs_far_apart_enclose_nothing(self) -> None:
        bent = shapely.LineString([(x, 20 * math.sin(x / 20)) for x in range(126)]).buffer(1.5, cap_style="flat")
        legs = MultiPolygon([box(0, 0, 20, 20), box(120, 0, 140, 20)])
        for name, shape in (("straight", as_multi(box(0, 0, 3, 120))), ("bent", as_multi(bent)), ("legs", legs)):
            self.assertTrue(enclosed(shape).room.is_empty, name)

    def test_how_much_of_it_must_be_walled_can_be_asked(self) -> None:
        legs = MultiPolygon([box(0, 0, 20, 20), box(40, 0, 60, 20)])  # half of the square between them
        self.assertFalse(enclosed(legs).room.is_empty)
        self.assertTrue(enclosed(legs, 0.55).room.is_empty)

    def test_rooms_beside_each_other_are_counted_where_they_are_asked_for_and_open_one_way(self) -> None:
        """A tray with three compartments, cut through; and walls like an H, open above and below."""
        comb = as_multi(box(0, 0, 92, 30).difference(MultiPolygon([box(30 * k + 2, 2, 30 * k + 30, 31) for k in range(3)])))
        self.assertTrue(enclosed(comb).room.is_empty)
        room, mouths = enclosed(comb, 0.55, several=True)
        self.assertAlmostEqual(room.area, 3 * 28 * 28)
        self.assertAlmostEqual(mouths.length, 3 * 28, delta=0.01)
        aitch = as_multi(box(0, 0, 40, 62).difference(MultiPolygon([box(2, -1, 38, 30), box(2, 32, 38, 63)])))
        self.assertTrue(enclosed(aitch, 0.55, several=True).room.is_empty)

    def test_a_small_opening_in_a_wall_does_not_make_it_closed(self) -> None:
        pierced = CHANNEL.difference(Point(0, 1.5).buffer(1))
        self.assertFalse(is_closed(pierced))
        self.assertTrue(is_closed(RING))
        self.assertAlmostEqual(enclosed(as_multi(pierced)).room.area, 94 * 57)


class Walls(unittest.TestCase):
    def test_the_usual_wall_is_not_that_of_a_thin_end(self) -> None:
        """A strip of 3 mm that runs out in a point over its last fifth."""
        strip = as_multi(Polygon([(0, 0), (80, 0), (100, 1.5), (80, 3), (0, 3)]))
        usual, least = usual_wall(strip), least_wall(strip)
        assert usual is not None
        assert least is not None
        self.assertAlmostEqual(usual, 3.0, places=6)
        self.assertLess(least[0], 0.5)

    def test_a_shape_without_walls_has_none(self) -> None:
        self.assertIsNone(usual_wall(MultiPolygon()))


if __name__ == "__main__":
    unittest.main()

"""Polygons from the rings of a section: holes in the right outlines, however many there are."""

import unittest

import numpy as np
import shapely
from shapely import Polygon

from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import polygons_of


def square(x: float, y: float, half: float, hole: bool = False) -> Points:
    ring = np.array([x, y]) + half * np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]])
    return ring[::-1] if hole else ring


class Rings(unittest.TestCase):
    def test_an_island_in_a_hole_in_an_outline(self) -> None:
        rings = [square(0, 0, 1), square(0, 0, 10), square(0, 0, 4, hole=True), square(0, 0, 0.5, hole=True)]
        found = polygons_of(rings)
        self.assertEqual((len(found.geoms), found.area), (2, 400 - 64 + 4 - 1))
        self.assertFalse(found.contains(shapely.Point(2, 0)))
        self.assertTrue(found.contains(shapely.Point(0.7, 0)))

    def test_holes_that_touch_their_outline_at_a_corner(self) -> None:
        rings = [square(0, 0, 10), square(9, 9, 1, hole=True), square(-5, 0, 2, hole=True)]
        self.assertAlmostEqual(polygons_of(rings).area, 400 - 4 - 16)

    def test_nothing_and_crumbs(self) -> None:
        self.assertTrue(polygons_of([]).is_empty)
        self.assertTrue(polygons_of([square(0, 0, 1e-6), np.zeros((2, 2))]).is_empty)

    def test_as_even_odd_says_on_random_nests(self) -> None:
        rng = np.random.default_rng(3)
        for _ in range(30):
            rings, wanted = [], Polygon()
            for x in range(4):
                half = rng.uniform(8, 10)
                for depth in range(rng.integers(1, 6)):
                    rings.append(square(25 * x, 0, half, hole=depth % 2 == 1))
                    wanted = shapely.symmetric_difference(wanted, Polygon(rings[-1]))
                    half *= rng.uniform(0.4, 0.8)
            rng.shuffle(rings)
            self.assertLess(shapely.symmetric_difference(polygons_of(rings), wanted).area, 1e-9)


if __name__ == "__main__":
    unittest.main()

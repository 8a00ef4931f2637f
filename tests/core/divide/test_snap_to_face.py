"""Planes that all but lie in a face of the model are moved into it: the right way, by as much as they were off."""

import unittest

import numpy as np

from hinoki.core.geometry.filmless_cut import FILM_MM
from hinoki.core.geometry.solid import Solid
from tests.checked import findings_of
from tests.shapes import box, built, level, plan_for, stl_of

STEP = box(60, 60, 30).plus([Solid.box([-20, -20, 30], [20, 20, 60])])


class Settled(unittest.TestCase):
    def test_from_above_and_from_below_the_plane_comes_to_lie_in_the_step(self) -> None:
        data = stl_of(STEP)
        for off in (0.4 * FILM_MM, -0.4 * FILM_MM, 0.9 * FILM_MM, -0.9 * FILM_MM):
            with self.subTest(off=off):
                made = built(data, plan_for(data, level(1, 30 + off)))
                low, high = (next(p for p in made.parts if p.key == key).solid for key in ("p1-", "p1+"))
                self.assertAlmostEqual(float(low.bounds[1][2]), 30.0, places=9)
                self.assertAlmostEqual(float(high.bounds[0][2]), 30.0, places=9)
                self.assertAlmostEqual(low.volume_mm3, 60 * 60 * 30, delta=1e-6)
                self.assertEqual(
                    [f.code for f in findings_of(made) if f.code in ("film", "parting-settled")], ["parting-settled"]
                )

    def test_a_plane_further_off_stays_where_it_is(self) -> None:
        data = stl_of(STEP)
        made = built(data, plan_for(data, level(1, 30 + 3 * FILM_MM)))
        tops = [float(p.solid.bounds[1][2]) for p in made.parts if p.key == "p1-"]
        self.assertTrue(np.allclose(tops, 30 + 3 * FILM_MM, atol=1e-6))


if __name__ == "__main__":
    unittest.main()

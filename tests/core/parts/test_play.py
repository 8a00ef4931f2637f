"""Play between two bodies against formulas: concentric cylinders, planes apart, bodies that run into each other."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.geometry.solid import Solid
from hinoki.core.parts.play import play_between
from tests.effort import tried
from tests.shapes import box

SIDES = 256


def peg_in_bore(radius: float, gap: float, shift: float = 0.0) -> tuple[Solid, Solid]:
    """A round peg in a round bore through a block, both of so many sides that chords do not show."""
    bore = Solid.prism(radius + gap, -1, 31, SIDES)
    return Solid.prism(radius, -5, 35, SIDES).moved(shift, 0, 0), box(4 * radius, 4 * radius, 30).minus([bore])


class Play(unittest.TestCase):
    @tried(10)
    @given(st.floats(4, 25), st.floats(0.05, 1.5), st.floats(0, 0.95))
    def test_concentric_and_eccentric_cylinders(self, radius: float, gap: float, share: float) -> None:
        """Radii r and r + c, axes e apart: the gap runs from c − e to c + e (plain bearings: film thickness c + e cos θ; from
        memory)."""
        off = share * gap
        found = play_between(*peg_in_bore(radius, gap, off), 3.0)
        chord = (radius + gap) * (1 - np.cos(np.pi / SIDES))
        assert found.least_mm is not None
        assert found.greatest_mm is not None
        assert found.mean_mm is not None
        self.assertAlmostEqual(found.least_mm, gap - off, delta=2 * chord + 1e-4)
        self.assertAlmostEqual(found.greatest_mm, gap + off, delta=2 * chord + 0.03 * off + 1e-3)
        self.assertAlmostEqual(found.mean_mm, gap, delta=2 * chord + 0.02)
        self.assertAlmostEqual(found.facing_mm2, 2 * np.pi * radius * 30, delta=0.03 * 2 * np.pi * radius * 30 + 8 * radius)
        assert found.least_at_mm is not None
        if share > 0.3:
            np.testing.assert_allclose(found.least_at_mm[:2], (radius + gap, 0.0), atol=0.12 * radius)

    def test_planes_apart(self) -> None:
        for apart in (0.0, 0.25, 1.7):
            found = play_between(box(30, 20, 10), box(30, 20, 10).moved(0, 0, 10 + apart), 2.0)
            self.assertAlmostEqual(found.least_mm or 0.0, apart, places=6)
            self.assertAlmostEqual(found.greatest_mm or 0.0, apart, places=4)
            self.assertAlmostEqual(found.facing_mm2, 600, places=3)
            self.assertEqual(found.overlap_mm3, 0.0)

    def test_a_step_has_two_gaps(self) -> None:
        low = box(40, 20, 10).minus([Solid.box([0, -11, 9], [21, 11, 11])])
        found = play_between(low, box(40, 20, 10).moved(0, 0, 10.4), 3.0)
        self.assertAlmostEqual(found.least_mm or 0, 0.4, places=6)
        self.assertAlmostEqual(found.greatest_mm or 0, 1.4, places=4)
        self.assertAlmostEqual(found.mean_mm or 0, 0.9, places=2)
        assert found.greatest_at_mm is not None
        self.assertGreater(found.greatest_at_mm[0], 0)

    def test_what_runs_into_each_other_is_measured(self) -> None:
        found = play_between(box(20, 20, 20), box(20, 20, 20).moved(0, 0, 17.5), 2.0)
        self.assertAlmostEqual(found.overlap_mm3, 20 * 20 * 2.5, places=3)
        self.assertEqual(found.least_mm, 0.0)
        self.assertAlmostEqual(found.deepest_mm, 2.5, places=3)
        assert found.overlap_at_mm is not None
        np.testing.assert_allclose(found.overlap_at_mm, (0, 0, 18.75), atol=1e-6)

    def test_what_is_far_apart_has_no_play(self) -> None:
        found = play_between(box(10, 10, 10), box(10, 10, 10).moved(30, 0, 0), 2.0)
        self.assertEqual((found.least_mm, found.greatest_mm, found.facing_mm2, len(found.gaps)), (None, None, 0.0, 0))

    def test_a_small_body_at_a_large_one_is_measured_where_they_meet(self) -> None:
        wall = box(900, 20, 600)
        found = play_between(wall, box(10, 10, 10).moved(0, 15.3, 100), 1.0)
        self.assertAlmostEqual(found.least_mm or 0, 0.3, places=5)
        self.assertLess(len(found.gaps), 50_000)
        self.assertAlmostEqual(found.facing_mm2, 100, delta=1.0)

"""Times of lines against the formulas of even acceleration, and against a step-by-step simulation."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.printed.speeds import bends_of, corner_speeds, seconds, stop_seconds


class OneStretch(unittest.TestCase):
    @given(st.floats(0.05, 500), st.floats(10, 300), st.floats(100, 10_000))
    def test_from_rest_to_rest(self, long: float, speed: float, more: float) -> None:
        """s = v t − v² / a where full speed is reached, else t = 2 √(s / a) (textbook kinematics)."""
        by_hand = long / speed + speed / more if long >= speed**2 / more else 2 * math.sqrt(long / more)
        found = seconds(np.array([(0.0, 0.0), (long, 0.0)]), speed, more)
        self.assertAlmostEqual(found, by_hand, delta=1e-9 * max(1, by_hand))
        self.assertAlmostEqual(found, long / speed + stop_seconds(speed, more, long), delta=1e-9 * max(1, by_hand))

    def test_a_line_in_short_pieces_takes_no_longer(self) -> None:
        whole = np.array([(0.0, 0.0), (80.0, 0.0)])
        parts = np.column_stack([np.linspace(0, 80, 41), np.zeros(41)])
        self.assertAlmostEqual(seconds(parts, 60, 1000), seconds(whole, 60, 1000), places=9)

    def test_nothing_takes_no_time(self) -> None:
        self.assertEqual(seconds(np.zeros((3, 2)), 60, 1000), 0.0)


class Bends(unittest.TestCase):
    def test_by_how_much_a_line_turns(self) -> None:
        square = np.array([(0, 0), (4, 0), (4, 3), (0, 3), (0, 0)], dtype=float)
        np.testing.assert_allclose(bends_of(square, closed=True), [90] * 4)
        np.testing.assert_allclose(bends_of(square, closed=False), [90] * 3)
        np.testing.assert_allclose(bends_of(np.array([(0.0, 0), (5, 0), (1, 0)]), closed=False), [180])

    def test_a_square_corner_is_taken_at_five_and_a_straight_one_at_full_speed(self) -> None:
        np.testing.assert_allclose(corner_speeds(np.array([0.0, 90.0, 180.0]), 60), [60, 5, 5 / math.sqrt(2)])

    def test_what_a_corner_costs_on_long_stretches(self) -> None:
        """Slowing from v to the corner's speed and back costs (v − c)² / (a v) beyond its way (textbook kinematics)."""
        bent = np.array([(0.0, 0.0), (100.0, 0.0), (100.0, 100.0)])
        straight = np.array([(0.0, 0.0), (200.0, 0.0)])
        cost = (60 - 5) ** 2 / (1500 * 60)
        self.assertAlmostEqual(seconds(bent, 60, 1500) - seconds(straight, 60, 1500), cost, places=9)

    @given(st.lists(st.tuples(st.floats(0, 30), st.floats(0, 30)), min_size=3, max_size=8), st.floats(20, 200))
    def test_against_a_simulation_in_small_steps(self, points: list[tuple[float, float]], speed: float) -> None:
        """v² may rise and fall by 2 a s: worked out on a fine grid along the line, and summed."""
        line = np.array(points)
        legs = np.hypot(*np.diff(line, axis=0).T)
        line = line[np.concatenate([[True], legs > 0.5])]
        if len(line) < 2:
            return
        legs, more = np.hypot(*np.diff(line, axis=0).T), 1500.0
        ends = np.concatenate([[0.0], np.cumsum(legs)])
        grid = np.unique(np.concatenate([np.linspace(0, ends[-1], 40_001), ends]))
        limit = np.full(len(grid), speed**2)
        at = np.searchsorted(grid, ends)
        limit[at[0]] = limit[at[-1]] = 0.0
        limit[at[1:-1]] = corner_speeds(bends_of(line, closed=False), speed) ** 2
        climb = 2 * more * grid
        limit = np.minimum.accumulate(limit - climb) + climb
        limit = np.minimum.accumulate((limit + climb)[::-1])[::-1] - climb
        fast = np.sqrt(np.maximum(limit, 0))
        simulated = float((2 * np.diff(grid) / np.maximum(fast[:-1] + fast[1:], 1e-9)).sum())
        self.assertAlmostEqual(seconds(line, speed, more) / simulated, 1, delta=2e-3)

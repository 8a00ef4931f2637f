"""The print log against outside: Wilson's interval, medians and quartiles, costs of the trade, ISO 8601."""

import re
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import binomtest

from hinoki.core.batch.estimate.estimate import Estimate
from hinoki.core.batch.estimate.factor import PLAIN, Factor
from hinoki.core.batch.spares import SMALL_FOOT_MM2 as SPARE_FOOT_MM2
from hinoki.core.printlog.learning import factor_of, wilson_upper
from hinoki.core.workshop.materials import Material
from hinoki.printers.simulator.print_job import SMALL_MM2
from hinoki.store.tables.sources import now
from tests.effort import tried


class Outside(unittest.TestCase):
    @tried(40)
    @given(st.integers(1, 400).flatmap(lambda n: st.tuples(st.integers(0, n), st.just(n))))
    def test_wilsons_interval_is_that_of_scipy(self, pair: tuple[int, int]) -> None:
        """E. B. Wilson 1927, JASA 22:209; scipy.stats.binomtest, method “wilson”, 90 % two-sided."""
        hits, of = pair
        theirs = binomtest(hits, of).proportion_ci(confidence_level=0.9, method="wilson").high
        self.assertAlmostEqual(wilson_upper(hits, of), theirs, places=4)

    @tried(40)
    @given(st.lists(st.floats(0.5, 2.0), min_size=2, max_size=30))
    def test_factor_and_spread_are_median_and_quartiles_of_numpy(self, ratios: list[float]) -> None:
        found = factor_of([(100.0, 100.0 * r, 50.0, 50.0 * r) for r in ratios])
        low, middle, high = np.percentile(ratios, [25, 50, 75])
        self.assertAlmostEqual(found.time, middle, places=3)
        self.assertAlmostEqual(found.time_spread, (high - low) / 2, places=3)
        self.assertEqual((found.mass, found.prints, found.weighed), (found.time, len(ratios), len(ratios)))

    def test_costs_of_the_trade_after_a_correction(self) -> None:
        """Common practice: 124 g at 20 a kilogram = 2.48; with 0.098 of power 2.58. Printed with a tenth more material."""
        material = Material(price=20.0)
        stuff = material.cost(124.0 / material.density_g_cm3 * 1000)
        raw = Estimate(124.0, 0.0, 40.0, 913.0, 0.3, stuff + 0.098, 100, stuff)
        self.assertAlmostEqual(raw.cost, 2.58, delta=0.005)
        self.assertAlmostEqual(raw.corrected(PLAIN).cost, raw.cost, places=9)
        self.assertAlmostEqual(raw.corrected(Factor(mass=1.1, weighed=4)).cost, 1.1 * 2.48 + 0.098, delta=0.005)

    def test_what_counts_as_a_small_footprint_is_one_fact(self) -> None:
        """Common practice: small footprints come loose from the bed; spares and the simulated printer mean the same by it."""
        self.assertEqual(SPARE_FOOT_MM2, SMALL_MM2)

    def test_times_are_written_as_iso_8601_in_utc(self) -> None:
        """ISO 8601-1:2019, 5.4.2: date and time of day with the difference from UTC, extended format."""
        self.assertRegex(now(), re.compile(r"^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}:\d{2}\.\d{3}\+00:00$"))

"""Hardware tables against published tables, the magnet formulas against worked examples, and facts of the trade."""

import csv
import importlib.util
import math
import unittest
from pathlib import Path

from hinoki.core.workshop.hardware import Magnet, magnets
from hinoki.core.workshop.screw_tables import clearance_hole_mm, head_of, inserts_of, nut_of

SIZES = ((2, "M2-0.4"), (2.5, "M2.5-0.45"), (3, "M3-0.5"), (4, "M4-0.7"), (5, "M5-0.8"), (6, "M6-1"), (8, "M8-1.25"))


def published(name: str) -> dict[str, dict[str, str]]:
    """A table of bd_warehouse 0.4.0 (PyPI; only its CSV files are used), by size."""
    found = importlib.util.find_spec("bd_warehouse")
    assert found is not None
    assert found.origin is not None
    with (Path(found.origin).parent / "data" / f"{name}.csv").open() as file:
        return {row["Size"]: {k.strip(): v for k, v in row.items()} for row in csv.DictReader(file)}


class Tables(unittest.TestCase):
    def test_nuts_of_iso_4032(self) -> None:
        known = published("hex_nut_parameters")
        for size, name in SIZES:
            self.assertEqual(nut_of(size), (float(known[name]["iso4032:s"]), float(known[name]["iso4032:m"])), name)

    def test_cap_screws_of_iso_4762(self) -> None:
        known = published("socket_head_cap_parameters")
        for size, name in SIZES:
            head = head_of(size, countersunk=False)
            self.assertEqual(head.diameter_mm, float(known[name]["iso4762:dk"]), name)
            self.assertEqual(head.high_mm, float(known[name]["iso4762:k"]), name)

    def test_countersunk_screws_of_iso_7046_fit_their_sinks(self) -> None:
        """Hinoki's sinks are for the theoretical, sharp head, so the published head of the real one lies within."""
        known = published("countersunk_head_parameters")
        for size, name in SIZES:
            real = float(known[name]["iso7046:dk"])
            self.assertGreaterEqual(head_of(size, countersunk=True).diameter_mm, real, name)
            self.assertLessEqual(head_of(size, countersunk=True).diameter_mm, 1.35 * real, name)

    def test_clearance_holes_of_iso_273(self) -> None:
        known = published("clearance_hole_sizes")
        for size, name in SIZES:
            self.assertEqual(clearance_hole_mm(size), float(known[name.split("-")[0]]["Normal"]), name)


class Pull(unittest.TestCase):
    def test_the_bound_of_a_worked_example(self) -> None:
        """B = 1.3 T on a disc of 10 mm: 1.3² · 78.54e-6 / (2 · 4πe-7) = 52.8 N (textbook formula, worked by hand)."""
        self.assertAlmostEqual(Magnet("disc", 10, 5).most_pull_n(), 52.81, delta=0.02)

    def test_in_contact_it_is_the_bound_times_t2_over_r2_plus_t2(self) -> None:
        """At no gap the field between two equal discs is Br·t/√(r² + t²) (textbook)."""
        for one in (Magnet("disc", 10, 5), Magnet("disc", 6, 2), Magnet("disc", 20, 5)):
            r, t = one.diameter_mm / 2, one.thick_mm
            self.assertAlmostEqual(one.pull_n(0.0), one.most_pull_n() * t**2 / (r**2 + t**2), places=9)

    def test_blocks_and_rings_count_by_the_area_of_a_pole(self) -> None:
        self.assertAlmostEqual(Magnet("block", 20, 3, width_mm=10).area_mm2, 200)
        self.assertAlmostEqual(Magnet("ring", 10, 3, hole_mm=4).area_mm2, math.pi * (25 - 4))


class Trade(unittest.TestCase):
    """Facts of the trade (common practice)."""

    def test_half_inch_discs_are_on_sale(self) -> None:
        self.assertIn(12.7, {m.diameter_mm for m in magnets() if m.shape == "disc"})

    def test_inserts_m2_to_m5_come_in_two_lengths_and_leave_a_wall(self) -> None:
        for size in (2, 2.5, 3, 4, 5):
            two = inserts_of(size)
            self.assertEqual(len(two), 2, size)
            for insert in two:
                self.assertGreater(insert.bore_mm, size)
                self.assertGreaterEqual((insert.boss_mm - insert.bore_mm) / 2, 1.19)


if __name__ == "__main__":
    unittest.main()

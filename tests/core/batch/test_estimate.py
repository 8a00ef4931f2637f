"""Estimates: solid and hollow blocks by formula, cost by the facts of the trade, time that adds up."""

import math
import unittest
from dataclasses import replace

import numpy as np

from hinoki.core.batch.estimate.estimate import Estimate, area_plot, estimate, summed, together
from hinoki.core.batch.estimate.factor import Factor
from hinoki.core.batch.estimate.layers import layered
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.workshop.materials import Material
from hinoki.core.workshop.printers import Printer
from tests.shapes import box, tube

BED = Printer(bed_mm=(220, 220), height_mm=250)
HERE = np.column_stack([np.eye(3), np.zeros(3)])
PLA = Material(density_g_cm3=1.24, price=20.0)


def of(solid: Solid, support_mm3: float = 0.0, material: Material = PLA, power_price: float = 0.0, **more: object) -> Estimate:
    return estimate(solid, HERE, support_mm3, BED, material, PrintSettings(**more), power_price)  # type: ignore[arg-type]


class Volumes(unittest.TestCase):
    def test_a_full_block_weighs_its_volume(self) -> None:
        self.assertAlmostEqual(of(box(40, 30, 20), infill_percent=100).mass_g, 24 * 1.24, delta=0.01)

    def test_walls_and_nothing_else(self) -> None:
        # three lines of 0.45 mm along the outline of a block, no skins, no infill
        made = layered(box(40, 30, 20), HERE, 0.2, 3 * 0.45, 0.0, 0.0)
        self.assertAlmostEqual(made.walls_mm3, (40 * 30 - (40 - 2.7) * (30 - 2.7)) * 20, delta=0.5)
        self.assertEqual((made.skins_mm3, made.infill_mm3), (0.0, 0.0))

    def test_walls_skins_and_infill_of_a_block(self) -> None:
        made = layered(box(40, 30, 20), HERE, 0.2, 1.35, 0.8, 0.15)
        core = (40 - 2.7) * (30 - 2.7)
        self.assertAlmostEqual(made.skins_mm3, 2 * 0.8 * core, delta=1)
        self.assertAlmostEqual(made.infill_mm3, 0.15 * (20 - 1.6) * core, delta=1)

    def test_a_thin_tube_is_all_wall(self) -> None:
        solid = tube(30, 28, 40)
        self.assertAlmostEqual(of(solid, infill_percent=0, skins=0).mass_g, PLA.mass_g(solid.volume_mm3), delta=0.05)

    def test_a_step_gets_a_skin_on_its_tread(self) -> None:
        stair = box(40, 40, 20).plus([Solid.box([-20, -20, 0], [0, 20, 40])])
        made = layered(stair, HERE, 0.2, 1.0, 0.8, 0.0)
        tread = 20 * 38 - 0.0  # the wall of the upper part covers a strip of it
        self.assertAlmostEqual(made.skins_mm3, 0.8 * (38 * 38 + 18 * 38 + tread), delta=0.05 * made.skins_mm3)

    def test_above_a_neck_that_is_all_wall_skins_go_on(self) -> None:
        """Two plates with a rod between them that is thinner than its walls: each plate has both its skins."""
        plates = box(40, 30, 10).plus([Solid.cylinder(1, 9, 21), box(40, 30, 10).moved(0, 0, 20)])
        made = layered(plates, HERE, 0.2, 1.35, 0.8, 0.0)
        self.assertAlmostEqual(made.skins_mm3, 4 * 0.8 * (40 - 2.7) * (30 - 2.7), delta=0.01 * made.skins_mm3)

    def test_nothing_at_all_weighs_nothing(self) -> None:
        empty = of(box(40, 30, 20), walls=0, skins=0, infill_percent=0)
        self.assertEqual((empty.mass_g, empty.cost), (0.0, 0.0))
        self.assertGreater(empty.minutes, 0)

    def test_a_brim_is_one_layer_as_wide_as_asked_along_the_outline_of_the_first(self) -> None:
        without, with_ = (of(box(40, 30, 20), brim_mm=b) for b in (0.0, 5.0))
        self.assertAlmostEqual(with_.mass_g - without.mass_g, PLA.mass_g(2 * (40 + 30) * 5 * 0.2), delta=0.01)

    def test_support_counts_as_full_as_it_prints(self) -> None:
        without, with_ = (of(box(40, 30, 20), support_mm3=s) for s in (0.0, 10_000.0))
        self.assertAlmostEqual(with_.mass_g - without.mass_g, PLA.mass_g(2000), delta=1e-6)
        self.assertAlmostEqual(with_.support_g, PLA.mass_g(2000), delta=1e-6)


class Factors(unittest.TestCase):
    def test_what_a_corrected_estimate_rests_on_is_told(self) -> None:
        self.assertEqual(Factor().rests_on, "nothing learned yet: as estimated, 20 % either way")
        one = Factor(time=1.2, time_spread=0.12, prints=1)
        self.assertEqual(one.rests_on, "1 print: time × 1.20")
        self.assertEqual(Factor(time=1.2, time_spread=0.12, prints=3).rests_on, "3 prints: time × 1.20 ± 12 %")
        self.assertEqual(Factor(time=1.2, time_spread=0.9, prints=3).rests_on, "3 prints: time × 1.20 ± 90 %")
        weighed = Factor(time=0.9, time_spread=0.03, mass=1.05, prints=4, weighed=2)
        self.assertEqual(weighed.rests_on, "4 prints: time × 0.90 ± 3 %, mass × 1.05")

    def test_how_sure_it_is_grows_with_prints_that_agree(self) -> None:
        self.assertEqual(Factor(time=1.0, time_spread=0.01, prints=2).sure, Factor().sure)
        self.assertAlmostEqual(Factor(time=2.0, time_spread=0.1, prints=3).sure, 0.05)
        self.assertEqual(Factor(time=1.0, time_spread=0.001, prints=9).sure, 0.02)
        self.assertEqual(Factor(time=1.0, time_spread=0.9, prints=9).sure, Factor().sure)


class Money(unittest.TestCase):
    def test_what_124_grams_cost(self) -> None:
        # common practice: 124 g at 20 a kilogram is 2.48
        volume = 124 / 1.24 * 1000
        side = volume ** (1 / 3)
        self.assertAlmostEqual(of(box(side, side, side), infill_percent=100).cost, 2.48, delta=0.005)

    def test_power_is_added_by_the_hour(self) -> None:
        # common practice: with 0.098 of power the same piece costs 2.58
        found = of(box(46.416, 46.416, 46.416), infill_percent=100, power_price=0.30)
        self.assertAlmostEqual(found.cost, 2.48 + found.kwh * 0.30, delta=0.01)
        self.assertAlmostEqual(found.kwh, BED.watts / 1000 * found.minutes / 60, delta=1e-9)

    def test_three_parts_together(self) -> None:
        # common practice: parts of 124, 60 and 48 g cost 2.58, 1.255 and 1.005, together 4.84, power included
        grams, power = (124, 60, 48), (0.10, 0.055, 0.045)
        each = [PLA.cost(g / 1.24 * 1000) + p for g, p in zip(grams, power, strict=True)]
        self.assertTrue(np.allclose(each, [2.58, 1.255, 1.005], atol=0.001))
        self.assertAlmostEqual(sum(each), 4.84, delta=0.001)

    def test_resin_is_paid_by_the_litre_with_what_is_lost(self) -> None:
        resin = Material(process="resin", density_g_cm3=1.1, price=30.0)
        found = of(box(20, 20, 25), material=resin, resin_loss_percent=10)
        self.assertAlmostEqual(found.cost, 10_000 * 1.1 / 1e6 * 30, delta=1e-9)
        self.assertEqual(found.layers, 125)
        self.assertAlmostEqual(found.minutes, 125 * BED.layer_time_s / 60, delta=1e-9)


class Power(unittest.TestCase):
    def test_a_bed_takes_watts_by_the_hour_for_as_long_as_it_prints(self) -> None:
        """Not the sum of what its pieces would take alone: their layers are shared."""
        alone = [of(box(40, 30, 20)), of(box(20, 30, 20))]
        bed = together(alone, BED, PLA)
        self.assertLess(bed.minutes, sum(one.minutes for one in alone))
        self.assertAlmostEqual(bed.kwh, BED.watts / 1000 * bed.minutes / 60, places=9)


class Together(unittest.TestCase):
    def test_a_bed_costs_its_stuff_its_power_and_its_hours(self) -> None:
        printer = BED.model_copy(update={"hourly_cost": 0.5})
        alone = [estimate(box(40, 30, high), HERE, 0.0, printer, PLA, PrintSettings(), 0.3) for high in (20, 35)]
        bed = together(alone, printer, PLA, 0.3)
        self.assertAlmostEqual(bed.cost, bed.stuff_cost + bed.kwh * 0.3 + 0.5 * bed.minutes / 60, places=9)
        self.assertAlmostEqual(bed.stuff_cost, sum(one.stuff_cost for one in alone), places=9)
        self.assertLess(bed.cost, sum(one.cost for one in alone))

    def test_one_after_the_other_adds_up_and_is_as_sure_as_its_hours(self) -> None:
        one = replace(of(box(40, 30, 20)), minutes=30.0, sure=0.1)
        two = replace(of(box(40, 30, 35)), minutes=90.0, sure=0.3)
        both = summed([one, two])
        for name in ("mass_g", "support_g", "filament_m", "minutes", "kwh", "cost", "layers", "stuff_cost"):
            self.assertAlmostEqual(getattr(both, name), getattr(one, name) + getattr(two, name), places=9, msg=name)
        self.assertAlmostEqual(both.sure, (0.1 * 30 + 0.3 * 90) / 120)
        self.assertEqual(summed([]).minutes, 0)

    def test_what_was_learned_corrects_time_with_power_and_wear_and_stuff_with_its_length(self) -> None:
        raw = of(box(40, 30, 20), support_mm3=2000.0, power_price=0.3)
        made = raw.corrected(Factor(time=1.25, mass=0.9, prints=4, time_spread=0.02))
        for name in ("mass_g", "support_g", "filament_m", "stuff_cost"):
            self.assertAlmostEqual(getattr(made, name), 0.9 * getattr(raw, name), places=9, msg=name)
        for name in ("minutes", "kwh"):
            self.assertAlmostEqual(getattr(made, name), 1.25 * getattr(raw, name), places=9, msg=name)
        self.assertAlmostEqual(made.cost, 0.9 * raw.stuff_cost + 1.25 * (raw.cost - raw.stuff_cost), places=9)
        self.assertEqual((made.layers, made.sure), (raw.layers, Factor(time=1.25, prints=4, time_spread=0.02).sure))

    def test_the_areas_of_its_layers_over_height_are_thinned_and_rounded_for_a_plot(self) -> None:
        made = layered(Solid.cone(20, 5, 0, 90), HERE, 0.2, 1.2, 0.8, 0.15)
        plot = area_plot(made)
        self.assertTrue(60 <= len(plot) <= 130)
        self.assertEqual([z for z, _ in plot], sorted(z for z, _ in plot))
        for z, area in plot:
            self.assertAlmostEqual(area, math.pi * (20 - 15 * z / 90) ** 2, delta=12)
        self.assertTrue(any(round(z, 1) != z for z, _ in plot))


class Time(unittest.TestCase):
    def test_it_is_lines_at_speed_and_a_cost_a_layer(self) -> None:
        lively = BED.model_copy(update={"acceleration_mm_s2": 100_000.0})
        found = estimate(box(40, 30, 20), HERE, 0.0, lively, PLA, PrintSettings(infill_percent=100))
        lines = 24_000 / (0.2 * 0.45) / 60
        self.assertAlmostEqual(found.minutes, (lines + 100 * 4) / 60, delta=0.3)
        self.assertAlmostEqual(found.filament_m, 24_000 / (math.pi / 4 * 1.75**2) / 1000, delta=0.01)
        self.assertGreater(of(box(40, 30, 20), infill_percent=100).minutes, 1.05 * found.minutes)

    def test_grams_an_hour_at_fine_settings_are_those_of_the_trade(self) -> None:
        # common practice: about 7.4 to 8.2 g an hour at fine settings; a fine layer at an easy speed
        slow = Printer(bed_mm=(220, 220), height_mm=250, speed_mm_s=35)
        found = estimate(box(60, 60, 60), HERE, 0, slow, PLA, PrintSettings(layers="fine"))
        self.assertTrue(5.0 < found.mass_g / (found.minutes / 60) < 10.0)

    def test_on_one_bed_layers_are_shared(self) -> None:
        one = of(box(40, 30, 20))
        low, high = one.minutes_range
        self.assertTrue(low < one.minutes < high)
        four = together([one] * 4, BED, PLA)
        self.assertAlmostEqual(four.minutes, 4 * one.minutes - 3 * 100 * 4 / 60, delta=1e-6)
        self.assertAlmostEqual(four.mass_g, 4 * one.mass_g)
        self.assertEqual(four.layers, one.layers)

    def test_thicker_layers_are_faster_and_weigh_about_the_same(self) -> None:
        fine, coarse = (of(box(40, 40, 40), layers=name) for name in ("fine", "coarse"))
        self.assertGreater(fine.minutes, 1.5 * coarse.minutes)
        self.assertAlmostEqual(fine.mass_g, coarse.mass_g, delta=0.15 * fine.mass_g)

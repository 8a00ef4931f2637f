"""The simulated printer: the same for the same seed, riskier for small and slender things, in time that is given."""

import unittest

from hinoki.printers.simulator.print_job import HEATING_S, Object, Simulation, object_of
from tests.shapes import box

ROOM = (220.0, 220.0, 250.0)
BIG = Object("block", 3600.0, 40.0)
SMALL = Object("pin", 12.0, 20.0)


class Clock:
    def __init__(self) -> None:
        self.now = 0.0

    def __call__(self) -> float:
        return self.now


class Printing(unittest.TestCase):
    def setUp(self) -> None:
        self.clock = Clock()

    def printer(self, **more: object) -> Simulation:
        return Simulation("Sim", ROOM, self.clock, 1.0, **more)  # type: ignore[arg-type]

    def run_for(self, printer: Simulation, seconds: float) -> None:
        self.clock.now += seconds
        printer.go_on()

    def test_it_heats_then_prints_then_is_done(self) -> None:
        printer = self.printer(failures=False)
        job = printer.take("a", "a", 60.0, 30.0, 100, [BIG])
        self.run_for(printer, HEATING_S / 2)
        self.assertEqual((job.state, job.fraction), ("printing", 0.0))
        self.assertTrue(60 < printer.temperatures()[0] < 200)
        self.run_for(printer, HEATING_S / 2 + 30 * job.minutes)
        self.assertAlmostEqual(job.fraction, 0.5)
        self.run_for(printer, 30 * job.minutes + 1)
        self.assertEqual((job.state, round(job.used_g, 6)), ("done", round(job.grams, 6)))
        self.assertAlmostEqual(job.minutes / 60.0, printer.time_factor, delta=0.03)

    def test_one_waits_behind_the_other_and_no_time_is_lost(self) -> None:
        printer = self.printer(failures=False)
        one, two = (printer.take(k, k, 10.0, 5.0, 10, []) for k in "ab")
        self.assertEqual(two.state, "waiting")
        self.run_for(printer, 2 * HEATING_S + 60 * (one.minutes + two.minutes) + 1)
        self.assertEqual((one.state, two.state), ("done", "done"))

    def test_paused_time_does_not_count(self) -> None:
        printer = self.printer(failures=False)
        job = printer.take("a", "a", 60.0, 30.0, 100, [])
        self.run_for(printer, HEATING_S)
        printer.pause(job)
        self.run_for(printer, 1e6)
        self.assertEqual((job.state, job.fraction), ("paused", 0.0))
        printer.resume(job)
        self.run_for(printer, 60 * job.minutes + 1)
        self.assertEqual(job.state, "done")

    def test_it_runs_out_just_where_the_spool_ends(self) -> None:
        printer = self.printer(failures=False, filament_g=10.0)
        job = printer.take("a", "a", 60.0, 30.0, 100, [])
        self.run_for(printer, 1e6)
        self.assertEqual((job.state, job.why), ("paused", "out of filament"))
        self.assertAlmostEqual(job.used_g, 10.0, delta=1e-6)
        printer.load(100.0)
        printer.resume(job)
        self.run_for(printer, 1e6)
        self.assertEqual(job.state, "done")
        self.assertAlmostEqual(printer.filament_g, 100.0 - (job.grams - 10.0), delta=1e-6)

    def test_the_same_seed_prints_the_same(self) -> None:
        falls = [self.printer(seed=4).take("a", "a", 60, 30, 9, [BIG, SMALL] * 5).falls for _ in range(2)]
        self.assertEqual(*falls)

    def test_small_footprints_and_tall_thin_things_come_loose_more_often(self) -> None:
        """Common practice: small footprints come loose from the bed."""
        tall = Object("mast", 40.0, 120.0)
        counts = {"block": 0, "pin": 0, "mast": 0}
        for seed in range(400):
            for name, what, at in self.printer(seed=seed).take("a", "a", 60, 30, 9, [BIG, SMALL, tall]).falls:
                self.assertEqual(what, "came loose")
                self.assertTrue(0 < at < 1)
                counts[name] += 1
        self.assertLess(counts["block"], 20)
        self.assertGreater(counts["pin"], 4 * counts["block"])
        self.assertGreater(counts["mast"], counts["pin"])

    def test_what_lies_on_the_bed_is_measured(self) -> None:
        one = object_of("block", box(30, 20, 8).mesh)
        self.assertAlmostEqual(one.foot_mm2, 600.0, delta=1e-6)
        self.assertAlmostEqual(one.height_mm, 8.0)

    def test_a_job_sent_twice_is_one_and_after_a_restart_none(self) -> None:
        printer = self.printer()
        self.assertIs(printer.take("a", "a", 6, 3, 9, []), printer.take("a", "a", 6, 3, 9, []))
        printer.restart()
        self.assertEqual(printer.jobs, {})

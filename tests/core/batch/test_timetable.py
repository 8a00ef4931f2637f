"""Beds as even as can be, and when what is printed on which machine."""

import itertools
import unittest

from hinoki.core.batch.batches import Batch
from hinoki.core.batch.estimate.estimate import Estimate
from hinoki.core.batch.packing.item import rectangle
from hinoki.core.batch.packing.pack import Rules, pack
from hinoki.core.batch.packing.raster_bed import surface_of
from hinoki.core.batch.schedule import Run, timetable
from hinoki.core.join.joints import FaceRef
from hinoki.core.plan.batch_settings import Batching
from hinoki.core.plan.plan import Plan
from hinoki.core.workshop.materials import Material
from hinoki.core.workshop.printers import Printer
from tests.shapes import box, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
DATA = stl_of(box(60, 50, 60))
BED = Printer(id="bench", name="Bench", bed_mm=(150, 150), height_mm=150)


class Even(unittest.TestCase):
    def test_beds_are_as_even_as_they_can_be_and_no_more(self) -> None:
        items = [rectangle(f"{k}", 40, 40, minutes=m) for k, m in enumerate((300.0, 280.0, 100.0, 90.0, 60.0, 50.0, 40.0))]
        surface = surface_of(Printer(bed_mm=(90, 90), height_mm=100))
        plain, even = pack(items, surface, Rules()), pack(items, surface, Rules(even=True))
        self.assertEqual((len(plain.beds), len(even.beds)), (2, 2))
        self.assertLess(even.longest, plain.longest)
        self.assertLess(even.longest, 480)  # the half of 920 is 460

    def test_over_night_no_bed_takes_longer_than_nobody_is_there(self) -> None:
        self.assertEqual(Batching(aim="over night").most_minutes, 600)
        self.assertEqual(Batching(aim="over night", most_hours=8).most_minutes, 480)
        self.assertIsNone(Batching(aim="over night", from_hour=0, to_hour=24).most_minutes)

    def test_what_goes_by_height_counts_once_on_a_bed(self) -> None:
        items = [rectangle(f"{k}", 40, 40, minutes=500.0, height_minutes=500.0) for k in range(4)]
        packed = pack(items, surface_of(BED), Rules(most_minutes=600))
        self.assertEqual(len(packed.beds), 1)

    def test_tall_lie_with_tall(self) -> None:
        items = [rectangle(f"{k}", 70, 70, height=h) for k, h in enumerate((100, 10, 100, 10, 100, 10, 100, 10))]
        packed = pack(items, surface_of(BED), Rules(tall_together=True))
        heights = {i.name: i.height_mm for i in items}
        self.assertEqual([{heights[p.item] for p in bed.placed} for bed in packed.beds], [{100}, {10}])


class Timetable(unittest.TestCase):
    def batches(self, *hours: float, printer: Printer = BED) -> list[Batch]:
        return [
            Batch(k, "", k, printer, Material(), surface_of(printer), [], Estimate(0, 0, 0, h * 60, 0, 0, 1))
            for k, h in enumerate(hours, start=1)
        ]

    def runs(self, wish: Batching, *hours: float, printer: Printer = BED) -> list[Run]:
        return timetable(self.batches(*hours, printer=printer), Plan(printer=printer, batching=wish))

    def test_one_machine_prints_one_after_the_other_and_starts_only_while_someone_is_there(self) -> None:
        runs = self.runs(Batching(), 5, 9, 11)
        # 8 o'clock: the 11 h end by 19, the 5 h would end at 00:15 but nothing shorter is left before 22
        self.assertEqual([r.batch for r in runs], [3, 2, 1])
        for run in runs:
            self.assertTrue(8 <= run.starts % 1440 / 60 <= 22)
        self.assertEqual(runs[0].starts, 480)
        for a, b in itertools.pairwise(runs):
            self.assertGreaterEqual(b.starts, a.ends + 15)

    def test_what_ends_before_everyone_leaves_is_printed_by_day_and_the_long_one_over_night(self) -> None:
        runs = self.runs(Batching(), 30, 9, 4)
        # 8 to 22 o'clock: 9 h end at 17:00 and 4 h at 21:15, then the 30 h run through the night
        self.assertEqual([r.batch for r in runs], [2, 3, 1])
        self.assertEqual([round(r.ends) for r in runs], [480 + 540, 480 + 540 + 15 + 240, 480 + 540 + 15 + 240 + 15 + 1800])

    def test_several_machines_print_side_by_side(self) -> None:
        runs = self.runs(Batching(), 6, 6, 6, 6, printer=BED.model_copy(update={"machines": 2}))
        self.assertEqual({r.machine for r in runs}, {"Bench, 1 of 2", "Bench, 2 of 2"})
        self.assertEqual(max(r.ends for r in runs), 480 + 2 * 360 + 15)

    def test_an_equal_printer_helps_and_an_unequal_one_does_not(self) -> None:
        twin, other = (
            BED.model_copy(update={"id": "b", "name": "Twin"}),
            Printer(id="c", name="C", bed_mm=(90, 90), height_mm=90),
        )
        batches = self.batches(6, 6)
        helped = timetable(batches, Plan(printer=BED, more_printers=(twin, other)))
        self.assertEqual({r.machine for r in helped}, {"Bench", "Twin"})

    def test_someone_who_is_there_at_night(self) -> None:
        runs = self.runs(Batching(from_hour=20, to_hour=4), 3, 3, 3)
        self.assertEqual([r.starts / 60 for r in runs], [0, 3.25, 20])
        always = self.runs(Batching(from_hour=0, to_hour=0), 20, 20)
        self.assertEqual(always[1].starts, always[0].ends + 15)


if __name__ == "__main__":
    unittest.main()

"""Packing: nothing overlaps, nothing stands out, few beds, the same each time."""

import unittest

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.batch.packing.item import Item, Placement, centred, rectangle
from hinoki.core.batch.packing.pack import Rules, overlaps, pack
from hinoki.core.batch.packing.raster_bed import Bed, surface_of
from hinoki.core.batch.packing.rectpack_backend import boxed
from hinoki.core.errors import Cancelled
from hinoki.core.workshop.printers import KeptFree, Printer

SQUARE = surface_of(Printer(bed_mm=(200, 200), height_mm=200))
ROUND = surface_of(Printer(bed_mm=(200, 200), height_mm=200, bed_shape="round"))


def blob(rng: np.random.Generator, name: str) -> Item:
    """A star-shaped outline, some with a hole."""
    turn = np.linspace(0, 2 * np.pi, 12, endpoint=False)
    radius = rng.uniform(6, 35) * rng.uniform(0.5, 1.0, 12)
    outline = shapely.Polygon(radius[:, None] * np.column_stack([np.cos(turn), np.sin(turn)]))
    if rng.random() < 0.3:
        outline = outline.difference(outline.buffer(-0.35 * radius.min()))
    return Item(name, centred(outline.buffer(0)), float(rng.uniform(5, 150)), minutes=float(rng.uniform(10, 300)))


class Checked(unittest.TestCase):
    def test_what_lies_nearer_than_the_gap_or_stands_out_is_told(self) -> None:
        bed = Bed(SQUARE, 4.0)
        for name, x, y in (("a", 0.0, 0.0), ("b", 23.5, 0.0), ("c", 0.0, 24.0), ("d", 95.0, -80.0)):
            bed.put(rectangle(name, 20, 20), Placement(name, 0, 0.0, x, y))
        self.assertEqual(overlaps([bed], 4.0), [("a", "b"), ("d", "bed")])
        self.assertEqual(overlaps([bed]), [("d", "bed")])

    def test_turns_are_all_steps_of_a_full_turn_and_one_where_nothing_is_turned(self) -> None:
        self.assertEqual(Rules(turn_deg=90.0).turns.tolist(), [0.0, 90.0, 180.0, 270.0])
        self.assertEqual(Rules(turn_deg=0.0).turns.tolist(), [0.0])


class Laid(unittest.TestCase):
    def test_nothing_overlaps_or_stands_out_whatever_is_laid(self) -> None:
        rng = np.random.default_rng(7)
        for trial in range(40):
            items = [blob(rng, f"{trial}-{k}") for k in range(int(rng.integers(1, 9)))]
            surface = ROUND if trial % 3 == 0 else SQUARE
            packed = pack(items, surface, Rules(3.0, 90.0))
            self.assertEqual(packed.left_over, [])
            self.assertEqual(overlaps(packed.beds, 3.0), [], trial)
            laid = sorted(p.item for bed in packed.beds for p in bed.placed)
            self.assertEqual(laid, sorted(i.name for i in items))

    def test_a_ring_takes_smaller_ones_into_its_hole(self) -> None:
        ring = shapely.Point(0, 0).buffer(95).difference(shapely.Point(0, 0).buffer(70))
        items = [Item("ring", MultiPolygon([ring]), 10), *(rectangle(f"box {k}", 30, 30) for k in range(4))]
        packed = pack(items, SQUARE)
        self.assertEqual(len(packed.beds), 1)
        self.assertEqual(overlaps(packed.beds, 4.0), [])

    def test_four_quarters_of_a_bed_fill_it(self) -> None:
        # the optimum is plain: 4 · 98 + gaps of 4 = 200
        packed = pack([rectangle(f"{k}", 98, 98) for k in range(8)], SQUARE)
        self.assertEqual(len(packed.beds), 2)

    def test_never_more_beds_than_a_library_for_rectangles(self) -> None:
        rng = np.random.default_rng(11)
        for _ in range(8):
            items = [rectangle(f"{k}", *(float(v) for v in rng.uniform(20, 110, 2))) for k in range(14)]
            boxes = boxed(items, SQUARE, 4.0)
            assert boxes is not None
            self.assertEqual(overlaps(boxes, 4.0), [])
            self.assertLessEqual(len(pack(items, SQUARE, Rules(turn_deg=90.0)).beds), len(boxes))

    def test_what_fits_to_a_hair_fits(self) -> None:
        for x, y, rules in ((200.0, 200.0, Rules()), (199.9, 137.3, Rules()), (200.0, 200.0, Rules(most_minutes=720))):
            packed = pack([rectangle("one", x, y)], SQUARE, rules)
            self.assertEqual((len(packed.beds), packed.left_over), (1, []))
            self.assertEqual(overlaps(packed.beds), [])

    def test_what_fits_no_bed_is_left_over(self) -> None:
        high, wide = rectangle("high", 20, 20, 250), rectangle("wide", 300, 20)
        packed = pack([high, wide, rectangle("small", 20, 20)], SQUARE)
        self.assertEqual({i.name for i in packed.left_over}, {"high", "wide"})
        self.assertEqual(len(packed.beds), 1)

    def test_across_the_diagonal_one_is_turned(self) -> None:
        packed = pack([rectangle("long", 240, 10)], SQUARE)
        self.assertEqual(packed.left_over, [])
        self.assertEqual(overlaps(packed.beds), [])

    def test_no_bed_prints_longer_than_is_asked(self) -> None:
        items = [rectangle(f"{k}", 40, 40, minutes=200.0) for k in range(9)]
        packed = pack(items, SQUARE, Rules(most_minutes=720))
        self.assertEqual([len(b.placed) for b in packed.beds], [3, 3, 3])
        alone = pack([rectangle("slow", 40, 40, minutes=2000.0)], SQUARE, Rules(most_minutes=720))
        self.assertEqual(len(alone.beds), 1)

    def test_pinned_ones_stay_and_others_go_round_them(self) -> None:
        items = [rectangle(f"{k}", 80, 80) for k in range(4)]
        stays = Placement("2", 0, 30.0, 0.0, 0.0, pinned=True)
        packed = pack(items, SQUARE, pinned={"2": stays})
        self.assertIn(stays, packed.beds[0].placed)
        self.assertEqual(overlaps(packed.beds, 4.0), [])

    def test_forbidden_corners_stay_free(self) -> None:
        kept = (KeptFree(corner="back right", size_mm=(40, 40)), KeptFree(corner="front left", size_mm=(40, 40)))
        surface = surface_of(Printer(bed_mm=(200, 200), height_mm=200, kept_free=kept))
        corner = MultiPolygon([shapely.box(60, 60, 100, 100), shapely.box(-100, -100, -60, -60)])
        packed = pack([rectangle(f"{k}", 60, 60) for k in range(6)], surface)
        for bed in packed.beds:
            for outline in bed.outlines:
                self.assertEqual(outline.intersection(corner).area, 0)

    def test_a_bed_full_of_forbidden_corners_takes_nothing(self) -> None:
        kept = (KeptFree(corner="back right", size_mm=(200, 200)),)
        surface = surface_of(Printer(bed_mm=(200, 200), height_mm=200, kept_free=kept))
        self.assertEqual(len(pack([rectangle("a", 20, 20)], surface).left_over), 1)

    def test_equal_sets_are_laid_equally_in_any_order(self) -> None:
        rng = np.random.default_rng(3)
        items = [blob(rng, f"{k}") for k in range(8)]
        one, two = pack(items, SQUARE), pack(items[::-1], SQUARE)
        self.assertEqual([b.placed for b in one.beds], [b.placed for b in two.beds])

    def test_it_is_stopped_where_it_tells_how_far_it_is(self) -> None:
        def stop(_: float, phrase: str) -> None:
            if "2 of" in phrase:
                raise Cancelled("Stopped.")

        with self.assertRaises(Cancelled):
            pack([rectangle(f"{k}", 40, 40) for k in range(5)], SQUARE, tell=stop)

    def test_how_far_it_is_only_grows_also_while_beds_are_made_even(self) -> None:
        for even in (False, True):
            told: list[float] = []
            items = [rectangle(f"{k}", 90, 90, minutes=50.0 + 37 * k) for k in range(7)]
            pack(items, SQUARE, Rules(even=even), tell=lambda f, _p, told=told: told.append(f))  # type: ignore[misc]
            self.assertEqual(told, sorted(told))
            self.assertEqual(told[0], 0.0)
            self.assertTrue((0.8 if even else 0.1) < told[-1] <= 1.0, told)

    def test_when_time_runs_out_in_the_first_try_the_rest_is_laid_in_haste(self) -> None:
        for surface in (SQUARE, ROUND):
            ticks = iter(range(0, 100_000, 100))
            items = [rectangle(f"{k}", 40, 40) for k in range(12)]
            packed = pack(items, surface, clock=lambda t=ticks: float(next(t)), seconds=350)  # type: ignore[misc]
            self.assertTrue(packed.cut_short)
            self.assertEqual(sorted(p.item for b in packed.beds for p in b.placed), sorted(i.name for i in items))
            self.assertEqual(overlaps(packed.beds), [])
            self.assertTrue(all(p.bed == n for n, b in enumerate(packed.beds) for p in b.placed))

    def test_in_haste_the_beds_of_the_rest_follow_those_that_are_there(self) -> None:
        ticks = iter(range(0, 100_000, 100))
        items = [rectangle(f"{k:02}", 60, 60) for k in range(40)]
        packed = pack(items, SQUARE, clock=lambda: float(next(ticks)), seconds=350)
        self.assertTrue(packed.cut_short)
        self.assertEqual([sorted({p.bed for p in b.placed}) for b in packed.beds], [[n] for n in range(len(packed.beds))])
        self.assertGreater(len(packed.beds), 4)
        self.assertEqual(overlaps(packed.beds), [])

    def test_the_largest_is_laid_first_into_the_front_left_corner(self) -> None:
        packed = pack([rectangle("small", 20, 20), rectangle("large", 90, 60), rectangle("middle", 50, 30)], SQUARE)
        large = next(p for p in packed.beds[0].placed if p.item == "large")
        self.assertEqual((large.x_mm, large.y_mm), (-100 + 45, -100 + 30))

    def test_when_time_runs_out_the_best_so_far_is_given(self) -> None:
        ticks = iter(range(0, 10_000, 100))
        items = [rectangle(f"{k}", 110, 110) for k in range(5)]
        packed = pack(items, SQUARE, clock=lambda: float(next(ticks)), seconds=50)
        self.assertTrue(packed.cut_short)
        self.assertEqual(len(packed.beds), 5)

    def test_a_thousand_random_rectangles_lie_apart(self) -> None:
        rng = np.random.default_rng(5)
        bed = Bed(SQUARE, 2.0)
        for k in range(1000):
            item = rectangle(f"{k}", *(float(v) for v in rng.uniform(3, 12, 2)))
            place = bed.free_for(item, np.array([0.0]))
            if place is None:
                break
            bed.put(item, Placement(item.name, 0, place[2], place[0], place[1]))
        self.assertGreater(len(bed.placed), 100)
        tree = shapely.STRtree(bed.outlines)
        near = tree.query(bed.outlines, predicate="dwithin", distance=2.0 - 1e-6)
        self.assertTrue((near[0] == near[1]).all())

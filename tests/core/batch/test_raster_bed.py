"""A bed as cells: how many there are, which are taken, and where the first free place is, to a figure."""

import unittest

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.batch.packing.item import Item, Placement, centred, rectangle
from hinoki.core.batch.packing.raster_bed import CELL_MM, Bed, Surface, surface_of
from hinoki.core.workshop.printers import KeptFree, Printer

STRAIGHT = np.zeros(1)


def bed(x: float, y: float, high: float = 100.0, gap_mm: float = 4.0) -> Bed:
    """A rectangular bed about the middle, that need not be one of a printer."""
    return Bed(Surface(MultiPolygon([shapely.box(-x / 2, -y / 2, x / 2, y / 2)]), high), gap_mm)


class Cells(unittest.TestCase):
    def test_as_many_as_fit_whole_and_one_at_least(self) -> None:
        for x, y, cells in ((200, 3, (133, 2)), (4.5, 1.5, (3, 1)), (1, 7.4, (1, 4)), (0.4, 0.4, (1, 1))):
            self.assertEqual(bed(x, y).shape, cells, (x, y))

    def test_a_length_that_is_a_whole_number_of_cells_but_for_rounding_loses_none(self) -> None:
        self.assertEqual(bed(4.5 - 1e-9, 3 - 1e-9).shape, (3, 2))

    def test_an_empty_bed_is_free_to_the_last_whole_cell(self) -> None:
        own = bed(30, 15)
        self.assertEqual((int(own.taken.sum()), own.taken.shape), (0, (20, 10)))
        self.assertAlmostEqual(own.free_mm2, 30 * 15)

    def test_of_a_round_bed_the_cells_wholly_inside_are_free(self) -> None:
        own = Bed(surface_of(Printer(bed_mm=(60, 60), height_mm=60, bed_shape="round")), 0.0)
        low = -30 + CELL_MM * np.arange(40)
        corners = [np.hypot(low[:, None] + i * CELL_MM, low[None, :] + j * CELL_MM) for i in (0, 1) for j in (0, 1)]
        inside = np.max(corners, axis=0) < 30 - 0.05  # the circle has 128 corners and is so much smaller
        outside = np.max(corners, axis=0) > 30
        self.assertFalse(own.taken[inside].any())
        self.assertTrue(own.taken[outside].all())

    def test_what_is_laid_takes_its_cells_and_the_gap_and_what_ends_with_a_cell_takes_no_more(self) -> None:
        own = bed(30, 15, gap_mm=0.0)
        own.put(rectangle("a", 6, 3), Placement("a", 0, 0.0, -12.0, -6.0))
        wanted = np.zeros((20, 10), dtype=bool)
        wanted[:4, :2] = True
        np.testing.assert_array_equal(own.taken, wanted)
        wide = bed(30, 15, gap_mm=1.5)
        wide.put(rectangle("a", 6, 3), Placement("a", 0, 0.0, -12.0, -6.0))
        wanted[:5, :3] = True
        np.testing.assert_array_equal(wide.taken[:5, :2], wanted[:5, :2])
        self.assertFalse(wide.taken[5:].any())
        self.assertFalse(wide.taken[:, 3:].any())

    def test_what_lies_in_the_back_right_corner_takes_the_last_cells(self) -> None:
        own = bed(30, 15, gap_mm=0.0)
        own.put(rectangle("a", 3, 3), Placement("a", 0, 0.0, 13.5, 6.0))
        self.assertEqual([tuple(int(v) for v in at) for at in np.argwhere(own.taken)], [(18, 8), (18, 9), (19, 8), (19, 9)])


class KeptFreeCorners(unittest.TestCase):
    def test_each_corner_counts_from_the_corner_of_the_whole_bed(self) -> None:
        for corner, right, back in (("front left", 0, 0), ("front right", 1, 0), ("back left", 0, 1), ("back right", 1, 1)):
            kept = KeptFree(corner=corner, size_mm=(30, 20))  # type: ignore[arg-type]
            room = surface_of(Printer(bed_mm=(200, 100), height_mm=100, kept_free=(kept,))).room
            x0, y0 = (70 if right else -100), (30 if back else -50)
            taken = shapely.box(x0, y0, x0 + 30, y0 + 20)
            self.assertAlmostEqual(room.area, 200 * 100 - 30 * 20, msg=corner)
            self.assertAlmostEqual(room.intersection(taken).area, 0.0, msg=corner)


class Places(unittest.TestCase):
    def test_the_first_lies_in_the_front_left_corner_to_a_hair(self) -> None:
        for rule in ("front", "corner"):
            found = bed(200, 200).free_for(rectangle("a", 30, 20), STRAIGHT, rule)  # type: ignore[arg-type]
            assert found is not None
            np.testing.assert_allclose(found, (-100 + 15, -100 + 10, 0.0), atol=1e-9)

    def test_the_next_lies_beside_it_a_gap_and_less_than_a_cell_further(self) -> None:
        own = bed(200, 200)
        own.put(rectangle("a", 30, 20), Placement("a", 0, 0.0, -85.0, -90.0))
        found = own.free_for(rectangle("b", 12, 12), STRAIGHT)
        assert found is not None
        # 34 mm are taken, which are 23 cells
        np.testing.assert_allclose(found, (-100 + 23 * CELL_MM + 6, -100 + 6, 0.0), atol=1e-9)

    def test_where_there_is_no_room_beside_it_lies_behind(self) -> None:
        own = bed(40, 60)
        own.put(rectangle("a", 30, 20), Placement("a", 0, 0.0, -5.0, -20.0))
        found = own.free_for(rectangle("b", 12, 12), STRAIGHT)
        assert found is not None
        np.testing.assert_allclose(found, (-20 + 6, -30 + 16 * CELL_MM + 6, 0.0), atol=1e-9)

    def test_of_all_turns_the_one_that_reaches_least_far_back_counts(self) -> None:
        found = bed(100, 100).free_for(rectangle("a", 10, 60), np.array([0.0, 90.0]))
        assert found is not None
        np.testing.assert_allclose(found, (-50 + 30, -50 + 5, 90.0), atol=1e-6)

    def test_in_the_corner_the_middle_of_the_area_counts_not_how_far_back_it_reaches(self) -> None:
        # a T: upside down its weight is in front, though either way it is as deep
        tee = shapely.union_all([shapely.box(-20, 10, 20, 20), shapely.box(-3, -20, 3, 10)])
        found = bed(100, 100).free_for(Item("t", centred(tee), 10.0), np.array([0.0, 180.0]), "corner")
        assert found is not None
        self.assertEqual(found[2], 180.0)

    def test_just_as_high_as_the_printer_prints_is_not_too_high(self) -> None:
        self.assertIsNotNone(bed(50, 50, 40.0).free_for(rectangle("a", 10, 10, 40.0), STRAIGHT))
        self.assertIsNone(bed(50, 50, 40.0).free_for(rectangle("a", 10, 10, 40.001), STRAIGHT))

    def test_a_bed_with_nothing_free_has_no_place(self) -> None:
        self.assertIsNone(Bed(Surface(MultiPolygon(), 100.0), 4.0).free_for(rectangle("a", 1, 1), STRAIGHT))
        own = bed(30, 15, gap_mm=0.0)
        own.put(rectangle("a", 30, 15), Placement("a", 0, 0.0, 0.0, 0.0))
        self.assertIsNone(own.free_for(rectangle("b", 1, 1), STRAIGHT))

    def test_one_that_fits_to_a_hair_lies_in_the_middle_also_of_a_bed_that_is_not_about_it(self) -> None:
        own = Bed(Surface(MultiPolygon([shapely.box(-10, -20, 30.7, 20.2)]), 50.0), 4.0)
        found = own.free_for(rectangle("a", 40.7, 40.2), STRAIGHT)
        assert found is not None
        np.testing.assert_allclose(found, (10.35, 0.1, 0.0), atol=1e-9)
        own.put(rectangle("b", 1, 1), Placement("b", 0, 0.0, 0.0, 0.0))
        self.assertIsNone(own.free_for(rectangle("a", 40.7, 40.2), STRAIGHT))


class Minutes(unittest.TestCase):
    def test_an_empty_bed_takes_none(self) -> None:
        self.assertEqual(bed(100, 100).minutes, 0.0)
        self.assertEqual(bed(100, 100).minutes_with(rectangle("a", 10, 10, minutes=50.0)), 50.0)

    def test_what_goes_by_height_counts_once_for_the_highest(self) -> None:
        own = bed(100, 100)
        low, high = (
            rectangle("a", 10, 10, minutes=50.0, height_minutes=20.0),
            rectangle("b", 10, 10, minutes=90, height_minutes=30),
        )
        own.put(low, Placement("a", 0, 0.0, 0.0, 0.0))
        self.assertEqual(own.minutes, 50.0)
        self.assertEqual(own.minutes_with(high), 30.0 + 60.0 + 30.0)
        own.put(high, Placement("b", 0, 0.0, 20.0, 0.0))
        self.assertEqual(own.minutes, 120.0)
        self.assertEqual(own.minutes_with(low), 150.0)

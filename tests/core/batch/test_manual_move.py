"""A thing moved by hand: onto which bed, where, what it may not meet, and what then lies where it lies."""

import unittest

from hinoki.core.batch.manual_move import SIMPLER_MM, LaidBed, LaidThing, Move, moved
from hinoki.core.batch.packing.item import Placement, rectangle
from hinoki.core.batch.packing.raster_bed import surface_of
from hinoki.core.errors import NotFound, Overlap
from hinoki.core.plan.batch_settings import Laid
from hinoki.core.workshop.printers import Printer

ROOM = surface_of(Printer(bed_mm=(100, 100), height_mm=100))


def thing(key: str, x: float, y: float, wide: float = 20, deep: float = 10, turn: float = 0.0) -> LaidThing:
    outline = Placement(key, 0, turn, x, y).outline(rectangle(key, wide, deep))
    return LaidThing(key, f"piece {key}", outline, 10.0, x, y, turn, pinned=False)


BEDS = (
    LaidBed(1, "one", 1, ROOM, (thing("a", -40, -45), thing("b", 30, 30, turn=90.0))),
    LaidBed(2, "one", 2, ROOM, (thing("c", 0, 0, 60, 60),)),
    LaidBed(3, "other", 1, ROOM, (thing("d", 0, 0, 90, 90),)),
    LaidBed(4, "other", 2, ROOM, (thing("e", 0, 0),)),
)


class Moves(unittest.TestCase):
    def test_to_a_place_of_its_own_bed(self) -> None:
        laid = moved(BEDS, Move(key="a", bed=1, x_mm=0.0, y_mm=0.0, turn_deg=30.0), 4.0, 45.0).laid
        self.assertEqual(laid["a"], Laid(bed=1, x_mm=0.0, y_mm=0.0, turn_deg=30.0))
        self.assertEqual(laid["b"], Laid(bed=1, x_mm=30, y_mm=30, turn_deg=90.0, pinned=False))
        self.assertEqual(sorted(laid), ["a", "b"])

    def test_to_another_bed_of_its_group_never_of_another(self) -> None:
        laid = moved(BEDS, Move(key="a", bed=2, x_mm=-40.0, y_mm=-45.0), 4.0, 45.0).laid
        self.assertEqual({key: one.bed for key, one in laid.items()}, {"a": 2, "b": 1, "c": 2})
        with self.assertRaisesRegex(Overlap, "piece c"):
            moved(BEDS, Move(key="a", bed=2, x_mm=0.0, y_mm=0.0), 4.0, 45.0)

    def test_to_a_bed_that_is_not_there_yet(self) -> None:
        laid = moved(BEDS, Move(key="a", bed=3, x_mm=0.0, y_mm=0.0), 4.0, 45.0).laid
        self.assertEqual({key: one.bed for key, one in laid.items()}, {"a": 3, "b": 1})

    def test_what_lies_where_it_lies_may_be_moved_a_little(self) -> None:
        laid = moved(BEDS, Move(key="a", bed=1, x_mm=-39.0, y_mm=-44.0), 4.0, 45.0).laid
        self.assertEqual((laid["a"].x_mm, laid["a"].y_mm), (-39.0, -44.0))

    def test_what_it_may_not_meet_is_wider_by_as_much_as_outlines_are_simpler(self) -> None:
        # b lies turned, 10 wide from 25 to 35; along the 10 mm on which they would meet half a mm² is let pass
        for away, free in ((2 * SIMPLER_MM - 0.04, True), (2 * SIMPLER_MM - 0.06, False)):
            move = Move(key="a", bed=1, x_mm=25.0 - 10.0 - away, y_mm=30.0)
            if free:
                self.assertIn("a", moved(BEDS, move, 4.0, 45.0).laid)
            else:
                with self.assertRaisesRegex(Overlap, "piece b"):
                    moved(BEDS, move, 4.0, 45.0)

    def test_without_a_place_the_first_free_one_is_looked_for(self) -> None:
        laid = moved(BEDS, Move(key="b", bed=2), 4.0, 90.0).laid
        self.assertEqual(laid["b"], Laid(bed=2, x_mm=-40.0, y_mm=-45.0, turn_deg=0.0))
        with self.assertRaisesRegex(Overlap, "no room for piece e"):
            moved(BEDS, Move(key="e", bed=1), 4.0, 90.0)

    def test_half_a_place_is_none(self) -> None:
        for half in ({"x_mm": 0.0}, {"y_mm": 0.0}):
            laid = moved(BEDS, Move(key="b", bed=2, **half), 4.0, 90.0).laid  # type: ignore[arg-type]
            self.assertEqual((laid["b"].x_mm, laid["b"].y_mm), (-40.0, -45.0))

    def test_a_free_place_keeps_clear_of_what_lies_turned(self) -> None:
        beds = (
            LaidBed(1, "one", 1, ROOM, (thing("a", -35, -40, 60, 30, turn=90.0),)),
            LaidBed(2, "one", 2, ROOM, (thing("b", 0, 0),)),
        )
        laid = moved(beds, Move(key="b", bed=1), 4.0, 0.0).laid
        # a is 30 wide as it lies: from -50 to -20, and 4 mm are kept
        self.assertGreaterEqual(laid["b"].x_mm - 10, -16.0)
        self.assertLess(laid["b"].x_mm - 10, -14.0)
        self.assertEqual(laid["b"].y_mm, -45.0)

    def test_what_is_on_no_bed_is_not_found(self) -> None:
        with self.assertRaises(NotFound):
            moved(BEDS, Move(key="gone", bed=1), 4.0, 45.0)

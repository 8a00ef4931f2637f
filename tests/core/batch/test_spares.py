"""Of what one more should be printed: what is tiny, and what stands on little."""

import unittest
from dataclasses import replace

from hinoki.core.batch.estimate.estimate import Estimate
from hinoki.core.batch.packing.item import rectangle
from hinoki.core.batch.print_items import Printable, Thing
from hinoki.core.batch.spares import spares
from hinoki.core.workshop.materials import materials
from hinoki.core.workshop.printers import presets

NOTHING = Estimate(0, 0, 0, 0, 0, 0, 0)


def printed(x: float, y: float, high: float, foot: float, wanted: int = 1, copy: int = 1, **more: bool) -> Printable:
    numbers = () if more.get("loose") else (1,)
    thing = Thing("k", "thing", numbers, (), (), presets()[0], materials()[0], wanted, foot)
    return Printable(thing, copy, rectangle("k", x, y, high), NOTHING)


class Spares(unittest.TestCase):
    def whys(self, *every: Printable) -> list[str]:
        return [one.why for one in spares(every)]

    def test_what_is_no_longer_than_fifteen_any_way_is_easily_lost(self) -> None:
        self.assertEqual(self.whys(printed(15, 9, 8, 500)), ["only 15 mm long: easily lost"])
        self.assertEqual(self.whys(printed(9, 15, 8, 500)), ["only 15 mm long: easily lost"])
        for x, y, high in ((15.1, 9, 8), (9, 15.1, 8), (9, 8, 15.1)):
            self.assertEqual(self.whys(printed(x, y, high, 500)), [])

    def test_its_length_is_its_own_wherever_its_outline_lies(self) -> None:
        from shapely.affinity import translate

        one = printed(12, 9, 8, 500)
        away = replace(one, item=replace(one.item, outline=translate(one.item.outline, 40.0, 25.0)))
        self.assertEqual(self.whys(away), ["only 12 mm long: easily lost"])

    def test_what_stands_on_less_than_sixty_may_come_loose_where_it_is_more_than_a_film(self) -> None:
        self.assertEqual(self.whys(printed(40, 40, 30, 59.9)), ["stands on 60 mm²: may come loose"])
        self.assertEqual(self.whys(printed(40, 40, 30, 60.0)), [])
        self.assertEqual(self.whys(printed(40, 1, 1, 40.0)), [])

    def test_one_line_for_all_copies_and_none_where_a_piece_has_a_spare_already(self) -> None:
        both = [printed(10, 9, 8, 500, wanted=2, copy=k, loose=True) for k in (1, 2)]
        self.assertEqual([(s.key, s.name, s.wanted) for s in spares(both)], [("k", "thing", 2)])
        self.assertEqual(self.whys(*(printed(10, 9, 8, 500, wanted=2, copy=k) for k in (1, 2))), [])

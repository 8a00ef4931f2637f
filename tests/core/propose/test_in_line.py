"""Cuts of neighbours that are meant to be one lie in one plane."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import WHOLE, Part, part_further
from hinoki.core.divide.partings import EvenParting, FlatParting
from hinoki.core.geometry.solid import Solid
from hinoki.core.propose.feet import with_feet
from hinoki.core.propose.search.constraints import Heed, Kept
from hinoki.core.propose.search.in_line import IN_LINE_MM, in_line
from hinoki.core.workshop.printers import Printer
from tests.effort import tried
from tests.shapes import level


def flat(name: str, at_mm: float, axis: str = "x", **more: object) -> FlatParting:
    """A plane square to an axis."""
    return FlatParting.model_validate({"id": name, "axis": axis, "at_mm": at_mm, **more})


class InLine(unittest.TestCase):
    """Two slabs on each other, the lower one half a millimetre longer; the upper one is cut."""

    def setUp(self) -> None:
        body = Solid.united([Solid.box([-120.5, -115, 0], [120, 115, 60]), Solid.box([-120, -115, 60], [120, 115, 120])])
        self.slabs = part_further([Part(WHOLE, body, "slabs")], level(1, 60.0), Cache())

    def cut(self, at_mm: float) -> tuple[list[Part], Part]:
        """The parts after the upper slab was cut, and the lower slab."""
        parts = part_further(self.slabs, flat("p2", at_mm, only=("p1+",)), Cache())
        return parts, next(p for p in parts if p.key == "p1-")

    @tried(20)
    @given(st.floats(-100, 100), st.floats(-3, 3))
    def test_a_plane_hardly_beside_anothers_is_made_in_it(self, at: float, beside: float) -> None:
        parts, lower = self.cut(at)
        found = in_line(parts, lower, flat("p3", at + beside, only=("p1-",)), Heed())
        assert isinstance(found, FlatParting)
        self.assertEqual((found.id, found.only), ("p3", ("p1-",)))
        expected = at if abs(beside) < IN_LINE_MM - 1e-6 else at + beside
        if abs(abs(beside) - IN_LINE_MM) > 1e-6:
            self.assertAlmostEqual(found.at_mm, expected, places=6)

    def test_equal_parts_in_two_are_one_plane_in_three_they_are_not(self) -> None:
        parts, lower = self.cut(0.0)
        found = in_line(parts, lower, EvenParting(id="p3", axis="x", parts=2, only=("p1-",)), Heed())
        assert isinstance(found, FlatParting)
        self.assertAlmostEqual(found.at_mm, 0.0)  # its own middle is at −0.25
        three = EvenParting(id="p3", axis="x", parts=3, only=("p1-",))
        self.assertIs(in_line(parts, lower, three, Heed()), three)

    def test_a_plane_that_leans_or_lies_across_stays(self) -> None:
        parts, lower = self.cut(0.0)
        for other in (flat("p3", 0.0, tilt_deg=(0.0, 2.0)), flat("p3", 0.0, "y")):
            self.assertIs(in_line(parts, lower, other, Heed()), other)

    def test_it_is_not_moved_across_what_is_to_stay_whole(self) -> None:
        parts, lower = self.cut(0.0)
        edge = np.array([[x, y, z] for x in (-20.0, 0.4) for y in (-5.0, 5.0) for z in (10.0, 50.0)])
        beside = flat("p3", 0.6, only=("p1-",))
        self.assertIs(in_line(parts, lower, beside, Heed([Kept("m1", edge)])), beside)
        self.assertIsNot(in_line(parts, lower, beside, Heed()), beside)

    def test_pieces_parted_for_a_foot_are_cut_in_one_plane(self) -> None:
        bed = Printer(bed_mm=(220, 220), height_mm=200)
        parts, added = with_feet(self.slabs, 2, lambda _: bed, Heed(), True, Cache())
        self.assertEqual(len(parts), 4)
        first, second = added
        assert isinstance(first, FlatParting)
        assert isinstance(second, FlatParting)
        self.assertTrue(first.frame.same_plane(second.frame))


if __name__ == "__main__":
    unittest.main()

"""Ways that are tried to take something off, and how far it goes until it is clear."""

import unittest

import numpy as np

from hinoki.core.assemble.assembled import Assembled
from hinoki.core.assemble.motion.moves import LEAST_MOVE_MM, PLAIN, Moves
from hinoki.core.divide.partings import FlatParting
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channels import RodWay
from tests.assembling import assembly, of_bodies
from tests.shapes import COMMON, box, built, plan_for, stl_of

UP, DOWN = (0.0, 0.0, 1.0), (0.0, 0.0, -1.0)


def moves_of(out: Assembled) -> Moves:
    assert out.holding is not None
    return Moves(out.holding.blocking, COMMON)


class Ways(unittest.TestCase):
    def test_up_comes_first_then_the_sides_then_down_each_once(self) -> None:
        self.assertEqual(PLAIN[0], UP)
        self.assertEqual(len(set(PLAIN)), len(PLAIN))
        self.assertEqual({tuple(np.abs(w)) for w in PLAIN}, {(0, 0, 1), (1, 0, 0), (0, 1, 0)})
        found = moves_of(of_bodies({"a": box(20, 20, 20), "b": box(20, 20, 20).moved(0, 0, 20)})).ways_of(
            frozenset({"b"}), frozenset({"a"})
        )
        self.assertEqual((found[0], found[-1]), (UP, DOWN))
        self.assertEqual(set(found), {UP, DOWN, (1, 0, 0), (-1, 0, 0), (0, 1, 0), (0, -1, 0)})

    def test_pieces_parted_by_a_slanting_plane_are_tried_along_its_normal_too(self) -> None:
        data = stl_of(box(60, 40, 60))
        plan = plan_for(data, FlatParting(id="p1", axis="z", at_mm=30.0, tilt_deg=(0.0, 25.0)))
        out = assembly(built(data, plan), plan)
        normal = FlatParting(id="p1", axis="z", at_mm=30.0, tilt_deg=(0.0, 25.0)).frame.n
        ways = moves_of(out).ways_of(frozenset({"p1+"}), frozenset({"p1-"}))
        for sign in (1, -1):
            self.assertTrue(any(np.allclose(w, sign * normal, atol=1e-6) for w in ways), sign)

    def test_a_rod_is_tried_along_itself_and_so_are_the_pieces_it_is_in(self) -> None:
        data, slant = stl_of(box(60, 40, 60)), np.array([0.6, 0.0, 0.8])
        rod = RodWay(id="w1", start_mm=(-12, 0, 14), end_mm=(12, 0, 46), diameter_mm=4)
        plan = plan_for(data, FlatParting(id="p1", axis="z", at_mm=30.0), ways=(rod,))
        moves = moves_of(assembly(built(data, plan), plan))
        for units, rest in (({"w1"}, {"p1+", "p1-"}), ({"p1+"}, {"p1-", "w1"}), ({"p1+"}, {"p1-"})):
            along = any(np.allclose(np.abs(w), slant, atol=1e-6) for w in moves.ways_of(frozenset(units), frozenset(rest)))
            self.assertEqual(along, "w1" in units | rest, (units, rest))


class Clear(unittest.TestCase):
    def test_as_far_as_its_box_is_past_what_it_touches(self) -> None:
        bodies = {"foot": box(60, 60, 10), "post": box(10, 10, 50).moved(0, 0, 10), "ring": _ring().moved(0, 0, 10)}
        moves = moves_of(of_bodies(bodies))
        self.assertAlmostEqual(moves.clear_mm(frozenset({"ring"}), frozenset({"foot", "post"}), UP), 50.0)
        self.assertAlmostEqual(moves.clear_mm(frozenset({"ring"}), frozenset({"foot"}), UP), LEAST_MOVE_MM)

    def test_of_all_where_it_touches_nothing_and_never_less_than_a_little(self) -> None:
        bodies = {"a": box(20, 20, 20), "b": box(20, 20, 20).moved(100, 0, 0), "c": box(20, 20, 30).moved(0, 50, 0)}
        moves = moves_of(of_bodies(bodies))
        self.assertAlmostEqual(moves.clear_mm(frozenset({"a"}), frozenset({"b", "c"}), (1.0, 0.0, 0.0)), 120.0)
        self.assertAlmostEqual(moves.clear_mm(frozenset({"a"}), frozenset({"c"}), UP), 30.0)
        self.assertEqual(moves.clear_mm(frozenset({"b"}), frozenset({"a"}), (1.0, 0.0, 0.0)), LEAST_MOVE_MM)


def _ring() -> Solid:
    return box(30, 30, 20).minus([Solid.box([-5, -5, -1], [5, 5, 21])])


if __name__ == "__main__":
    unittest.main()

"""Layers, what resin traps by formula, and pieces that are alike."""

import math
import unittest

import numpy as np

from hinoki.core.geometry.solid import Solid
from hinoki.core.orient.congruence import Shape, turn_between
from hinoki.core.orient.layer_areas import Suction, areas, suction
from hinoki.core.orient.ray_grid import walls_of
from hinoki.core.orient.surface import surface_of
from tests.shapes import box, tube

HERE = np.column_stack([np.eye(3), np.zeros(3)])
FLIPPED = np.column_stack([np.diag([1.0, -1.0, -1.0]), np.zeros(3)])
CUP = tube(20, 17, 40).plus([Solid.cylinder(20, 0, 4)])
INSIDE = math.pi * 17**2 * 36


def trapped(solid: Solid, upside_down: bool = False, lifted: bool = False) -> Suction:
    matrix = FLIPPED.copy() if upside_down else HERE.copy()
    matrix[2, 3] = float(solid.bounds[1][2]) if upside_down else -float(solid.bounds[0][2])
    return suction(walls_of(surface_of(solid), matrix), lifted)


class Layers(unittest.TestCase):
    def test_areas_are_those_of_the_sections(self) -> None:
        cone = Solid.cone(20, 0.01, 0, 40)
        found = areas(walls_of(surface_of(cone), HERE))
        for z, area in found[5:60:10]:
            self.assertAlmostEqual(area, math.pi * (20 * (1 - z / 40)) ** 2, delta=40)

    def test_a_block_has_one_area(self) -> None:
        found = areas(walls_of(surface_of(box(30, 20, 10)), HERE))
        self.assertTrue(np.allclose(found[:, 1], 600, rtol=0.05))


class Trapped(unittest.TestCase):
    def test_a_cup_on_its_foot_is_shut_by_the_film_until_it_is_full_grown(self) -> None:
        found = trapped(CUP)
        self.assertAlmostEqual(found.volume_mm3, INSIDE, delta=0.05 * INSIDE)
        self.assertAlmostEqual(found.at_mm, 40, delta=1)
        self.assertEqual(found.closed_mm3, 0)
        (vent,) = found.vents
        self.assertAlmostEqual(vent[3], 4, delta=1)  # on the floor of the cup
        self.assertLess(math.hypot(vent[1], vent[2]), 17)

    def test_a_cup_on_its_mouth_is_shut_by_the_plate_but_not_when_lifted(self) -> None:
        self.assertAlmostEqual(trapped(CUP, upside_down=True).volume_mm3, INSIDE, delta=0.05 * INSIDE)
        self.assertEqual(trapped(CUP, upside_down=True, lifted=True).volume_mm3, 0)

    def test_a_drain_lets_it_breathe(self) -> None:
        hole = Solid.box([-30, -3, 4], [0, 3, 9])
        self.assertLess(trapped(CUP.minus([hole])).volume_mm3, 0.2 * INSIDE)

    def test_a_tube_and_a_block_trap_nothing_when_lifted(self) -> None:
        self.assertEqual(trapped(box(20, 20, 20)).volume_mm3, 0)
        self.assertEqual(trapped(tube(20, 17, 40), lifted=True).volume_mm3, 0)

    def test_a_closed_hollow_keeps_its_resin(self) -> None:
        shell = box(40, 40, 40).minus([Solid.box([-15, -15, 5], [15, 15, 35])])
        found = trapped(shell, lifted=True)
        self.assertAlmostEqual(found.closed_mm3, 30**3, delta=0.06 * 30**3)
        self.assertEqual(len(found.vents), 1)


class Alike(unittest.TestCase):
    ODD = Solid.box([0, 0, 0], [40, 20, 10]).plus([Solid.box([0, 0, 0], [8, 6, 30])])

    def between(self, one: Solid, other: Solid) -> np.ndarray | None:
        return turn_between(Shape.of(one), Shape.of(other))

    def test_a_mirror_image_is_found_and_known_as_one(self) -> None:
        mirror = self.ODD.placed(np.column_stack([np.diag([-1.0, 1.0, 1.0]), [100.0, 5, 0]]))
        found = self.between(self.ODD, mirror)
        assert found is not None
        self.assertTrue(np.allclose(found, np.diag([-1, 1, 1])))

    def test_wedges_of_a_ring_are_turned_copies(self) -> None:
        ring = tube(40, 30, 20)
        quarter = ring.common(Solid.box([0, 0, -5], [60, 60, 30]))
        turn = np.array([[0.0, -1, 0], [1, 0, 0], [0, 0, 1]])
        found = self.between(quarter, quarter.placed(np.column_stack([turn, [7.0, 0, 0]])))
        assert found is not None
        down = found @ np.array([0.0, 0, -1])
        self.assertTrue(np.allclose(np.abs(down), [0, 0, 1], atol=1e-6))

    def test_a_shape_turned_any_way_is_found_by_its_axes(self) -> None:
        c, s = math.cos(0.7), math.sin(0.7)
        turn = np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]]) @ np.array([[1, 0, 0], [0, c, -s], [0, s, c]])
        found = self.between(self.ODD, self.ODD.placed(np.column_stack([turn, np.zeros(3)])))
        assert found is not None
        self.assertTrue(np.allclose(found, turn, atol=1e-3))

    def test_others_are_not_alike(self) -> None:
        self.assertIsNone(self.between(self.ODD, box(40, 20, 14.5)))
        longer = Solid.box([0, 0, 0], [40, 20, 10]).plus([Solid.box([0, 14, 0], [6, 20, 36.6667])])
        self.assertIsNone(self.between(self.ODD, longer))

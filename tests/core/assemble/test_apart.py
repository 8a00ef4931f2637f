"""What is told to stand apart by boxes alone does, as the kernel measures it; what is near, or inside, never is."""

import unittest

import numpy as np

from hinoki.core.assemble.apart import surely_apart
from hinoki.core.geometry.solid import Solid
from tests.shapes import box, torus

NEAR_MM = 0.5


class Apart(unittest.TestCase):
    def test_whatever_is_told_apart_measures_so(self) -> None:
        rng = np.random.default_rng(5)
        ring = Solid.from_mesh(torus(30, 6, 48, 24))
        told = 0
        for _ in range(60):
            bar = box(*rng.uniform(1, 12, 3)).moved(*rng.uniform(-40, 40, 2), float(rng.uniform(-8, 8)))
            if surely_apart(ring.mesh, bar.mesh, NEAR_MM):
                told += 1
                self.assertGreaterEqual(ring.gap(bar, NEAR_MM), NEAR_MM)
            if ring.gap(bar, NEAR_MM) < NEAR_MM:
                self.assertFalse(surely_apart(bar.mesh, ring.mesh, NEAR_MM))
        self.assertGreater(told, 15)  # their boxes meet, nearly all

    def test_a_bar_through_the_hole_of_a_ring_is_seen_to_stand_apart(self) -> None:
        ring, bar = torus(30, 6, 96, 24), box(4, 4, 40).moved(-2, -2, -20)
        self.assertTrue(surely_apart(ring, bar.mesh, NEAR_MM))

    def test_what_lies_inside_is_not_told_apart(self) -> None:
        self.assertFalse(surely_apart(box(50, 50, 50).mesh, box(2, 2, 2).moved(20, 20, 20).mesh, NEAR_MM))

"""Limbs: found on bodies whose limbs are known, at the roots that are known; none on bodies that have none."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.limbs.limbs import cut_along, limbs_of, through_roots
from tests.effort import tried
from tests.shapes import box, ellipsoid, shell_of, tube

BALL_MM = 40.0


def turned(solid: Solid, way: Points) -> Solid:
    """What stands along Z, so that it stands along a way."""
    return solid.placed(plane_frame(np.zeros(3), way).to_world)


def ball_with(limbs: list[tuple[Points, float, float, float]]) -> Solid:
    """A ball with cones: the way each stands out, its radii at the middle of the ball and at its end, how far that is out."""
    ways = [turned(Solid.cone(low, high, 0.0, far), way) for way, low, high, far in limbs]
    return Solid.united([ellipsoid(BALL_MM, BALL_MM, BALL_MM), *ways])


def spread_ways(count: int, seed: int) -> list[Points]:
    """Ways in a plane, so far apart that their limbs do not touch."""
    frame = plane_frame(np.zeros(3), np.random.default_rng(seed).normal(size=3))
    return [math.cos(t) * frame.u + math.sin(t) * frame.v for t in np.arange(count) * 2 * math.pi / count]


class Found(unittest.TestCase):
    @tried(4)
    @given(count=st.integers(1, 5), thick=st.floats(5, 9), thins=st.floats(0.4, 1), seed=st.integers(0, 999))
    def test_the_limbs_of_a_ball_begin_where_they_leave_it(self, count: int, thick: float, thins: float, seed: int) -> None:
        ways = spread_ways(count, seed)
        found = limbs_of(ball_with([(way, thick, thins * thick, 110.0) for way in ways]))
        self.assertEqual(len(found), count)
        for way in ways:
            limb = max(found, key=lambda one: float(one.out @ way))
            self.assertGreater(float(limb.out @ way), math.cos(math.radians(9)))
            # the cone meets the ball about here, and is so thick there
            at = math.sqrt(BALL_MM**2 - thick**2)
            half = thick * (1 - (1 - thins) * at / 110)
            self.assertAlmostEqual(float(limb.root @ way), at, delta=8)
            self.assertAlmostEqual(limb.half_mm, half, delta=0.2 * half)
            self.assertLess(float(np.linalg.norm(limb.root - (limb.root @ way) * way)), 3)

    def test_noise_does_not_make_limbs_nor_take_any_away(self) -> None:
        ways = spread_ways(4, 3)
        fine = ball_with([(way, 8.0, 6.0, 110.0) for way in ways]).refined(3.0).mesh
        rough = fine.vertices + np.random.default_rng(1).normal(scale=0.15, size=fine.vertices.shape)
        self.assertEqual(len(limbs_of(Solid.from_mesh(Mesh(rough, fine.faces)))), 4)

    def test_what_has_no_limbs_has_none(self) -> None:
        cone, column = Solid.cone(40, 10, 0, 120), Solid.cylinder(12, 0, 200)
        for solid in (box(120, 80, 60), ellipsoid(60, 40, 30), cone, column, tube(60, 56, 80), shell_of(60, 50, 40, 3)):
            self.assertEqual(limbs_of(solid), ())
        self.assertEqual(limbs_of(Solid.nothing()), ())

    def test_spikes_of_a_ring_are_limbs_of_it(self) -> None:
        spikes = [Solid.cone(8, 3, 0, 60).moved(60 * math.cos(t), 60 * math.sin(t), 20) for t in np.arange(6) * math.pi / 3]
        found = limbs_of(Solid.united([tube(64, 56, 30), *spikes]))
        self.assertGreaterEqual(len(found), 5)  # where distances are measured from, the one beside may be part of the middle
        for limb in found:
            np.testing.assert_allclose(limb.out, [0, 0, 1], atol=1e-9)
            self.assertAlmostEqual(float(limb.root[2]), 30, delta=6)


class CutAlong(unittest.TestCase):
    def test_a_plane_near_the_middle_of_a_root_runs_through_it(self) -> None:
        way = spread_ways(1, 7)[0]
        (limb,) = limbs_of(ball_with([(way, 7.0, 7.0, 110.0)]))
        beside = np.cross(way, [0.3, 0.5, 0.7])
        beside /= np.linalg.norm(beside)
        for off, count in ((0.0, 1), (8.0, 1), (10.0, 0), (-30.0, 0)):
            self.assertEqual(through_roots([limb], plane_frame(off * beside, beside)), count)

    def test_a_plane_through_the_line_of_a_limb_cuts_it_along_and_one_across_does_not(self) -> None:
        ways = spread_ways(2, 5)
        limbs = limbs_of(ball_with([(way, 7.0, 7.0, 110.0) for way in ways]))
        beside = np.cross(ways[0], [0.3, 0.5, 0.7])
        for normal, through, count in ((beside, 0.0, 2), (ways[0], 0.0, 0), (ways[0], 60.0, 0), (beside, 12.0, 0)):
            unit = normal / np.linalg.norm(normal)
            self.assertEqual(cut_along(limbs, plane_frame(through * unit, unit)), count)

"""Bodies made larger and drawn out: against formulas for boxes, balls, rings and prisms, and against rays."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.geometry.frames import turned_to
from hinoki.core.geometry.raycast import Rays
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.offsets.grown import drawn_out, grown
from tests.effort import tried
from tests.shapes import box, ellipsoid, torus

UP = np.array([0.0, 0.0, 1.0])


def larger(solid: Solid, by: float) -> Solid:
    return Solid.from_mesh(grown(solid.mesh, np.full(len(solid.mesh.faces), by)))


class Grown(unittest.TestCase):
    @tried(20)
    @given(st.floats(5, 60), st.floats(5, 60), st.floats(5, 60), st.floats(0.02, 2))
    def test_a_box_is_larger_by_twice_the_distance(self, x: float, y: float, z: float, by: float) -> None:
        found = larger(box(x, y, z), by)
        self.assertAlmostEqual(found.volume_mm3, (x + 2 * by) * (y + 2 * by) * (z + 2 * by), places=5)

    def test_each_face_has_a_distance_of_its_own(self) -> None:
        mesh = box(20, 30, 40).mesh
        by = np.where(mesh.face_normals[:, 2] > 0.5, 3.0, np.where(mesh.face_normals[:, 0] > 0.5, 1.0, 0.0))
        low, high = Solid.from_mesh(grown(mesh, by)).bounds
        np.testing.assert_allclose(low, (-10, -15, 0), atol=1e-9)
        np.testing.assert_allclose(high, (11, 15, 43), atol=1e-9)

    def test_along_curves_the_distance_is_kept(self) -> None:
        for body in (ellipsoid(20, 15, 10), Solid.prism(12, 0, 30, 96), Solid.cone(15, 4, 0, 20)):
            gap = body.gap(box(90, 90, 90).moved(0, 0, -45).minus([larger(body, 0.3)]), 2.0)
            self.assertAlmostEqual(gap, 0.3, delta=0.003)

    def test_inside_corners_move_away_from_the_body_too(self) -> None:
        angle = Solid.box([0, 0, 0], [30, 10, 10]).plus([Solid.box([0, 0, 0], [10, 30, 10])])
        expected = (30.4 * 10.4 + 10.4 * 30.4 - 10.4 * 10.4) * 10.4
        self.assertAlmostEqual(larger(angle, 0.2).volume_mm3, expected, places=3)


class DrawnOut(unittest.TestCase):
    def test_a_ball_becomes_a_column_with_a_round_end(self) -> None:
        """Half an ellipsoid, 2/3 π a b c, and the cylinder over it, π a b h."""
        found = drawn_out(ellipsoid(20, 15, 10, 192), UP, 40.0)
        self.assertAlmostEqual(found.volume_mm3 / (np.pi * 20 * 15 * (40 + 20 / 3)), 1.0, delta=2e-3)
        self.assertEqual(len(found.lumps()), 1)

    def test_what_overhangs_fills_only_what_is_ahead_of_it(self) -> None:
        angle = Solid.box([0, 0, 0], [10, 10, 10]).plus([Solid.box([0, 0, 10], [20, 10, 15])])
        self.assertAlmostEqual(drawn_out(angle, UP, 30.0).volume_mm3, 10 * 10 * 30 + 10 * 10 * 20, places=3)
        self.assertAlmostEqual(drawn_out(angle, np.array([1.0, 0, 0]), 30.0).volume_mm3, 30 * 10 * 15, places=3)

    def test_a_ring_leaves_its_hole_open(self) -> None:
        ring = Solid.from_mesh(torus(20, 5, 96, 48))
        found = drawn_out(ring, UP, 20.0)
        expected = np.pi**2 * 20 * 25 + 2 * np.pi * 20 * 10 * 20
        self.assertAlmostEqual(found.volume_mm3 / expected, 1.0, delta=5e-3)

    def test_along_any_way_it_is_what_rays_say(self) -> None:
        ring = Solid.from_mesh(torus(20, 5, 32, 16))
        for way in ((1, 2, 3), (3, 0, 1)):
            unit = np.array(way) / np.linalg.norm(way)
            step = 0.25
            at = np.arange(-30, 30, step) + step / 2
            x, y = np.meshgrid(at, at)
            starts = np.column_stack([x.ravel(), y.ravel(), np.full(x.size, -60.0)]) @ turned_to(unit)[:, :3].T
            far, _ = Rays(ring.mesh).first(starts, np.repeat(unit[None], len(starts), 0))
            expected = float((100 - far[np.isfinite(far)]).sum()) * step * step
            found = drawn_out(ring, unit, 40.0)
            self.assertAlmostEqual(found.volume_mm3 / expected, 1.0, delta=2e-3)
            self.assertLess(ring.minus([found]).volume_mm3, 1e-6)

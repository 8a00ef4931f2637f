"""Preparing a model against formulas, published figures and the trade's facts."""

import math
import unittest

import numpy as np
import trimesh

from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.shape import Body, Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.health.bores import find_bores
from hinoki.core.model.health.thickness import face_thickness
from hinoki.core.model.offsets.offset import cavity_of
from hinoki.core.model.steps import HollowStep, RatioStep, RoundBoresStep, StretchStep
from hinoki.core.model.steps.hollow import fineness, sampled
from hinoki.core.model.units import propose_unit
from tests.effort import either
from tests.shapes import box, tube

QUIET = lambda _f, _p: None  # noqa: E731


def ball(radius: float, subdivisions: int = 5) -> Solid:
    mesh = trimesh.creation.icosphere(subdivisions=subdivisions, radius=radius)
    return Solid.from_mesh(Mesh(np.array(mesh.vertices), np.array(mesh.faces, dtype=np.int64)))


def boulder(around: int) -> Solid:
    """A curved body of about 200 mm: a ball with bumps, 2 · around²/2 faces or so."""
    mesh = trimesh.creation.uv_sphere(radius=100, count=[around, around])
    v = np.array(mesh.vertices)
    bumps = 1 + 0.08 * np.sin(v[:, 0] / 9) * np.cos(v[:, 1] / 11) * np.sin(v[:, 2] / 8 + 1)
    return Solid.from_mesh(Mesh(v * bumps[:, None], np.array(mesh.faces, dtype=np.int64)))


def walls_of(solid: Solid, cavity: Solid) -> "np.ndarray":
    """Distance from 2 000 points of the cavity to the outside, by trimesh."""
    outside = trimesh.Trimesh(solid.mesh.vertices, solid.mesh.faces, process=False)
    _, distance, _ = trimesh.proximity.closest_point(outside, sampled(cavity, 2000))
    return np.asarray(distance)


class Hollow(unittest.TestCase):
    def test_a_sphere_by_formula(self) -> None:
        solid = ball(40)
        shape = HollowStep(id="s1", wall_mm=3).apply(Shape((Body("ball", solid=solid),)), QUIET).shape
        shell = 4 / 3 * math.pi * (40**3 - 37**3)
        self.assertAlmostEqual(shape.volume_mm3 / shell, 1, delta=0.01)

    def test_a_box_by_formula(self) -> None:
        # its inner surface is a box again; marching cubes break its edges by less than a cell
        solid = box(90, 70, 50)
        cavity = cavity_of(solid, 3, fineness(solid, 3), QUIET)
        self.assertAlmostEqual(cavity.volume_mm3 / (84 * 64 * 44), 1, delta=0.006)
        self.assertLess(cavity.volume_mm3, 84 * 64 * 44)

    def test_the_wall_is_right_to_a_tenth_on_simple_bodies(self) -> None:
        for solid in (ball(40), box(90, 70, 50)):
            off = np.abs(walls_of(solid, cavity_of(solid, 3, fineness(solid, 3), QUIET)) - 3)
            self.assertLess(float(np.percentile(off, 95)), 0.1)

    def test_the_wall_is_right_to_a_tenth_on_a_curved_model_of_many_triangles(self) -> None:
        solid = boulder(either(110, 225))
        self.assertGreater(solid.triangles, either(24_000, 100_000))
        cavity = cavity_of(solid, 3, fineness(solid, 3), QUIET)
        off = np.abs(walls_of(solid, cavity) - 3)
        self.assertLess(float(np.percentile(off, 95)), 0.1)


class Stretch(unittest.TestCase):
    def test_added_volume_is_area_times_distance(self) -> None:
        # a pipe along X: annulus π(R² − r²), drawn with as many sides as the pipe has
        pipe = tube(20, 14, 80).placed(np.array([[0, 0, 1.0, -40], [0, 1, 0, 0], [-1, 0, 0, 20]]))
        area = pipe.volume_mm3 / 80
        outcome = StretchStep(id="s1", axis="x", at_mm=3, by_mm=25).apply(Shape((Body("pipe", solid=pipe),)), QUIET)
        self.assertAlmostEqual(outcome.shape.volume_mm3 - pipe.volume_mm3, area * 25, delta=1e-5 * pipe.volume_mm3)
        self.assertAlmostEqual(area / (math.pi * (400 - 196)), 1, delta=2e-3)


class Thickness(unittest.TestCase):
    def test_of_a_tube(self) -> None:
        pipe = tube(25, 22.5, 200)
        under = face_thickness(pipe.mesh)
        vectors = pipe.mesh.face_vectors
        side = np.abs(vectors[:, 2]) < 1e-6 * np.linalg.norm(vectors, axis=1)
        # between the flats of the bore and the corners of the outside at most two sagittas less than the drawn wall
        self.assertLess(float(np.abs(under[side] - 2.5).max()), 0.03)


class CoarseHoles(unittest.TestCase):
    def test_loss_across_the_flats_from_6_to_64_sides(self) -> None:
        # geometry: a polygon drawn inside a circle measures D·cos(π/n) across the flats
        for n in (6, 7, 8, 10, 12, 16, 20, 24, 32, 40, 48, 56, 64):
            block = box(60, 60, 20).minus([Solid.prism(12.5, -1, 21, n).moved(3, -2, 0)])
            (found,) = find_bores(block.mesh, 0.001)
            self.assertEqual(found.sides, n)
            self.assertAlmostEqual(found.diameter_mm, 25, places=5)
            self.assertAlmostEqual(found.diameter_mm - found.loss_mm, 25 * math.cos(math.pi / n), places=5)

    def test_the_twelve_sided_hole_of_25_mm(self) -> None:
        # trade fact (common practice): a hole drawn with 12 sides is 3.4 % too small across the flats; the part did not fit
        block = box(60, 60, 20).minus([Solid.prism(12.5, -1, 21, 12)])
        (found,) = find_bores(block.mesh)
        self.assertAlmostEqual(found.loss_mm, 0.85, places=2)
        self.assertAlmostEqual(found.loss_mm / 25, 0.034, places=3)
        made = RoundBoresStep(id="s1").apply(Shape((Body("block", solid=block),)), QUIET).shape
        gauge = Solid.cylinder(12.49, 0, 20)
        self.assertAlmostEqual(made.solid.common(gauge).volume_mm3, 0, places=6)


class Scale(unittest.TestCase):
    def test_scale_ratios_by_worked_examples(self) -> None:
        # worked by hand: 38.4 m of tower at 1 : 60 are 640 mm; 1 : 48 of 12 ft (3657.6 mm) are 76.2 mm; 1 : 87 of 18 m, 206.9
        for real, ratio, expected in ((38_400, 60, 640.0), (3657.6, 48, 76.2), (18_000, 87, 206.897)):
            step = RatioStep(id="s1", axis="z", real_mm=real, ratio=ratio)
            low, high = step.apply(Shape((Body("post", solid=box(3, 4, 7)),)), QUIET).shape.bounds
            self.assertAlmostEqual(float(high[2] - low[2]), expected, places=3)

    def test_the_unit_a_file_is_probably_in(self) -> None:
        self.assertEqual(propose_unit(np.array([310, 296, 640.0])).unit, "mm")
        metres = propose_unit(np.array([0.31, 0.1, 0.2]))
        self.assertEqual((metres.unit, metres.doubtful), ("m", True))
        self.assertIn("metres (310 mm)", metres.reason)
        small = propose_unit(np.array([12.0, 3, 4]))
        self.assertEqual((small.unit, small.doubtful), ("mm", True))
        self.assertIn("inches (304.8 mm)", small.reason)
        self.assertTrue(propose_unit(np.array([9000.0, 3, 4])).doubtful)


if __name__ == "__main__":
    unittest.main()

"""Planes that surfaces are mirrored by: known ones are found, turned and noisy ones too, and none where there are none."""

import unittest

import numpy as np

from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.symmetry.mirror_planes import MirrorPlane, mirror_planes
from tests.effort import either
from tests.shapes import box, ellipsoid, tube

HEAD = ellipsoid(60, 80, 70).plus([Solid.box([-8, -105, -10], [8, -60, 10]), Solid.box([-90, -6, -6], [90, 6, 6])])
"""mirrored by X alone: a nose in front, a bar from ear to ear, but as high in front as behind"""
FACE = HEAD.plus([Solid.box([-20, 20, 40], [20, 60, 90])])
"""mirrored by X alone"""


def turned(mesh: Mesh, seed: int) -> tuple[Mesh, Points]:
    """A mesh turned and moved anyhow, and the turn (3, 3)."""
    random = np.random.default_rng(seed)
    turn, upper = np.linalg.qr(random.normal(size=(3, 3)))
    turn = turn * np.sign(np.diag(upper))
    turn[:, 0] *= np.linalg.det(turn)
    return Mesh(mesh.vertices @ turn.T + random.uniform(-300, 300, 3), mesh.faces), turn


def has(found: list[MirrorPlane], normal: Points, off_deg: float = 0.2) -> bool:
    return any(abs(float(plane.normal @ normal)) > np.cos(np.radians(off_deg)) for plane in found)


class Found(unittest.TestCase):
    def test_the_three_of_a_box_and_where_they_lie(self) -> None:
        found = mirror_planes(box(40, 60, 90).moved(7, -3, 11).mesh)
        self.assertEqual(len(found), 3)
        for k, middle in enumerate((7.0, -3.0, 11.0 + 45.0)):
            plane = next(p for p in found if p.normal[k] == 1.0)
            self.assertAlmostEqual(plane.offset_mm, middle, delta=0.05)
            self.assertEqual(plane.share, 1.0)

    def test_of_what_has_one_only_that(self) -> None:
        (plane,) = mirror_planes(FACE.mesh)
        self.assertEqual(plane.normal.tolist(), [1.0, 0.0, 0.0])
        self.assertAlmostEqual(plane.offset_mm, 0.0, delta=0.05)

    def test_turned_any_way_it_is_found_by_the_votes(self) -> None:
        for seed in range(either(2, 8)):
            mesh, turn = turned(FACE.mesh, seed)
            with self.subTest(seed=seed):
                found = mirror_planes(mesh)
                self.assertTrue(has(found, turn[:, 0]))
                low, high = np.percentile(mesh.vertices @ turn[:, 0], [0, 100])
                self.assertAlmostEqual(abs(found[0].offset_mm), abs(low + high) / 2, delta=0.3)

    def test_noise_of_a_few_tenths_of_a_millimetre_does_not_hide_it(self) -> None:
        mesh, turn = turned(FACE.refined(6.0).mesh, 9)
        rough = Mesh(mesh.vertices + np.random.default_rng(3).normal(0, 0.3, mesh.vertices.shape), mesh.faces)
        self.assertTrue(has(mirror_planes(rough), turn[:, 0], 0.5))

    def test_a_regular_prism_has_those_through_its_corners_and_sides_and_a_level_one(self) -> None:
        prism = Solid.prism(50, -20, 20, 3)
        ways = [np.array([np.cos(np.radians(a)), np.sin(np.radians(a)), 0.0]) for a in (90, 210, 330)]
        found = mirror_planes(prism.mesh)
        self.assertTrue(has(found, np.array([0.0, 0, 1])))
        self.assertEqual(sum(has(found, way) for way in ways), 3)
        self.assertEqual(len(found), 4)

    def test_what_has_none_gets_none(self) -> None:
        # a propeller: it comes to itself by a turn of 120°, but no plane mirrors it
        blade = Solid.box([10, -4, -2], [90, 30, 2])
        blades = [
            blade.placed(np.array([[c, -s, 0, 0], [s, c, 0, 0], [0, 0, 1, 10.0 * k]]))
            for k, (c, s) in enumerate((np.cos(a), np.sin(a)) for a in np.radians([0, 120, 240]))
        ]
        self.assertEqual(mirror_planes(Solid.cylinder(15, -2, 40).plus(blades).mesh), [])

    def test_of_a_round_body_a_few_through_its_axis(self) -> None:
        found = mirror_planes(tube(50, 40, 77).mesh)
        self.assertTrue(has(found, np.array([0.0, 0, 1])))
        upright = [p for p in found if abs(p.normal[2]) < 0.05]
        self.assertGreaterEqual(len(upright), 2)
        for plane in upright:
            self.assertLess(abs(plane.offset_mm + (plane.normal[2] * -38.5)), 1.0)

    def test_the_image_of_an_image_is_the_point(self) -> None:
        plane = MirrorPlane(np.array([0.6, 0.8, 0.0]), 12.0, 1.0)
        points = np.random.default_rng(1).normal(size=(20, 3)) * 50
        np.testing.assert_allclose(plane.image(plane.image(points)), points, atol=1e-12)
        np.testing.assert_allclose(plane.image(12.0 * plane.normal), 12.0 * plane.normal, atol=1e-12)

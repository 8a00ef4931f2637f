"""Shapes of several bodies, rays, places and comparisons."""

import unittest

import numpy as np

from hinoki.core.formats.base import ModelFile, NamedMesh
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.raycast import Rays
from hinoki.core.geometry.shape import Body, Shape, closed_solid
from hinoki.core.geometry.solid import Solid, triangulated
from hinoki.core.model.health.report import MOST_PLACES, face_places
from hinoki.core.model.offsets.offset import Distances, cavity_of, inner_offset
from hinoki.core.model.read import brought_in
from hinoki.core.model.steps.hollow import fineness, sampled, thinnest
from hinoki.core.model.steps.relief import laplacian, smoothed, vertex_normals
from hinoki.core.progress import quiet
from tests.shapes import box, torus, tube

RING = torus(40, 12, 72, 36, 1.0)
BRICK = box(40, 30, 20).mesh


class Shapes(unittest.TestCase):
    def test_files_in_different_units_stand_together_settled(self) -> None:
        inch = ModelFile((NamedMesh("inch", Mesh(BRICK.vertices / 25.4, BRICK.faces)),))
        mm = ModelFile((NamedMesh("mm", Mesh(BRICK.vertices + np.array([100.0, 0, 7]), BRICK.faces)),))
        shape = brought_in([(inch, "inch", None), (mm, "mm", None)])
        low, high = shape.bounds
        np.testing.assert_allclose(high - low, [140, 30, 27], atol=1e-6)
        np.testing.assert_allclose([low[0] + high[0], low[1] + high[1], low[2]], 0, atol=1e-9)
        self.assertEqual([b.name for b in shape.bodies], ["inch", "mm"])
        self.assertAlmostEqual(shape.volume_mm3, 2 * 40 * 30 * 20, places=3)

    def test_one_open_body_leaves_the_whole_without_a_solid(self) -> None:
        shape = Shape((Body("whole", BRICK), Body("open", Mesh(BRICK.vertices, BRICK.faces[1:]))))
        self.assertIsNone(shape.solid)
        self.assertIsNotNone(shape.bodies[0].solid)

    def test_an_inside_out_surface_is_no_solid(self) -> None:
        self.assertIsNone(closed_solid(Mesh(BRICK.vertices, BRICK.faces[:, ::-1])))

    def test_bodies_cut_to_nothing_are_gone(self) -> None:
        low, high = Body("low", solid=box(10, 10, 10)), Body("high", solid=box(10, 10, 10).moved(0, 0, 50))
        left = Shape((low, high)).each(lambda s: s.minus([Solid.box([-20, -20, -1], [20, 20, 20])]))
        self.assertEqual([b.name for b in left.bodies], ["high"])

    def test_mirroring_an_open_surface_turns_its_faces(self) -> None:
        body = Body("open", Mesh(BRICK.vertices, BRICK.faces[1:]))
        mirrored = body.moved(np.column_stack([np.diag([-1.0, 1, 1]), np.zeros(3)]))
        self.assertGreater(mirrored.mesh.volume_mm3, 0)


class Solids(unittest.TestCase):
    def test_a_shape_is_drawn_out_with_its_holes(self) -> None:
        section = tube(20, 12, 10).slice(5)
        self.assertAlmostEqual(Solid.drawn(section, 3, 28).volume_mm3, section.area * 25, places=6)

    def test_a_ray_meets_both_sides(self) -> None:
        hits = box(10, 10, 10).ray(np.array([0.0, 0, -20]), np.array([0.0, 0, 40]))
        np.testing.assert_allclose(sorted(hits[:, 2]), [0, 10], atol=1e-9)
        self.assertEqual(len(box(10, 10, 10).ray(np.array([50.0, 0, 0]), np.array([50.0, 0, 9]))), 0)

    def test_triangles_over_a_ring_fill_it(self) -> None:
        ring = np.array([[0, 0], [4, 0], [4, 4], [2, 1], [0, 4.0]])
        faces = triangulated(ring)
        a, b, c = (ring[faces[:, k]] for k in range(3))
        ab, ac = b - a, c - a
        self.assertAlmostEqual(float((ab[:, 0] * ac[:, 1] - ab[:, 1] * ac[:, 0]).sum() / 2), 10.0)

    def test_a_solid_does_not_keep_itself_alive(self) -> None:
        import gc
        import weakref

        solid = box(10, 10, 10)
        self.assertEqual(len(solid.lumps()), 1)
        gc.disable()
        try:
            ghost = weakref.ref(solid)
            del solid
            self.assertIsNone(ghost())
        finally:
            gc.enable()


class Casting(unittest.TestCase):
    def test_first_hits_and_misses(self) -> None:
        rays = Rays(BRICK)
        starts = np.array([[0.0, 0, 50], [0, 0, 50], [100, 0, 50]])
        ways = np.array([[0.0, 0, -1], [0, 0, 1], [0, 0, -1]])
        distance, face = rays.first(starts, ways)
        self.assertAlmostEqual(float(distance[0]), 30, places=4)
        self.assertTrue(np.isinf(distance[1:]).all())
        self.assertEqual(face[1:].tolist(), [-1, -1])


class Places(unittest.TestCase):
    def test_faces_close_together_are_one_place(self) -> None:
        middles = RING.vertices[RING.faces].mean(axis=1)
        one = np.flatnonzero(np.linalg.norm(middles - middles[0], axis=1) < 1.5)
        self.assertLessEqual(len(face_places(RING, one, 20.0)), 2)
        many = face_places(RING, np.arange(len(RING.faces)))
        self.assertEqual(len(many), MOST_PLACES)
        self.assertEqual(face_places(RING, one[:0]), [])

    def test_a_place_reaches_around_its_faces(self) -> None:
        (place,) = face_places(BRICK, np.array([0]))
        corners = BRICK.vertices[BRICK.faces[0]]
        self.assertTrue((np.linalg.norm(corners - place.at, axis=1) <= place.reach_mm + 1e-9).all())
        assert place.line is not None
        self.assertEqual(place.line.shape, (6, 3))


class Offsets(unittest.TestCase):
    def test_nothing_is_deep_enough_in_a_thin_plate(self) -> None:
        self.assertIsNone(inner_offset(box(40, 40, 4).mesh, 3, 0.5, quiet))
        self.assertIsNone(cavity_of(box(40, 40, 4), 3, 0.5, quiet))

    def test_distances_know_inside_from_outside(self) -> None:
        tree = Distances(BRICK)
        points = np.array([[0.0, 0, 10], [0, 0, 25], [0, 0, -3]])
        distance, nearest = tree.nearest(points)
        np.testing.assert_allclose(distance, [10, 5, 3], atol=1e-9)
        np.testing.assert_allclose(nearest[1], [0, 0, 20], atol=1e-9)
        self.assertEqual(tree.inside(points).tolist(), [True, False, False])

    def test_samples_lie_on_the_surface_and_are_always_the_same(self) -> None:
        solid = Solid.from_mesh(RING)
        one, two = sampled(solid, 500), sampled(solid, 500)
        np.testing.assert_array_equal(one, two)
        self.assertLess(float(Distances(RING).nearest(one)[0].max()), 1e-9)

    def test_the_least_wall_found_is_the_least(self) -> None:
        block = box(60, 60, 60)
        cavity = Solid.box([-27, -20, 3], [20, 20, 50])
        self.assertAlmostEqual(thinnest(block, cavity)[0], 3, delta=0.2)

    def test_the_grid_suits_the_wall_and_the_size(self) -> None:
        self.assertEqual(fineness(box(100, 100, 100), 3), 1.5)
        self.assertGreater(fineness(box(2000, 1000, 1000), 3), 3)
        self.assertEqual(fineness(box(2000, 100, 100), 3), 1.5)  # long and thin: still few cells in all


class Smoothing(unittest.TestCase):
    def test_the_laplacian_of_a_flat_sheet_is_nothing_inside(self) -> None:
        n = 12
        x, y = np.meshgrid(np.arange(n) * 1.0, np.arange(n) * 1.0, indexing="ij")
        faces = [(i * n + j, (i + 1) * n + j, (i + 1) * n + j + 1) for i in range(n - 1) for j in range(n - 1)]
        faces += [(i * n + j, (i + 1) * n + j + 1, i * n + j + 1) for i in range(n - 1) for j in range(n - 1)]
        sheet = Mesh(np.column_stack([x.ravel(), y.ravel(), 0 * x.ravel()]), np.array(faces))
        stiff, mass = laplacian(sheet)
        change = np.abs(stiff @ sheet.vertices).reshape(n, n, 3)[2:-2, 2:-2]
        self.assertLess(float(change.max()), 0.05)
        self.assertAlmostEqual(float(mass.sum()), (n - 1) ** 2, places=6)

    def test_a_sphere_stays_a_sphere_and_its_normals_point_out(self) -> None:
        ball = torus(0.001, 20, 48, 24)
        normals = vertex_normals(box(10, 10, 10).mesh)
        self.assertTrue((np.einsum("ij,ij->i", normals, box(10, 10, 10).mesh.vertices - [0, 0, 5]) > 0).all())
        self.assertEqual(smoothed(ball, 3).shape, ball.vertices.shape)


if __name__ == "__main__":
    unittest.main()

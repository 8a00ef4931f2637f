"""Sections, areas, hulls and piece counts against theorems, textbook formulas and other libraries."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial import ConvexHull
from shapely.geometry import Polygon

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import part_model
from hinoki.core.divide.partings import EvenParting, FlatParting, HatchParting
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.sections import section_of
from hinoki.core.geometry.solid import Solid
from tests.effort import tried
from tests.shapes import box, torus


def cone(radius: float, height: float) -> Solid:
    """A fine cone, its tip up."""
    turn = 2 * np.pi * np.arange(720) / 720
    ring = np.column_stack([radius * np.cos(turn), radius * np.sin(turn), 0 * turn])
    return Solid.hull_of(np.vstack([ring, [[0.0, 0.0, height]]]))


class Sections(unittest.TestCase):
    def test_a_ball(self) -> None:
        """Archimedes: the section at distance d is a circle of area π(R² − d²)."""
        k = np.arange(20_000) + 0.5
        z, turn = 1 - k / 10_000, k * math.pi * (1 + 5**0.5)
        ball = Solid.hull_of(50 * np.column_stack([np.cos(turn) * np.sqrt(1 - z * z), np.sin(turn) * np.sqrt(1 - z * z), z]))
        for d, normal in ((0.0, (0, 0, 1)), (20.0, (1, 2, 3)), (45.0, (1, 0, 1))):
            n = np.array(normal) / np.linalg.norm(normal)
            area = section_of(ball, plane_frame(n * d, n)).area
            self.assertAlmostEqual(area / (math.pi * (50**2 - d**2)), 1, delta=0.004)

    def test_a_cone_cut_aslant_is_an_ellipse(self) -> None:
        """Apollonius: a plane that leans less than the side cuts an ellipse. Its half axes follow from where the plane meets
        the two opposite sides (a) and from the cone's radius at the middle (b): area π·a·b (textbook)."""
        radius, height, lean = 60.0, 120.0, math.radians(25)
        k, m, at = radius / height, math.tan(lean), 40.0  # side: x = ±k(height − z); plane: z = at + m·x
        right, left = (s * k * (height - at) / (1 + s * k * m) for s in (1.0, -1.0))
        a = (right - left) / 2 / math.cos(lean)
        middle = (right + left) / 2
        b = math.sqrt((k * (height - at - m * middle)) ** 2 - middle**2)
        normal = np.array([-math.sin(lean), 0, math.cos(lean)])
        area = section_of(cone(radius, height), plane_frame(np.array([0, 0, at]), normal)).area
        self.assertAlmostEqual(area / (math.pi * a * b), 1, delta=1e-3)

    def test_a_cone_cut_along_its_side_is_a_parabola(self) -> None:
        """A plane parallel to a side cuts a parabola; its area is two thirds of chord times height (Archimedes)."""
        radius, height, at = 60.0, 120.0, 20.0
        # parallel to the left side and through x = at in the base; it meets the right side at z = h(r − at)/2r
        top = height * (radius - at) / (2 * radius)
        chord, length = 2 * math.sqrt(radius**2 - at**2), top * math.hypot(1, radius / height)
        normal = np.array([height, 0.0, -radius])
        section = section_of(cone(radius, height), plane_frame(np.array([at, 0.0, 0.0]), normal))
        self.assertAlmostEqual(section.area / (2 / 3 * chord * length), 1, delta=1e-3)

    def test_a_torus_cut_at_its_bitangent_plane_shows_two_circles(self) -> None:
        """Villarceau 1848: a plane through the middle that touches the torus twice cuts it in two circles of the radius of
        its core, R, whose middles lie r apart from the torus' middle on either side."""
        big, small = 100.0, 30.0
        body = Solid.from_mesh(torus(big, small, 720, 240))
        lean = math.asin(small / big)
        frame = plane_frame(np.zeros(3), np.array([math.sin(lean), 0, math.cos(lean)]))
        section = section_of(body, frame)
        points = np.vstack([np.asarray(ring.coords) for p in section.geoms for ring in (p.exterior, *p.interiors)])
        # the two middles lie on the line across the lean, which is Y in the world
        across = frame.flat(np.array([[0.0, 1.0, 0.0]]))[0]
        from_circles = [np.abs(np.linalg.norm(points - sign * small * across, axis=1) - big) for sign in (1, -1)]
        off = np.minimum(*from_circles)
        self.assertLess(float(np.quantile(off, 0.9)), 0.02)
        self.assertLess(off.max(), 0.5)  # where plane and torus touch, flat facets tell least
        lens = 2 * big**2 * math.acos(small / big) - small * math.sqrt(4 * big**2 - 4 * small**2)
        self.assertAlmostEqual(section.area / (2 * (math.pi * big**2 - lens)), 1, delta=0.002)

    @tried(20)
    @given(st.floats(-20, 20), st.floats(-60, 60), st.floats(-60, 60))
    def test_areas_against_shapely_by_another_way(self, at: float, one: float, two: float) -> None:
        """The section of a convex body is the hull of where its edges meet the plane; shapely's area of that hull."""
        body = box(60, 40, 50)
        plane = FlatParting(id="p1", axis="z", at_mm=25 + at, tilt_deg=(one, two)).frame
        mesh = body.mesh
        edges = np.vstack([mesh.faces[:, [0, 1]], mesh.faces[:, [1, 2]], mesh.faces[:, [2, 0]]])
        h = plane.heights(mesh.vertices)
        a, b = edges[(h[edges[:, 0]] > 0) != (h[edges[:, 1]] > 0)].T
        if len(a) == 0:
            self.assertTrue(section_of(body, plane).is_empty)
            return
        share = (h[a] / (h[a] - h[b]))[:, None]
        met = plane.flat(mesh.vertices[a] + share * (mesh.vertices[b] - mesh.vertices[a]))
        self.assertAlmostEqual(section_of(body, plane).area, Polygon(met).convex_hull.area, delta=1e-6 + 1e-9 * len(met))

    def test_hulls_against_scipy(self) -> None:
        """qhull's volume and area (through scipy)."""
        points = np.random.default_rng(4).normal(size=(400, 3)) * [30, 50, 20]
        ours, theirs = Solid.hull_of(points), ConvexHull(points)
        self.assertAlmostEqual(ours.volume_mm3 / theirs.volume, 1, places=9)
        area = float(np.linalg.norm(ours.mesh.face_vectors, axis=1).sum()) / 2
        self.assertAlmostEqual(area / theirs.area, 1, places=9)


class TradeFacts(unittest.TestCase):
    def test_a_body_of_1100_mm_in_sections_of_150_needs_at_least_eight(self) -> None:
        """Common practice: sections of 150 mm on a bed of 180 mm leave room for joints and a brim."""
        parts = part_model(box(1100, 60, 60), "a", [EvenParting(id="p1", axis="x", greatest_mm=150)], Cache()).parts
        self.assertEqual(len(parts), 8)
        self.assertTrue(all(p.solid.size[0] <= 150 for p in parts))

    def test_a_door_opens_with_a_few_tenths_all_round(self) -> None:
        """Common practice: 0.2 to 0.3 mm on each side; measured on the result, by distance and by the sizes' difference."""
        door = HatchParting.model_validate({"id": "p1", "at_mm": (0, 0, 40), "depth_mm": 5, "gap_mm": 0.25})
        body, lid = (p.solid for p in part_model(box(100, 60, 40), "a", [door], Cache()).parts)
        self.assertAlmostEqual(body.gap(lid.moved(0, 0, 1.0), 5), 0.25, delta=0.002)
        opening = box(100, 60, 40).minus([body])
        np.testing.assert_allclose(opening.size[:2] - lid.size[:2], 0.5, atol=1e-6)


if __name__ == "__main__":
    unittest.main()

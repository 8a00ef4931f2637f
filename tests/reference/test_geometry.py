"""Geometry against closed formulas and against trimesh on the same mesh."""

import io
import math
import unittest

import numpy as np
import trimesh
from stl import mesh as numpy_stl

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import part_model
from hinoki.core.export.archive import export_files
from hinoki.core.formats.stl import read_stl, write_stl
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.polygons import SAGITTA_MM, round_sides
from hinoki.core.geometry.sections import largest_circle, least_wall, section_of
from hinoki.core.geometry.solid import Solid
from hinoki.core.propose.recommend_joints import suggested
from tests.presented import view_of
from tests.shapes import across, box, built, level, plan_for, stl_of, torus, tube


def at(z: float, normal: tuple[float, float, float] = (0, 0, 1)):  # type: ignore[no-untyped-def]
    return plane_frame(np.array([0, 0, z]), np.array(normal, dtype=float))


class Formulas(unittest.TestCase):
    """Mensuration, as in any handbook (for instance Bronshtein & Semendyayev, chapter on geometry; from memory)."""

    def test_prism(self) -> None:
        solid = box(30, 40, 50)
        self.assertAlmostEqual(solid.volume_mm3, 60_000, places=6)
        self.assertAlmostEqual(section_of(solid, at(17)).area, 1200, places=6)
        # a plane tilted by 30° about X cuts the prism in a parallelogram longer by 1/cos 30°
        tilted = section_of(solid, at(25, (0, -math.sin(math.radians(30)), math.cos(math.radians(30)))))
        self.assertAlmostEqual(tilted.area, 1200 / math.cos(math.radians(30)), places=6)

    def test_cylinder_by_its_polygon(self) -> None:
        n = round_sides(20)
        area = n / 2 * 400 * math.sin(2 * math.pi / n)
        self.assertAlmostEqual(Solid.cylinder(20, 0, 30).volume_mm3, area * 30, places=6)
        self.assertLess(abs(area - math.pi * 400) / (math.pi * 400), 1e-3)

    def test_cone(self) -> None:
        n = round_sides(20)
        polygon = n / 2 * 400 * math.sin(2 * math.pi / n)
        cone = Solid.cone(20, 0, 0, 30)
        self.assertAlmostEqual(cone.volume_mm3, polygon * 30 / 3, places=6)
        self.assertAlmostEqual(section_of(cone, at(15)).area, polygon / 4, places=6)

    def test_sphere_cap(self) -> None:
        # V = πh²(3r − h)/3
        ball = Solid.from_mesh(_sphere(20, 200))
        cap = part_model(ball, "ball", (level(1, 12),), Cache()).parts[1].solid
        self.assertAlmostEqual(cap.volume_mm3 / (math.pi * 64 * (60 - 8) / 3), 1, delta=2e-3)
        self.assertAlmostEqual(section_of(ball, at(12)).area / (math.pi * (400 - 144)), 1, delta=2e-3)

    def test_torus_by_pappus(self) -> None:
        # Pappus: V = 2πR · πr²; upright section through the axis: two circles
        ring = Solid.from_mesh(torus(60, 15, 400, 120))
        self.assertAlmostEqual(ring.volume_mm3 / (2 * math.pi * 60 * math.pi * 225), 1, delta=1e-3)
        self.assertAlmostEqual(section_of(ring, at(0, (1, 0, 0))).area / (2 * math.pi * 225), 1, delta=1e-3)
        halves = part_model(ring, "ring", (across(1, "x", 0),), Cache()).parts
        self.assertAlmostEqual(halves[0].solid.volume_mm3, ring.volume_mm3 / 2, delta=1e-6 * ring.volume_mm3)

    def test_a_polygon_hole_is_too_small_by_the_cosine(self) -> None:
        # trade fact (common practice): a hole drawn with 12 sides is 3.4 % too small across the flats
        for n in (6, 12, 24, 64):
            angles = 2 * np.pi * np.arange(n) / n
            ring = np.column_stack([np.cos(angles), np.sin(angles)]) * 12.5
            flats = 2 * np.linalg.norm((ring + np.roll(ring, -1, axis=0)) / 2, axis=1).min()
            self.assertAlmostEqual(flats, 25 * math.cos(math.pi / n), places=9)
        self.assertAlmostEqual(1 - math.cos(math.pi / 12), 0.034, places=3)

    def test_bores_are_round_to_the_sagitta(self) -> None:
        for radius in (0.5, 1, 2.6, 5, 12.5, 40):
            n = round_sides(radius)
            self.assertTrue(radius * (1 - math.cos(math.pi / n)) <= SAGITTA_MM or n == 256, radius)

    def test_least_wall_and_room_of_a_tube(self) -> None:
        shape = section_of(tube(46, 38, 100), at(50))
        wall = least_wall(shape)
        assert wall is not None
        self.assertAlmostEqual(wall[0], 8, delta=0.03)
        self.assertAlmostEqual(largest_circle(shape)[0], 4, delta=0.06)

    def test_least_wall_of_a_plate_with_an_offset_window(self) -> None:
        plate = box(60, 40, 10).minus([Solid.box([-20, -17, -1], [20, 10, 11])])
        wall = least_wall(section_of(plate, at(5)))
        assert wall is not None
        self.assertAlmostEqual(wall[0], 3, places=6)


class AgainstTrimesh(unittest.TestCase):
    def test_volume_area_and_bounds_of_the_same_mesh(self) -> None:
        for mesh in (torus(60, 15, 90, 40, 3), tube(30, 20, 50).mesh, box(3, 4, 5).mesh):
            other = trimesh.Trimesh(mesh.vertices, mesh.faces, process=False)
            solid = Solid.from_mesh(mesh)
            self.assertAlmostEqual(solid.volume_mm3 / other.volume, 1, places=9)
            self.assertAlmostEqual(mesh.volume_mm3 / other.volume, 1, places=9)
            np.testing.assert_allclose(np.array(solid.bounds), other.bounds, atol=1e-9)

    def test_section_areas(self) -> None:
        mesh = torus(60, 15, 90, 40, 3)
        other = trimesh.Trimesh(mesh.vertices, mesh.faces)
        for normal in ((0, 0, 1), (1, 0, 0.3), (0.2, 1, -0.5)):
            frame = at(3.3, normal)
            ours = section_of(Solid.from_mesh(mesh), frame).area
            theirs = other.section(plane_normal=frame.n, plane_origin=frame.origin).to_2D()[0].area
            self.assertAlmostEqual(ours / theirs, 1, places=6)

    def test_every_exported_piece_is_closed_and_of_the_reported_volume(self) -> None:
        data = write_stl(torus(120, 35, 180, 60, 3))
        plan = plan_for(data, level(1, 40), across(2, "x", 7), across(3, "y", -4))
        plan = suggested(built(data, plan), plan, "pin", "snug")
        result = built(data, plan)
        for path, content in export_files(plan, result):
            if not path.startswith("pieces/"):
                continue
            piece = trimesh.load_mesh(io.BytesIO(content), file_type="stl")
            self.assertTrue(piece.is_watertight, path)
            number = int(path.split("/")[1][:2])
            view = next(p for p in result.pieces if p.number == number)
            self.assertAlmostEqual(piece.volume / view.volume_mm3, 1, places=5)
            np.testing.assert_allclose(np.ptp(piece.bounds, axis=0), view.rest.size_mm, atol=2e-3)
            self.assertAlmostEqual(piece.bounds[0][2], 0, places=4)

    def test_stl_read_back_by_numpy_stl(self) -> None:
        mesh = tube(30, 20, 50).mesh
        read = numpy_stl.Mesh.from_file("", fh=io.BytesIO(write_stl(mesh)))
        volume, _, _ = read.get_mass_properties()
        self.assertAlmostEqual(volume / mesh.volume_mm3, 1, places=5)
        self.assertAlmostEqual(read_stl(write_stl(mesh)).volume_mm3 / mesh.volume_mm3, 1, places=6)

    def test_stl_written_by_trimesh_is_read(self) -> None:
        other = trimesh.creation.icosphere(subdivisions=3, radius=10)
        for kind in ("stl", "stl_ascii"):
            content = other.export(file_type=kind)
            mesh = read_stl(content if isinstance(content, bytes) else content.encode())
            self.assertAlmostEqual(mesh.volume_mm3 / other.volume, 1, places=5)


class TradeFacts(unittest.TestCase):
    """Common practice; no published source."""

    def test_a_tall_body_on_a_small_printer(self) -> None:
        # an 1 100 mm model in sections up to 150 mm: at least 8
        data = stl_of(tube(40, 30, 1100))
        from hinoki.core.divide.partings import EvenParting

        plan = plan_for(data, EvenParting(id="p1", axis="z", greatest_mm=150), bed=(180, 180, 180))
        view = view_of(built(data, plan))
        self.assertEqual(len(view.pieces), 8)
        self.assertTrue(all(p.fits for p in view.pieces))

    def test_default_clearances(self) -> None:
        from hinoki.core.workshop.fits import Fits

        fits = Fits()
        self.assertEqual((fits.press, fits.snug, fits.sliding), (0.05, 0.10, 0.20))


def _sphere(radius: float, around: int):  # type: ignore[no-untyped-def]
    from hinoki.core.geometry.mesh import Mesh

    ball = trimesh.creation.uv_sphere(radius=radius, count=[around // 2, around])
    return Mesh(np.array(ball.vertices), np.array(ball.faces, dtype=np.int64))

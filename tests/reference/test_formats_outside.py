"""Formats against other libraries: trimesh reads what Hinoki writes and the other way round; lib3mf; STEP by formula."""

import ctypes
import io
import math
import unittest

import lib3mf
import numpy as np
import trimesh

from hinoki.core.formats.base import NamedMesh
from hinoki.core.formats.registry import read_file
from hinoki.core.formats.write import WRITERS, write_file
from hinoki.core.geometry.mesh import Mesh
from tests.shapes import torus, tube
from tests.step_files import step_box, step_cylinder

RING = torus(60, 15, 90, 40, 3)
TUBE = tube(30, 20, 50).mesh


class AgainstTrimesh(unittest.TestCase):
    def test_trimesh_reads_every_format_hinoki_writes(self) -> None:
        for ending in WRITERS:
            if ending == ".3mf":
                continue  # lib3mf, below
            for mesh in (RING, TUBE):
                content = write_file([NamedMesh("part", mesh)], f"a{ending}")
                other = trimesh.load_scene(io.BytesIO(content), file_type=ending[1:]).to_geometry()
                other.merge_vertices()
                scale = 1e9 if ending == ".glb" else 1.0
                self.assertAlmostEqual(other.volume * scale / mesh.volume_mm3, 1, places=4, msg=ending)
                self.assertTrue(other.is_watertight, ending)

    def test_hinoki_reads_every_format_trimesh_writes(self) -> None:
        other = trimesh.creation.icosphere(subdivisions=3, radius=12.5)
        other.apply_translation([3, -4, 5])
        for kind, name in (
            ("stl", "a.stl"),
            ("stl_ascii", "a.stl"),
            ("ply", "a.ply"),
            ("obj", "a.obj"),
            ("off", "a.off"),
            ("glb", "a.glb"),
        ):
            content = other.export(file_type=kind)
            mesh = read_file(content if isinstance(content, bytes) else content.encode(), name).mesh
            self.assertAlmostEqual(mesh.volume_mm3 / other.volume, 1, places=5, msg=kind)
        text = other.export(file_type="ply", encoding="ascii")
        self.assertAlmostEqual(read_file(text, "a.ply").mesh.volume_mm3 / other.volume, 1, places=5)

    def test_gltf_is_y_up_by_its_specification(self) -> None:
        # glTF 2.0, section 3.4: the +Y axis points up, units are metres
        post = trimesh.creation.box(extents=[0.02, 0.3, 0.04])
        found = read_file(post.export(file_type="glb"), "post.glb")
        self.assertEqual(found.unit, "m")
        np.testing.assert_allclose(np.ptp(found.mesh.vertices, axis=0), [0.02, 0.04, 0.3], atol=1e-7)


class AgainstLib3mf(unittest.TestCase):
    def test_units_components_and_transforms_written_by_lib3mf(self) -> None:
        wrapper = lib3mf.Wrapper()
        model = wrapper.CreateModel()
        model.SetUnit(lib3mf.ModelUnit.Inch)
        part = model.AddMeshObject()
        part.SetName("ring")
        part.SetGeometry(
            [lib3mf.Position((ctypes.c_float * 3)(*v)) for v in RING.vertices],
            [lib3mf.Triangle((ctypes.c_uint32 * 3)(*f)) for f in RING.faces.tolist()],
        )
        group = model.AddComponentsObject()
        still = wrapper.GetIdentityTransform()
        moved = wrapper.GetTranslationTransform(200, 0, 0)
        group.AddComponent(part, still)
        group.AddComponent(part, moved)
        model.AddBuildItem(group, wrapper.GetTranslationTransform(0, 0, 7))
        content = bytes(bytearray(model.QueryWriter("3mf").WriteToBuffer()))
        found = read_file(content, "a.3mf")
        self.assertEqual((found.unit, [o.name for o in found.objects]), ("inch", ["ring", "ring 2"]))
        for one, x in zip(found.objects, (0, 200), strict=True):
            self.assertAlmostEqual(one.mesh.volume_mm3 / RING.volume_mm3, 1, places=5)
            np.testing.assert_allclose(one.mesh.bounds[0], RING.bounds[0] + [x, 0, 7], atol=1e-3)

    def test_lib3mf_reads_what_hinoki_writes_in_strict_mode(self) -> None:
        content = write_file([NamedMesh("ring", RING), NamedMesh("tube", TUBE)], "a.3mf")
        model = lib3mf.Wrapper().CreateModel()
        reader = model.QueryReader("3mf")
        reader.SetStrictModeActive(True)
        reader.ReadFromBuffer(content)
        self.assertEqual(reader.GetWarningCount(), 0)
        meshes = model.GetMeshObjects()
        volumes = []
        while meshes.MoveNext():
            one = meshes.GetCurrentMeshObject()
            vertices = np.array([list(v.Coordinates) for v in one.GetVertices()])
            faces = np.array([list(t.Indices) for t in one.GetTriangleIndices()])
            volumes.append(Mesh(vertices, faces.astype(np.int64)).volume_mm3)
        np.testing.assert_allclose(volumes, [RING.volume_mm3, TUBE.volume_mm3], rtol=1e-5)


class Step(unittest.TestCase):
    def test_a_box_by_formula(self) -> None:
        found = read_file(step_box(40, 25, 12.5), "box.step")
        self.assertAlmostEqual(found.mesh.volume_mm3, 40 * 25 * 12.5, places=2)
        self.assertTrue(found.mesh.edges.closed)
        self.assertEqual(found.unit, "mm")

    def test_a_cylinder_by_formula_within_the_tolerance(self) -> None:
        found = read_file(step_cylinder(20, 50), "post.stp")
        # within 0.02 mm of the circle: a loss of area of at most two thirds of 2 · 0.02 / r
        self.assertLess(1 - found.mesh.volume_mm3 / (math.pi * 400 * 50), 2 * 0.02 / 20)
        np.testing.assert_allclose(np.ptp(found.mesh.vertices, axis=0)[2], 50, atol=1e-4)
        self.assertTrue(found.mesh.edges.closed)


if __name__ == "__main__":
    unittest.main()

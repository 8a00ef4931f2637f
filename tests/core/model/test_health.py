"""The survey finds what is wrong with a surface, says how much, and where."""

import math
import unittest

import numpy as np

from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.health.bores import find_bores, meant_round
from hinoki.core.model.health.components import split_lumps
from hinoki.core.model.health.diagnostics import quick_issues, survey
from hinoki.core.model.health.edges import flipped_faces, open_loops
from hinoki.core.model.health.thickness import face_thickness
from tests.shapes import box, torus, tube

BRICK = box(40, 30, 20).mesh


def together(*meshes: Mesh) -> Mesh:
    """Several meshes as one."""
    starts = np.cumsum([0, *(len(m.vertices) for m in meshes)])
    faces = np.concatenate([m.faces + s for m, s in zip(meshes, starts[:-1], strict=True)])
    return Mesh(np.concatenate([m.vertices for m in meshes]), faces)


def moved(mesh: Mesh, x: float, y: float = 0.0, z: float = 0.0) -> Mesh:
    return Mesh(mesh.vertices + np.array([x, y, z]), mesh.faces)


def without(mesh: Mesh, *faces: int) -> Mesh:
    return Mesh(mesh.vertices, np.delete(mesh.faces, faces, axis=0))


def turned(mesh: Mesh, *faces: int) -> Mesh:
    out = mesh.faces.copy()
    out[list(faces)] = out[list(faces)][:, ::-1]
    return Mesh(mesh.vertices, out)


def codes(mesh: Mesh) -> dict[str, int]:
    return {i.code: i.count for i in quick_issues(mesh)}


class Edges(unittest.TestCase):
    def test_a_good_surface_has_no_findings(self) -> None:
        self.assertEqual(codes(torus(60, 15, 60, 24)), {})

    def test_holes_are_counted_measured_and_placed(self) -> None:
        whole = torus(60, 15, 60, 24)
        shared = [len(set(whole.faces[0]) & set(f)) for f in whole.faces.tolist()]
        mesh = without(whole, 0, shared.index(2), 1000)
        loops = open_loops(mesh)
        self.assertEqual(sorted(len(r) for r in loops), [3, 4])
        issue = next(i for i in quick_issues(mesh) if i.code == "surface-open")
        self.assertEqual((issue.count, issue.severity), (2, "must-fix"))
        self.assertEqual(issue.params["edges"], 7)
        ring = mesh.vertices[torus(60, 15, 60, 24).faces[1000]]
        self.assertTrue(any(np.linalg.norm(p.at - ring.mean(axis=0)) < 1e-6 for p in issue.places))

    def test_faces_turned_over_are_named_exactly(self) -> None:
        mesh = turned(torus(60, 15, 60, 24), 5, 6, 700)
        self.assertEqual(flipped_faces(mesh.faces).tolist(), [5, 6, 700])
        self.assertEqual(codes(mesh)["faces-flipped"], 3)

    def test_crowded_edges_and_duplicates(self) -> None:
        twice = Mesh(BRICK.vertices, np.concatenate([BRICK.faces, BRICK.faces[:2]]))
        found = codes(twice)
        self.assertEqual(found["faces-duplicate"], 2)
        self.assertIn("edges-crowded", found)

    def test_slivers(self) -> None:
        thin = BRICK.vertices.copy()
        mesh = Mesh(np.concatenate([thin, [[0.0, 0.0, -5.0], [1.0, 0.0, -5.0], [0.5, 1e-6, -5.0]]]), BRICK.faces)
        faces = np.concatenate([mesh.faces, [[8, 9, 10]]])
        self.assertEqual(codes(Mesh(mesh.vertices, faces))["faces-sliver"], 1)


class Lumps(unittest.TestCase):
    def test_inside_out_lumps_but_not_cavities(self) -> None:
        self.assertEqual(codes(turned(BRICK, *range(12)))["surface-inside-out"], 1)
        hollow = together(box(60, 60, 60).mesh, moved(turned(BRICK, *range(12)), 0, 0, 10))
        found = codes(hollow)
        self.assertNotIn("surface-inside-out", found)
        self.assertEqual(found["surface-cavities"], 1)

    def test_overlapping_lumps_say_how_much(self) -> None:
        mesh = together(BRICK, moved(BRICK, 30))
        issue = next(i for i in quick_issues(mesh) if i.code == "lumps-overlap")
        self.assertAlmostEqual(issue.params["shared_cm3"], 6.0, places=3)  # type: ignore[arg-type]  # 10 × 30 × 20 mm

    def test_lumps_that_only_touch_boxes_do_not_overlap(self) -> None:
        self.assertNotIn("lumps-overlap", codes(together(BRICK, moved(BRICK, 41))))

    def test_specks(self) -> None:
        speck = Mesh(BRICK.vertices * 0.002 + 80, BRICK.faces)
        found = codes(together(BRICK, speck, moved(speck, 5)))
        self.assertEqual(found["lumps-specks"], 2)
        self.assertNotIn("surface-lumps", found)

    def test_lumps_are_split_and_counted(self) -> None:
        self.assertEqual(len(split_lumps(together(BRICK, moved(BRICK, 50), moved(BRICK, 100)))), 3)
        self.assertEqual(codes(together(BRICK, moved(BRICK, 50)))["surface-lumps"], 2)


class Bores(unittest.TestCase):
    def test_outer_corners_and_fine_holes_are_no_coarse_bores(self) -> None:
        self.assertEqual(find_bores(Solid.prism(20, 0, 30, 12).mesh), [])
        self.assertEqual(find_bores(tube(30, 20, 40).mesh), [])

    def test_bores_in_any_direction_and_several_at_once(self) -> None:
        plate = box(100, 60, 10)
        holes = [Solid.prism(4, -1, 11, 8).moved(x, 0, 0) for x in (-30.0, 0.0, 30.0)]
        across = Solid.prism(2, -60, 60, 10).placed(np.array([[1.0, 0, 0, 15], [0, 0, 1, 0], [0, -1, 0, 5]]))
        found = find_bores(plate.minus([*holes, across]).mesh)
        self.assertEqual(sorted(b.sides for b in found), [8, 8, 8, 10])

    def test_only_what_is_likely_to_be_meant_round(self) -> None:
        """A frame of six sides and the pocket of a nut stay as they are drawn; a hole drawn coarsely does not."""

        def told(*holes: Solid) -> list[int]:
            return sorted(b.sides for b in meant_round(find_bores(box(200, 200, 10).minus(list(holes)).mesh)))

        frame = Solid.prism(68, -1, 11, 6)
        self.assertEqual(told(frame), [])
        across_flats = 5.7  # an M3 nut with a fit
        self.assertEqual(told(Solid.prism(across_flats / 2 / math.cos(math.pi / 6), -1, 5, 6)), [])
        self.assertEqual(told(Solid.prism(4, -1, 11, 8)), [8])  # 8 mm across its corners: a drill's size
        self.assertEqual(told(Solid.prism(4.1, -1, 11, 8)), [])
        counterbore = Solid.prism(4.1, 5, 11, 8)
        self.assertEqual(told(counterbore, Solid.prism(2.1, -1, 6, 16)), [8, 16])  # in line with a round one
        self.assertEqual(told(Solid.prism(70, -1, 11, 16)), [16])


class Walls(unittest.TestCase):
    def test_thin_walls_are_found_where_they_are(self) -> None:
        plate = box(60, 40, 10).minus([Solid.box([-20, -19.4, -1], [20, 10, 11])])
        found = survey(plate.mesh, 1.0, 0.4)
        issue = next(i for i in found.issues if i.code == "walls-thin")
        self.assertAlmostEqual(issue.params["least_mm"], 0.6, places=2)  # type: ignore[arg-type]
        self.assertTrue(all(abs(p.at[1] + 20) < 1 for p in issue.places))

    def test_details_under_a_line_are_lost(self) -> None:
        fin = box(60, 40, 10).plus([Solid.box([-20, -0.15, 9], [20, 0.15, 16])])
        found = survey(fin.mesh, 1.0, 0.4)
        issue = next(i for i in found.issues if i.code == "details-lost")
        self.assertAlmostEqual(issue.params["least_mm"], 0.3, places=2)  # type: ignore[arg-type]

    def test_nothing_is_thin_in_a_block(self) -> None:
        found = survey(BRICK, 1.0, 0.4)
        self.assertEqual(found.codes, set())
        assert found.under_mm is not None
        self.assertEqual(sorted(set(np.round(found.under_mm, 3).tolist())), [20.0, 30.0, 40.0])

    def test_an_open_sheet_has_no_thickness(self) -> None:
        sheet = Mesh(np.array([[0.0, 0, 0], [9, 0, 0], [0, 9, 0]]), np.array([[0, 1, 2]]))
        self.assertTrue(np.isinf(face_thickness(sheet)).all())


class Through(unittest.TestCase):
    def test_faces_through_one_another(self) -> None:
        mesh = together(BRICK, moved(BRICK, 7, 5, 9))
        issue = next(i for i in survey(mesh, 1.0, 0.4).issues if i.code == "faces-through")
        self.assertGreater(issue.count, 5)
        self.assertTrue(issue.places)


class Size(unittest.TestCase):
    def test_a_size_that_suggests_another_unit(self) -> None:
        self.assertIn("size-unusual", codes(Mesh(BRICK.vertices / 25.4 / 10, BRICK.faces)))
        self.assertIn("size-unusual", codes(Mesh(BRICK.vertices * 1000, BRICK.faces)))


if __name__ == "__main__":
    unittest.main()

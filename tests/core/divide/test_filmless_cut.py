"""Cuts flush with faces: no film is left, and mating faces, volumes and surfaces are what counting and formulas give."""

import itertools
import math
import unittest
from typing import NamedTuple
from unittest.mock import patch

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.cache import Cache
from hinoki.core.check.films import crowded_edges, film_findings, films
from hinoki.core.divide.cut import Part, part_model
from hinoki.core.divide.mating_faces import mating_faces
from hinoki.core.divide.partings import FlatParting, HatchParting, LapParting, PartingBase, ProfileParting, WedgesParting
from hinoki.core.divide.partings.flat import plane_fields
from hinoki.core.divide.partings.outlines import Rectangle
from hinoki.core.divide.partings.profile import LinePoint
from hinoki.core.geometry.filmless_cut import split_at
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.solid import Solid
from tests.effort import tried
from tests.shapes import across, box, level, tube

OPEN_BOX = Solid.box([-90, -75, 0], [90, 75, 160]).minus([Solid.box([-86, -71, 4], [86, 71, 161])])
HAIRS = (0.0, 1e-13, -1e-13, 1e-9, -1e-9, 5e-4, -5e-4, 1.5e-3, -1.5e-3)
"""how far a plane is off the face it all but lies in"""


def surface(solid: Solid) -> float:
    return float(np.linalg.norm(solid.mesh.face_vectors, axis=1).sum() / 2)


class Found(NamedTuple):
    mating_mm2: float
    surfaces_mm2: list[float]
    volumes_mm3: list[float]


def cut(solid: Solid, *partings: PartingBase) -> Found:
    parts = part_model(solid, "made", partings, Cache()).parts
    faces = mating_faces(parts, Cache())
    return Found(
        sum(f.shape.area for f in faces), sorted(surface(p.solid) for p in parts), sorted(p.solid.volume_mm3 for p in parts)
    )


class ManyLumps(unittest.TestCase):
    def test_many_are_told_apart_as_few_are(self) -> None:
        """Sixteen bars, one of them hollow, cut across: each as if it had been cut alone."""
        bars = [box(4, 4, 20).moved(10.0 * i, 10.0 * j, 0) for i in range(4) for j in range(4)]
        bars[5] = bars[5].minus([box(2, 2, 6).moved(10.0, 10.0, 2)])
        for solid in (
            Solid.united(bars),
            Solid.united(bars).halves(plane_frame(np.array([0, 0, 12.0]), np.array([0, 0, 1.0])))[1],
        ):
            lumps = solid.lumps()
            self.assertEqual(len(lumps), 16)
            self.assertAlmostEqual(sum(lump.volume_mm3 for lump in lumps), solid.volume_mm3, places=6)
            hollow = [lump for lump in lumps if len(lump.mesh.faces) > 12]
            self.assertEqual(len(hollow), 1)  # a cavity stays with what surrounds it
            known = {(int(s), int(n)) for lump in lumps for s, n in zip(lump.surfaces, lump.source_faces, strict=True)}
            self.assertEqual(known, {(int(s), int(n)) for s, n in zip(solid.surfaces, solid.source_faces, strict=True)})

    def test_a_model_of_many_keeps_the_numbers_of_its_faces(self) -> None:
        bars = Solid.united([box(4, 4, 20).moved(10.0 * i, 0, 0) for i in range(12)])
        model = Solid.from_mesh(bars.mesh, model=True)
        seen = np.concatenate([lump.source_faces for lump in model.lumps()])
        np.testing.assert_array_equal(np.sort(seen), np.sort(model.source_faces))
        self.assertTrue(all(lump.of_model for lump in model.lumps()))

    def test_many_areas_meet_as_if_all_were_looked_at(self) -> None:
        """A plate with forty-nine posts cut off it, and the whole work tells how far it is throughout."""
        posts = [Solid.cylinder(1.2, 3, 14).moved(5.0 * i, 5.0 * j, 0) for i in range(7) for j in range(7)]
        solid = Solid.box([-5, -5, 0], [35, 35, 4]).plus(posts)
        parts = part_model(solid, "posts", [level(1, 9.0)], Cache()).parts
        found = [(f.ref, f.shape) for f in mating_faces(parts, Cache())]
        with patch("hinoki.core.divide.mating_faces.FEW", 10**9):
            plain = [(f.ref, f.shape) for f in mating_faces(parts, Cache())]
        self.assertEqual(len(found), 49)
        for (one, shape), (other, all_looked_at) in zip(found, plain, strict=True):
            self.assertEqual(one, other)
            self.assertLess(shape.symmetric_difference(all_looked_at).area, 1e-9)


class Formulas(unittest.TestCase):
    """An open box, its wall 4: whichever way it is cut flush, its two parts touch in the other walls only."""

    def is_right(self, found: Found, solid: Solid, mating: float) -> None:
        """Two parts touch in `mating` mm²: their surfaces are the whole's and twice that, their volumes the whole's."""
        self.assertAlmostEqual(found.mating_mm2 / mating, 1, delta=1e-6)
        self.assertAlmostEqual(sum(found.surfaces_mm2) / (surface(solid) + 2 * mating), 1, delta=1e-6)
        self.assertAlmostEqual(sum(found.volumes_mm3) / solid.volume_mm3, 1, delta=1e-9)

    def test_flat_on_either_side_and_a_hair_off(self) -> None:
        for hair, at in itertools.product(HAIRS, (-71, 71)):
            with self.subTest(at=at, hair=hair):
                self.is_right(cut(OPEN_BOX, across(1, "y", at + hair)), OPEN_BOX, 2 * 160 * 4 + 172 * 4)
        tray = box(100, 80, 30).minus([box(92, 72, 30).moved(0, 0, 4)])
        for hair in HAIRS:
            self.is_right(cut(tray, level(1, 4 + hair)), tray, 100 * 80 - 92 * 72)

    def test_a_step_in_a_round_shaft_and_a_floor_in_a_tube(self) -> None:
        wide, narrow = Solid.cylinder(30, 0, 40), Solid.cylinder(12, 40, 90)
        shaft = wide.plus([narrow])
        self.is_right(cut(shaft, level(1, 40)), shaft, narrow.slice(60).area)
        cup = tube(40, 30, 80).plus([Solid.cylinder(35, 0, 5)])
        self.is_right(cut(cup, level(1, 5)), cup, cup.slice(6).area)

    def test_profile_lap_and_wedges(self) -> None:
        for hair in HAIRS:
            at = -71 + hair
            line = [LinePoint(x_mm=x, y_mm=y) for x, y in ((-100, at), (0, at), (0, 20), (100, 20))]
            lap = LapParting(id="p1", axis="y", at_mm=at + 5, overlap_mm=10)
            for parting, mating in (
                (ProfileParting(id="p1", eye=(0, 0, 1), points=tuple(line)), 984 + 4 * 91 + 984),
                (lap, 984 + 4 * 10 + 984),
                (WedgesParting(id="p1", count=2, through_mm=(0, at)), 1968),
                (WedgesParting(id="p1", count=4, through_mm=(0, at)), 1968 + 2 * 4 * 160 + 4 * 142),
            ):
                with self.subTest(kind=parting.label(), hair=hair):
                    found = cut(OPEN_BOX, parting)
                    self.assertAlmostEqual(found.mating_mm2 / mating, 1, delta=2e-5 if parting is lap else 1e-6)
                    self.assertAlmostEqual(sum(found.surfaces_mm2) / (surface(OPEN_BOX) + 2 * mating), 1, delta=1e-5)
                    self.assertAlmostEqual(sum(found.volumes_mm3) / OPEN_BOX.volume_mm3, 1, delta=1e-9)

    def test_tilted_from_a_file_that_rounds(self) -> None:
        """Turned by odd angles and rounded as an STL rounds: the wall's corners are no longer in one plane."""
        for degrees in (13, 27, 31, 58):
            t = math.radians(degrees)
            turn = np.array([[math.cos(t), -math.sin(t), 0], [math.sin(t), math.cos(t), 0], [0, 0, 1.0]])
            turn = turn @ np.array([[1, 0, 0], [0, math.cos(t / 3), -math.sin(t / 3)], [0, math.sin(t / 3), math.cos(t / 3)]])
            mesh = OPEN_BOX.mesh
            solid = Solid.from_mesh(Mesh((mesh.vertices @ turn.T).astype(np.float32).astype(np.float64), mesh.faces))
            for at in (-71.0, 71.0):
                with self.subTest(degrees=degrees, at=at):
                    normal = turn @ np.array([0, 1.0, 0])
                    parting = FlatParting(id="p1", **plane_fields(normal * at, normal))
                    found = cut(solid, parting)
                    self.assertAlmostEqual(found.mating_mm2 / 1968, 1, delta=1e-6)
                    self.assertAlmostEqual(sum(found.surfaces_mm2) / (surface(solid) + 2 * 1968), 1, delta=1e-6)


class Blocks(unittest.TestCase):
    """Random heaps of blocks cut between blocks: what comes of it is counted."""

    @tried(60)
    @given(
        full=st.lists(st.booleans(), min_size=48, max_size=48),
        axis=st.sampled_from("xyz"), at=st.integers(1, 3), hair=st.sampled_from(HAIRS), turned=st.sampled_from((0, 17, 33)),
    )  # fmt: skip
    def test_volume_mating_faces_and_surface(self, full: list[bool], axis: str, at: int, hair: float, turned: int) -> None:
        cells = np.array(full).reshape(4, 4, 3)
        k = "xyz".index(axis)
        at = min(at, cells.shape[k] - 1)
        low = np.expand_dims(np.arange(cells.shape[k]) < at, [i for i in range(3) if i != k])
        sides = [cells & low, cells & ~low]
        if not (sides[0].any() and sides[1].any()):
            return
        t = math.radians(turned)
        turn = np.array([[math.cos(t), -math.sin(t), 0], [math.sin(t), math.cos(t), 0], [0, 0, 1.0]])
        solid = heap(cells).placed(np.column_stack([turn, np.zeros(3)]))
        normal = turn[:, k]
        parting = FlatParting(id="p1", **plane_fields(normal * (10 * at + hair), normal))
        parts = part_model(solid, "made", (parting,), Cache()).parts
        ahead = [p.solid for p in parts if p.solid.centre_of_mass @ normal > 10 * at]
        behind = [p.solid for p in parts if p.solid.centre_of_mass @ normal < 10 * at]
        for found, wanted in ((behind, sides[0]), (ahead, sides[1])):
            self.assertAlmostEqual(sum(s.volume_mm3 for s in found) / (1000 * wanted.sum()), 1, delta=1e-6)
            self.assertAlmostEqual(sum(surface(s) for s in found) / (100 * outside(wanted)), 1, delta=1e-6)
        both = np.take(cells, at - 1, axis=k) & np.take(cells, at, axis=k)
        area = sum(f.shape.area for f in mating_faces(parts, Cache()))
        self.assertAlmostEqual(area, 100 * both.sum(), delta=1e-6 * max(100 * both.sum(), 1))


def heap(cells: "np.ndarray") -> Solid:
    """Blocks of 10 mm where `cells` are full."""
    places: Points = np.argwhere(cells).astype(float) * 10
    return Solid.united([Solid.box(p.tolist(), (p + 10).tolist()) for p in places])


def outside(cells: "np.ndarray") -> int:
    """Sides of full cells beside empty ones."""
    padded = np.pad(cells, 1)
    return int(sum((padded & ~np.roll(padded, way, axis)).sum() for axis in range(3) for way in (1, -1)))


class Hatches(unittest.TestCase):
    def test_as_deep_as_the_wall_or_a_hair_off(self) -> None:
        """Its sides are all that is new, on both parts."""
        outline = Rectangle(width_mm=40, height_mm=30)
        around = float(np.linalg.norm(np.diff(outline.ring(0.0), axis=0, append=outline.ring(0.0)[:1]), axis=1).sum())
        for hair in HAIRS:
            hatch = HatchParting(
                id="p1", at_mm=(0, -75, 80), outward=(0, -1, 0), outline=outline, depth_mm=4 + hair, gap_mm=0
            )  # fmt: skip
            with self.subTest(hair=hair):
                found = cut(OPEN_BOX, hatch)
                self.assertAlmostEqual(sum(found.surfaces_mm2) / (surface(OPEN_BOX) + 2 * 4 * around), 1, delta=1e-6)


class Seen(unittest.TestCase):
    """Films and edges where four faces meet are found where they are, and nowhere else."""

    def test_a_film_is_found_with_its_area_and_place(self) -> None:
        frame = plane_frame(np.array([0, -71.0 - 1e-13, 0]), np.array([0, 1.0, 0]))
        for above in (True, False):
            solid = OPEN_BOX.halves(frame)[0 if above else 1]
            wanted = [172 * 156.0] if above else []
            self.assertEqual([round(f.area_mm2, 3) for f in films(solid)], wanted)
        (film,) = films(OPEN_BOX.halves(frame)[0])
        self.assertAlmostEqual(film.at_mm[1], -71, places=6)
        self.assertTrue(-86 < film.at_mm[0] < 86 and 4 < film.at_mm[2] < 160)

    def test_thin_walls_and_narrow_gaps_are_no_films(self) -> None:
        for gap in (0.01, 0.1):
            self.assertEqual(films(box(40, 40, 40).minus([box(41, gap, 30).moved(0, 0, 5)])), [])
            self.assertEqual(films(box(40, 40, 40).minus([box(30, 19.99 - gap, 30).moved(0, 10, 5)])), [])

    def test_an_edge_where_four_faces_meet(self) -> None:
        touching = box(10, 10, 10).plus([box(10, 10, 10).moved(10, 10, 0)])
        lines = crowded_edges(touching.mesh)
        np.testing.assert_allclose(sorted(lines.reshape(-1, 3).tolist()), [[5, 5, 0], [5, 5, 10]])
        self.assertEqual(len(crowded_edges(tube(10, 5, 20).mesh)), 0)

    def test_triangles_that_are_lines_make_no_crowd(self) -> None:
        # along the edge from (0, 0, 0) to (2, 0, 0) both sides have a corner of their own, at the same place
        corners = np.array([(0, 0, 0), (2, 0, 0), (1, 2, 0), (1, 0, 2), (1, 0, 0), (1, 0, 0)], dtype=float)
        faces = [(0, 4, 2), (4, 1, 2), (1, 5, 3), (5, 0, 3), (4, 0, 1), (5, 1, 0), (1, 3, 2), (0, 2, 3)]
        self.assertEqual(len(crowded_edges(Mesh(corners, np.array(faces)))), 0)

    def test_it_is_said_of_the_piece(self) -> None:
        part = Part("p1+", OPEN_BOX.halves(plane_frame(np.array([0, -71.0 - 1e-13, 0]), np.array([0, 1.0, 0])))[0], "made")
        (finding,) = film_findings([part], {"p1+": 2}, Cache())
        self.assertEqual((finding.severity, finding.code, finding.piece), ("must-fix", "film", 2))
        self.assertAlmostEqual(finding.params["area_mm2"], 26832, delta=0.5)  # type: ignore[arg-type]


class Kept(unittest.TestCase):
    def test_where_faces_came_from_is_known_after_a_flush_cut(self) -> None:
        solid = Solid.from_mesh(OPEN_BOX.mesh, model=True)
        parts = part_model(solid, "made", (across(1, "y", -71),), Cache()).parts
        for part in parts:
            normals = part.solid.mesh.face_normals
            here = np.abs(part.solid.mesh.vertices[part.solid.mesh.faces][:, :, 1] + 71).max(axis=1) < 1e-9
            cut_faces = here & (np.abs(normals[:, 1]) > 0.99)
            self.assertTrue(cut_faces.any())
            self.assertTrue((part.solid.source_faces[~here] >= 0).all())
            self.assertEqual(len(part.solid.lumps()), 1)

    def test_a_cut_with_no_face_near_is_the_kernels_own(self) -> None:
        frame = plane_frame(np.array([0, 0, 50.0]), np.array([0, 0.1, 1.0]))
        solid = tube(30, 20, 100)
        above, below = solid.halves(frame)
        for one, other in zip(split_at(solid, frame), (above, below), strict=True):
            np.testing.assert_array_equal(one.mesh.vertices, other.mesh.vertices)


if __name__ == "__main__":
    unittest.main()

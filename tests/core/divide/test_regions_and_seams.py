"""Marks, seams, pieces kept together, slivers, planes in faces."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import FlatParting, HatchParting, LapParting, WedgesParting
from hinoki.core.divide.region_tracking import brushed, carried_over, marked
from hinoki.core.divide.seams import Seam, lines_of, outer_faces_of, seams_of
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.regions import Mark, packed, painted_on, traced, unpacked
from hinoki.core.plan.together import Together
from tests.checked import findings_of
from tests.effort import tried
from tests.shapes import across, box, built, level, plan_for, stl_of, torus, tube


def boxed(number: int, kind: str, low: tuple[float, float, float], high: tuple[float, float, float]) -> Mark:
    """A boxed mark."""
    return Mark.model_validate({"id": f"k{number}", "kind": kind, "box": {"low_mm": low, "high_mm": high}})


def ball(radius: float = 30) -> Mesh:
    """A ball of many small triangles."""
    return Solid.hull_of(_on_ball(3000) * radius).mesh


def _on_ball(count: int) -> np.ndarray:
    k = np.arange(count) + 0.5
    z, turn = 1 - 2 * k / count, k * math.pi * (1 + 5**0.5)
    return np.column_stack([np.cos(turn) * np.sqrt(1 - z * z), np.sin(turn) * np.sqrt(1 - z * z), z])


def seen(solid: Solid, *partings: object, **more: object) -> Build:
    """The build of a solid."""
    data = stl_of(solid)
    return built(data, plan_for(data, *partings, **more))


def seams(result: Build) -> dict[str, Seam]:
    """The seams by parting."""
    assert result.prepared is not None
    assert result.parted is not None
    return seams_of(result.parted.parts, outer_faces_of(Cache(), result.prepared), Cache())


def plane_mm(result: Build) -> float:
    """How high the first parting's plane lies."""
    assert result.parted is not None
    return float(result.parted.members["p1"][0].frame.origin[2])


def codes(result: Build) -> list[str]:
    """The codes of all findings but those of bare faces."""
    return [f.code for f in findings_of(result) if f.code != "face-bare"]


class Packing(unittest.TestCase):
    @given(st.sets(st.integers(0, 2**31), max_size=300))
    def test_face_sets_come_back_as_they_were(self, faces: set[int]) -> None:
        rising = np.array(sorted(faces), dtype=np.int64)
        np.testing.assert_array_equal(unpacked(packed(rising)), rising)

    def test_a_run_of_faces_takes_little_room(self) -> None:
        self.assertLess(len(packed(np.arange(100_000))), 300)

    def test_damaged_text_is_refused(self) -> None:
        for text in ("!", "AAAA", packed(np.array([5]))[:-4]):
            with self.assertRaises(BadPlan):
                unpacked(text)


class Painting(unittest.TestCase):
    def test_the_brush_takes_what_lies_under_it_on_that_side_only(self) -> None:
        plate = ball().vertices * [1, 1, 0.02]
        thin = Mesh(plate, ball().faces)
        faces = brushed(thin, np.array([[0, 0, 0.6]]), np.array([[0, 0, 1.0]]), 8.0)
        middles = thin.vertices[thin.faces[faces]].mean(axis=1)
        self.assertLess(np.hypot(middles[:, 0], middles[:, 1]).max(), 8.5)
        self.assertGreater(thin.face_normals[faces][:, 2].min(), 0)
        self.assertGreater(len(faces), 50)

    def test_a_mark_survives_another_mesh_of_the_same_surface(self) -> None:
        mesh = ball()
        cap = np.flatnonzero(mesh.vertices[mesh.faces].mean(axis=1)[:, 2] > 20)
        mark = Mark(id="k1", kind="show", painted=painted_on(mesh, "0" * 32, cap))
        finer = Solid.hull_of(_on_ball(5000) * 30).mesh
        now = marked([mark], finer, "1" * 32, Cache())
        areas = np.linalg.norm(finer.face_vectors, axis=1) / 2
        wanted = set(np.flatnonzero(finer.vertices[finer.faces].mean(axis=1)[:, 2] > 20).tolist())
        wrong = wanted ^ set(now.faces["k1"].tolist())
        self.assertLess(areas[sorted(wrong)].sum() / areas[sorted(wanted)].sum(), 0.08)

    def test_it_follows_a_scaled_model_and_is_lost_on_another(self) -> None:
        mesh = ball()
        cap = np.flatnonzero(mesh.vertices[mesh.faces].mean(axis=1)[:, 2] > 20)
        trace = painted_on(mesh, "0" * 32, cap).trace
        larger = carried_over(trace, Mesh(mesh.vertices * 2 + [0, 0, 60], mesh.faces))
        self.assertIsNotNone(larger)
        self.assertLess(len(set(larger.tolist()) ^ set(cap.tolist())), 0.08 * len(cap))
        self.assertIsNone(carried_over(trace, box(60, 60, 60).moved(0, 0, -30).mesh))

    def test_a_mark_lies_on_the_surface_within_three_tenths_of_a_millimetre_or_is_lost(self) -> None:
        mesh = ball()
        out = mesh.vertices / np.linalg.norm(mesh.vertices, axis=1)[:, None] @ (np.ones(3) / np.sqrt(3))
        faces = np.flatnonzero(out[mesh.faces].min(axis=1) > 0.93)
        trace = painted_on(mesh, "0" * 32, faces).trace
        for deep, lost in ((0.2, False), (0.4, True)):  # a dent beside the six places that make the box around the ball
            dented = mesh.vertices * np.where(out > 0.85, 1 - deep / 30, 1.0)[:, None]
            self.assertEqual(carried_over(trace, Mesh(dented, mesh.faces)) is None, lost, deep)

    def test_a_trace_comes_back_to_a_hundredth(self) -> None:
        points, normals = traced(painted_on(ball(), "0" * 32, np.arange(50)).trace)
        self.assertLess(np.abs(np.linalg.norm(points, axis=1) - 30).max(), 0.2)
        self.assertLess(np.abs(np.linalg.norm(normals, axis=1) - 1).max(), 0.02)

    def test_one_that_is_off_takes_nothing_from_those_after_it(self) -> None:
        solid = box(40, 40, 40)
        on = boxed(2, "show", (-30, -30, 39), (30, 30, 41))
        off = boxed(1, "keep", (-30, -30, -1), (30, 30, 1)).model_copy(update={"on": False})
        now = marked([off, on], solid.mesh, "0" * 32, Cache())
        self.assertEqual((sorted(now.faces), len(now.of("keep"))), (["k2"], 0))
        self.assertGreater(len(now.of("show")), 0)

    def test_a_mark_that_covers_nothing_is_said(self) -> None:
        self.assertEqual(codes(seen(box(40, 40, 40), marks=(boxed(1, "keep", (90, 90, 90), (99, 99, 99)),))), ["mark-lost"])

    def test_nonsense_is_refused(self) -> None:
        with self.assertRaisesRegex(ValidationError, "low corner"):
            boxed(1, "keep", (0, 0, 0), (1, 0, 1))
        with self.assertRaisesRegex(ValidationError, "either painted or boxed"):
            Mark(id="k1", kind="keep")


class Crossing(unittest.TestCase):
    bottom = boxed(1, "keep", (-60, -30, -1), (60, 30, 1))

    def test_a_parting_through_what_is_to_stay_whole_is_said_and_named(self) -> None:
        result = seen(box(100, 40, 60), level(1, 30), across(2, "x", 0), marks=(self.bottom,))
        self.assertEqual(
            [(f.code, f.parting) for f in findings_of(result) if f.code == "mark-crossed"], [("mark-crossed", "p2")]
        )
        self.assertEqual(result.crossed, {"k1": {"p2"}})

    def test_one_mark_in_two_places_may_lie_on_two_pieces(self) -> None:
        dumbbell = (
            box(20, 20, 20).moved(-40, 0, 0).plus([box(20, 20, 20).moved(40, 0, 0), Solid.box([-35, -5, 5], [35, 5, 15])])
        )
        self.assertEqual(codes(seen(dumbbell, across(1, "x", 0), marks=(self.bottom,))), [])


class Seams(unittest.TestCase):
    def seam(self, result: Build) -> Seam:
        return seams(result)["p1"]

    def test_the_seam_of_a_box_is_its_girth(self) -> None:
        self.assertAlmostEqual(self.seam(seen(box(100, 40, 60), level(1, 30))).length, 280, places=2)

    def test_a_later_cut_does_not_change_it(self) -> None:
        result = seen(box(100, 40, 60), level(1, 30), across(2, "x", 10), across(3, "y", 3))
        self.assertAlmostEqual(self.seam(result).length, 280, places=2)
        self.assertAlmostEqual(sum(s.length for s in seams(result).values()), 280 + 200 + 320, places=2)

    def test_what_runs_on_show_faces_is_told_apart(self) -> None:
        result = seen(box(100, 40, 60), across(1, "x", 0), marks=(boxed(1, "show", (-60, -30, 59), (60, 30, 61)),))
        assert result.prepared is not None
        show = result.prepared.mesh.only(result.regions.of("show"))
        self.assertAlmostEqual(self.seam(result).length_on(show), 40, places=2)

    def test_a_closed_cavity_has_no_seam_to_see(self) -> None:
        shell = box(100, 40, 60).minus([Solid.box([-40, -15, 5], [40, 15, 55])])
        self.assertAlmostEqual(self.seam(seen(shell, level(1, 30))).length, 280, places=2)

    def test_wedges_lap_and_hatch(self) -> None:
        ring = seen(tube(50, 30, 20), WedgesParting(id="p1", count=4))
        self.assertAlmostEqual(self.seam(ring).length, 4 * (20 + 20 + 20 + 20), delta=0.2)
        lap = seen(box(100, 40, 20), LapParting(id="p1", axis="x", at_mm=0, overlap_mm=30, turn_deg=0))
        self.assertAlmostEqual(self.seam(lap).length, 2 * 40 + 2 * (20 + 30), delta=0.01)
        hatch = HatchParting.model_validate(
            {"id": "p1", "at_mm": (0, 0, 20), "outline": {"shape": "rectangle", "corner_mm": 0}, "gap_mm": 0.2}
        )
        self.assertAlmostEqual(self.seam(seen(box(100, 40, 20), hatch)).length, 100 - 4 * 0.2, delta=0.01)

    def test_its_lines_are_closed_and_as_long_as_it_says(self) -> None:
        result = seen(Solid.from_mesh(torus(40, 12, 60, 24)), across(1, "x", 3))
        lines = lines_of(self.seam(result).ends, 0.05)
        self.assertEqual(len(lines), 2)
        for line in lines:
            np.testing.assert_allclose(line[0], line[-1])
        drawn = sum(float(np.linalg.norm(np.diff(line, axis=0), axis=1).sum()) for line in lines)
        self.assertAlmostEqual(drawn / self.seam(result).length, 1, delta=0.01)

    def test_lines_are_thinned_within_the_tolerance(self) -> None:
        turn = np.linspace(0, 2 * np.pi, 721)
        ring = 50 * np.column_stack([np.cos(turn), np.sin(turn), 0 * turn])
        (line,) = lines_of(np.stack([ring[:-1], ring[1:]], axis=1), 0.05)
        self.assertLess(len(line), 140)
        middles = (line[1:] + line[:-1]) / 2
        self.assertLess(50 - np.linalg.norm(middles, axis=1).min(), 0.06)


class KeptTogether(unittest.TestCase):
    def test_two_pieces_become_one_again_and_volumes_add_up(self) -> None:
        result = seen(box(100, 40, 60), level(1, 30), across(2, "x", 0), together=(Together(pieces=("p1- p2-", "p1- p2+")),))
        self.assertEqual(sorted(p.key for p in result.pieces), ["p1+ p2+", "p1+ p2-", "p1- p2-"])
        self.assertAlmostEqual(result.pieces[0].volume_mm3, 100 * 40 * 30, places=2)
        assert result.balance is not None
        self.assertLess(result.balance.relative_error, 1e-9)
        self.assertEqual(len(result.faces), 3)

    def test_pieces_that_do_not_touch_stay_apart_and_it_is_said(self) -> None:
        result = seen(box(100, 40, 90), level(1, 30), level(2, 60), together=(Together(pieces=("p1-", "p1+ p2+")),))
        self.assertEqual((len(result.pieces), codes(result)), (3, ["together-apart"]))

    def test_a_piece_that_is_gone_is_said(self) -> None:
        result = seen(box(100, 40, 90), level(1, 30), together=(Together(pieces=("p1-", "p9-")),))
        self.assertEqual(codes(result), ["together-gone"])

    def test_a_sliver_is_found_and_its_fix_puts_it_right(self) -> None:
        result = seen(box(100, 40, 60), level(1, 59.9), sliver_mm3=500)
        sliver = next(f for f in findings_of(result) if f.code == "piece-sliver")
        self.assertEqual((sliver.fixes[0].kind, sliver.params["to"]), ("together", 1))
        mended = seen(box(100, 40, 60), level(1, 59.9), sliver_mm3=500, together=(Together(pieces=sliver.fixes[0].pieces),))
        self.assertEqual((len(mended.pieces), codes(mended)), (1, []))


class InFaces(unittest.TestCase):
    """Partings exactly in, or a hair beside, faces of the model."""

    def step(self) -> Solid:
        return box(100, 40, 30).plus([Solid.box([-50, -20, 29], [0, 20, 60])])

    def test_in_an_inner_face_it_cuts_clean(self) -> None:
        result = seen(self.step(), level(1, 30))
        self.assertEqual([round(p.volume_mm3, 3) for p in result.pieces], [120000, 60000])
        assert result.balance is not None
        self.assertLess(result.balance.relative_error, 1e-9)

    def test_a_hair_beside_it_is_moved_into_it_and_says_so(self) -> None:
        for at in (30.0006, 29.9995):
            result = seen(self.step(), level(1, at))
            self.assertEqual([round(p.volume_mm3, 3) for p in result.pieces], [120000, 60000])
            self.assertEqual(codes(result), ["parting-settled"])
            self.assertAlmostEqual(plane_mm(result), 30, places=6)

    def test_further_off_it_stays_where_it_was_put(self) -> None:
        result = seen(self.step(), level(1, 30.004))
        self.assertEqual(codes(result), [])
        self.assertAlmostEqual(plane_mm(result), 30.004, places=6)

    @tried(7)
    @given(st.floats(-1, 1), st.floats(-80, 80), st.floats(-80, 80))
    def test_through_vertices_and_tangent_planes_keep_the_volume(self, share: float, one: float, two: float) -> None:
        mesh = torus(40, 12, 48, 24)
        solid = Solid.from_mesh(mesh)
        vertex = mesh.vertices[int((share + 1) / 2 * (len(mesh.vertices) - 1))]
        tilted = FlatParting(
            id="p1", axis="z", at_mm=float(vertex[2]), tilt_deg=(one, two), pivot_mm=(float(vertex[0]), float(vertex[1]))
        )
        result = seen(solid, tilted)
        assert result.balance is not None
        self.assertLess(result.balance.relative_error, 1e-9)


if __name__ == "__main__":
    unittest.main()

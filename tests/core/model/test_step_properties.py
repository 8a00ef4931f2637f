"""Properties of prepare steps and repairs over random parameters: closed, of the right volume, nothing lost."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.formats.base import fans
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.rotations import turn_down
from hinoki.core.geometry.shape import Body, Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.health.bores import find_bores
from hinoki.core.model.health.edges import flipped_faces, loop_length, open_loops
from hinoki.core.model.repair.tidy import merged, oriented
from hinoki.core.model.steps import (
    BoreStep,
    FlattenStep,
    LengthStep,
    MatchStep,
    MirrorStep,
    RatioStep,
    ScaleStep,
    StandStep,
    TurnStep,
)
from hinoki.core.model.units import LIKELY_MM, propose_unit
from hinoki.core.orient.resting.resting_faces import rests
from hinoki.core.progress import quiet
from hinoki.core.workshop.printers import presets
from tests.effort import tried
from tests.shapes import box, torus, tube

RING = torus(30, 9, 48, 24, 1.0)
lengths = st.floats(0.5, 500, allow_nan=False)
directions = st.tuples(*[st.floats(-1, 1, allow_nan=False)] * 3).filter(lambda d: math.hypot(*d) > 0.3)


def shape() -> Shape:
    return Shape((Body("ring", solid=Solid.from_mesh(RING)),))


def unit(direction: tuple[float, float, float]) -> tuple[float, float, float]:
    length = math.hypot(*direction)
    x, y, z = (min(1.0, max(-1.0, c / length)) for c in direction)
    return x, y, z


class Turning(unittest.TestCase):
    @tried(15)
    @given(direction=directions)
    def test_standing_turns_down_onto_the_bed_and_keeps_the_volume(self, direction: tuple[float, float, float]) -> None:
        down = unit(direction)
        turn = turn_down(np.array(down))
        np.testing.assert_allclose(turn @ down, [0, 0, -1], atol=1e-9)
        self.assertAlmostEqual(float(np.linalg.det(turn)), 1, places=9)
        stood = StandStep(id="s1", down=down).apply(shape(), quiet).shape
        self.assertAlmostEqual(stood.volume_mm3 / shape().volume_mm3, 1, places=9)

    @tried(20)
    @given(x=st.floats(-360, 360), y=st.floats(-360, 360), z=st.floats(-360, 360))
    def test_turning_keeps_volume_and_distances(self, x: float, y: float, z: float) -> None:
        turned = TurnStep(id="s1", turn_deg=(x, y, z)).apply(shape(), quiet).shape
        self.assertAlmostEqual(turned.volume_mm3 / shape().volume_mm3, 1, places=9)
        before, after = shape().mesh.vertices, turned.mesh.vertices
        self.assertAlmostEqual(float(np.linalg.norm(before[0] - before[99])), float(np.linalg.norm(after[0] - after[99])))

    @tried(20)
    @given(axis=st.sampled_from(["x", "y", "z"]))
    def test_mirroring_twice_is_nothing(self, axis: str) -> None:
        step = MirrorStep(id="s1", axis=axis)  # type: ignore[arg-type]
        twice = step.apply(step.apply(shape(), quiet).shape, quiet).shape
        np.testing.assert_allclose(np.sort(twice.mesh.vertices, axis=0), np.sort(shape().mesh.vertices, axis=0), atol=1e-9)


class Sizing(unittest.TestCase):
    @tried(15)
    @given(fx=st.floats(0.05, 20), fy=st.floats(0.05, 20), fz=st.floats(0.05, 20))
    def test_volume_grows_by_the_product_of_the_factors(self, fx: float, fy: float, fz: float) -> None:
        scaled = ScaleStep(id="s1", factor=(fx, fy, fz)).apply(shape(), quiet).shape
        self.assertAlmostEqual(scaled.volume_mm3 / (shape().volume_mm3 * fx * fy * fz), 1, places=8)

    @tried(15)
    @given(length=lengths, axis=st.sampled_from([0, 1, 2]))
    def test_a_wanted_length_is_had(self, length: float, axis: int) -> None:
        step = LengthStep(id="s1", axis="xyz"[axis], length_mm=length)  # type: ignore[arg-type]
        low, high = step.apply(shape(), quiet).shape.bounds
        self.assertAlmostEqual(float((high - low)[axis]), length, places=7)

    @tried(15)
    @given(real=st.floats(10, 15_000), ratio=st.floats(1, 1000))
    def test_a_scale_ratio_is_the_real_length_over_the_ratio(self, real: float, ratio: float) -> None:
        if real / ratio < 0.1:
            return
        low, high = RatioStep(id="s1", axis="z", real_mm=real, ratio=ratio).apply(shape(), quiet).shape.bounds
        self.assertAlmostEqual(float((high - low)[2]) * ratio / real, 1, places=9)

    @tried(20)
    @given(end=directions, distance=lengths)
    def test_two_points_are_as_far_apart_as_asked(self, end: tuple[float, float, float], distance: float) -> None:
        step = MatchStep(id="s1", from_mm=(0, 0, 0), to_mm=end, distance_mm=distance)
        scaled = step.apply(shape(), quiet).shape
        factor = float((scaled.bounds[1] - scaled.bounds[0])[0] / (shape().bounds[1] - shape().bounds[0])[0])
        self.assertAlmostEqual(factor * math.hypot(*end), distance, places=6)


class Cutting(unittest.TestCase):
    @tried(20)
    @given(share=st.floats(0.02, 0.95))
    def test_a_flat_bottom_takes_off_just_what_lies_below(self, share: float) -> None:
        block = Shape((Body("block", solid=box(30, 20, 40)),))
        flat = FlattenStep(id="s1", height_mm=40 * share).apply(block, quiet).shape
        self.assertAlmostEqual(flat.volume_mm3, 30 * 20 * 40 * (1 - share), places=6)

    @tried(20)
    @given(x=st.floats(-8, 8), y=st.floats(-6, 6), diameter=st.floats(0.5, 6))
    def test_an_upright_bore_takes_off_a_cylinder(self, x: float, y: float, diameter: float) -> None:
        block = Shape((Body("block", solid=box(30, 20, 40)),))
        step = BoreStep(id="s1", from_mm=(x, y, 40), to_mm=(x, y, 0), diameter_mm=diameter)
        bored = step.apply(block, quiet).shape
        cylinder = math.pi * diameter**2 / 4 * 40
        # drawn around the circle with a sagitta of a hundredth: never too small, at most two hundredths too wide
        gone = 30 * 20 * 40 - bored.volume_mm3
        self.assertGreaterEqual(gone, cylinder * (1 - 1e-9))
        self.assertLess(gone, math.pi * (diameter + 0.04) ** 2 / 4 * 40)
        self.assertTrue(bored.mesh.edges.closed)


class Surfaces(unittest.TestCase):
    @tried(20)
    @given(seed=st.integers(0, 10_000), count=st.integers(1, 30))
    def test_flipped_faces_are_found_and_turned_back(self, seed: int, count: int) -> None:
        rng = np.random.default_rng(seed)
        chosen = np.sort(rng.choice(len(RING.faces), count, replace=False))
        faces = RING.faces.copy()
        faces[chosen] = faces[chosen][:, ::-1]
        self.assertEqual(flipped_faces(faces).tolist(), chosen.tolist())
        self.assertAlmostEqual(oriented(Mesh(RING.vertices, faces)).volume_mm3, RING.volume_mm3, places=6)

    @tried(20)
    @given(seed=st.integers(0, 10_000), count=st.integers(1, 40))
    def test_every_open_edge_is_in_one_loop(self, seed: int, count: int) -> None:
        rng = np.random.default_rng(seed)
        gone = rng.choice(len(RING.faces), count, replace=False)
        mesh = Mesh(RING.vertices, np.delete(RING.faces, gone, axis=0))
        loops = open_loops(mesh)
        self.assertEqual(sum(len(r) for r in loops), mesh.edges.open)
        self.assertTrue(all(loop_length(r) > 0 for r in loops))

    @tried(15)
    @given(seed=st.integers(0, 10_000))
    def test_merging_a_shuffled_soup_gives_the_surface_back(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        faces = RING.faces[rng.permutation(len(RING.faces))]
        soup = Mesh(RING.vertices[faces].reshape(-1, 3), np.arange(3 * len(faces)).reshape(-1, 3))
        again = merged(soup, 1e-5)
        self.assertTrue(again.edges.closed)
        self.assertEqual(len(again.vertices), len(RING.vertices))
        self.assertAlmostEqual(again.volume_mm3, RING.volume_mm3, places=6)

    @tried(20)
    @given(sides=st.integers(5, 60), radius=st.floats(2, 14), turn=directions)
    def test_a_coarse_bore_is_found_whichever_way_it_lies(
        self, sides: int, radius: float, turn: tuple[float, float, float]
    ) -> None:
        plate = box(60, 60, 12).minus([Solid.prism(radius, -1, 13, sides)])
        matrix = np.column_stack([turn_down(np.array(unit(turn))), [3.0, -7.0, 11.0]])
        (bore,) = find_bores(plate.placed(matrix).mesh, 1e-6)
        self.assertEqual(bore.sides, sides)
        self.assertAlmostEqual(bore.diameter_mm, 2 * radius, places=4)
        self.assertAlmostEqual(float(np.linalg.norm(bore.end - bore.start)), 12, places=4)

    def test_pegs_and_posts_are_no_bores(self) -> None:
        for solid in (Solid.prism(6, 0, 30, 12), tube(20, 12, 30), box(20, 20, 20).plus([Solid.prism(5, 19, 40, 8)])):
            self.assertEqual(find_bores(solid.mesh), [])


class Resting(unittest.TestCase):
    @tried(15)
    @given(turn=directions, sides=st.integers(5, 40), lean=st.floats(0, 25))
    def test_the_best_alone_is_the_first_of_all(self, turn: tuple[float, float, float], sides: int, lean: float) -> None:
        post = Solid.prism(20, 0, 60, sides).plus([box(70, 12, 9).moved(lean, 0, 20)])
        matrix = np.column_stack([turn_down(np.array(unit(turn))), np.zeros(3)])
        solid = post.placed(matrix)
        normals = [np.array([0.0, 0, 1]), np.array(unit(turn))]
        whole, (best,) = rests(solid, normals, presets()[1]), rests(solid, normals, presets()[1], only_best=True)
        np.testing.assert_allclose(best.down, whole[0].down)
        self.assertEqual(best.rank, whole[0].rank)


class Small(unittest.TestCase):
    @tried(80)
    @given(across=st.floats(1e-6, 1e7))
    def test_a_unit_is_always_proposed_with_its_reason(self, across: float) -> None:
        choice = propose_unit(np.array([across, across / 2, across / 3]))
        self.assertTrue(choice.reason)
        if LIKELY_MM[0] <= across <= LIKELY_MM[1]:
            self.assertEqual((choice.unit, choice.doubtful), ("mm", False))
        else:
            self.assertTrue(choice.doubtful)

    @tried(20)
    @given(sizes=st.lists(st.integers(1, 9), min_size=1, max_size=30))
    def test_fans_of_polygons(self, sizes: list[int]) -> None:
        flat = np.arange(sum(sizes))
        faces = fans(np.array(sizes), flat)
        self.assertEqual(len(faces), sum(max(0, n - 2) for n in sizes))
        starts = np.cumsum([0, *sizes])
        for face in faces.tolist():
            owner = int(np.searchsorted(starts, face[0], side="right")) - 1
            self.assertTrue(all(starts[owner] <= c < starts[owner + 1] for c in face))


if __name__ == "__main__":
    unittest.main()

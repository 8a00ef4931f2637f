"""Partings: keys, lumps, chosen pieces, edge cases of planes; properties over random planes."""

import unittest
from collections.abc import Sequence
from unittest.mock import patch

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from hinoki.core.cache import Cache
from hinoki.core.divide import cut
from hinoki.core.divide.cut import Part, Parted, part_further, part_model
from hinoki.core.divide.mating_faces import mating_faces
from hinoki.core.divide.partings import CutUp, EvenParting, FlatParting, Member, PartingBase
from hinoki.core.divide.partings.base import Cut
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.solid import Solid
from tests.effort import either, tried
from tests.shapes import across, box, level, torus, tube


def parted(solid: Solid, *partings: PartingBase) -> Parted:
    return part_model(solid, "made", partings, Cache())


def keys(result: Parted) -> list[str]:
    return [p.key for p in result.parts]


class Keys(unittest.TestCase):
    def test_a_key_is_the_path_of_sides(self) -> None:
        result = parted(box(40, 40, 40), level(1, 20), across(2, "x", 0))
        self.assertEqual(keys(result), ["p1- p2-", "p1- p2+", "p1+ p2-", "p1+ p2+"])

    def test_moving_a_parting_keeps_every_key(self) -> None:
        solid = box(40, 40, 40)
        for at in (5, 17.5, 33):
            self.assertEqual(
                keys(parted(solid, level(1, at), across(2, "x", 3))), keys(parted(solid, level(1, 20), across(2, "x", 0)))
            )

    def test_separate_lumps_of_one_side_are_told_apart_in_a_stable_order(self) -> None:
        result = parted(tube(30, 20, 40), across(1, "x", 25))
        self.assertEqual(keys(result), ["p1-", "p1+"])
        table = box(40, 10, 10).plus([box(5, 10, 30).moved(-15, 0, -25), box(5, 10, 30).moved(15, 0, -25)])
        result = parted(table, level(1, 0))
        self.assertEqual(keys(result), ["p1-.1", "p1-.2", "p1+"])
        self.assertLess(result.parts[0].solid.centre_of_box[0], result.parts[1].solid.centre_of_box[0])

    def test_a_parting_can_cut_only_chosen_pieces(self) -> None:
        result = parted(box(40, 40, 40), level(1, 20), across(2, "x", 0, only=("p1+",)))
        self.assertEqual(keys(result), ["p1-", "p1+ p2-", "p1+ p2+"])

    def test_a_flat_one_is_named_by_its_place_and_whether_it_leans(self) -> None:
        self.assertEqual(level(1, 20).label(), "Flat · Z 20.0")
        tilted = level(1, 20).model_copy(update={"tilt_deg": (0.0, 5.0)})
        self.assertTrue(tilted.label().startswith("Flat tilted · "))

    def test_where_another_parting_ends_a_face_is_known_on_its_plane(self) -> None:
        # far from the origin of its plane: the second parting stops at the first, at x = 25
        parts = parted(Solid.box([0, 0, 0], [60, 40, 20]), across(1, "x", 25), level(2, 8, only=("p1-",))).parts
        (face,) = [f for f in mating_faces(parts, Cache()) if f.ref.parting == "p2"]
        there = face.frame.world(shapely.get_coordinates(face.crossed))
        np.testing.assert_allclose(there[:, 0], 25, atol=1e-6)
        self.assertAlmostEqual(float(face.crossed.length), 40, delta=0.5)

    def test_a_parting_switched_off_cuts_nothing(self) -> None:
        off = level(1, 20).model_copy(update={"on": False})
        self.assertEqual(keys(parted(box(40, 40, 40), off)), ["whole"])

    def test_even_spacing_by_number_and_by_greatest_length(self) -> None:
        by_number = parted(box(40, 40, 100), EvenParting(id="p1", axis="z", parts=4))
        self.assertEqual(keys(by_number), ["p1:0", "p1:1", "p1:2", "p1:3"])
        self.assertTrue(all(abs(p.solid.size[2] - 25) < 1e-6 for p in by_number.parts))
        by_length = parted(box(40, 40, 100), EvenParting(id="p1", axis="z", greatest_mm=30))
        self.assertEqual(len(by_length.parts), 4)

    def test_a_greatest_length_that_divides_exactly_makes_no_extra_part(self) -> None:
        self.assertEqual(len(parted(box(10, 10, 90), EvenParting(id="p1", axis="z", greatest_mm=30)).parts), 3)

    def test_even_spacing_spans_only_the_chosen_pieces(self) -> None:
        result = parted(box(40, 40, 100), level(1, 40), EvenParting(id="p2", axis="z", parts=3, only=("p1+",)))
        self.assertEqual([round(float(p.solid.size[2]), 6) for p in result.parts], [40, 20, 20, 20])


class Edges(unittest.TestCase):
    def test_a_plane_in_the_models_own_face_cuts_nothing_and_says_so(self) -> None:
        for at in (0.0, 40.0, 40.0005, -0.0005):
            result = parted(box(40, 40, 40), level(1, at))
            self.assertEqual(keys(result), ["whole"])
            self.assertEqual([f.code for f in result.findings], ["parting-misses"])

    def test_the_same_plane_twice_is_found_whichever_way_it_looks(self) -> None:
        twice = FlatParting(id="p2", axis="z", at_mm=20, tilt_deg=(0, 0))
        self.assertIn("parting-twice", [f.code for f in parted(box(40, 40, 40), level(1, 20), twice).findings])

    def test_a_plane_through_vertices_and_edges(self) -> None:
        octahedron = Solid.hull_of(np.array([[20, 0, 20], [-20, 0, 20], [0, 20, 20], [0, -20, 20], [0, 0, 0], [0, 0, 40.0]]))
        result = parted(octahedron, level(1, 20), across(2, "x", 0))
        self.assertAlmostEqual(sum(p.solid.volume_mm3 for p in result.parts), octahedron.volume_mm3, places=6)
        self.assertEqual(len(result.parts), 4)

    def test_a_cavity_stays_with_what_surrounds_it(self) -> None:
        hollow = box(40, 40, 40).minus([Solid.box([-5, -5, 25], [5, 5, 35])])
        result = parted(hollow, level(1, 20))
        self.assertEqual(keys(result), ["p1-", "p1+"])
        self.assertAlmostEqual(result.parts[1].solid.volume_mm3, 40 * 40 * 20 - 1000, places=6)

    def test_a_chosen_piece_that_is_gone_is_said(self) -> None:
        result = parted(box(40, 40, 40), level(1, 20), across(2, "x", 0, only=("p1+ p9-",)))
        self.assertIn("parting-piece-gone", [f.code for f in result.findings])

    def test_too_many_pieces_are_refused(self) -> None:
        most, parts = either((60, 4), (cut.MOST_PIECES, 40))
        rows = [EvenParting(id=f"p{i}", axis=a, parts=parts) for i, a in enumerate("xyz", start=1)]
        with patch.object(cut, "MOST_PIECES", most), self.assertRaisesRegex(BadPlan, f"more than {most} pieces"):
            parted(box(400, 400, 400), *rows)

    def test_parts_by_number_or_length_but_not_both(self) -> None:
        for more in ({}, {"parts": 3, "greatest_mm": 20.0}, {"parts": 1}, {"parts": 1000}, {"greatest_mm": 0}):
            with self.assertRaises(ValidationError):
                EvenParting(id="p1", axis="z", **more)  # type: ignore[arg-type]


SHAPES = [box(60, 50, 40), tube(30, 22, 50), Solid.from_mesh(torus(30, 9, 64, 24, 1.5)).moved(0, 0, 11)]
angle = st.floats(-80, 80)


class Nothing(FlatParting, frozen=True):
    """A parting of whose one side nothing is left once the kernel has tidied it up."""

    def cut(self, solid: Solid, members: Sequence[Member]) -> CutUp:  # noqa: ARG002
        return CutUp((Cut("-", solid, ((0, -1),)), Cut("+", Solid.nothing(), ((0, 1),))))


class NothingLeft(unittest.TestCase):
    def test_a_side_of_nothing_is_no_piece(self) -> None:
        whole = Part("", box(20, 20, 20), "k")
        self.assertEqual(part_further([whole], Nothing(id="p1", axis="z", at_mm=10), Cache()), [whole])


class RandomPlanes(unittest.TestCase):
    @tried(12)
    @given(
        which=st.integers(0, 2),
        planes=st.lists(st.tuples(st.sampled_from("xyz"), st.floats(-25, 35), angle, angle), min_size=1, max_size=4),
    )
    def test_volumes_add_up_pieces_are_closed_and_do_not_overlap(
        self, which: int, planes: list[tuple[str, float, float, float]]
    ) -> None:
        solid = SHAPES[which]
        cuts = [
            FlatParting(id=f"p{i}", axis=a, at_mm=at, tilt_deg=(t, s), pivot_mm=(3.0, 5.0))  # type: ignore[arg-type]
            for i, (a, at, t, s) in enumerate(planes, start=1)
        ]
        parts = parted(solid, *cuts).parts
        total = sum(p.solid.volume_mm3 for p in parts)
        self.assertLess(abs(total - solid.volume_mm3) / solid.volume_mm3, 1e-6)
        self.assertEqual(len({p.key for p in parts}), len(parts))
        for part in parts:
            self.assertTrue(part.solid.mesh.edges.closed)
        for i, one in enumerate(parts):
            for other in parts[i + 1 :]:
                self.assertLess(one.solid.common(other.solid).volume_mm3, 1e-6)

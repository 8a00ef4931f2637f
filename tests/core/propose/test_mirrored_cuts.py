"""Symmetric bodies are divided symmetrically, where that is no worse; what is told of mirror images is so."""

import unittest

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import part_model
from hinoki.core.divide.partings import EvenParting, FlatParting, WedgesParting
from hinoki.core.geometry.solid import Solid
from hinoki.core.progress import quiet
from hinoki.core.propose import Wishes, propose
from hinoki.core.propose.search.mirrored_cuts import images_of, mirrors_row, own_mirrors, uneven
from hinoki.core.symmetry.mirror_planes import MirrorPlane, mirror_planes
from tests.shapes import box, ellipsoid, plan_for, stl_of, tube

X = MirrorPlane(np.array([1.0, 0, 0]), 10.0, 1.0)
SLANT = MirrorPlane(np.array([0.6, 0.8, 0]), 0.0, 1.0)


def aeroplane() -> Solid:
    """Mirrored by Y: a long body, wings to both sides, a tail that stands up."""
    body = Solid.box([-240, -30, -30], [240, 30, 30])
    return body.plus([Solid.box([-40, -230, -6], [60, 230, 6]), Solid.box([180, -5, 0], [240, 5, 120])])


def divided_evenly(solid: Solid) -> list[float]:
    """How far each proposal for a body is from its mirror image."""
    data = stl_of(solid)
    found = propose(plan_for(data), lambda _: data, Cache(), Wishes(), quiet)
    mirrors = mirror_planes(solid.mesh)
    out = []
    for proposal in found.proposals:
        parts = part_model(solid, "k", proposal.partings, Cache()).parts
        volumes, middles = np.array([p.solid.volume_mm3 for p in parts]), np.array([p.solid.centre_of_mass for p in parts])
        out.append(uneven(volumes, middles, mirrors, 1000.0))
    return out


class Divisions(unittest.TestCase):
    def test_an_aeroplane_is_the_same_on_both_sides(self) -> None:
        self.assertEqual(divided_evenly(aeroplane())[0], 0.0)

    def test_a_shell_open_below_with_a_face_is(self) -> None:
        shell = ellipsoid(150, 190, 170, 48).minus(
            [ellipsoid(145, 185, 165, 48), Solid.box([-300, -300, -300], [300, 300, -90])]
        )
        shell = shell.minus([Solid.box([-80, -400, -20], [80, 0, 40])])
        self.assertEqual(divided_evenly(shell)[0], 0.0)

    def test_a_bar_is_halved(self) -> None:
        solid = box(430, 60, 100)
        data = stl_of(solid)
        plan = plan_for(data)
        found = propose(plan, lambda _: data, Cache(), Wishes(), quiet)
        self.assertEqual([p.label() for p in found.proposals[0].partings], ["Even · X in 2"])

    def test_a_ring_gets_equal_wedges(self) -> None:
        data = stl_of(tube(150, 120, 40))
        found = propose(plan_for(data), lambda _: data, Cache(), Wishes(), quiet)
        self.assertIsInstance(found.proposals[0].partings[0], WedgesParting)
        volumes = [p.solid.volume_mm3 for p in part_model(tube(150, 120, 40), "k", found.proposals[0].partings, Cache()).parts]
        self.assertLess(max(volumes) / min(volumes), 1.02)


class Told(unittest.TestCase):
    def test_pieces_in_pairs_and_on_the_plane_are_even_and_others_count_by_their_volume(self) -> None:
        middles = np.array([[0.0, 5, 0], [20.0, 5, 0], [10.0, -7, 3]])
        self.assertEqual(uneven(np.array([1.0, 1, 4]), middles, [X], 100.0), 0.0)
        self.assertEqual(uneven(np.array([1.0, 2, 5]), middles, [X], 100.0), 3 / 8)  # near enough, but not alike
        self.assertEqual(
            uneven(np.array([1.0, 1, 6]), middles + np.array([[0.0, 0, 0], [3, 0, 0], [0, 0, 0]]), [X], 100.0), 2 / 8
        )
        self.assertEqual(uneven(np.array([1.0, 1, 6]), middles, [], 100.0), 0.0)

    def test_the_average_of_the_planes_counts(self) -> None:
        across = MirrorPlane(np.array([0.0, 1, 0]), 0.0, 1.0)
        self.assertEqual(uneven(np.array([2.0, 2]), np.array([[0.0, 5, 0], [20.0, 5, 0]]), [X, across], 100.0), 0.5)

    def test_a_plane_has_an_image_unless_it_is_its_own(self) -> None:
        (image,) = images_of(FlatParting(id="p1", axis="x", at_mm=-30), [X])
        self.assertEqual((image.axis, image.at_mm), ("x", 50.0))
        self.assertEqual(images_of(FlatParting(id="p1", axis="x", at_mm=10), [X]), [])
        self.assertEqual(images_of(FlatParting(id="p1", axis="z", at_mm=4), [X]), [])
        self.assertEqual(images_of(EvenParting(id="p1", axis="x", parts=3), [X]), [])

    def test_the_image_of_a_tilted_plane_leans_the_other_way(self) -> None:
        tilted = FlatParting(id="p1", axis="z", at_mm=0, tilt_deg=(0, 20))
        (image,) = images_of(tilted, [X])
        points = np.random.default_rng(2).normal(size=(9, 3)) * 40
        np.testing.assert_allclose(
            np.abs(image.frame.heights(X.image(points))), np.abs(tilted.frame.heights(points)), atol=1e-4
        )

    def test_a_row_of_planes_is_its_own_image_when_it_is_as_far_to_both_sides(self) -> None:
        way = np.array([1.0, 0, 0])
        self.assertTrue(mirrors_row(X, way, [10.0]))
        self.assertTrue(mirrors_row(X, way, [-30.0, 10.0, 50.0]))
        self.assertFalse(mirrors_row(X, way, [-30.0, 10.0, 51.0]))
        self.assertTrue(mirrors_row(X, np.array([0.0, 0, 1]), [3.0]))
        self.assertFalse(mirrors_row(SLANT, way, [0.0]))

    def test_a_half_is_mirrored_by_the_planes_across_the_cut_alone(self) -> None:
        mirrors = mirror_planes(box(100, 60, 40).mesh)
        half = Solid.box([0, -30, 0], [50, 30, 40])
        self.assertEqual({int(np.argmax(m.normal)) for m in own_mirrors(half, mirrors)}, {1, 2})

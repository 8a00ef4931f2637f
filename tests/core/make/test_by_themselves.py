"""Handles, feet, brackets and plates have the sizes that were typed."""

import math
import unittest

import numpy as np

from hinoki.core.geometry.solid import Solid
from hinoki.core.make import BracketMaker, FootMaker, HandleMaker, NotMade, PlateMaker
from tests.core.make.test_fitted import made


class Handles(unittest.TestCase):
    def test_a_hand_has_the_room_that_was_typed(self) -> None:
        handle = made(HandleMaker(grip_mm=90, room_mm=30), None)
        hand = Solid.box((-45 + 0.01, -20, 0.01), (45 - 0.01, 20, 30 - 0.01))
        self.assertTrue(handle.common(hand).empty)
        self.assertAlmostEqual(handle.bounds[1][2], 44, places=3)

    def test_screws_go_through_both_feet(self) -> None:
        handle = made(HandleMaker(screw_mm=4.2, foot_mm=16), None)
        for x in (-67, 67):  # 45 of grip, 14 of post, the middle of 16 of foot
            self.assertEqual(len(handle.ray(np.array([x, 0.0, 50.0]), np.array([x, 0.0, -5.0]))), 0)
        with self.assertRaisesRegex(NotMade, "no room for the head of a screw"):
            made(HandleMaker(screw_mm=8, foot_mm=10), None)

    def test_without_screws_it_has_no_feet(self) -> None:
        low, high = made(HandleMaker(screw_mm=0), None).bounds
        np.testing.assert_allclose((low[0], high[0]), (-59, 59), atol=1e-3)


class FeetAndBrackets(unittest.TestCase):
    def test_a_foot_is_a_frustum(self) -> None:
        foot = made(FootMaker(top_mm=20, bottom_mm=16, high_mm=10, screw_mm=0), None)
        self.assertAlmostEqual(foot.volume_mm3 / (math.pi * 10 / 3 * (100 + 80 + 64)), 1, delta=0.01)

    def test_a_screw_or_a_peg_and_room_for_either(self) -> None:
        with self.assertRaisesRegex(NotMade, "take one of the two away"):
            made(FootMaker(screw_mm=3, peg_mm=5), None)
        with self.assertRaisesRegex(NotMade, "too narrow"):
            made(FootMaker(top_mm=6, bottom_mm=6), None)
        self.assertAlmostEqual(made(FootMaker(screw_mm=0, peg_mm=6, peg_long_mm=7), None).bounds[0][2], -7, places=3)

    def test_a_bracket_is_two_plates_and_a_rib(self) -> None:
        plain = made(BracketMaker(lies_mm=40, stands_mm=30, wide_mm=20, thick_mm=4, rib_mm=0, screw_mm=0), None)
        self.assertAlmostEqual(plain.volume_mm3, 20 * (40 * 4 + 26 * 4), delta=0.01)
        ribbed = made(BracketMaker(lies_mm=40, stands_mm=30, wide_mm=20, thick_mm=4, rib_mm=3, screw_mm=0), None)
        self.assertAlmostEqual(ribbed.volume_mm3 - plain.volume_mm3, 3 * (0.75 * 36) * (0.75 * 26) / 2, delta=1)

    def test_it_has_a_hole_for_each_screw(self) -> None:
        for each in (1, 2):
            bracket = made(BracketMaker(screws=each, wide_mm=30), None)  # type: ignore[arg-type]
            genus = 1 - (_euler(bracket)) // 2
            self.assertEqual(genus, 2 * each)
        with self.assertRaisesRegex(NotMade, "Make the bracket wider"):
            made(BracketMaker(wide_mm=12), None)


class Plates(unittest.TestCase):
    def test_one_is_as_large_as_its_letters_want(self) -> None:
        plate = made(PlateMaker(text="HI", letters_mm=10, margin_mm=5, thick_mm=2, deep_mm=1), None)
        self.assertAlmostEqual(plate.size[1], 20, places=2)
        self.assertAlmostEqual(plate.size[2], 3, places=3)

    def test_sunk_letters_are_as_deep_as_was_said_and_raised_ones_as_high(self) -> None:
        flat = {"wide_mm": 40.0, "high_mm": 20.0, "corner_mm": 0.0, "thick_mm": 3.0}
        sunk = made(PlateMaker(text="I", how="sunk", deep_mm=1, **flat), None)  # type: ignore[arg-type]
        raised = made(PlateMaker(text="I", how="raised", deep_mm=1, **flat), None)  # type: ignore[arg-type]
        cut = made(PlateMaker(text="I", how="through", **flat), None)  # type: ignore[arg-type]
        whole = 40 * 20 * 3
        self.assertAlmostEqual(whole - sunk.volume_mm3, raised.volume_mm3 - whole, delta=0.01)
        self.assertAlmostEqual(whole - cut.volume_mm3, 3 * (whole - sunk.volume_mm3), delta=0.01)

    def test_letters_that_the_font_lacks_none_at_all_and_too_little_room_are_told(self) -> None:
        for maker, why in (
            (PlateMaker(text="木"), "there is no letter '木' in the font"),
            (PlateMaker(text="  "), "There are no letters"),
            (PlateMaker(text="STATION", wide_mm=20), "The letters take"),
            (PlateMaker(text="I", how="sunk", deep_mm=4), "deeper than the plate is thick"),
        ):
            with self.subTest(why), self.assertRaisesRegex(NotMade, why):
                made(maker, None)

    def test_islands_that_fall_out_are_told(self) -> None:
        from hinoki.core.progress import quiet

        self.assertIn("1 islands of letters fall out", PlateMaker(text="O", how="through").make(None, 0, quiet).said)


def _euler(solid: Solid) -> int:
    """Vertices less edges plus faces: 2 − 2 × the holes through it."""
    mesh = solid.mesh
    return len(mesh.vertices) - 3 * len(mesh.faces) // 2 + len(mesh.faces)

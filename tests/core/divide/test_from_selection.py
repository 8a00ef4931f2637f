"""Partings from what is picked: points, faces, edge loops, features; and partings once more."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import part_model
from hinoki.core.divide.from_selection import Picked, picked_parting, sharp_edges
from hinoki.core.divide.partings import DetachParting, FlatParting, Parting
from hinoki.core.divide.partings.duplicate import Again, once_more
from hinoki.core.divide.partings.flat import plane_fields
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.solid import Solid
from tests.effort import tried
from tests.shapes import across, box, level


def picked(solid: Solid, what: str, *at: tuple[float, float, float], offset: float = 0.0) -> Parting:
    """The parting for a pick."""
    wish = Picked.model_validate({"what": what, "at_mm": at, "offset_mm": offset})
    return picked_parting(wish, solid, solid.mesh, lambda _f, _p: None).parting


def balloon() -> Solid:
    """A ball on an arm that narrows towards it, on a block."""
    k = np.arange(600) + 0.5
    z, turn = 1 - 2 * k / 600, k * np.pi * (1 + 5**0.5)
    ball = np.column_stack([np.cos(turn) * np.sqrt(1 - z * z), np.sin(turn) * np.sqrt(1 - z * z), z])
    arm = Solid.cone(14, 6, 0, 80).placed(np.array([[0, 0, 1, 25.0], [0, 1, 0, 0], [-1, 0, 0, 150.0]]))
    return Solid.box([-30, -30, 0], [30, 30, 200]).plus([arm, Solid.hull_of(ball * 18).moved(110, 0, 150)])


class Planes(unittest.TestCase):
    @tried(30)
    @given(*[st.floats(-100, 100)] * 3, *[st.floats(-1, 1)] * 3)
    def test_any_plane_comes_back_from_its_fields(self, x: float, y: float, z: float, a: float, b: float, c: float) -> None:
        normal = np.array([a, b, c])
        if np.linalg.norm(normal) < 0.05:
            return
        normal = normal / np.linalg.norm(normal)
        frame = FlatParting.model_validate({"id": "p1", **plane_fields(np.array([x, y, z]), normal)}).frame
        self.assertGreater(abs(float(frame.n @ normal)), 1 - 1e-9)
        self.assertLess(abs(float(frame.heights(np.array([[x, y, z]]))[0])), 1e-4)

    def test_a_tilt_comes_back_to_a_billionth_of_a_degree(self) -> None:
        for tilt in ((12.123456789, 0.0), (-7.987654321, 21.234567891), (0.0, 33.000000001)):
            frame = FlatParting(id="p1", axis="z", at_mm=5.0, tilt_deg=tilt).frame
            self.assertEqual(plane_fields(frame.origin, frame.n)["tilt_deg"], tilt)

    def test_through_three_points(self) -> None:
        parting = picked(box(100, 60, 40), "points", (50, 0, 40), (0, 0, 10), (0, 20, 10))
        for point in ((50, 0, 40), (0, 0, 10), (0, 20, 10)):
            self.assertLess(abs(float(parting.frame.heights(np.array([point], float))[0])), 1e-4)
        for third in ((20, 0, 0), (20, 0.01, 0)):  # also where the hand shook a little
            with self.assertRaisesRegex(BadPlan, "on one line"):
                picked(box(100, 60, 40), "points", (0, 0, 0), (10, 0, 0), third)
        with self.assertRaisesRegex(BadPlan, "on one line"):
            picked(box(100, 60, 40), "points", (0, 0, 0), (1e-4, 0, 0), (0, 1e-4, 0))
        with self.assertRaisesRegex(BadPlan, "three of them"):
            picked(box(100, 60, 40), "points", (0, 0, 0), (10, 0, 0))

    def test_three_points_give_the_plane_through_their_middle_wherever_they_are(self) -> None:
        parting = picked(box(100, 60, 40), "points", (30, 0, 25), (-10, 5, 25), (10, -20, 25))
        self.assertEqual((parting.axis, parting.at_mm), ("z", 25.0))

    def test_on_a_face_with_offset(self) -> None:
        parting = picked(box(100, 60, 40), "face", (0, 0, 40), offset=-5)
        self.assertEqual((parting.axis, parting.at_mm), ("z", 35.0))

    def test_through_an_edge_loop(self) -> None:
        stepped = box(100, 60, 40).plus([Solid.cylinder(20, 39, 70)])
        parting = picked(stepped, "loop", (20, 0, 40))
        self.assertEqual((parting.axis, parting.at_mm, parting.tilt_deg), ("z", 40.0, (0.0, 0.0)))
        with self.assertRaisesRegex(BadPlan, "no sharp edges"):
            picked(_smooth(), "loop", (0, 0, 20))

    def test_edges_to_snap_to_are_those_of_the_box(self) -> None:
        self.assertEqual(len(sharp_edges(box(10, 20, 30).mesh)), 12)


def _smooth() -> Solid:
    """A ball without sharp edges."""
    k = np.arange(3000) + 0.5
    z, turn = 1 - 2 * k / 3000, k * np.pi * (1 + 5**0.5)
    return Solid.hull_of(20 * np.column_stack([np.cos(turn) * np.sqrt(1 - z * z), np.sin(turn) * np.sqrt(1 - z * z), z]))


class Features(unittest.TestCase):
    def test_the_narrowest_loop_lies_at_the_neck(self) -> None:
        parting = picked(balloon(), "feature", (110, 0, 168))
        assert isinstance(parting, DetachParting)
        self.assertTrue(80 < parting.through_mm[0] < 100)
        self.assertGreater(abs(parting.frame.n[0]), 0.95)
        parts = part_model(balloon(), "a", [parting], Cache()).parts
        self.assertEqual(len(parts), 2)
        self.assertLess(parts[1].solid.bounds[1][0] - 128, 0.5)
        self.assertLess(parts[1].solid.volume_mm3, 40_000)

    def test_a_pin_comes_off_at_its_foot(self) -> None:
        pin = box(60, 60, 100).plus([Solid.cylinder(8, 99, 160)])
        parting = picked(pin, "feature", (8, 0, 130))
        feature = part_model(pin, "a", [parting], Cache()).parts[1].solid
        self.assertAlmostEqual(feature.bounds[0][2], 100, delta=3.0)
        self.assertAlmostEqual(feature.bounds[1][2], 160, places=6)

    def test_how_far_it_is_only_grows(self) -> None:
        told: list[float] = []
        solid = box(60, 60, 100).plus([Solid.cylinder(8, 99, 160)])
        wish = Picked.model_validate({"what": "feature", "at_mm": [(8, 0, 130)]})
        picked_parting(wish, solid, solid.mesh, lambda f, _p: told.append(f))
        self.assertEqual(told, sorted(told))
        self.assertGreater(len(told), 3)
        self.assertTrue(told[0] >= 0 and told[-1] <= 1)

    def test_of_an_arm_as_thick_all_along_all_of_it_comes_off(self) -> None:
        arm = box(40, 40, 100).plus([Solid.box([19, -5, 60], [90, 5, 70])])
        parting = picked(arm, "feature", (80, 0, 70))
        feature = part_model(arm, "a", [parting], Cache()).parts[1].solid
        self.assertAlmostEqual(feature.bounds[1][0], 90, places=6)
        self.assertLess(feature.bounds[0][0], 24)

    def test_a_block_has_no_feature(self) -> None:
        with self.assertRaisesRegex(BadPlan, "No loop was found"):
            picked(box(60, 60, 60), "feature", (30, 0, 30))


class OnceMore(unittest.TestCase):
    def test_a_copy_lies_beside_it(self) -> None:
        copy = once_more(Again(parting=level(1, 20), id="p2", how="copy"))
        self.assertEqual((copy.id, copy.at_mm, copy.on), ("p2", 30.0, True))

    def test_what_would_lie_in_the_same_place_is_switched_off(self) -> None:
        mirrored = once_more(Again(parting=level(1, 20), id="p2", how="mirror", axis="x"))
        self.assertEqual((mirrored.at_mm, mirrored.on), (20.0, False))
        other = once_more(Again(parting=across(1, "x", 20), id="p2", how="mirror", axis="x"))
        self.assertEqual((other.at_mm, other.on), (-20.0, True))

    def test_names_keep_their_pattern(self) -> None:
        with self.assertRaises(ValidationError):
            Again(parting=level(1, 20), id="q2", how="copy")


if __name__ == "__main__":
    unittest.main()

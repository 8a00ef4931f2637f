"""Profile and lap partings."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from hinoki.core.cache import Cache
from hinoki.core.divide.mating_faces import mating_faces
from hinoki.core.divide.partings import LapParting, ProfileParting
from hinoki.core.divide.partings.profile import LinePoint
from tests.core.divide.test_partings import keys, parted
from tests.effort import tried
from tests.shapes import box, tube


def profile(*points: tuple[float, float] | tuple[float, float, bool], **more: object) -> ProfileParting:
    """A profile seen from the front."""
    line = tuple(LinePoint(x_mm=p[0], y_mm=p[1], smooth=len(p) > 2 and bool(p[2])) for p in points)
    return ProfileParting.model_validate({"id": "p1", "points": line, **more})


class Profile(unittest.TestCase):
    def test_a_stepped_line_gives_the_volumes_of_its_two_sides(self) -> None:
        result = parted(box(100, 40, 60), profile((-60, 20), (0, 20), (0, 40), (60, 40)))
        self.assertEqual(keys(result), ["p1-", "p1+"])
        self.assertAlmostEqual(result.parts[0].solid.volume_mm3, 40 * (50 * 20 + 50 * 40), places=6)
        self.assertAlmostEqual(result.parts[1].solid.volume_mm3, 40 * (50 * 40 + 50 * 20), places=6)

    def test_its_straight_parts_are_mating_faces(self) -> None:
        result = parted(box(100, 40, 60), profile((-60, 20), (0, 20), (0, 40), (60, 40)))
        areas = sorted(round(f.shape.area, 3) for f in mating_faces(result.parts, Cache()))
        self.assertEqual(areas, [20 * 40, 50 * 40, 50 * 40])

    def test_ends_are_led_out_straight_on(self) -> None:
        near = parted(box(100, 40, 60), profile((-51, 20), (51, 40)))
        far = parted(box(100, 40, 60), profile((-5100, -1970), (5100, 2030)))
        self.assertAlmostEqual(near.parts[0].solid.volume_mm3, far.parts[0].solid.volume_mm3, places=4)

    def test_an_end_inside_the_outline_is_said_and_nothing_is_cut(self) -> None:
        result = parted(box(100, 40, 60), profile((-60, 20), (10, 30)))
        self.assertEqual(keys(result), ["whole"])
        self.assertEqual([f.code for f in result.findings], ["line-ends-inside"])
        self.assertEqual(result.findings[0].params["end"], "last")

    def test_an_end_inside_a_through_hole_is_outside_the_model_but_held_by_it(self) -> None:
        ring = parted(tube(50, 30, 20), profile((0, 0), (80, 0), eye=(0, 0, 1)))
        self.assertEqual([f.code for f in ring.findings], ["line-ends-inside"])

    def test_a_line_that_crosses_itself_is_refused_in_a_sentence(self) -> None:
        with self.assertRaisesRegex(ValidationError, "crosses itself"):
            profile((-60, 20), (20, 20), (0, 40), (0, 0))

    def test_points_in_one_place_are_named(self) -> None:
        with self.assertRaisesRegex(ValidationError, "points 2 and 3"):
            profile((-60, 20), (0, 20), (0, 20), (60, 20))

    def test_a_smooth_line_passes_through_its_points_without_a_corner(self) -> None:
        line = profile((-60, 20), (-20, 40, True), (20, 20, True), (60, 40))
        curve, straight = line.curve
        for point in line.points:
            self.assertLess(np.linalg.norm(curve - [point.x_mm, point.y_mm], axis=1).min(), 1e-9)
        ways = np.diff(curve, axis=0)
        ways /= np.linalg.norm(ways, axis=1)[:, None]
        self.assertGreater(float((ways[1:] * ways[:-1]).sum(axis=1).min()), np.cos(np.radians(12)))
        self.assertEqual(straight, ())
        result = parted(box(100, 40, 60), line)
        self.assertEqual(keys(result), ["p1-", "p1+"])
        self.assertIn("seam-all-curved", [f.code for f in result.findings])
        self.assertAlmostEqual(sum(p.solid.volume_mm3 for p in result.parts), 100 * 40 * 60, places=6)

    def test_ends_are_corners_whatever_is_said_of_them(self) -> None:
        plain, said = profile((-60, 20), (60, 40)), profile((-60, 20, True), (60, 40, True))
        for line in (plain, said):
            self.assertEqual(line.curve[1], ((0, 1),))
        half = profile((-60, 20, True), (0, 20), (60, 40, True))
        self.assertEqual(half.curve[1], ((0, 1), (1, 2)))

    def test_beside_a_smooth_point_the_line_bends_evenly_to_its_corner(self) -> None:
        """Between a corner and a smooth point the curve is symmetric about the middle of the chord's square."""
        curve, straight = profile((-60, 0), (0, 30, True), (60, 0)).curve
        self.assertEqual(straight, ())
        np.testing.assert_allclose(curve[:, 0] + curve[::-1, 0], 0.0, atol=1e-9)
        np.testing.assert_allclose(curve[:, 1], curve[::-1, 1], atol=1e-9)
        self.assertAlmostEqual(float(curve[:, 1].max()), 30.0)
        self.assertGreaterEqual(float(curve[:, 1].min()), 0.0)
        top = int(np.argmax(curve[:, 1]))
        along = curve[top + 1] - curve[top]
        self.assertLess(abs(float(along[1])), 0.2 * float(along[0]))  # level at the smooth point

    def test_a_u_shaped_line_keeps_what_lies_inside_it(self) -> None:
        result = parted(box(100, 40, 60), profile((-20, 70), (-20, 30), (20, 30), (20, 70)))
        self.assertAlmostEqual(result.parts[1].solid.volume_mm3, 40 * 30 * 40, places=6)

    @tried(12)
    @given(st.lists(st.tuples(st.floats(-40, 40), st.floats(5, 55), st.booleans()), min_size=1, max_size=6))
    def test_both_sides_add_up_or_the_line_is_refused(self, inner: list[tuple[float, float, bool]]) -> None:
        try:
            line = profile((-60, 30), *inner, (60, 30))
        except ValidationError:
            return
        result = parted(box(100, 40, 60), line)
        self.assertAlmostEqual(sum(p.solid.volume_mm3 for p in result.parts) / 240000, 1, places=9)

    def test_a_moved_line_cuts_what_the_moved_model_would_be_cut_into(self) -> None:
        line = profile((-60, 10), (-30, 10), (-30, 50), (60, 45))
        shift = np.array([3.0, 7.0, -4.0])
        one = [p.solid.volume_mm3 for p in parted(box(100, 40, 60), line).parts]
        two = [p.solid.volume_mm3 for p in parted(box(100, 40, 60).moved(*shift), line.moved(shift)).parts]
        np.testing.assert_allclose(one, two, rtol=1e-9)

    def test_copies_go_up_where_the_line_runs_to_the_side_else_to_the_side(self) -> None:
        np.testing.assert_allclose(profile((-60, 10), (60, 20)).across(), [0, 0, 1], atol=1e-12)
        np.testing.assert_allclose(np.abs(profile((0, -10), (5, 80)).across()), [1, 0, 0], atol=1e-12)
        # its ends count, whatever lies between them
        np.testing.assert_allclose(profile((0, 0), (1, 90), (80, 20)).across(), [0, 0, 1], atol=1e-12)

    def test_far_from_the_origin_it_cuts_as_near_it(self) -> None:
        line = profile((440, 310), (470, 310), (470, 350), (560, 345))
        far = [p.solid.volume_mm3 for p in parted(box(100, 40, 60).moved(500, 0, 300), line).parts]
        near = [p.solid.volume_mm3 for p in parted(box(100, 40, 60), profile((-60, 10), (-30, 10), (-30, 50), (60, 45))).parts]
        np.testing.assert_allclose(far, near, rtol=1e-6)

    def test_the_mirrored_line_cuts_the_mirrored_volumes(self) -> None:
        solid = box(100, 40, 60).minus([box(20, 20, 20).moved(40, 0, 0)])
        line = profile((-60, 10), (-30, 10), (-30, 50), (60, 45))
        other = line.mirrored(0, 0.0)
        mirrored = box(100, 40, 60).minus([box(20, 20, 20).moved(-40, 0, 0)])
        one = sorted(p.solid.volume_mm3 for p in parted(solid, line).parts)
        two = sorted(p.solid.volume_mm3 for p in parted(mirrored, other).parts)
        np.testing.assert_allclose(one, two, rtol=1e-9)


class Lap(unittest.TestCase):
    def test_two_halves_overlap_by_the_length(self) -> None:
        lap = LapParting(id="p1", axis="x", at_mm=0, overlap_mm=30, turn_deg=0)
        low, high = (p.solid for p in parted(box(100, 40, 20), lap).parts)
        self.assertAlmostEqual(low.bounds[1][0] - high.bounds[0][0], 30, places=9)
        self.assertAlmostEqual(low.volume_mm3, 40000, places=6)
        self.assertAlmostEqual(high.volume_mm3, 40000, places=6)

    def test_it_has_three_faces_and_the_shoulder_is_one_of_them(self) -> None:
        lap = LapParting(id="p1", axis="x", at_mm=0, overlap_mm=30, turn_deg=90)
        faces = mating_faces(parted(box(100, 40, 20), lap).parts, Cache())
        self.assertEqual(sorted(round(f.shape.area, 3) for f in faces), [400, 400, 1200])

    def test_the_shoulder_stands_where_it_is_put(self) -> None:
        lap = LapParting(id="p1", axis="x", at_mm=0, overlap_mm=30, turn_deg=90, shoulder_mm=15)
        faces = {f.ref.member: round(f.shape.area, 3) for f in mating_faces(parted(box(100, 40, 20), lap).parts, Cache())}
        self.assertEqual(faces, {0: 40 * 15, 1: 30 * 40, 2: 40 * 5})

    def test_beyond_the_model_it_misses(self) -> None:
        result = parted(box(100, 40, 20), LapParting(id="p1", axis="x", at_mm=90, overlap_mm=30))
        self.assertEqual([f.code for f in result.findings], ["parting-misses"])

    @tried(10)
    @given(st.floats(-30, 30), st.floats(1, 40), st.floats(0, 360), st.integers(0, 2))
    def test_the_mirrored_lap_cuts_the_mirrored_volumes(self, at: float, overlap: float, turn: float, axis: int) -> None:
        lap = LapParting(id="p1", axis="x", at_mm=at, overlap_mm=overlap, turn_deg=turn, tilt_deg=(10, 5), shoulder_mm=3.0)
        one = sorted(p.solid.volume_mm3 for p in parted(box(100, 40, 20), lap).parts)
        about = 10.0 if axis == 2 else 0.0
        two = sorted(p.solid.volume_mm3 for p in parted(box(100, 40, 20), lap.mirrored(axis, about)).parts)
        np.testing.assert_allclose(one, two, rtol=1e-6, atol=0.01)

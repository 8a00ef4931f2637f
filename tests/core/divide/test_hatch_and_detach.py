"""Hatches and detached features."""

import math
import unittest
from itertools import pairwise

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from hinoki.core.cache import Cache
from hinoki.core.divide.mating_faces import mating_faces
from hinoki.core.divide.partings import DetachParting, HatchParting
from hinoki.core.divide.partings.outlines import Circle, Free, FreePoint, Rectangle
from hinoki.core.geometry.filmless_cut import split_at
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.polygons import round_sides
from hinoki.core.geometry.sections import flat_faces_at
from hinoki.core.geometry.solid import Solid
from tests.core.divide.test_partings import keys, parted
from tests.effort import tried
from tests.shapes import across, box, ellipsoid


def hatch(**more: object) -> HatchParting:
    """A hatch of 30 × 20 in the top of a box 40 high."""
    return HatchParting.model_validate(
        {"id": "p1", "at_mm": (0, 0, 40), "outline": {"shape": "rectangle", "corner_mm": 0}, "gap_mm": 0.25, **more}
    )


class Hatch(unittest.TestCase):
    def test_the_hatch_is_smaller_by_the_gap_on_every_side_and_as_deep_as_asked(self) -> None:
        body, lid = (p.solid for p in parted(box(100, 60, 40), hatch(depth_mm=5)).parts)
        np.testing.assert_allclose(lid.size, [29.5, 19.5, 5], atol=1e-6)
        self.assertAlmostEqual(100 * 60 * 40 - body.volume_mm3, 30 * 20 * 5, places=6)

    def test_the_gap_measured_on_the_result(self) -> None:
        for gap in (0.1, 0.25, 0.6):
            body, lid = (p.solid for p in parted(box(100, 60, 40), hatch(gap_mm=gap, depth_mm=5)).parts)
            self.assertAlmostEqual(body.gap(lid.moved(0, 0, 1), 5), min(gap, 1), places=6)

    def test_what_the_gap_takes_is_known(self) -> None:
        result = parted(box(100, 60, 40), hatch(depth_mm=5))
        total = sum(p.solid.volume_mm3 for p in result.parts)
        self.assertAlmostEqual(total + result.lost_mm3, 100 * 60 * 40, places=6)
        self.assertAlmostEqual(result.lost_mm3, (30 * 20 - 29.5 * 19.5) * 5, places=6)

    def test_it_rests_on_its_ledge(self) -> None:
        result = parted(box(100, 60, 40), hatch(depth_mm=6, rebate_mm=3, rebate_depth_mm=2))
        faces = {f.ref.member: f.shape.area for f in mating_faces(result.parts, Cache())}
        self.assertAlmostEqual(faces[0], 23.5 * 13.5, places=3)
        self.assertAlmostEqual(faces[1], 29.5 * 19.5 - 24 * 14, places=3)

    def test_the_taper_leans_every_side(self) -> None:
        taper = hatch(depth_mm=6, taper_deg=20, gap_mm=0)
        _, lid = (p.solid for p in parted(box(100, 60, 40), taper).parts)
        bottom = lid.slice(34 + 1e-6).bounds
        self.assertAlmostEqual(bottom[2], 15 - 6 * math.tan(math.radians(20)), places=3)

    def test_circle_and_free_outline(self) -> None:
        _, lid = (
            p.solid for p in parted(box(100, 60, 40), hatch(outline=Circle(diameter_mm=20), gap_mm=0.5, depth_mm=5)).parts
        )
        self.assertAlmostEqual(lid.size[0], 19, places=6)
        corners = tuple(FreePoint(x_mm=x, y_mm=y) for x, y in ((-15, -10), (15, -10), (15, 10), (0, 10), (0, 0), (-15, 0)))
        _, lid = (p.solid for p in parted(box(100, 60, 40), hatch(outline=Free(corners=corners), gap_mm=0.5, depth_mm=5)).parts)
        self.assertAlmostEqual(lid.volume_mm3, (29 * 9 + 14 * 10) * 5, places=6)

    def test_a_curved_surface_keeps_its_shape_on_the_hatch(self) -> None:
        bar = Solid.cylinder(30, -50, 50)
        side = HatchParting(id="p1", at_mm=(30, 0, 0), outward=(1, 0, 0), depth_mm=8, gap_mm=0, outline=Rectangle())
        result = parted(bar, side)
        self.assertAlmostEqual(result.parts[1].solid.bounds[1][0], 30, places=3)
        self.assertAlmostEqual(sum(p.solid.volume_mm3 for p in result.parts), bar.volume_mm3, places=5)

    def test_what_stands_above_the_outline_is_left(self) -> None:
        arched = box(100, 60, 40).plus([Solid.box([-50, -10, 60], [50, 10, 80]), Solid.box([-50, -10, 39], [-40, 10, 61])])
        _, lid = (p.solid for p in parted(arched, hatch(depth_mm=5)).parts)
        self.assertAlmostEqual(lid.bounds[1][2], 40, places=6)

    def test_outside_and_too_deep_are_said(self) -> None:
        for more, code in (({"at_mm": (200, 0, 40)}, "hatch-outside"), ({"depth_mm": 50}, "hatch-through")):
            result = parted(box(100, 60, 40), hatch(**more))
            self.assertEqual(([f.code for f in result.findings], keys(result)), ([code], ["whole"]))

    def test_through_the_wall_of_a_shell_it_would_fall_in_without_a_rebate(self) -> None:
        shell = box(100, 60, 40).minus([Solid.box([-47, -27, 3], [47, 27, 37])])
        loose = parted(shell, hatch(depth_mm=6))
        self.assertEqual([f.code for f in loose.findings], ["hatch-loose"])
        self.assertEqual(parted(shell, hatch(depth_mm=6, rebate_mm=2, rebate_depth_mm=1.5)).findings, [])

    def test_through_a_wall_its_straight_sides_are_its_mating_faces(self) -> None:
        shell = box(100, 60, 40).minus([Solid.box([-47, -27, 3], [47, 27, 37])])
        for gap in (0.0, 0.25):
            faces = mating_faces(parted(shell, hatch(depth_mm=3, gap_mm=gap)).parts, Cache())
            # what both have of a side: the hatch is shorter by the gap at both ends
            areas = [(20 - 2 * gap) * 3, (30 - 2 * gap) * 3]
            self.assertEqual([f.ref.member for f in faces], [2, 3, 4, 5])
            np.testing.assert_allclose([f.shape.area for f in faces], 2 * areas, atol=1e-6)
            for face in faces:
                self.assertAlmostEqual(face.apart_mm, gap)
                self.assertLess(float(face.frame.n @ face.frame.origin), 0)  # from the body into the hatch
        round_one = hatch(depth_mm=3, outline={"shape": "circle", "diameter_mm": 20})
        self.assertEqual(mating_faces(parted(shell, round_one).parts, Cache()), [])

    def test_its_sides_lean_with_its_taper(self) -> None:
        shell = box(100, 60, 40).minus([Solid.box([-47, -27, 3], [47, 27, 37])])
        faces = mating_faces(parted(shell, hatch(depth_mm=3, taper_deg=30, gap_mm=0.2)).parts, Cache())
        self.assertEqual(len(faces), 4)
        lean = 3 / math.cos(math.radians(30))
        for face, long in zip(faces, (20, 30, 20, 30), strict=True):
            # a trapezoid, drawn in by the gap all round
            self.assertAlmostEqual(face.shape.area, (lean - 0.1) * (long - 0.4 - 3 * math.tan(math.radians(30))), delta=0.2)
            self.assertAlmostEqual(float(face.frame.n[2]), 0.5, places=4)

    def test_a_wall_thinner_than_a_millimetre_is_cut_through_and_what_lies_behind_it_left(self) -> None:
        for wall in (0.3, 0.8):
            shell = box(100, 60, 40).minus([Solid.box([-47, -27, 3], [47, 27, 40 - wall])])
            _, lid = (p.solid for p in parted(shell, hatch(depth_mm=2, gap_mm=0)).parts)
            self.assertAlmostEqual(lid.volume_mm3, 30 * 20 * wall, places=6)

    def test_below_the_model_it_is_outside_and_where_it_just_touches_it_too(self) -> None:
        for at, code in ((45.0, "parting-misses"), (-10.0, "hatch-outside")):
            result = parted(box(100, 60, 40), hatch(at_mm=(0, 0, at), depth_mm=5))
            self.assertEqual(([f.code for f in result.findings], keys(result)), ([code], ["whole"]))

    def test_in_a_full_block_it_lies_on_its_bottom_only(self) -> None:
        faces = mating_faces(parted(box(100, 60, 40), hatch(depth_mm=3)).parts, Cache())
        self.assertEqual([f.ref.member for f in faces], [0])

    def test_a_parting_in_line_with_a_side_is_no_second_cut(self) -> None:
        shell = box(100, 60, 40).minus([Solid.box([-47, -27, 3], [47, 27, 37])])
        result = parted(shell, hatch(depth_mm=3, gap_mm=0), across(2, "x", 15.0))
        self.assertNotIn("parting-twice", [f.code for f in result.findings])

    def test_nonsense_is_refused_in_a_sentence(self) -> None:
        for more, said in (
            ({"rebate_mm": 2, "rebate_depth_mm": 9}, "as deep as the hatch"),
            ({"taper_deg": 45, "depth_mm": 20}, "nothing of the hatch is left"),
            ({"outward": (0, 0, 0)}, "points nowhere"),
            ({"outline": {"shape": "rectangle", "width_mm": 10, "height_mm": 10, "corner_mm": 5}}, "corner radius"),
        ):
            with self.assertRaisesRegex(ValidationError, said):
                hatch(**more)

    @tried(8)
    @given(st.integers(0, 2), st.floats(0, 360), st.sampled_from([0.0, 10.0]), st.sampled_from([0.0, 2.0]))
    def test_the_mirrored_hatch_is_the_mirror_image(self, axis: int, turn: float, taper: float, rebate: float) -> None:
        corners = tuple(FreePoint(x_mm=x, y_mm=y) for x, y in ((-12, -8), (14, -9), (3, 11)))
        one = hatch(outline=Free(corners=corners), turn_deg=turn, taper_deg=taper, rebate_mm=rebate, depth_mm=3, gap_mm=0.1)
        one = one.model_copy(update={"at_mm": (5.0, -4.0, 40.0), "rebate_depth_mm": 1.0})
        about = 20.0 if axis == 2 else 0.0
        lids = [parted(box(100, 60, 40), h).parts[1].solid for h in (one, one.mirrored(axis, about))]
        there = lids[0].centre_of_box.copy()
        there[axis] = 2 * about - there[axis]
        np.testing.assert_allclose(lids[1].centre_of_box, there, atol=1e-4)
        self.assertAlmostEqual(lids[0].volume_mm3, lids[1].volume_mm3, places=3)


def figure() -> Solid:
    """A trunk with an arm to each side, at one height."""
    return box(20, 20, 100).plus([Solid.box([-60, -4, 70], [60, 4, 78])])


class Outlines(unittest.TestCase):
    def test_drawn_either_way_round_it_is_the_same_outline(self) -> None:
        corners = [(-12.0, -8.0), (14.0, -9.0), (3.0, 11.0)]
        for inset in (0.0, 2.0):
            one, two = (Free(corners=tuple(FreePoint(x_mm=x, y_mm=y) for x, y in c)) for c in (corners, corners[::-1]))
            rings = one.ring(inset), two.ring(inset)
            assert rings[0] is not None
            assert rings[1] is not None
            self.assertEqual(sorted(map(tuple, rings[0].round(9))), sorted(map(tuple, rings[1].round(9))))

    def test_a_circle_has_as_many_sides_as_any_round_thing_and_is_drawn_inside_itself(self) -> None:
        for inset in (0.0, 4.0):
            ring = Circle(diameter_mm=30).ring(inset)
            assert ring is not None
            self.assertEqual(len(ring), round_sides(15.0))
            np.testing.assert_allclose(np.linalg.norm(ring, axis=1), 15 - inset)
        self.assertIsNone(Circle(diameter_mm=30).ring(15.0))

    def test_an_inset_draws_every_side_in_by_it(self) -> None:
        square = Free(corners=tuple(FreePoint(x_mm=x, y_mm=y) for x, y in ((-10, -5), (10, -5), (10, 5), (-10, 5))))
        ring = square.ring(1.5)
        assert ring is not None
        np.testing.assert_allclose([ring.min(axis=0), ring.max(axis=0)], [[-8.5, -3.5], [8.5, 3.5]])
        self.assertIsNone(square.ring(5.5))

    def test_corners_in_a_row_hold_no_area_and_those_that_cross_are_refused(self) -> None:
        for corners, says in (
            (((0, 0), (10, 0), (5, 0.0005)), "holds no area"),
            (((0, 0), (10, 10), (10, 0), (0, 10)), "crosses itself"),
        ):
            with self.assertRaisesRegex(ValidationError, says):
                Free.model_validate({"corners": [{"x_mm": x, "y_mm": y} for x, y in corners]})


class Detach(unittest.TestCase):
    def test_only_the_picked_arm_comes_off_though_the_plane_crosses_both(self) -> None:
        forked = figure().plus([Solid.box([50, -4, 70], [58, 4, 100]), Solid.box([-58, -4, 70], [-50, 4, 100])])
        both = DetachParting(id="p1", through_mm=(54, 0, 85), normal=(0, 0, 1))
        result = parted(forked, both)
        self.assertEqual(keys(result), ["p1-", "p1+"])
        self.assertAlmostEqual(result.parts[1].solid.volume_mm3, 8 * 8 * 15, places=6)
        self.assertAlmostEqual(sum(p.solid.volume_mm3 for p in result.parts), forked.volume_mm3, places=5)
        self.assertEqual(len(result.parts[0].solid.lumps()), 1)

    def test_its_face_is_the_loop_only(self) -> None:
        result = parted(figure(), DetachParting(id="p1", through_mm=(20, 0, 74), normal=(1, 0, 0)))
        self.assertEqual([round(f.shape.area, 3) for f in mating_faces(result.parts, Cache())], [64.0])

    def test_a_feature_that_is_held_elsewhere_too_is_not_cut(self) -> None:
        handle = box(20, 20, 100).plus([Solid.box([9, -4, 20], [40, 4, 28]), Solid.box([9, -4, 70], [40, 4, 78])])
        handle = handle.plus([Solid.box([32, -4, 20], [40, 4, 78])])
        result = parted(handle, DetachParting(id="p1", through_mm=(20, 0, 74), normal=(1, 0, 0)))
        self.assertEqual([f.code for f in result.findings], ["detach-still-held"])
        self.assertEqual(keys(result), ["whole"])

    def test_a_plane_that_only_touches_the_model_misses_it(self) -> None:
        for at, normal in (
            ((0, 0, 100), (0, 0, 1)),
            ((0, 0, 0), (0, 0, 1)),
            ((60, 0, 74), (1, 0, 0)),
            ((-60, 0, 74), (1, 0, 0)),
        ):
            result = parted(figure(), DetachParting.model_validate({"id": "p1", "through_mm": at, "normal": normal}))
            self.assertEqual(([f.code for f in result.findings], keys(result)), (["parting-misses"], ["whole"]), at)

    def test_beyond_the_model_it_misses(self) -> None:
        result = parted(figure(), DetachParting(id="p1", through_mm=(90, 0, 74), normal=(1, 0, 0)))
        self.assertEqual([f.code for f in result.findings], ["parting-misses"])

    def test_of_all_outlines_that_the_plane_crosses_the_one_nearest_to_the_point_is_the_loop(self) -> None:
        """The point lies in none of them; a millimetre decides, along either axis."""
        for turn in (0, 90):
            foot = box(60, 60, 20)
            tines = [Solid.box([low, -4, 19], [high, 4, 60]) for low, high in ((-14, -6), (7.2, 15))]
            comb = foot.plus([t.placed(turned_about_z(turn)) for t in tines])
            result = parted(comb, DetachParting(id="p1", through_mm=(0, 0, 40), normal=(0, 0, 1)))
            middle = turned_about_z(-turn)[:, :3] @ result.parts[1].solid.centre_of_box
            self.assertAlmostEqual(float(middle[0]), -10.0, places=6)

    def test_of_outlines_as_near_the_smaller_one_is_the_loop(self) -> None:
        comb = box(60, 60, 20).plus([Solid.box([-14, -4, 19], [-6, 4, 60]), Solid.box([6, -3, 19], [10, 3, 60])])
        result = parted(comb, DetachParting(id="p1", through_mm=(0, 0, 40), normal=(0, 0, 1)))
        self.assertAlmostEqual(result.parts[1].solid.volume_mm3, 4 * 6 * 20, places=6)


def turned_about_z(degrees: float) -> np.ndarray:
    """(3, 4)."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return np.array([[c, -s, 0.0, 0.0], [s, c, 0.0, 0.0], [0.0, 0.0, 1.0, 0.0]])


class LeavesNoFilm(unittest.TestCase):
    """What stays has no film where the surface of the feature was: it would come off as pieces of nothing at the next cut."""

    def body(self) -> Solid:
        """A trunk with two arms that hang beside it, thinned as a search thins it."""

        def arm(side: int) -> Solid:
            through = ((44 * side, 0, 140, 15), (57 * side, 0, 82, 11), (75 * side, -10, 10, 9))
            balls = [ellipsoid(r, r, r).moved(x, y, z) for x, y, z, r in through]
            return Solid.united([Solid.united(pair).hull for pair in pairwise(balls)])

        return Solid.united([ellipsoid(48, 32, 85).moved(0, 0, 85), arm(-1), arm(1)]).simplified(0.05)

    def test_the_surfaces_of_rest_and_feature_are_those_of_the_body_and_the_cut(self) -> None:
        body = self.body()
        whole = float(body.mesh.face_areas.sum())
        for z in (40.0, 48.0, 72.0):
            parting = DetachParting(id="p1", through_mm=(-58.58 - (z - 75) * 0.1, -0.91, z), normal=(-0.2128, -0.1181, -0.9699))
            rest, feature = (cut.solid for cut in parting.cut(body, parting.members_for()).cuts)
            section = flat_faces_at(feature.mesh, parting.frame, upward=False).area
            both = float(rest.mesh.face_areas.sum() + feature.mesh.face_areas.sum())
            self.assertAlmostEqual(both, whole + 2 * section, delta=1.0)
            halves = split_at(rest, plane_frame(np.array([0, 0, z - 10]), np.array([0.0, 0.0, 1.0])))
            for half in halves:
                for lump in half.lumps():
                    self.assertGreater(lump.volume_mm3, 1.0)

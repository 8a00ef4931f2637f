"""What is chosen for a face by its measures: how many, which way, how large."""

import math
import unittest

import numpy as np
import shapely

from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import DovetailJoint, FaceRef, Joint, LipJoint, PinJoint, TongueJoint
from hinoki.core.join.labels import SIZES_MM
from hinoki.core.join.sizing.peg_sizing import PEG_SIZES_MM
from hinoki.core.join.sizing.recommended_sizes import KEY_SIZES, NECKS_MM, WIDTHS_MM, _rims
from hinoki.core.join.sizing.turned_sizing import RING_PITCHES_MM
from hinoki.core.propose.recommend_joints import SuitWish, suited
from tests.shapes import across, box, built, level, plan_for, stl_of, tube

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


def chosen(solid: Solid, kind: str, at: float = 20.0) -> Joint:
    """The joint of a kind that is chosen where a body is parted level."""
    data = stl_of(solid)
    plan = plan_for(data, level(1, at), bed=(600, 600, 600))
    (found,) = suited(built(data, plan), plan, SuitWish(kind=kind)).joints  # type: ignore[arg-type]
    return found


def turned(solid: Solid, degrees: float) -> Solid:
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return solid.placed(np.array([[c, -s, 0, 0], [s, c, 0, 0], [0, 0, 1.0, 0]]))


class Counts(unittest.TestCase):
    def test_longer_faces_get_more_elements(self) -> None:
        for long, count in ((70, 2), (79, 2), (81, 3), (159, 3), (161, 4), (300, 5), (560, 8)):
            for kind in ("pin", "magnet"):
                self.assertEqual(getattr(chosen(box(long, 30, 40), kind), "count", None), count, (long, kind))

    def test_all_that_are_wanted_go_before_few_large_ones_while_they_cover_half_as_much(self) -> None:
        """A bar of 165 mm that is thick in two places only: two pegs of 10 mm have room there, and four slimmer ones all along;
        where the bar between is so thin that only ones of 2 mm go, the two stay."""
        for between, wanted in ((13, 4), (5, 2)):
            bar = box(165, between, 60).plus([Solid.box([x - 7, -7, 0], [x + 7, 7, 60]) for x in (-75, 75)])
            peg = chosen(bar, "pin", at=30.0)
            assert isinstance(peg, PinJoint)
            self.assertEqual(peg.count, wanted, (between, peg))


class Directions(unittest.TestCase):
    def test_what_slides_in_runs_across_the_face_and_is_told_within_half_a_turn(self) -> None:
        """The face is turned; the joint turns with it."""
        for degrees in (0, 30, 60, 89, 91, 120, 150, 179, 269, 271, -89):
            joint = chosen(turned(box(120, 40, 60), degrees), "dovetail", at=30.0)
            assert isinstance(joint, DovetailJoint)
            self.assertTrue(-90 < joint.along_deg <= 90, degrees)
            # along the length or across it, whichever: always a quarter turn from where it was on the straight one
            straight = chosen(box(120, 40, 60), "dovetail", at=30.0)
            assert isinstance(straight, DovetailJoint)
            off = (joint.along_deg - straight.along_deg - degrees) % 180
            self.assertTrue(min(off, 180 - off) < 1.5, (degrees, joint.along_deg, straight.along_deg))

    def test_the_smallest_rectangle_around_a_face_decides_not_its_box(self) -> None:
        lean = turned(box(120, 40, 60), 45)
        shape = shapely.MultiPoint(lean.mesh.vertices[:, :2]).convex_hull
        self.assertAlmostEqual(shapely.minimum_rotated_rectangle(shape).area, 120 * 40, places=3)
        self.assertEqual(getattr(chosen(lean, "pin", at=30.0), "count", None), 3)  # 120 long, though its box is 113


class Ladders(unittest.TestCase):
    def test_a_dovetail_is_twice_as_wide_at_its_head_and_six_tenths_of_its_neck_high(self) -> None:
        tail = chosen(box(120, 40, 60), "dovetail", at=30.0)
        assert isinstance(tail, DovetailJoint)
        self.assertEqual((tail.head_mm, tail.height_mm), (2 * tail.neck_mm, round(0.6 * tail.neck_mm, 6)))

    def test_a_stopped_tongue_has_its_clearance_at_both_ends(self) -> None:
        data = stl_of(box(60, 40, 40))
        tongue = TongueJoint(id="j1", face=FACE, width_mm=4, height_mm=4, stop_mm=8)
        low, high = (p.solid for p in built(data, plan_for(data, level(1, 20), joints=(tongue,))).parts)
        ridge, groove = low.slice(22.0), Solid.box([-29, -19, 20], [29, 19, 24]).minus([high]).slice(22.0)
        (a, _, b, _), (c, _, d, _) = ridge.bounds, groove.bounds
        self.assertAlmostEqual(a - c, 0.2, delta=0.12)
        self.assertAlmostEqual(a - c, d - b, places=3)
        self.assertGreater(a - c, 0.05)

    def test_a_panel_between_two_slim_walls_gets_a_tongue_in_each(self) -> None:
        walls = box(100, 60, 80).minus([Solid.box([-46, -26, -1], [46, 26, 81])])
        data = stl_of(walls)
        plan = plan_for(data, across(1, "y", -20.0), least_wall_mm=1.0, bed=(400, 400, 400))
        (tongue,) = suited(built(data, plan), plan, SuitWish(kind="tongue")).joints
        assert isinstance(tongue, TongueJoint)
        self.assertEqual((tongue.count, tongue.ends), (2, "stopped"))
        (placed,) = built(data, plan.model_copy(update={"joints": (tongue,)})).placed
        self.assertEqual(sorted(round(abs(u)) for u, _ in placed.places), [48, 48])
        self.assertEqual(placed.problems, [])

    def test_sizes_that_are_tried_go_down(self) -> None:
        for sizes in (NECKS_MM, WIDTHS_MM, KEY_SIZES, PEG_SIZES_MM, RING_PITCHES_MM):
            self.assertEqual(list(sizes), sorted(set(sizes), reverse=True))

    def test_a_rim_is_at_most_three_times_as_high_as_it_is_thick(self) -> None:
        """Common practice. Thin walls get low rims, thick ones rims of one and a half times their wall, up to 8 mm."""
        for wall in (2.0, 2.4, 4.0):
            rim = chosen(tube(40, 40 - wall, 40), "lip")
            assert isinstance(rim, LipJoint)
            thick = rim.thickness_mm or wall / 2
            self.assertLessEqual(rim.height_mm, max(2.0, 3 * thick), wall)
            self.assertGreaterEqual(rim.height_mm, 0.75 * wall, wall)

    def test_in_the_middle_of_an_open_wall_two_printed_lines_are_left_on_either_side(self) -> None:
        for wall in (2.6, 3.0, 3.5, 5.0):
            shell = tube(60, 60 - wall, 40).minus([Solid.box([0, -70, -1], [70, 70, 41])])
            data = stl_of(shell)
            plan = plan_for(data, level(1, 20), bed=(600, 600, 600))
            standing = built(data, plan.model_copy(update={"joints": (LipJoint(id="j1", face=FACE),)})).placed[0].standing
            for _, rim in _rims(standing):
                if rim["runs"] == "middle":
                    beside = 2 * standing.line_mm + standing.clearance_mm
                    self.assertGreaterEqual(rim["thickness_mm"], 2 * standing.line_mm, wall)
                    self.assertGreaterEqual(wall - rim["thickness_mm"] + 0.05, 2 * beside, wall)
                    self.assertAlmostEqual(rim["thickness_mm"] + 2 * rim["land_mm"], wall, delta=0.1)


class Letters(unittest.TestCase):
    def test_sizes_go_down_from_the_largest(self) -> None:
        self.assertEqual(list(SIZES_MM), sorted(set(SIZES_MM), reverse=True))
        self.assertEqual((SIZES_MM[0], SIZES_MM[-1]), (12.0, 3.0))


if __name__ == "__main__":
    unittest.main()


class Slender(unittest.TestCase):
    """Where something slender is parted one long peg is put: it bears more bending than thin ones beside each other."""

    def test_a_round_face_of_8_8_takes_a_peg_of_4_to_5_one_and_a_half_to_two_diameters_long(self) -> None:
        # common practice for masts and wands; the wall around it is 1.6 mm or more
        joint = chosen(Solid.cylinder(4.4, 0, 200), "auto", 100)
        assert isinstance(joint, PinJoint)
        self.assertEqual(joint.count, 1)
        self.assertTrue(4 <= joint.diameter_mm <= 5)
        self.assertTrue(1.5 <= joint.length_mm / joint.diameter_mm <= 2)
        self.assertEqual(joint.shape, "flat")

    def test_it_bears_more_bending_than_the_two_thin_ones_there_is_room_for(self) -> None:
        # section modulus of a round bar: π d³/32 (handbooks of mechanical engineering; from memory)
        joint = chosen(Solid.cylinder(6.4, 0, 200), "auto", 100)
        assert isinstance(joint, PinJoint)
        one, two = math.pi * joint.diameter_mm**3 / 32, 2 * math.pi * 2.5**3 / 32
        self.assertGreater(one, 2 * two)

    def test_a_larger_face_has_two_or_more_and_the_wall_stays(self) -> None:
        joint = chosen(box(40, 30, 200), "auto", 100)
        assert isinstance(joint, PinJoint)
        self.assertGreaterEqual(joint.count, 2)
        self.assertEqual(joint.shape, "round")
        thin = chosen(Solid.cylinder(2.2, 0, 200), "auto", 100)
        self.assertTrue(not isinstance(thin, PinJoint) or thin.diameter_mm / 2 + 1.6 <= 2.2)

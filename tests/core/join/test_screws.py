"""Screws: clearance holes, heads, inserts, nuts and pilot bores, lengths on sale, and what is noticed."""

import math
import unittest

import numpy as np
import shapely

from hinoki.core.build import Build
from hinoki.core.divide.partings import FlatParting
from hinoki.core.findings import Params
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import FaceRef, ScrewJoint
from hinoki.core.join.joints.screw import LEAST_GRIP_MM
from hinoki.core.propose.recommend_joints import SuitWish, suited
from hinoki.core.workshop.hardware import spares_of
from hinoki.core.workshop.screw_tables import clearance_hole_mm, head_of, lengths_of, nut_of
from tests.checked import findings_of
from tests.shapes import box, built, level, plan_for, stl_of, tube

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
BLOCK = box(60, 60, 60)


def screw(**more: object) -> ScrewJoint:
    measures = {"count": 1, "places": ((0.0, 0.0),), **more}
    return ScrewJoint(id="j1", face=FACE, **measures)  # type: ignore[arg-type]


def joined(joint: ScrewJoint, at: float = 40, solid: Solid = BLOCK) -> Build:
    data = stl_of(solid)
    return built(data, plan_for(data, level(1, at), joints=(joint,)))


def piece(result: Build, key: str) -> Solid:
    return next(p.solid for p in result.parts if p.key == key)


def hole(solid: Solid, height: float) -> float:
    """Diameter of the one round hole at a height, by its area."""
    (part,) = solid.slice(height).geoms
    (ring,) = part.interiors
    x, y = np.asarray(ring.coords).T
    return 2 * math.sqrt(abs(float(x[:-1] @ np.roll(y[:-1], -1) - y[:-1] @ np.roll(x[:-1], -1))) / 2 / math.pi)


def found(result: Build, code: str) -> list[Params]:
    """The figures of all findings of a code."""
    return [f.params for f in findings_of(result) if f.code == code]


class Holes(unittest.TestCase):
    def test_head_shank_and_insert_have_the_measures_of_the_tables(self) -> None:
        for size in ("M3", "M4", "M5"):
            joint = screw(size=size)
            result = joined(joint)
            above, below = piece(result, "p1+"), piece(result, "p1-")
            grip = joint.driven(result.placed[0].standing, (0, 0)).grip_mm
            self.assertAlmostEqual(hole(above, 40.5), clearance_hole_mm(joint.size_mm), delta=0.02)
            self.assertAlmostEqual(hole(above, 40 + grip + 0.5), head_of(joint.size_mm, False).diameter_mm + 0.2, delta=0.03)
            assert joint.insert is not None
            self.assertAlmostEqual(hole(below, 39.5), joint.insert.bore_mm, delta=0.02)

    def test_what_is_bought_is_drawn_with_its_own_measures(self) -> None:
        """A shank of the thread's diameter, the head of the table on it."""
        for size in ("M3", "M5"):
            joint = screw(size=size)
            standing = joined(joint).placed[0].standing
            (drawn,) = joint.bought(standing, [(0.0, 0.0)])
            grip, head = joint.driven(standing, (0, 0)).grip_mm, head_of(joint.size_mm, False)
            for height, diameter in ((-1.0, joint.size_mm), (0.5 * grip, joint.size_mm), (grip + 0.5, head.diameter_mm)):
                self.assertAlmostEqual(drawn.solid.slice(height).area, math.pi * diameter**2 / 4, delta=0.01 * diameter**2)

    def test_the_head_lies_as_deep_as_typed(self) -> None:
        for sunk in (0.0, 1.5):
            at = screw(sunk_mm=sunk).driven(joined(screw(sunk_mm=sunk)).placed[0].standing, (0, 0))
            self.assertAlmostEqual(at.thick_mm, 20, places=6)
            self.assertAlmostEqual(at.grip_mm + 3 + sunk, 20, places=6)

    def test_a_countersunk_head_sits_in_a_cone_of_90_degrees(self) -> None:
        above = piece(joined(screw(head="countersunk", sunk_mm=0.0)), "p1+")
        wide = [hole(above, 60 - d) for d in (0.2, 0.7, 1.2)]
        np.testing.assert_allclose(np.diff(wide), -1.0, atol=0.04)

    def test_a_nut_lies_in_a_hexagon_and_cannot_turn(self) -> None:
        below = piece(joined(screw(into="nut")), "p1-")
        flats, high = nut_of(3)
        area = math.sqrt(3) / 2 * (flats + 0.2) ** 2
        (part,) = below.slice(40 - high / 2).geoms
        self.assertAlmostEqual(60 * 60 - part.area, area, delta=0.05)
        self.assertAlmostEqual(hole(below, 40 - high - 1), clearance_hole_mm(3), delta=0.02)

    def test_a_wood_screw_bites_into_three_quarters_of_its_diameter(self) -> None:
        below = piece(joined(screw(into="pilot", size="M4")), "p1-")
        self.assertAlmostEqual(hole(below, 35), 3.0, delta=0.02)


class Lengths(unittest.TestCase):
    def test_the_length_is_the_shortest_on_sale_that_reaches(self) -> None:
        for at, length in ((50, 12), (40, 25), (35, 30)):
            driven = screw().driven(joined(screw(), at).placed[0].standing, (0, 0))
            self.assertEqual(driven.length_mm, length)
            self.assertGreaterEqual(length, driven.grip_mm + 4)
            shorter = [x for x in lengths_of(3) if x < length]
            self.assertLess(shorter[-1], driven.grip_mm + 4)

    def test_in_a_thick_piece_the_head_goes_deep_and_that_is_said(self) -> None:
        result = joined(screw(), 20, box(60, 60, 120))
        self.assertGreater(found(result, "screw-long-way")[0]["below_mm"], 1)
        self.assertEqual(result.placed[0].joint.driven(result.placed[0].standing, (0, 0)).length_mm, 40)  # type: ignore[union-attr]

    def test_what_is_bought(self) -> None:
        bought = joined(screw(count=2, places=((-10, 0), (10, 0)))).hardware
        wanted = [("cap screw (ISO 4762) M3 × 25", 2, 1), ("insert M3 × 4", 2, 1)]
        self.assertEqual([(h.name, h.count, spares_of(h)) for h in bought], wanted)


class Noticed(unittest.TestCase):
    def test_bad_places_and_sizes_are_told_with_figures(self) -> None:
        self.assertLess(found(joined(screw(), 57), "screw-head-deep")[0]["grip_mm"], LEAST_GRIP_MM)
        self.assertEqual(found(joined(screw(size="M8")), "screw-no-insert")[0]["size_mm"], 8)
        self.assertTrue(found(joined(screw(), 4), "joint-breaks-through"), "the screw comes out below")
        near = found(joined(screw(places=((27.0, 0.0),))), "joint-thin-wall")
        self.assertTrue(near, "a boss that would split")

    def test_heads_in_the_other_piece(self) -> None:
        result = joined(screw(on="a"), 20)
        self.assertAlmostEqual(hole(piece(result, "p1-"), 1.0), head_of(3, False).diameter_mm + 0.2, delta=0.03)

    def test_what_suits_a_face_has_its_heads_on_the_thinner_side(self) -> None:
        data = stl_of(BLOCK)
        for at, on in ((20, "a"), (45, "b")):
            plan = plan_for(data, level(1, at))
            joint = suited(built(data, plan), plan, SuitWish(kind="screw")).joints[0]
            assert isinstance(joint, ScrewJoint)
            self.assertEqual(joint.on, on)
            result = built(data, plan.model_copy(update={"joints": (joint,)}))
            self.assertEqual([(f.code, f.params) for f in findings_of(result) if f.severity == "must-fix"], [])
            low, high = (p.solid for p in result.parts)
            self.assertLess(abs(low.common(high).volume_mm3), 1e-6)

    def test_slanted_faces_are_screwed_square_to_them(self) -> None:
        data = stl_of(BLOCK)
        parting = FlatParting(id="p1", axis="z", at_mm=40, tilt_deg=(20, 0))
        result = built(data, plan_for(data, parting, joints=(screw(),)))
        axis = result.placed[0].face.frame.n
        thick = result.placed[0].standing.through("b", (0.0, 0.0))
        self.assertAlmostEqual(thick * abs(float(axis[2])), 60 - float(result.placed[0].face.frame.origin[2]), delta=0.1)


if __name__ == "__main__":
    unittest.main()


class Slots(unittest.TestCase):
    def test_a_nut_from_the_side_slides_in_through_a_slot_as_wide_as_its_flats(self) -> None:
        joint = screw(size="M4", into="nut", nut_from="side", nut_deep_mm=4, places=((20.0, 0.0),))
        result = joined(joint)
        below = piece(result, "p1-")
        flats, high = nut_of(4)
        # in the middle of the nut's height the slot is open towards +X, the near side
        section = below.slice(40 - 4 - high / 2)
        self.assertFalse(section.contains(shapely.Point(26, 0)))
        self.assertTrue(section.contains(shapely.Point(14, 0)))
        cut = shapely.box(24, -20, 29, 20).difference(section)
        _, low, _, high_y = cut.bounds
        self.assertAlmostEqual(high_y - low, flats + 0.2, delta=0.01)
        # above and below it there is only the bore
        self.assertAlmostEqual(hole(below, 38), clearance_hole_mm(4), delta=0.02)
        self.assertEqual([f.code for f in findings_of(result) if f.severity == "must-fix"], [])

    def test_the_slot_goes_where_it_is_told_on_either_side(self) -> None:
        for on in ("a", "b"):
            result = joined(screw(size="M3", into="nut", nut_from="side", slot_deg=90, on=on), at=30)
            holder = piece(result, "p1-" if on == "b" else "p1+")
            high = 30 - 4 if on == "b" else 30 + 4
            section = holder.slice(high)
            v = result.placed[0].standing.frame.v
            self.assertFalse(section.contains(shapely.Point(20 * float(v[0]), 20 * float(v[1]))), on)
            self.assertTrue(section.contains(shapely.Point(-20 * float(v[0]), -20 * float(v[1]))), on)

    def test_the_screw_reaches_through_its_nut(self) -> None:
        joint = screw(size="M3", into="nut", nut_from="side", nut_deep_mm=5)
        at = joint.driven(joined(joint).placed[0].standing, (0, 0))
        assert at.length_mm is not None
        self.assertGreaterEqual(at.length_mm - at.grip_mm, 5 + nut_of(3)[1])


class Leaning(unittest.TestCase):
    def test_a_leaning_screw_keeps_its_hole_and_leans_as_told(self) -> None:
        joint = screw(size="M4", tilt_deg=30, tilt_to_deg=0)
        result = joined(joint)
        above = piece(result, "p1+")
        shank = above.slice(44)
        (ring,) = shank.geoms[0].interiors
        middle = shapely.Polygon(ring).centroid
        u = result.placed[0].standing.frame.u
        self.assertAlmostEqual(middle.x * float(u[0]), 4 * math.tan(math.radians(30)), delta=0.02)
        # a round bore cut at a slant is an ellipse: wider by 1/cos
        self.assertAlmostEqual(
            shapely.Polygon(ring).area, math.pi / 4 * clearance_hole_mm(4) ** 2 / math.cos(math.radians(30)), delta=0.05
        )
        self.assertEqual([f.code for f in findings_of(result) if f.severity == "must-fix"], [])
        self.assertIn("leaning 30°", joint.label())

    def test_both_sides_lie_on_one_axis(self) -> None:
        for on in ("a", "b"):
            result = joined(screw(size="M4", tilt_deg=25, tilt_to_deg=40, on=on), at=30)
            axis = result.placed[0].joint.axis(result.placed[0].standing, (0.0, 0.0))  # type: ignore[union-attr]
            at = result.placed[0].standing.frame.world(np.array([[0.0, 0.0]]))[0]
            for part in result.parts:
                for way in (-3.0, 3.0):
                    spot = at + way * axis
                    ball = Solid.box((spot - 0.3).tolist(), (spot + 0.3).tolist())
                    self.assertEqual(part.solid.common(ball).volume_mm3, 0)

    def test_one_that_leans_out_of_the_side_is_told(self) -> None:
        codes = {f.code for f in findings_of(joined(screw(size="M4", tilt_deg=45, places=((-26.0, 0.0),))))}
        self.assertTrue(codes & {"joint-breaks-through", "joint-thin-wall"})


class Bosses(unittest.TestCase):
    TUBE = tube(30, 26, 80)

    def test_a_boss_grows_inside_a_thin_wall_round_each_screw_only(self) -> None:
        joint = ScrewJoint(id="j1", face=FACE, count=3, size="M3", boss_mm=8)
        result = joined(joint, solid=self.TUBE)
        self.assertEqual(len(result.placed[0].places), 3)
        self.assertEqual([(f.code, f.params) for f in findings_of(result) if f.severity == "must-fix"], [])
        for part, before in zip(result.parts, result.before, strict=True):
            self.assertEqual(part.solid.size.round(3).tolist(), before.solid.size.round(3).tolist())
            self.assertEqual(len(part.solid.lumps()), 1)
        ring = result.placed[0].collar
        self.assertEqual(len(ring.geoms), 3)
        self.assertLess(ring.area, 0.6 * (math.pi * (26**2 - 18**2)))

    def test_what_suits_a_thin_shell_stands_in_bosses(self) -> None:
        plan = plan_for(stl_of(self.TUBE), level(1, 40))
        (joint,) = suited(built(stl_of(self.TUBE), plan), plan, SuitWish(kind="screw")).joints
        assert isinstance(joint, ScrewJoint)
        self.assertGreater(joint.boss_mm, 0)
        result = joined(joint, solid=self.TUBE)
        self.assertEqual([(f.code, f.params) for f in findings_of(result) if f.severity == "must-fix"], [])

    def test_without_a_boss_there_is_no_room(self) -> None:
        result = joined(ScrewJoint(id="j1", face=FACE, count=3, size="M3"), solid=self.TUBE)
        self.assertIn("joint-no-room", {f.code for f in findings_of(result)})


class OwnInserts(unittest.TestCase):
    def test_a_typed_insert_sets_bore_length_and_what_is_bought(self) -> None:
        result = joined(screw(size="M3", insert_bore_mm=4.4, insert_long_mm=6))
        self.assertAlmostEqual(hole(piece(result, "p1-"), 39), 4.4, delta=0.02)
        self.assertIn("insert M3 × 6, ø4.4", [h.name for h in result.hardware])

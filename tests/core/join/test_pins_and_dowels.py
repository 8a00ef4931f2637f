"""Pins and dowels: clearances measured on the result, walls, placing, what is found and what is kept."""

import math
import unittest

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.divide.partings import DetachParting
from hinoki.core.findings import Finding
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.sections import section_of
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.pegs import FLAT_AT, section_ring
from hinoki.core.join.joints import DowelJoint, FaceRef, Joint, PinJoint
from hinoki.core.plan.contents import PieceNote
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.recommend_joints import settled, suggested
from hinoki.core.workshop.fits import Fits
from tests.checked import findings_of
from tests.effort import tried
from tests.shapes import across, box, built, ellipsoid, level, plan_for, stl_of, tube

BLOCK = stl_of(box(60, 60, 60))
FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


def with_joint(joint: Joint, data: bytes = BLOCK, **more: object) -> Build:
    return built(data, plan_for(data, level(1, 30), joints=(joint,), **more))


def part(result: Build, key: str) -> Solid:
    return next(p.solid for p in result.parts if p.key == key)


class Clearance(unittest.TestCase):
    @tried(10)
    @given(
        kind=st.sampled_from(["pin", "dowel"]),
        shape=st.sampled_from(["round", "square"]),
        diameter=st.floats(2, 12),
        clearance=st.floats(0.02, 0.5),
        place=st.tuples(st.floats(-18, 18), st.floats(-18, 18)),
    )
    def test_measured_clearance_is_as_asked(
        self, kind: str, shape: str, diameter: float, clearance: float, place: tuple[float, float]
    ) -> None:
        common = {"id": "j1", "face": FACE, "count": 1, "diameter_mm": diameter, "shape": shape, "places": (place,)}
        joint: Joint = (
            PinJoint(**common, length_mm=6) if kind == "pin" else DowelJoint(**common, length_mm=12)  # type: ignore[arg-type]
        )
        result = with_joint(joint, fits=Fits(snug=clearance))
        upper = part(result, "p1+")
        male = part(result, "p1-") if kind == "pin" else result.placed[0].tools.loose[0].solid
        # above the face only: at the face itself the pieces touch
        above = male.halves(plane_frame(np.array([0, 0, 30.5]), np.array([0, 0, 1.0])))[0]
        measured = above.gap(upper, 2.0)
        self.assertAlmostEqual(measured, clearance, delta=0.011 + 1e-6)
        self.assertGreaterEqual(measured, clearance - 1e-6)

    def test_pieces_do_not_overlap_and_volume_is_traded(self) -> None:
        joint = PinJoint(id="j1", face=FACE, count=3, diameter_mm=6, length_mm=7)
        result = with_joint(joint)
        lower, upper = part(result, "p1-"), part(result, "p1+")
        self.assertLess(lower.common(upper).volume_mm3, 1e-6)
        self.assertGreater(lower.volume_mm3, 60 * 60 * 30)
        self.assertLess(upper.volume_mm3, 60 * 60 * 30)
        self.assertEqual(len(lower.lumps()), 1)

    def test_a_bore_is_drawn_around_its_circle_and_a_pin_inside_it(self) -> None:
        result = with_joint(PinJoint(id="j1", face=FACE, count=1, diameter_mm=10, length_mm=8, places=((0, 0),)))
        frame = plane_frame(np.array([0, 0, 33.0]), np.array([0, 0, 1.0]))
        pin = section_of(part(result, "p1-"), frame)
        bore = np.array(section_of(part(result, "p1+"), frame).geoms[0].interiors[0].coords)
        self.assertLessEqual(np.linalg.norm(np.array(pin.geoms[0].exterior.coords), axis=1).max(), 5 + 1e-6)
        middles = (bore[:-1] + bore[1:]) / 2
        self.assertGreaterEqual(np.linalg.norm(middles, axis=1).min(), 5.1 - 1e-6)

    def test_the_outside_of_the_model_is_not_changed(self) -> None:
        outside = PinJoint(id="j1", face=FACE, count=1, diameter_mm=8, length_mm=6, places=((29, 0),))
        result = with_joint(outside)
        low, high = part(result, "p1-").bounds
        self.assertTrue((low >= -30 - 1e-6).all() and (high[:2] <= 30 + 1e-6).all())


class Sections(unittest.TestCase):
    def test_a_pegs_section_is_that_of_its_shape_and_grows_by_as_much_all_round(self) -> None:
        """Areas by formula: a square, a circle, and a circle less the segment beyond its flat."""
        half = 4.0
        for grown in (0.0, 0.2, 1.0):
            reach, level = half + grown, FLAT_AT * half + grown
            angle = 2 * math.acos(level / reach)
            segment = reach**2 * (angle - math.sin(angle)) / 2
            areas = {"square": (2 * reach) ** 2, "round": math.pi * reach**2, "flat": math.pi * reach**2 - segment}
            for shape, area in areas.items():
                ring = shapely.Polygon(section_ring(shape, half, grown))  # type: ignore[arg-type]
                with self.subTest(shape=shape, grown=grown):
                    self.assertAlmostEqual(ring.area, area, delta=0.01 * area)
                    self.assertAlmostEqual(-ring.bounds[0], level if shape == "flat" else reach, delta=0.02)


class Findings(unittest.TestCase):
    def codes(self, joint: Joint, **more: object) -> dict[str, Finding]:
        findings = findings_of(with_joint(joint, **more))
        return {f.code: f for f in findings if f.station == "join" and f.severity != "note"}

    def wall_mm(self, joint: Joint) -> float:
        return float(self.codes(joint)["joint-thin-wall"].params["wall_mm"])  # type: ignore[arg-type]

    def test_a_good_pin_has_no_finding(self) -> None:
        self.assertEqual(self.codes(PinJoint(id="j1", face=FACE, count=2, diameter_mm=6, length_mm=7)), {})

    def test_breaking_through_is_said_with_the_amount(self) -> None:
        # bore radius 4.1 at 26.5 from the middle: 30.6 - 30 = 0.6 mm out
        joint = PinJoint(id="j1", face=FACE, count=1, diameter_mm=8, length_mm=6, places=((26.5, 0),))
        finding = self.codes(joint)["joint-breaks-through"]
        self.assertEqual((finding.piece, finding.face, finding.params["name"]), (2, "1|2", "Pin A"))
        self.assertAlmostEqual(finding.params["through_mm"], 0.6, delta=0.01)  # type: ignore[arg-type]

    def test_a_thin_wall_is_said_with_the_amount(self) -> None:
        # 30 - 25 - 4.1 = 0.9 mm left, 1.6 wanted
        joint = PinJoint(id="j1", face=FACE, count=1, diameter_mm=8, length_mm=6, places=((25, 0),))
        self.assertAlmostEqual(self.wall_mm(joint), 0.9, delta=0.01)
        finding = self.codes(joint)["joint-thin-wall"]
        self.assertEqual((finding.piece, finding.params["least_mm"]), (2, 1.6))

    def test_a_thin_end_is_said_with_the_amount(self) -> None:
        # 30 - (29 + 0.3) = 0.7 mm above the bore
        joint = PinJoint(id="j1", face=FACE, count=1, diameter_mm=8, length_mm=29, places=((0, 0),))
        self.assertAlmostEqual(self.wall_mm(joint), 0.7, delta=0.01)

    def test_a_wall_exactly_at_the_least_is_good(self) -> None:
        joint = PinJoint(id="j1", face=FACE, count=1, diameter_mm=8, length_mm=6, places=((30 - 4.1 - 1.6 - 0.011, 0),))
        self.assertEqual(self.codes(joint), {})

    def test_a_square_peg_is_measured_too(self) -> None:
        joint = DowelJoint(id="j1", face=FACE, count=1, diameter_mm=8, length_mm=6, shape="square", places=((25, 0),))
        self.assertAlmostEqual(self.wall_mm(joint), 0.9, delta=0.01)

    def test_a_foot_beside_the_face_is_said(self) -> None:
        joint = PinJoint(id="j1", face=FACE, count=1, diameter_mm=8, length_mm=6, places=((28, 0),))
        self.assertIn("joint-beside-face", self.codes(joint))

    def test_bores_that_meet_inside_a_piece_are_said(self) -> None:
        data = BLOCK
        side = FaceRef(parting="p2", member=0, a="p1+ p2-", b="p1+ p2+")
        low = FaceRef(parting="p1", member=0, a="p1-", b="p1+ p2+")
        joints = (
            PinJoint(id="j1", face=low, count=1, diameter_mm=6, length_mm=12, places=((6, 0),)),
            PinJoint(id="j2", face=side, count=1, diameter_mm=6, length_mm=12, places=((0, 36),)),
        )
        result = built(data, plan_for(data, level(1, 30), across(2, "x", 0, only=("p1+",)), joints=joints))
        self.assertIn("joints-meet", [f.code for f in findings_of(result)])

    def test_too_little_room_is_said(self) -> None:
        joint = PinJoint(id="j1", face=FACE, count=9, diameter_mm=15, length_mm=6)
        self.assertLess(self.codes(joint)["joint-no-room"].params["room_for"], 9)  # type: ignore[operator]

    def test_a_joint_whose_face_is_gone_waits_and_comes_back(self) -> None:
        joint = PinJoint(id="j1", face=FACE, count=2, diameter_mm=6, length_mm=7)
        plan = plan_for(BLOCK, level(1, 30), joints=(joint,))
        off = plan.model_copy(update={"partings": (level(1, 30).model_copy(update={"on": False}),)})
        self.assertIn("joint-unplaced", [f.code for f in findings_of(built(BLOCK, off))])
        self.assertEqual(off.joints, plan.joints)
        self.assertEqual(len(built(BLOCK, plan).placed), 1)


class Placing(unittest.TestCase):
    def test_suggested_joints_on_a_tube_are_good_and_far_apart(self) -> None:
        data = stl_of(tube(46, 36, 200))
        plan = plan_for(data, level(1, 100))
        for kind in ("pin", "dowel"):
            result = built(data, suggested(built(data, plan), plan, kind, "snug"))
            self.assertEqual([f for f in findings_of(result) if f.station == "join"], [])
            places = np.array(result.placed[0].places)
            self.assertGreater(np.linalg.norm(places[0] - places[1]), 75)

    def test_no_joint_is_suggested_where_there_is_no_room(self) -> None:
        data = stl_of(box(46, 3, 200))
        plan = plan_for(data, level(1, 100))
        self.assertEqual(suggested(built(data, plan), plan, "pin", "snug").joints, ())

    def test_leaning_walls_are_respected_in_the_depth(self) -> None:
        cone = stl_of(Solid.cone(40, 8, 0, 80))
        plan = plan_for(cone, level(1, 40))
        result = built(cone, suggested(built(cone, plan), plan, "dowel", "snug"))
        self.assertGreater(len(result.placed), 0)
        self.assertEqual([f for f in findings_of(result) if f.severity == "must-fix"], [])

    def test_places_keep_when_the_parting_moves(self) -> None:
        joint = PinJoint(id="j1", face=FACE, count=1, diameter_mm=6, length_mm=7, places=((7.5, -3.25),))
        for at in (20, 30, 41.5):
            (placed,) = built(BLOCK, plan_for(BLOCK, level(1, at), joints=(joint,))).placed
            np.testing.assert_allclose(placed.standing.frame.world(np.array(placed.places)), [(7.5, -3.25, at)], atol=1e-9)

    def test_loose_parts_are_told_where_they_sit(self) -> None:
        data = stl_of(box(60, 60, 60))
        dowels = DowelJoint(id="j1", face=FaceRef(parting="p1", member=0, a="p1-", b="p1+"), count=3, length_mm=9, in_a_mm=3)
        result = built(data, plan_for(data, level(1, 30), joints=(dowels,)))
        (kind,) = result.loose
        for at, loose in zip(kind.seats, result.placed[0].tools.loose, strict=True):
            self.assertEqual((at.joint, sorted(at.pieces)), ("j1", [1, 2]))
            sits = kind.solid.placed(at.matrix)
            self.assertAlmostEqual(sits.common(loose.solid).volume_mm3 / loose.solid.volume_mm3, 1.0, places=6)

    def test_dowels_become_loose_parts(self) -> None:
        (kind,) = with_joint(DowelJoint(id="j1", face=FACE, count=3, diameter_mm=6, length_mm=14)).loose
        self.assertEqual([(kind.name, kind.count)], [("dowel 6 × 14", 3)])
        self.assertAlmostEqual(kind.size_mm[2], 14, places=3)

    def test_small_loose_parts_get_spares_and_typed_ones_count(self) -> None:
        for spares, diameter, wanted in ((None, 6, 1), (0, 6, 0), (4, 6, 4), (None, 20, 0)):
            dowels = DowelJoint(id="j1", face=FACE, count=2, diameter_mm=diameter, length_mm=14, spares=spares)
            (kind,) = with_joint(dowels).loose
            self.assertEqual((kind.spares, kind.printed), (wanted, 2 + wanted))


class Memory(unittest.TestCase):
    def test_moving_one_pin_makes_two_pieces_anew_and_nothing_else(self) -> None:
        data, cache = stl_of(box(100, 100, 100)), Cache()
        plan = plan_for(data, level(1, 50), across(2, "x", 0), across(3, "y", 0))
        plan = suggested(built(data, plan, cache), plan, "pin", "snug")
        before = {p.key: p.made_by for p in built(data, plan, cache).parts}
        moved = plan.joints[0].model_copy(update={"places": ((-20.0, -20.0),)})
        after_plan: Plan = plan.model_copy(update={"joints": (moved, *plan.joints[1:])})
        after = {p.key: p.made_by for p in built(data, after_plan, cache).parts}
        changed = {k for k in after if after[k] != before[k]}
        self.assertEqual(changed, {moved.face.a, moved.face.b})

    def test_the_same_plan_again_computes_nothing(self) -> None:
        cache = Cache()
        plan = plan_for(BLOCK, level(1, 30), joints=(PinJoint(id="j1", face=FACE),))
        built(BLOCK, plan, cache)
        made = cache.made
        built(BLOCK, plan, cache)
        self.assertEqual(cache.made, made)


class Settling(unittest.TestCase):
    def test_what_there_is_no_room_for_is_left_out(self) -> None:
        many = PinJoint(id="j1", face=FACE, count=9, diameter_mm=15, length_mm=6)
        plan = plan_for(BLOCK, level(1, 30), joints=(many,))
        result = built(BLOCK, plan)
        after = settled(plan, result)
        self.assertEqual(after.joints[0].count, len(result.placed[0].places))
        left = {f.code for f in findings_of(built(BLOCK, after)) if f.station == "join"}
        self.assertEqual(left, {"turned-assembly"})  # four pins in a square
        huge = many.model_copy(update={"diameter_mm": 70.0})
        plan = plan_for(BLOCK, level(1, 30), joints=(huge,))
        self.assertEqual(settled(plan, built(BLOCK, plan)).joints, ())


class Detached(unittest.TestCase):
    def test_a_feature_keeps_its_root_to_stand_on_unless_a_side_was_chosen(self) -> None:
        """Its root looks down a little, so that pins would point up on the feature."""
        way = np.array([0.94, 0.0, -0.34]) / np.linalg.norm([0.94, 0.0, -0.34])
        arm = Solid.cylinder(14, 0, 120).placed(plane_frame(np.array([0.0, 0.0, 60.0]), way).to_world)
        data = stl_of(ellipsoid(45, 45, 45).moved(0, 0, 60).plus([arm]))
        root = DetachParting(id="p1", through_mm=(45.0, 0.0, 45.0), normal=(0.94, 0.0, -0.34))
        pin = PinJoint(id="j1", face=FaceRef(parting="p1", member=0, a="p1-", b="p1+"), on="auto")
        notes: dict[str, PieceNote]
        for notes, side in (({}, "a"), ({"p1-": PieceNote(down=(0.0, 0.0, -1.0))}, "b")):
            (placed,) = built(data, plan_for(data, root, joints=(pin,), pieces=notes)).placed
            self.assertEqual(placed.joint.stands_on, side)

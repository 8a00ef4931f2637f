"""Hinges: knuckles round a pin, doors and lids that swing freely, and what is told where they do not."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from hinoki.core.assemble.findings import assembly_findings
from hinoki.core.build import Build
from hinoki.core.divide.partings.hatch import HatchParting
from hinoki.core.divide.partings.outlines import Circle, Rectangle
from hinoki.core.formats.registry import read_file
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.clearance import measured_clearance
from hinoki.core.join.joints import SIDES, FaceRef, HingeJoint, Joint, LipJoint, MagnetJoint, PinJoint
from hinoki.core.join.ladders.fit_ladder import clearances, ladder
from hinoki.core.join.opening.moving import moves_with
from hinoki.core.join.opening.swings import axis_of
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.recommend_joints import SuitWish, suited
from hinoki.core.workshop.fits import Fits
from tests.assembling import assembly, numbers_of, proofs
from tests.checked import files_of, findings_of, strength
from tests.effort import tried
from tests.shapes import across, box, built, level, plan_for, stl_of

CASE = box(120, 80, 40).minus([Solid.box([-50, -30, 6], [50, 30, 34])])
LEDGE = FaceRef(parting="p1", member=1, a="p1:b", b="p1:h")
BOX = box(80, 60, 40).minus([Solid.box([-36, -26, 4], [36, 26, 36])])
LID = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


def hatch(outline: Rectangle | Circle | None = None, **more: object) -> HatchParting:
    """A door of 60 × 40 in the upper wall, on a ledge, 1 mm of gap all round."""
    measures = {"depth_mm": 5.9, "gap_mm": 1.0, "rebate_mm": 3.0, "rebate_depth_mm": 3.0, **more}
    return HatchParting(
        id="p1",
        at_mm=(0, 0, 40),
        outline=outline or Rectangle(width_mm=60, height_mm=40),
        **measures,  # type: ignore[arg-type]
    )


def door(parting: HatchParting | None = None, fits: Fits | None = None, **more: object) -> Build:
    hinge = HingeJoint(id="j1", face=LEDGE, **more)  # type: ignore[arg-type]
    return with_joints(plan_for(stl_of(CASE), parting or hatch(), joints=(hinge,), fits=fits or Fits()))


def with_joints(plan: Plan, solid: Solid = CASE) -> Build:
    return built(stl_of(solid), plan)


def codes(result: Build) -> set[str]:
    return {f.code for f in findings_of(result) if f.code.startswith("hinge")}


class Swings(unittest.TestCase):
    def test_a_door_in_a_wall_opens(self) -> None:
        result = door(opens_deg=170)
        self.assertEqual(codes(result), set())
        for part in result.parts:
            self.assertEqual(len(part.solid.lumps()), 1)

    def test_every_whole_degree_is_free_and_the_pin_fits_in_all_of_them(self) -> None:
        """What the check says at its positions holds in between, too."""
        result = door(opens_deg=170)
        placed = result.placed[0]
        axis = axis_of(placed)
        assert axis is not None
        body, leaf = (p.solid for p in result.parts)
        pin = Solid.cylinder(1.0, -10, 10).placed(axis.frame.to_world)
        for angle in range(0, 171, 1):
            turned = leaf.placed(axis.turned(angle))
            self.assertLess(body.common(turned).volume_mm3, 0.02, angle)
            if angle % 30 == 0:
                self.assertEqual(turned.common(pin).volume_mm3, 0)

    def test_the_axis_lies_on_the_seam_just_so_far_off_that_the_pin_passes_over_the_surface(self) -> None:
        axis = axis_of(door().placed[0])
        assert axis is not None
        # the middle of the gap of 1 mm round an opening of 60 × 40; a pin of 2 mm with 0.2 mm of play
        self.assertAlmostEqual(abs(float(axis.frame.origin[1])), 19.5, delta=0.01)
        self.assertAlmostEqual(float(axis.frame.origin[2]), 41.2, delta=0.01)

    def test_a_lid_opens_flat_outwards(self) -> None:
        hinge = HingeJoint(id="j1", face=LID, length_mm=40, knuckles=5, opens_deg=180)
        result = with_joints(plan_for(stl_of(BOX), level(1, 30), joints=(hinge,)), BOX)
        self.assertEqual(codes(result), set())
        axis = axis_of(result.placed[0])
        assert axis is not None
        low, high = result.parts[1].solid.placed(axis.turned(180)).bounds
        beyond = max(-float(low[1]), float(high[1]))
        self.assertGreater(beyond, 30 + 58)
        self.assertAlmostEqual(float(low[2]), 20, delta=0.01)

    def test_a_tight_frame_is_told_with_the_angle(self) -> None:
        # the lower edge of a door 5.9 mm deep swings out by up to d²/2L of its far edge
        result = door(hatch(gap_mm=0.2))
        self.assertEqual(codes(result), {"hinge-hits"})
        finding = next(f for f in findings_of(result) if f.code == "hinge-hits")
        self.assertTrue(0 < finding.params["angle_deg"] <= 5)  # type: ignore[operator]
        self.assertNotIn("free_deg", finding.params, "it does not clear its frame: opening it less does not help")
        self.assertIsNotNone(finding.at_mm)

    def test_what_stands_in_the_way_limits_the_angle_and_the_fix_takes_it(self) -> None:
        result = door(opens_deg=120)
        self.assertEqual(codes(result), set())
        y = result.placed[0].places[0][1]
        wall = Solid.box([-30, 26, 38], [30, 30, 80]) if y > 0 else Solid.box([-30, -30, 38], [30, -26, 80])
        solid = CASE.plus([wall])
        plan = plan_for(stl_of(solid), hatch(), joints=(HingeJoint(id="j1", face=LEDGE, opens_deg=120, places=((0.0, y),)),))
        blocked = with_joints(plan, solid)
        finding = next(f for f in findings_of(blocked) if f.code == "hinge-hits")
        self.assertEqual((finding.params["door"], finding.params["other"]), (2, 1))
        (fix,) = finding.fixes
        assert fix.joint is not None
        less = HingeJoint.model_validate(fix.joint)
        self.assertTrue(80 <= less.opens_deg < 110)
        self.assertEqual(codes(with_joints(plan.model_copy(update={"joints": (less,)}), solid)), set())


class HangsOn(unittest.TestCase):
    """What is joined to a door alone swings with it; what is joined to the frame too stays in its way."""

    def lid_in_halves(self, *more: Joint) -> Build:
        left = FaceRef(parting="p1", member=0, a="p1-", b="p1+ p2-")
        between = FaceRef(parting="p2", member=0, a="p1+ p2-", b="p1+ p2+")
        hinge = HingeJoint(id="j1", face=left, length_mm=20, places=((-20.0, -30.0),), opens_deg=110)
        glued = PinJoint(id="j2", face=between, count=2, diameter_mm=2, length_mm=2, places=((0.0, 38.0),))
        cuts = (level(1, 30), across(2, "x", 0.0, only=("p1+",)))
        return with_joints(plan_for(stl_of(BOX), *cuts, joints=(hinge, glued, *more)), BOX)

    def test_the_other_half_of_a_lid_swings_along(self) -> None:
        result = self.lid_in_halves()
        hinge = next(p for p in result.placed if p.joint.id == "j1")
        self.assertEqual(moves_with("p1+ p2-", "p1-", result.placed), {"p1+ p2-", "p1+ p2+"})
        self.assertIsNotNone(axis_of(hinge))
        self.assertNotIn("hinge-hits", codes(result))

    def test_one_that_is_held_by_the_frame_is_met(self) -> None:
        right = FaceRef(parting="p1", member=0, a="p1-", b="p1+ p2+")
        held = PinJoint(id="j3", face=right, count=1, diameter_mm=2, length_mm=2)
        result = self.lid_in_halves(held)
        self.assertEqual(moves_with("p1+ p2-", "p1-", result.placed), {"p1+ p2-"})
        self.assertIn("hinge-hits", codes(result))


class Fit(unittest.TestCase):
    @tried(5)
    @given(clearance=st.floats(0.05, 0.4), pin_mm=st.floats(1.5, 3), gap_mm=st.floats(0.2, 0.6))
    def test_the_pin_has_its_clearance_in_every_knuckle(self, clearance: float, pin_mm: float, gap_mm: float) -> None:
        result = door(hatch(gap_mm=1.5), Fits(sliding=clearance), pin_mm=pin_mm, gap_mm=gap_mm)
        pieces = {p.key: p.solid for p in result.parts}
        gap = measured_clearance(result.placed[0], pieces)
        assert gap is not None
        self.assertAlmostEqual(gap, clearance, delta=0.01)
        above = Solid.box([-40, -40, 38], [40, 40, 60])  # the ledge, on which the door lies, is lower
        body, leaf = (p.solid.common(above) for p in result.parts)
        self.assertGreater(body.gap(leaf, 3), min(gap_mm, 1.0) - 0.05)

    def test_a_pin_is_to_be_bought_and_named_with_its_length(self) -> None:
        bought = door(pin_mm=1.75, of="brass").hardware
        self.assertEqual([(h.name, h.count, h.length_mm) for h in bought], [("hinge pin ø1.75, brass", 1, 20.0)])

    def test_the_pin_is_pushed_in_after_the_door(self) -> None:
        out = assembly(door())
        body, leaf, pin = out.order.steps
        self.assertEqual((body.motion, leaf.onto, pin.motion and pin.motion.kind), (None, body.lead, "slide"))
        self.assertEqual(out.scene.units[pin.lead].kind, "pin")

    def test_printed_in_place_it_is_one_job_with_a_gap_all_round(self) -> None:
        result = door(pin="in place", gap_mm=0.4)
        self.assertEqual(codes(result), {"hinge-in-place"})
        self.assertEqual(result.hardware, [])
        body, leaf = result.parts
        one, two = result.pieces
        self.assertEqual((one.prints_with, two.prints_with), ((2,), (1,)))
        lying = [p.solid.placed(np.array(v.rest.matrix).reshape(3, 4)) for p, v in zip((body, leaf), (one, two), strict=True)]
        self.assertAlmostEqual(lying[0].gap(lying[1], 3), 0.4, delta=0.02)
        self.assertAlmostEqual(min(float(s.bounds[0][2]) for s in lying), 0, delta=1e-6)
        out = assembly(result)
        (step,) = out.order.steps
        self.assertEqual(numbers_of(out, step.units), [1, 2])

    def test_in_place_the_files_keep_both_as_they_stand(self) -> None:
        result = door(pin="in place")
        files = files_of(result)
        read = read_file(files["pieces.3mf"], "pieces.3mf")
        low, high = read.mesh.bounds
        # both lie as they hang on each other, opened, not side by side
        size = result.pieces[0].rest.size_mm
        self.assertTrue(np.allclose(high - low, size, atol=0.01))

    def test_ladders_of_both_kinds(self) -> None:
        loose = ladder(HingeJoint(id="j1", face=LID), clearances(0.05, 0.3, 4), 1.6, 0.45)
        self.assertEqual(len(loose.pieces), 8)
        whole = ladder(HingeJoint(id="j1", face=LID, pin="in place"), clearances(0.2, 0.5, 4), 1.6, 0.45)
        self.assertEqual([len(p.solid.lumps()) for p in whole.pieces], [2, 2, 2, 2])
        gaps = [p.solid.lumps()[0].gap(p.solid.lumps()[1], 3) for p in whole.pieces]
        self.assertTrue(np.allclose(gaps, [0.2, 0.3, 0.4, 0.5], atol=0.02))

    def test_knuckles_hold_by_their_walls(self) -> None:
        held = strength(door(length_mm=21, gap_mm=0.4))
        # 2 walls of 1.6 mm by 6.6 mm of PLA, half of it across the layers; worked by hand from the material's table
        tension = Plan().material.tension_mpa
        self.assertAlmostEqual(held.newtons, 0.5 * tension * 2 * 1.6 * 6.6, delta=1)
        self.assertIn("2·w·l", held.how)


class WithoutRebate(unittest.TestCase):
    """A hatch that goes right through a wall has its sides to stand on."""

    def case(self, wall: float, gap: float) -> tuple[Solid, Plan]:
        solid = box(120, 80, 40).minus([Solid.box([wall - 60, wall - 40, wall], [60 - wall, 40 - wall, 40 - wall])])
        return solid, plan_for(stl_of(solid), hatch(depth_mm=wall, gap_mm=gap, rebate_mm=0))

    def test_a_hinge_takes_the_outer_edge_of_a_side_and_the_hatch_swings_out(self) -> None:
        solid, plan = self.case(4, 0.3)
        bare = with_joints(plan, solid)
        self.assertNotIn("face-bare", {f.code for f in findings_of(bare)})
        self.assertEqual(suited(bare, plan, SuitWish(kind="auto")).joints, [])
        found = suited(bare, plan, SuitWish(kind="hinge"))
        self.assertEqual([j.face.member for j in found.joints], [2, 3, 4, 5])
        for joint in found.joints:
            result = with_joints(plan.model_copy(update={"joints": (joint,)}), solid)
            self.assertEqual([(f.code, f.params) for f in findings_of(result) if f.severity == "must-fix"], [])
            axis = axis_of(result.placed[0])
            assert axis is not None
            # on the seam, above the outer surface by half a pin and its play
            self.assertAlmostEqual(float(axis.frame.origin[2]), 40 + 1.0 + result.placed[0].clearance_mm, places=6)
            open_lid = result.parts[1].solid.placed(axis.turned(90))
            self.assertGreater(float(open_lid.bounds[1][2]), 70)
            self.assertEqual(set(proofs(assembly(result))) - {"proved", "tried by sampling"}, set())

    def test_magnets_opposite_the_hinge_reach_the_middle_of_the_gap(self) -> None:
        solid, plan = self.case(10, 2.0)
        bare = with_joints(plan, solid)
        (hinge,) = suited(bare, plan, SuitWish(kind="hinge", faces=["p1/3 p1:b|p1:h"])).joints
        (magnet,) = suited(bare, plan, SuitWish(kind="magnet", faces=["p1/5 p1:b|p1:h"])).joints
        joints = (hinge, magnet.model_copy(update={"id": "j2"}))
        result = with_joints(plan.model_copy(update={"joints": joints}), solid)
        self.assertEqual([(f.code, f.params) for f in findings_of(result) if f.severity == "must-fix"], [])
        self.assertEqual(len(result.placed[1].places), 2)
        disc = magnet.model_dump()["thick_mm"]
        for part, before in zip(result.parts, bare.parts, strict=True):
            pocket = before.solid.minus([part.solid])
            low, high = (
                pocket.lumps()[0].bounds
                if part is result.parts[0]
                else min((lump.bounds for lump in pocket.lumps()), key=lambda b: float(b[0][1]))
            )
            # half of the gap is before the piece
            self.assertLess(float(high[1] - low[1]), disc + 1.2)

    def test_what_would_hold_it_in_is_not_suggested_and_why_is_told(self) -> None:
        solid, plan = self.case(10, 2.0)
        bare = with_joints(plan, solid)
        for kind in ("pin", "dowel", "dovetail"):
            found = suited(bare, plan, SuitWish(kind=kind))
            self.assertEqual(found.joints, [], kind)
            self.assertEqual({w[:32] for w in found.why.values()}, {"The piece comes out along this f"}, kind)

    def test_where_it_cannot_clear_its_frame_no_hinge_is_suggested(self) -> None:
        solid, plan = self.case(10, 0.2)
        found = suited(with_joints(plan, solid), plan, SuitWish(kind="hinge"))
        self.assertEqual(found.joints, [])
        self.assertTrue(all("does not clear its frame" in why for why in found.why.values()))
        self.assertEqual(len(found.why), 4)

    def test_a_tight_one_is_told_as_locked_though_its_pin_is_loose(self) -> None:
        solid, plan = self.case(10, 0.2)
        hinge = HingeJoint(id="j1", face=FaceRef(parting="p1", member=3, a="p1:b", b="p1:h"))
        out = assembly(with_joints(plan.model_copy(update={"joints": (hinge,)}), solid))
        ((_, frees),) = out.freed
        self.assertEqual((assembly_findings(plan, out)[0].code, frees[0].way), ("no-order", "leave out"))


class WithOthers(unittest.TestCase):
    """A lid has more than its hinge: a rim that leaves it out, and magnets opposite."""

    def lid(self, wall: float, *joints: Joint) -> Build:
        solid = box(80, 60, 40).minus([Solid.box([wall - 40, wall - 30, 4], [40 - wall, 30 - wall, 36])])
        return with_joints(plan_for(stl_of(solid), level(1, 30), joints=joints), solid)

    def test_the_rim_leaves_out_the_hinge_whichever_was_there_first(self) -> None:
        hinge = HingeJoint(id="j1", face=LID, length_mm=30, knuckles=5)
        for on in SIDES:
            lip = LipJoint(id="j2", face=LID, on=on)
            for joints in ((hinge, lip), (lip, hinge)):
                result = self.lid(4, *joints)
                self.assertEqual([(f.code, f.params) for f in findings_of(result) if f.severity == "must-fix"], [])
                self.assertEqual([p.joint.id for p in result.placed], [j.id for j in joints])
                rim = next(p for p in result.placed if p.joint.kind == "lip")
                self.assertAlmostEqual(
                    measured_clearance(rim, {p.key: p.solid for p in result.parts}) or 0, rim.clearance_mm, delta=0.01
                )
                whole = self.lid(4, lip).placed[0]
                left = rim.joint.footprint(rim.standing, (0, 0)).area / whole.joint.footprint(whole.standing, (0, 0)).area
                self.assertTrue(0.7 < left < 0.95, left)
                self.assertEqual(set(proofs(assembly(result))), {"proved"})

    def test_magnets_stand_opposite(self) -> None:
        hinge = HingeJoint(id="j1", face=LID, length_mm=30, knuckles=5)
        result = self.lid(10, MagnetJoint(id="j2", face=LID, diameter_mm=4, thick_mm=2), hinge)
        self.assertEqual([(f.code, f.params) for f in findings_of(result) if f.severity == "must-fix"], [])
        magnets, barrel = result.placed
        ((_, at),) = barrel.places
        self.assertEqual(len(magnets.places), 2)
        self.assertTrue(all(y * at < 0 for _, y in magnets.places))


class Suits(unittest.TestCase):
    def test_the_hinge_that_suits_takes_an_edge_where_the_door_swings(self) -> None:
        for outline in (Rectangle(width_mm=60, height_mm=40), Circle(diameter_mm=50)):
            plan = plan_for(stl_of(CASE), hatch(outline))
            (joint,) = suited(with_joints(plan), plan, SuitWish(kind="hinge", faces=[LEDGE.id])).joints
            self.assertEqual(codes(with_joints(plan.model_copy(update={"joints": (joint,)}))), set(), outline)

    def test_a_plate_smaller_than_any_hinge_has_none(self) -> None:
        solid = box(6, 6, 10)
        plan = plan_for(stl_of(solid), level(1, 5))
        self.assertEqual(len(suited(with_joints(plan, solid), plan, SuitWish(kind="hinge")).without), 1)


class Bad(unittest.TestCase):
    def test_measures_that_make_no_hinge(self) -> None:
        for wrong in ({"knuckles": 4}, {"length_mm": 5, "knuckles": 5}, {"opens_deg": 300}, {"pin_mm": 0.1}):
            with self.assertRaises(ValidationError):
                HingeJoint(id="j1", face=LEDGE, **wrong)  # type: ignore[arg-type]

    def test_round_a_bend_knuckles_would_hang_in_the_air(self) -> None:
        result = door(hatch(Circle(diameter_mm=36)), length_mm=24, places=((0.0, 14.0),))
        self.assertIn("hinge-bent", codes(result))
        self.assertTrue(all(p.solid.volume_mm3 > 0 for p in result.parts))

    def test_walls_too_thin_to_print(self) -> None:
        result = door(wall_mm=0.5)
        (thin,) = (f for f in findings_of(result) if f.code == "hinge-thin")
        line = result.placed[-1].standing.line_mm
        self.assertEqual((thin.params["wall_mm"], thin.params["least_mm"]), (0.5, 2 * line))

    def test_the_turn_is_a_turn(self) -> None:
        axis = axis_of(door().placed[0])
        assert axis is not None
        turn = axis.turned(37)
        self.assertTrue(np.allclose(turn[:, :3] @ turn[:, :3].T, np.eye(3)))
        self.assertAlmostEqual(float(np.trace(turn[:, :3])), 1 + 2 * math.cos(math.radians(37)))
        self.assertTrue(np.allclose(turn[:, :3] @ axis.frame.origin + turn[:, 3], axis.frame.origin))

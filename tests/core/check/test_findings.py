"""Findings: fixes put right what they are for, ids are those of the place."""

import unittest

from hinoki.core.findings import Finding, Params, says_the_same
from hinoki.core.forms import named_kind
from hinoki.core.join.joints import FaceRef, Joint, PinJoint
from hinoki.core.join.sizing.recommended_sizes import KINDS
from hinoki.core.plan.plan import Plan
from tests.checked import findings_of
from tests.shapes import across, box, built, level, plan_for, stl_of

BLOCK = stl_of(box(60, 60, 60))
FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


def found(plan: Plan, code: str, data: bytes = BLOCK) -> list[Finding]:
    return [f for f in findings_of(built(data, plan)) if f.code == code]


def pinned(*places: tuple[float, float], **more: object) -> Plan:
    joint = PinJoint(id="j1", face=FACE, count=1, diameter_mm=8, length_mm=6, places=places or None, **more)  # type: ignore[arg-type]
    return plan_for(BLOCK, level(1, 30), joints=(joint,))


def mended(plan: Plan, joint: Joint) -> Plan:
    return Plan.model_validate({**plan.model_dump(by_alias=True), "joints": [joint]})


class Fixes(unittest.TestCase):
    def test_a_pin_too_near_the_edge_is_moved_inwards_or_made_smaller(self) -> None:
        plan = pinned((24.5, 0.0))
        finding = found(plan, "joint-thin-wall")[0]
        self.assertEqual([f.code for f in finding.fixes], ["inwards", "spread", "smaller"])
        self.assertEqual(finding.fixes[2].params, {"joint": "1 pin ø6 × 4.5"})
        self.assertAlmostEqual(finding.fixes[0].params["by_mm"], 0.2, delta=0.15)  # type: ignore[arg-type]
        for fix in finding.fixes[:2]:
            after = mended(plan, PinJoint.model_validate(fix.joint))
            self.assertEqual(found(after, "joint-thin-wall"), [], fix.code)

    def test_a_wall_short_by_a_tenth_is_mended_by_a_tighter_fit(self) -> None:
        plan = pinned((24.15, 0.0), fit="loose")  # 30 - 24.15 - 4 - 0.3: 1.55 of 1.6 mm are left
        finding = found(plan, "joint-thin-wall")[0]
        fix = next(f for f in finding.fixes if f.code == "fit")
        self.assertEqual(fix.params, {"fit": "sliding", "clearance_mm": 0.2})
        self.assertEqual(found(mended(plan, PinJoint.model_validate(fix.joint)), "joint-thin-wall"), [])

    def test_a_smaller_joint_is_a_valid_joint_of_the_same_kind(self) -> None:
        from hinoki.core.join.apply import standing_on
        from hinoki.core.join.placing import Depths
        from hinoki.core.join.sizing.recommended_sizes import suggest

        plan = plan_for(BLOCK, level(1, 30))
        face = built(BLOCK, plan).faces[0]
        for kind in KINDS:
            joint = suggest(kind, "j1", Depths(face), "snug", standing_on(face, plan, "snug"))
            joint = joint or named_kind(Joint, kind)(id="j1", face=face.ref)  # those of thin walls
            for _ in range(20):
                smaller = joint.smaller()
                if smaller is None:
                    break
                joint = type(joint).model_validate(smaller.model_dump())
            self.assertIsNone(joint.smaller(), kind)

    def test_as_many_pins_as_there_is_room_for(self) -> None:
        joint = PinJoint(id="j1", face=FACE, count=40, diameter_mm=20, length_mm=6)
        plan = plan_for(BLOCK, level(1, 30), joints=(joint,))
        finding = found(plan, "joint-no-room")[0]
        self.assertEqual((finding.fixes[0].code, finding.fixes[0].params["count"]), ("leave-at", finding.params["room_for"]))
        self.assertEqual(found(mended(plan, PinJoint.model_validate(finding.fixes[0].joint)), "joint-no-room"), [])

    def test_a_bare_face_can_be_glued(self) -> None:
        fix = found(plan_for(BLOCK, level(1, 30)), "face-bare")[0].fixes[0]
        self.assertEqual((fix.kind, (fix.joint or {})["kind"]), ("add-joint", "butt"))

    def test_a_parting_is_shifted_where_that_alone_is_enough(self) -> None:
        bar = stl_of(box(100, 20, 20))
        plan = plan_for(bar, across(1, "x", 5.0), bed=(53, 30, 30))
        fix = found(plan, "piece-over", bar)[0].fixes[0]
        self.assertEqual((fix.kind, fix.parting, fix.by_mm), ("shift", "p1", -2.1))
        self.assertEqual(found(plan_for(bar, across(1, "x", 5.0 + fix.by_mm), bed=(53, 30, 30)), "piece-over", bar), [])
        far = plan_for(bar, across(1, "x", 5.0), bed=(40, 30, 30))  # neither half fits, whatever is shifted
        self.assertEqual([f.fixes for f in found(far, "piece-over", bar)], [(), ()])


class Ids(unittest.TestCase):
    def test_an_id_is_that_of_the_place_whatever_the_figures(self) -> None:
        first, moved = (found(pinned(at), "joint-thin-wall")[0] for at in ((24.5, 0.0), (25.0, 0.0)))
        self.assertNotEqual(first.params, moved.params)
        self.assertEqual(first.id, moved.id)

    def test_two_elements_of_one_joint_have_ids_of_their_own(self) -> None:
        joint = PinJoint(id="j1", face=FACE, count=2, diameter_mm=8, length_mm=6, places=((24.5, 0.0), (-24.5, 0.0)))
        thin = found(plan_for(BLOCK, level(1, 30), joints=(joint,)), "joint-thin-wall")
        self.assertEqual(len(thin), len({f.id for f in thin}))
        self.assertGreater(len(thin), 1)

    def test_figures_say_the_same_within_a_hundredth_and_words_are_not_compared(self) -> None:
        figures: Params = {"name": "Pin A", "wall_mm": 0.9, "angles_deg": [90.0, 180.0], "case": "up"}
        self.assertTrue(says_the_same(figures, {**figures, "name": "Peg A", "wall_mm": 0.904}))
        self.assertFalse(says_the_same(figures, {**figures, "wall_mm": 0.93}))
        self.assertFalse(says_the_same(figures, {**figures, "angles_deg": [90.0]}))

    def test_ids_are_the_same_in_every_build_and_differ_between_findings(self) -> None:
        plan = pinned((24.5, 0.0))
        first, second = (findings_of(built(BLOCK, plan)) for _ in range(2))
        self.assertEqual([f.id for f in first], [f.id for f in second])
        self.assertEqual(len({f.id for f in first}), len(first))

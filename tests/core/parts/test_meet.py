"""Joints across two parts: both sides fit, at whatever distance the parts stand, and follow what is edited once."""

import unittest

import numpy as np

from hinoki.core.check.check import check_project
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import KeyJoint, MagnetJoint, PinJoint, ScrewJoint, TongueJoint
from hinoki.core.model.prepared_model import prepared
from hinoki.core.model.steps import MeetsStep, PrepareStep
from hinoki.core.model.steps.on_face import NOWHERE_CUT, OnFaceStep
from hinoki.core.parts.meet import met_by
from hinoki.core.parts.standing import standing_at
from hinoki.core.plan.parts import Instance
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import quiet
from hinoki.core.project import project_hardware
from tests.core.model.test_on_face import half
from tests.parts import everything, part, plan_of, source, use_of
from tests.shapes import COMMON, box, stl_of

PLATE = use_of(stl_of(box(80, 60, 12)), "plate.stl")
RING = {"pattern": "ring", "count": 4, "ring_mm": 30.0, "at_mm": (0.0, 0.0, 12.0)}


def two(step: OnFaceStep, *instances: Instance) -> Plan:
    """A plate with something on its top, and a block above it."""
    return plan_of(PLATE, prepare=(step,), parts=(part(2, box(60, 50, 20), *instances),))


def keyed(instance: Instance) -> Plan:
    """A plate with two keys at the upper edge of its side, and one as high beside it."""
    step = OnFaceStep(
        id="s1", joint=half(KeyJoint), at_mm=(40, 0, 11), facing=(1, 0, 0), measured_from="edge", pattern="row", count=2
    )
    return plan_of(PLATE, prepare=(step,), parts=(part(2, box(60, 50, 12), instance),))


def ring(joint: object, **figures: object) -> OnFaceStep:
    return OnFaceStep(id="s1", joint=joint, **(RING | figures))  # type: ignore[arg-type]


def told(plan: Plan) -> str:
    step = prepared(plan, source, COMMON, quiet).done[-1]
    return " ".join(str(f.params.get("why", f.code)) for f in step.findings)


class Across(unittest.TestCase):
    def test_pins_fit_where_the_parts_touch_and_where_they_are_apart(self) -> None:
        for gap in (0.0, 2.0):
            for which in ("stands", "takes"):
                with self.subTest(gap=gap, half=which):
                    step = ring(half(PinJoint, length_mm=8.0), half=which)
                    plan, said = met_by(two(step, Instance(at_mm=(0, 0, 12 + gap))), "s1", "q2", source, COMMON)
                    self.assertEqual(said, (f"4 at {gap:g} mm from each other",))
                    plate, block = (standing_at(plan, q, 0, source, COMMON).value for q in ("q1", "q2"))
                    self.assertLess(plate.common(block).volume_mm3, 1e-3)
                    reach = plate.bounds[1][2] - 12 if which == "stands" else 12 + gap - block.bounds[0][2]
                    self.assertAlmostEqual(reach, 8 + (gap if which == "takes" else 0), places=3)
                    self.assertAlmostEqual(plate.moved(0, 0, -0.05).gap(block, 1) if gap else 0.1, 0.1, delta=0.02)

    def test_screws_are_counted_once_and_go_as_deep_as_their_bores(self) -> None:
        for gap in (0.0, 2.0, 5.0):
            plan, _ = met_by(two(ring(half(ScrewJoint)), Instance(at_mm=(0, 0, 12 + gap))), "s1", "q2", source, COMMON)
            built = everything(plan)
            self.assertEqual(check_project(built, COMMON).must_fix, [])
            bought = {h.name: h.count for h in project_hardware(built)}
            # 20 mm of block less a head of 3 sunk by 0.3, the gap, an insert of 4 mm: 20.7, 22.7, 25.7; on sale are 20, 25
            long = 20 if gap < 5 else 25
            self.assertEqual(bought, {"insert M3 × 4": 4, f"cap screw (ISO 4762) M3 × {long}": 4})
            plate, block = (standing_at(plan, q, 0, source, COMMON).value for q in ("q1", "q2"))
            # a body of the screw, 3 mm thick, from under its head down: it meets neither part, and its tip is in the plate
            above = np.array([15 + 2.4, 0.0, 12 + gap + 19.9])  # beside the shank, where the head will lie
            under = float(block.ray(above, above - (0, 0, 40))[0][2])
            screw = Solid.cylinder(1.5, under - long, under).moved(15, 0, 0)
            self.assertLess(screw.common(plate).volume_mm3 + screw.common(block).volume_mm3, 1e-3)
            self.assertAlmostEqual(under - long, 12 - 4, places=3)

    def test_a_screw_from_the_other_side_is_refused_in_words(self) -> None:
        plan = two(ring(half(ScrewJoint), half="stands"), Instance(at_mm=(0, 0, 12)))
        with self.assertRaisesRegex(BadPlan, "let this part have what takes the screw"):
            met_by(plan, "s1", "q2", source, COMMON)

    def test_magnets_tell_what_they_pull_across_the_gap(self) -> None:
        pulls = []
        for gap in (0.5, 3.0):
            _, said = met_by(two(ring(half(MagnetJoint)), Instance(at_mm=(0, 0, 12 + gap))), "s1", "q2", source, COMMON)
            pulls.append(float(said[0].split("pulling ")[1].split()[0]))
        self.assertGreater(pulls[0], 2 * pulls[1])

    def test_a_tongue_runs_in_its_groove(self) -> None:
        step = OnFaceStep(id="s1", at_mm=(0, 0, 12), joint=half(TongueJoint, height_mm=4.0), half="stands")
        plan, _ = met_by(two(step, Instance(at_mm=(0, 0, 12))), "s1", "q2", source, COMMON)
        plate, block = (standing_at(plan, q, 0, source, COMMON).value for q in ("q1", "q2"))
        self.assertLess(plate.common(block).volume_mm3, 1e-3)
        self.assertLess(block.volume_mm3, 60 * 50 * 20 - 500)

    def test_edited_once_both_follow(self) -> None:
        plan, _ = met_by(two(ring(half(PinJoint), half="stands"), Instance(at_mm=(0, 0, 12))), "s1", "q2", source, COMMON)
        more = plan.model_copy(update={"prepare": (ring(half(PinJoint), half="stands", count=6),)})
        said = prepared(more.working_on("q2"), source, COMMON, quiet).done[-1].said
        self.assertEqual(said, ("6 at 0 mm from each other",))

    def test_parts_that_are_turned_and_mirrored(self) -> None:
        for instance in (
            Instance(at_mm=(5, 3, 32), turn_deg=(180, 0, 30)),
            Instance(at_mm=(0, 0, 12), turn_deg=(0, 0, 45), mirrored=True),
        ):
            step = ring(half(PinJoint), half="stands", pattern="row", count=3, step_mm=11.0, x_mm=-8)
            plan, _ = met_by(two(step, instance), "s1", "q2", source, COMMON)
            plate, block = (standing_at(plan, q, 0, source, COMMON).value for q in ("q1", "q2"))
            self.assertLess(plate.common(block).volume_mm3, 1e-3)
            self.assertAlmostEqual(60 * 50 * 20 - block.volume_mm3, 3 * np.pi * 2.6**2 * 5.3, delta=40)


class Keys(unittest.TestCase):
    def test_a_key_lies_half_in_either_part(self) -> None:
        plan, _ = met_by(keyed(Instance(at_mm=(70, 0, 0))), "s1", "q2", source, COMMON)
        built = everything(plan)
        self.assertEqual(check_project(built, COMMON).must_fix, [])
        plate, block = (standing_at(plan, q, 0, source, COMMON).value for q in ("q1", "q2"))
        key = Solid.drawn_ring(KeyJoint(id="j1", face=NOWHERE_CUT).ring(0.0), 0.0, 3.0)  # along the seam, across it, up
        turned = key.placed(np.array([[0.0, 1.0, 0, 40], [-1.0, 0, 0, 0], [0, 0, 1.0, 9]]))
        self.assertLess(turned.common(plate).volume_mm3 + turned.common(block).volume_mm3, 1e-3)
        for way in ((0, 1.0, 0), (1.0, 0, 0), (0, 0, -0.5)):  # and touches both but for its clearance
            self.assertGreater(turned.moved(*way).common(plate).volume_mm3, 0.1)
        self.assertEqual([(one.name, one.count) for one in built.loose], [("butterfly key 10 × 6/4 × 3", 2)])

    def test_parts_that_do_not_touch_or_are_not_level(self) -> None:
        with self.assertRaisesRegex(BadPlan, "1 mm away, and keys hold what touches"):
            met_by(keyed(Instance(at_mm=(71, 0, 0))), "s1", "q2", source, COMMON)
        with self.assertRaisesRegex(BadPlan, "no key could be let into both"):
            met_by(keyed(Instance(at_mm=(70, 0, 3))), "s1", "q2", source, COMMON)


class Refused(unittest.TestCase):
    def test_what_does_not_look_at_it_or_is_too_far(self) -> None:
        for instance in (Instance(at_mm=(200, 0, 12)), Instance(at_mm=(0, 0, -40))):
            with self.assertRaisesRegex(BadPlan, "Nothing of this part looks at"):
                met_by(two(ring(half(PinJoint)), instance), "s1", "q2", source, COMMON)
        with self.assertRaisesRegex(BadPlan, "not flat, or not parallel"):
            met_by(two(ring(half(PinJoint)), Instance(at_mm=(0, 0, 30), turn_deg=(15, 0, 0))), "s1", "q2", source, COMMON)
        with self.assertRaisesRegex(BadPlan, "does not reach across"):
            far = two(ring(half(PinJoint, length_mm=5.0), half="stands"), Instance(at_mm=(0, 0, 17)))
            met_by(far, "s1", "q2", source, COMMON)

    def test_a_step_that_is_not_there_and_a_part_twice(self) -> None:
        plan = two(ring(half(PinJoint)), Instance(at_mm=(0, 0, 12)))
        with self.assertRaisesRegex(BadPlan, "nothing on a face under s7"):
            met_by(plan, "s7", "q2", source, COMMON)
        with self.assertRaisesRegex(BadPlan, "does not meet itself"):
            met_by(plan, "s1", "q1", source, COMMON)
        both, _ = met_by(plan, "s1", "q2", source, COMMON)
        with self.assertRaisesRegex(BadPlan, "meets it already"):
            met_by(both, "s1", "q2", source, COMMON)

    def test_what_is_taken_out_later_leaves_a_finding(self) -> None:
        both, _ = met_by(two(ring(half(PinJoint)), Instance(at_mm=(0, 0, 12))), "s1", "q2", source, COMMON)
        bare = both.model_copy(update={"prepare": ()})
        self.assertIn("not there any more", told(bare.working_on("q2")))
        lone: tuple[PrepareStep, ...] = (MeetsStep(id="s1", part="q9"),)
        self.assertIn("not in this project any more", told(plan_of(PLATE, prepare=lone)))
        own: tuple[PrepareStep, ...] = (MeetsStep(id="s1", part="q1"),)
        self.assertIn("one of the two must be whole", told(plan_of(PLATE, prepare=own)))

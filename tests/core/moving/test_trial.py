"""Movements tried: least gaps and first touches against what geometry says; gears that mesh; play; two at once."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.errors import BadPlan
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.steps import ClearPathStep
from hinoki.core.moving.axis_at import axis_at
from hinoki.core.moving.bodies import Body
from hinoki.core.moving.carve import path_carved
from hinoki.core.moving.findings import moving_findings
from hinoki.core.moving.mechanism import Mechanism
from hinoki.core.moving.movements import Movement, RodMovement, SlideMovement, TurnMovement
from hinoki.core.moving.project import moving
from hinoki.core.moving.together import Both, both_tried
from hinoki.core.moving.trial import Tried
from hinoki.core.moving.trial import tried as moved
from hinoki.core.plan.parts import Instance
from hinoki.core.printlog.edit_impact import shapes_may_change
from hinoki.core.progress import quiet
from tests.core.moving.gears import body, involute_gear
from tests.effort import tried
from tests.parts import everything, part, plan_of, source, use_of
from tests.shapes import COMMON, box, stl_of

DOOR = Solid.box((0, 0, 0), (60, 4, 80))


def one(movements: list[Movement], *bodies: Body) -> Tried:
    return moved(Mechanism(movements), bodies)[0]


def hinged(begin: float, end: float, **more: object) -> TurnMovement:
    return TurnMovement(id="v1", begin=begin, end=end, **more)  # type: ignore[arg-type]


class Doors(unittest.TestCase):
    @tried(8)
    @given(st.floats(0.05, 4.0))
    def test_the_least_gap_of_a_door_to_its_post_is_by_its_corner(self, more: float) -> None:
        """The corner of a door w wide and t thick goes round at √(w² + t²)."""
        radius = math.hypot(60, 4)
        post = Solid.box((radius + more, -30, 0), (radius + more + 10, 40, 80))
        (pair,) = one([hinged(-90, 0)], body("door", DOOR, "v1"), body("post", post)).pairs
        self.assertAlmostEqual(pair.least_mm, more, delta=0.01)
        self.assertLessEqual(pair.nowhere_less_mm, pair.least_mm)
        self.assertTrue(pair.proved)
        self.assertEqual(one([hinged(-90, 0)], body("door", DOOR, "v1"), body("post", post)).proved, pair.nowhere_less_mm > 0)
        self.assertAlmostEqual(pair.value, -math.degrees(math.atan2(4, 60)), delta=1.5)
        assert pair.at is not None
        np.testing.assert_allclose(pair.at[:2], (radius + more / 2, 0), atol=1.7)

    @tried(8)
    @given(st.floats(60.01, 60.12))
    def test_the_angle_at_which_it_touches_first(self, post: float) -> None:
        """√(w² + t²) cos(φ + atan t/w) = p: coming from below, at φ = −atan t/w − acos p/√(w² + t²)."""
        frame = Solid.box((post, -30, 0), (post + 10, 40, 80))
        (pair,) = one([hinged(-90, 0)], body("door", DOOR, "v1"), body("post", frame)).pairs
        touches = -math.atan2(4, 60) - math.acos(post / math.hypot(60, 4))
        self.assertLessEqual(pair.touch or 0.0, math.degrees(touches) + 1e-6)  # never later
        almost = -math.atan2(4, 60) - math.acos((post - 0.01) / math.hypot(60, 4))
        self.assertGreater(pair.touch or 0.0, math.degrees(almost))  # and no earlier than 0.01 mm before

    def test_what_slides_on_something_is_tried_by_what_they_share(self) -> None:
        drawer, shelf = Solid.box((0, 0, 0), (50, 30, 10)), Solid.box((-60, 0, -5), (60, 30, 0))
        slide = SlideMovement(id="v1", begin=0, end=40)
        (pair,) = one([slide], body("drawer", drawer, "v1"), body("shelf", shelf)).pairs
        self.assertEqual((pair.rests, pair.touch, pair.proved), (True, None, False))
        self.assertFalse(one([slide], body("drawer", drawer, "v1"), body("shelf", shelf)).proved)
        knob = shelf.plus([Solid.box((80, 10, -5), (84, 20, 5))])  # in its way after 30 mm
        (pair,) = one([slide], body("drawer", drawer, "v1"), body("shelf", knob)).pairs
        self.assertAlmostEqual(pair.touch or 0.0, 30.0, delta=40 / 48)

    def test_what_rides_on_the_same_thing_is_never_in_its_way(self) -> None:
        rider = SlideMovement(id="v2", on="v1", along=(0, 0, 1), begin=0, end=20)
        latch = Solid.box((20, 5, 10), (30, 8, 20))
        found = moved(Mechanism([hinged(0, 90), rider]), [body("door", DOOR, "v1"), body("latch", latch, "v2")])
        turning, sliding = found
        self.assertEqual(turning.moved, ("door", "latch"))
        (pair,) = turning.pairs
        self.assertAlmostEqual(pair.least_mm, 1.0, places=5)  # they turn together: 5 − 4
        self.assertAlmostEqual(sliding.pairs[0].least_mm, 1.0, places=5)


class Gears(unittest.TestCase):
    def test_teeth_that_mesh_keep_half_their_backlash(self) -> None:
        """Involutes roll on each other with the same gap all along: j_t cos α / 2 to either flank for teeth thinner by j_t in
        all, at the distance m (z₁ + z₂)/2 (ISO 21771; DIN 3960)."""
        module, teeth, thinner = 2.0, (12 + 6, 24), 0.3
        small, large = (involute_gear(module, z, thinner, 6.0) for z in teeth)
        apart = module * sum(teeth) / 2
        # a gap of the large one meets the tooth of the small one that lies about X
        turn = math.pi + math.pi / teeth[1]
        c, s = math.cos(turn), math.sin(turn)
        large = large.placed(np.array([[c, -s, 0, apart], [s, c, 0, 0], [0, 0, 1.0, 0]]))
        pitch = 360 / teeth[0]
        drive = hinged(0, pitch)
        follows = TurnMovement(id="v2", at_mm=(apart, 0, 0), driven="other", by="v1", ratio=-teeth[0] / teeth[1])
        result = one([drive, follows], body("pinion", small, "v1"), body("wheel", large, "v2"))
        (pair,) = result.pairs
        self.assertIsNone(pair.touch)
        self.assertAlmostEqual(pair.least_mm, thinner * math.cos(math.radians(20)), delta=0.01)
        wrong = follows.model_copy(update={"ratio": -teeth[0] / (teeth[1] + 1)})
        bodies = body("pinion", small, "v1"), body("wheel", large, "v2")
        self.assertEqual(len(one([hinged(0, 90), wrong], *bodies).touches), 1)

    def test_a_rod_is_tried_at_positions_and_breaks_where_it_does_not_reach(self) -> None:
        rod = RodMovement(id="v2", a_mm=(20, 0, 0), b_mm=(80, 0, 0), begins_on="v1", ends_on="v3")
        piston = SlideMovement(id="v3", driven="rod", by="v2")
        bodies = body("piston", Solid.box((80, -5, 0), (90, 5, 8)), "v3"), body("head", Solid.box((90.5, -9, 0), (95, 9, 8)))
        (pair,) = one([hinged(0, 360), rod, piston], *bodies).pairs
        self.assertAlmostEqual(pair.least_mm, 0.5, delta=0.01)
        self.assertFalse(pair.proved)
        short = piston.model_copy(update={"along": (0.0, 0.0, 1.0)})
        self.assertIsNotNone(one([hinged(0, 360), rod, short], *bodies).breaks)


class Together(unittest.TestCase):
    def both(self, far: float) -> Both:
        """Two hands, 40 mm long, whose axles stand apart: they meet only where both look at each other."""
        hand = Solid.box((0, -2, 0), (40, 2, 3))
        second = TurnMovement(id="v2", at_mm=(far, 0, 0), begin=-90, end=90)
        other = hand.placed(np.array([[-1.0, 0, 0, far], [0, -1.0, 0, 0], [0, 0, 1.0, 0]]))
        return both_tried(Mechanism([hinged(-90, 90), second]), [body("one", hand, "v1"), body("two", other, "v2")])[0]

    def test_hands_that_reach_each_other_and_hands_that_do_not(self) -> None:
        near = self.both(82.0)
        self.assertAlmostEqual(near.least_mm or 0.0, 82 - 2 * math.hypot(40, 2), delta=0.05)
        self.assertTrue(near.proved)
        self.assertTrue(self.both(80.05).touch)  # corner to corner: 80.0999 of reach


class Found(unittest.TestCase):
    def test_in_a_project_by_parts_with_findings_and_play(self) -> None:
        plate = use_of(stl_of(box(120, 80, 10)))
        arm = part(2, box(60, 4, 30), Instance(at_mm=(0, 0, 10.4)))
        posts = part(3, box(10, 10, 30), Instance(at_mm=(0, 30.5, 10)), Instance(at_mm=(-50, 0, 10)))
        turn = TurnMovement(id="v1", moves=("q2 #1",), at_mm=(0, 0, 10), begin=0, end=80)
        plan = plan_of(plate, parts=(arm, posts), movements=(turn,))
        found = moving(everything(plan), COMMON)
        touch, *_ = found.findings
        self.assertEqual((touch.code, touch.severity, touch.whole), ("moves-touch", "must-fix", True))
        # the arm's side, 2 mm from its middle, meets the post's corner
        angle = math.degrees(math.atan2(25.5, 5) - math.asin(2 / math.hypot(5, 25.5)))
        self.assertAlmostEqual(float(touch.params["value"]), angle, delta=0.05)
        self.assertEqual(found.tried[0].bearing.least_mm if found.tried[0].bearing else None, found.tried[0].clear[0].least_mm)
        gone = plan.model_copy(update={"movements": (turn.model_copy(update={"moves": ("q9 #1",)}),)})
        self.assertEqual([f.code for f in moving(everything(gone), COMMON).findings], ["moves-unclear"])

    def test_play_that_lets_it_touch_is_told_and_tilts_in_a_short_bearing(self) -> None:
        near = Solid.box((60.5, -30, 0), (70, 40, 80))
        bodies = [body("door", DOOR, "v1"), body("post", near)]
        for play, guide, told in ((0.1, 0.0, False), (0.5, 0.0, True), (0.1, 20.0, True)):
            mechanism = Mechanism([hinged(-90, 0, play_mm=play, guide_mm=guide)])
            codes = [f.code for f in moving_findings(mechanism, bodies, moved(mechanism, bodies), [], 0.2)]
            self.assertEqual(codes, ["moves-play"] if told else [])

    def test_what_rattles_and_what_runs_freely(self) -> None:
        bar = Solid.box((-20, -2, -2), (20, 2, 2))
        for play, told in ((0.2, []), (0.5, ["moves-rattles"])):
            guide = Solid.box((-9, -9, -9), (9, 9, 9)).minus([Solid.box((-10, -2 - play, -2 - play), (10, 2 + play, 2 + play))])
            mechanism, bodies = (
                Mechanism([SlideMovement(id="v1", begin=-5, end=5)]),
                [body("bar", bar, "v1"), body("guide", guide)],
            )
            found = moving_findings(mechanism, bodies, moved(mechanism, bodies), [], 0.2)
            self.assertEqual([(f.code, f.severity) for f in found], [(code, "note") for code in told])


class Axes(unittest.TestCase):
    def test_of_a_bore_and_of_an_axle(self) -> None:
        block = box(60, 40, 30).minus([Solid.cylinder(6.0, -1, 40).moved(10, 5, 0)])
        found = axis_at(block, np.array([16.0, 5.0, 12.0]))
        np.testing.assert_allclose(found.at, (10, 5, 15), atol=1e-3)
        np.testing.assert_allclose(found.along, (0, 0, 1), atol=1e-6)
        self.assertAlmostEqual(found.diameter_mm, 12.0, delta=0.02)
        with self.assertRaisesRegex(BadPlan, "not round there"):
            axis_at(block, np.array([30.0, 0.0, 15.0]))


class Carved(unittest.TestCase):
    def test_the_path_of_an_arm_is_carved_out_of_what_it_touches(self) -> None:
        plate = use_of(stl_of(box(120, 80, 10)))
        arm = part(2, box(60, 4, 30), Instance(at_mm=(0, 0, 10.4)))
        post = part(3, box(10, 10, 30), Instance(at_mm=(0, 30.5, 10)))
        turn = TurnMovement(id="v1", moves=("q2 #1",), at_mm=(0, 0, 10), begin=0, end=180, play_mm=0.1)
        plan = plan_of(plate, parts=(arm, post), movements=(turn,))
        (touch,) = moving(everything(plan), COMMON).findings
        (fix,) = touch.fixes
        carved, said = path_carved(plan, "v1", *fix.pieces, 0.4, source, COMMON, quiet)
        self.assertRegex(said, r"cm³ carved; 0.4 mm of room wanted, 0.(3[0-9]|4[0-2]) mm measured")
        after = moving(everything(carved), COMMON)
        self.assertEqual([f.code for f in after.findings], [])
        nearest = min(p.least_mm for p in after.tried[0].clear if "part 3" in (p.one, p.other))
        self.assertAlmostEqual(nearest, 0.4, delta=0.1)
        # no more than a ring as wide as the arm's end goes round: √(30² + 2²) + 0.4 from the axis
        left = everything(carved).others[1].parts[0].solid
        radius = math.hypot(30, 2) + 0.4
        reached = Solid.box((-5, -5, 0), (5, 5, 30)).common(Solid.cylinder(radius, -1, 31).moved(0, -30.5, 0)).volume_mm3
        self.assertAlmostEqual(left.volume_mm3, 3000 - reached, delta=0.03 * reached)

    def test_another_travel_shapes_what_is_carved_and_nothing_else(self) -> None:
        plate = use_of(stl_of(box(60, 60, 10)))
        arm = part(2, box(60, 4, 30), Instance(at_mm=(0, 0, 10.4)))
        turn = TurnMovement(id="v1", moves=("q2 #1",), at_mm=(0, 0, 10), begin=0, end=90)
        for steps, may in (((), False), ((ClearPathStep(id="s1"),), True)):
            post = part(3, box(10, 10, 30), Instance(at_mm=(0, 30.5, 10)), prepare=steps)
            plan = plan_of(plate, parts=(arm, post), movements=(turn,))
            farther = plan.model_copy(update={"movements": (turn.model_copy(update={"end": 120.0}),)})
            self.assertEqual(shapes_may_change(plan, farther), may)

    def test_what_cannot_be_carved_is_said(self) -> None:
        plate = use_of(stl_of(box(120, 80, 10)))
        arm, far = part(2, box(60, 4, 30), Instance(at_mm=(0, 0, 10.4))), part(3, box(9, 9, 9), Instance(at_mm=(99, 99, 0)))
        turn = TurnMovement(id="v1", moves=("q2 #1",), at_mm=(0, 0, 10), begin=0, end=90)
        plan = plan_of(plate, parts=(arm, far), movements=(turn,))
        for movement, moved_one, other, why in (
            ("v1", "q2 #1", "q3 #1", "comes nowhere near"),
            ("v9", "q2 #1", "q3 #1", "not there any more"),
            ("v1", "q2 #7", "q3 #1", "the instance that moves past is not there"),
            ("v1", "q1 #1", "q3 #1", "does not move any more"),
            ("v1", "q2 #1", "q2 #1", "cannot be carved by itself"),
        ):
            with self.assertRaisesRegex(BadPlan, why):
                path_carved(plan, movement, moved_one, other, 0.4, source, COMMON, quiet)

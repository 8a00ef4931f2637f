"""Rails: doors that slide as far as they are to, are stopped there, and fold where a round runner guides them."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.build import Build
from hinoki.core.divide.partings import HatchParting
from hinoki.core.divide.partings.outlines import Rectangle
from hinoki.core.findings import Finding
from hinoki.core.geometry.mesh import stacked
from hinoki.core.geometry.slide_collision import Form, slide
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.clearance import measured_clearance
from hinoki.core.join.closures.rail_bodies import round_pin
from hinoki.core.join.joints import FaceRef, RailJoint
from hinoki.core.join.opening.slides import way_of
from hinoki.core.join.turning.bayonet_body import Lug
from hinoki.core.join.turning.latch_bolt import bolt
from hinoki.core.propose.recommend_joints import SuitWish, suited
from hinoki.core.workshop.fits import Fits
from tests.assembling import assembly, proofs
from tests.checked import findings_of
from tests.doors import CUPBOARD, FACE, cupboard, rail
from tests.effort import tried
from tests.shapes import across, box, built, plan_for, stl_of


def must(result: Build) -> list[tuple[str, object]]:
    return [(f.code, f.params) for f in findings_of(result) if f.severity == "must-fix"]


def stop_mm(result: Build, way: tuple[float, float, float]) -> float:
    """How far the door slides until its bump meets the end of its channel."""
    door, body = result.parts
    return float(slide(Form(stacked([door.solid.mesh])), Form(body.solid.mesh), np.array(way)).after_mm)


class Slides(unittest.TestCase):
    def test_a_door_opens_and_is_stopped_at_the_end_of_its_travel(self) -> None:
        for way_in in ("end", "pocket"):
            result = cupboard(rail(way_in=way_in, travel_mm=45.0))
            self.assertEqual(must(result), [], way_in)
            self.assertTrue(all(len(part.solid.lumps()) == 1 for part in result.parts))
            way = way_of(result.placed[0])
            assert way is not None
            self.assertGreater(way[0], 0.99)
            # its slopes lean by 45° and stand off by the clearance twice
            clearance = result.placed[0].clearance_mm
            self.assertAlmostEqual(stop_mm(result, way), 45.0 + 2 * clearance, delta=0.05)
            back = (-way[0], -way[1], -way[2])
            self.assertAlmostEqual(stop_mm(result, back), clearance, delta=0.05)

    def test_without_a_catch_nothing_stops_it(self) -> None:
        result = cupboard(rail(catch_mm=0.0))
        way = way_of(result.placed[0])
        assert way is not None
        self.assertEqual(stop_mm(result, way), math.inf)

    def test_every_millimetre_of_its_travel_is_free(self) -> None:
        """What the exact slide says, tried by overlap in positions."""
        result = cupboard(rail(travel_mm=30.0))
        door, body = (part.solid for part in result.parts)
        for gone in range(31):
            self.assertLess(door.moved(gone, 0, 0).common(body).volume_mm3, 0.02, gone)

    def test_it_goes_on_at_the_end_or_straight_in_and_then_along(self) -> None:
        for way_in in ("end", "pocket"):
            result = cupboard(rail(way_in=way_in, travel_mm=45.0))
            self.assertEqual(set(proofs(assembly(result))), {"proved"}, way_in)

    def test_what_stands_in_its_way_is_told_and_the_fix_lets_it_open_less(self) -> None:
        hits = self.hit(Solid.box([35, -20, 10], [45, -14, 20]))
        self.assertEqual(hits.code, "rail-hits")
        self.assertAlmostEqual(float(hits.params["after_mm"]), 35.0, delta=0.02)  # type: ignore[arg-type]
        (fix,) = hits.fixes
        self.assertEqual(RailJoint.model_validate(fix.joint).travel_mm, 35)

    def test_where_it_hardly_slides_it_is_stuck(self) -> None:
        self.assertEqual(self.hit(Solid.box([1, -20, 10], [8, -14, 20])).code, "rail-stuck")

    def hit(self, post: Solid) -> Finding:
        """What is told where a post stands beside the door: a second piece before the body."""
        beside = FACE.model_copy(update={"a": "p1-.2"})
        return next(
            f for f in findings_of(cupboard(rail(face=beside), solid=CUPBOARD.plus([post]))) if f.code.startswith("rail")
        )

    def test_a_groove_longer_than_the_body_is_told(self) -> None:
        self.assertIn("joint-no-room", {f.code for f in findings_of(cupboard(rail(travel_mm=150.0)))})
        by_hand = rail(travel_mm=150.0, places=((40.0, 30.0),))
        self.assertTrue({"joint-breaks-through", "joint-thin-wall"} & {code for code, _ in must(cupboard(by_hand))})


class Fit(unittest.TestCase):
    @tried(5)
    @given(clearance=st.floats(0.1, 0.4), neck=st.floats(3, 6), long=st.floats(20, 40), round_one=st.booleans())
    def test_the_runner_has_its_clearance(self, clearance: float, neck: float, long: float, round_one: bool) -> None:
        shape = "round" if round_one else "straight"
        own = rail(neck_mm=neck, pin_mm=neck, head_mm=2 * neck, height_mm=0.6 * neck, runner_mm=long, runner=shape)
        result = cupboard(own, fits=Fits(sliding=clearance))
        gap = measured_clearance(result.placed[0], {p.key: p.solid for p in result.parts})
        self.assertAlmostEqual(gap or 0.0, clearance, delta=0.01)


class Whole(unittest.TestCase):
    def test_pins_and_bolts_of_any_length_are_one_body(self) -> None:
        """Parts put on each other end at heights that differ by rounding, and fall apart: in one of seven."""
        rng = np.random.default_rng(1)
        for _ in range(60):
            low, high, grip = -rng.uniform(0, 5), rng.uniform(2, 9), rng.uniform(1, 20)
            self.assertEqual(len(round_pin(2.0, low, high, 0.2, 3.0).lumps()), 1)
            lug = Lug(4.0, 2.0, high + 4, math.radians(55), 0.0)
            self.assertEqual(len(bolt(lug, [0.0, math.pi], grip, 0.3).lumps()), 1)

    def test_a_runner_on_a_hatch_reaches_over_its_gap(self) -> None:
        solid = box(160, 60, 120).minus([Solid.box([-72, -22, 8], [72, 22, 112])])
        hatch = HatchParting(
            id="p1", at_mm=(0, -30, 60), outward=(0, -1, 0), depth_mm=8, gap_mm=1.5, rebate_mm=0,
            outline=Rectangle(width_mm=100, height_mm=70, corner_mm=0),
        )  # fmt: skip
        above = FaceRef(parting="p1", member=3, a="p1:b", b="p1:h")
        pin = RailJoint(
            id="j1", face=above, on="b", runner="round", pin_mm=2.5, height_mm=2.5, stop_mm=5, travel_mm=40, along_deg=180
        )
        result = built(stl_of(solid), plan_for(stl_of(solid), hatch, joints=(pin,)))
        self.assertEqual(len(next(p for p in result.parts if p.key == "p1:h").solid.lumps()), 1)
        self.assertNotIn("joint-severs", {f.code for f in findings_of(result)})
        gap = measured_clearance(result.placed[0], {p.key: p.solid for p in result.parts})
        self.assertAlmostEqual(gap or 0.0, result.placed[0].clearance_mm, delta=0.01)


class Suits(unittest.TestCase):
    def test_a_door_gets_the_rail_on_which_it_slides_farthest(self) -> None:
        bare = cupboard()
        plan = plan_for(stl_of(CUPBOARD), across(1, "y", -12.0))
        (joint,) = suited(bare, plan, SuitWish(kind="rail")).joints
        assert isinstance(joint, RailJoint)
        self.assertEqual((joint.on, joint.count), ("a", 2))
        result = cupboard(joint)
        self.assertEqual(must(result), [])
        way = way_of(result.placed[0])
        assert way is not None
        self.assertGreater(way[0], 0.99)
        self.assertGreater(joint.travel_mm, 25)
        self.assertEqual(set(proofs(assembly(result))), {"proved"})

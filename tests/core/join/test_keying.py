"""Only one way: turns that are possible, and patterns that forbid them, proved on the finished solids."""

import unittest

import numpy as np
import shapely

from hinoki.core.build import Build
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import DovetailJoint, FaceRef, Joint, PinJoint
from hinoki.core.symmetry.rotational_symmetry import turns_of
from tests.checked import findings_of
from tests.shapes import box, built, level, plan_for, stl_of, tube

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


def joined(solid: Solid, joint: Joint) -> Build:
    data = stl_of(solid)
    return built(data, plan_for(data, level(1, 30), joints=(joint,)))


def overlap(result: Build, degrees: float) -> float:
    """What the pieces would share with the upper one turned about the middle of the face."""
    lower, upper = (next(p.solid for p in result.parts if p.key == key) for key in ("p1-", "p1+"))
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    turn = np.array([[c, -s, 0, 0], [s, c, 0, 0], [0, 0, 1, 0]])
    return lower.common(upper.placed(turn)).volume_mm3


def pins(count: int, **more: object) -> PinJoint:
    return PinJoint(id="j1", face=FACE, count=count, diameter_mm=5, length_mm=6, **more)  # type: ignore[arg-type]


class Turns(unittest.TestCase):
    def test_what_is_said_of_turns_is_so_on_the_solids(self) -> None:
        for solid, joint in (
            (box(60, 60, 60), pins(2)),
            (box(60, 60, 60), pins(4)),
            (box(60, 40, 60), pins(2)),
            (box(60, 60, 60), DovetailJoint(id="j1", face=FACE, lock_mm=0)),
            (box(60, 60, 60), DovetailJoint(id="j1", face=FACE, ends="closed", lock_mm=0)),
        ):
            result = joined(solid, joint)
            one = result.placed[0]
            taken = [joint.footprint(one.standing, p) for p in one.places]
            said = set(turns_of(one.face.shape, taken, one.clearance_mm))
            for angle in (90.0, 180.0, 270.0):
                covers = shapely.equals_exact(
                    one.face.shape, shapely.affinity.rotate(one.face.shape, angle), 0.1, normalize=True
                )
                fits = covers and overlap(result, angle) < 0.5
                self.assertEqual(angle in said, fits, (joint.label(), angle))

    def test_a_ring_with_pins_at_equal_steps_turns_by_a_step(self) -> None:
        ring = as_multi(shapely.Point(0, 0).buffer(40).difference(shapely.Point(0, 0).buffer(30)))
        at = [(35 * np.cos(a), 35 * np.sin(a)) for a in np.radians([0, 72, 144, 216, 288])]
        taken = [shapely.Point(p).buffer(2) for p in at]
        self.assertEqual(turns_of(ring, taken, 0.1), [72.0, 144.0, 216.0, 288.0])
        self.assertEqual(turns_of(ring, [*taken[:-1], shapely.Point(35, 8).buffer(2)], 0.1), [])

    def test_no_joint_no_turn(self) -> None:
        self.assertEqual(turns_of(as_multi(shapely.box(0, 0, 1, 1)), [], 0.1), [])


class OneWay(unittest.TestCase):
    def test_a_symmetric_pattern_is_noted_and_the_switch_mends_it(self) -> None:
        for solid in (box(60, 60, 60), box(60, 40, 60), tube(40, 28, 60)):
            for count in (2, 3, 4):
                plain = joined(solid, pins(count))
                said = [f for f in findings_of(plain) if f.code == "turned-assembly"]
                mended = joined(solid, pins(count, one_way=True))
                self.assertNotIn("turned-assembly", {f.code for f in findings_of(mended)}, count)
                self.assertEqual(len(mended.placed[0].places), len(plain.placed[0].places))
                moved = set(mended.placed[0].places) - set(plain.placed[0].places)
                self.assertLessEqual(len(moved), 1, "one peg moves, the others stay")
                for angle in range(10, 360, 10):
                    self.assertGreater(overlap(mended, angle), 0.5, (count, angle))
                if said:
                    self.assertEqual(said[0].severity, "note")
                    self.assertTrue((said[0].fixes[0].joint or {})["one_way"])

    def test_places_by_hand_are_left_and_pointed_out(self) -> None:
        result = joined(box(60, 60, 60), pins(2, one_way=True, places=((-15.0, 0.0), (15.0, 0.0))))
        self.assertEqual(result.placed[0].places, [(-15.0, 0.0), (15.0, 0.0)])
        finding = next(f for f in findings_of(result) if f.code == "turned-assembly")
        self.assertEqual(finding.severity, "look-at")
        self.assertEqual([round(a) for a in finding.params["angles_deg"]], [180])  # type: ignore[union-attr, arg-type]

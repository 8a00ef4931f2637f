"""Joints made thinner for a plan's wear: every flank moves inwards by as much, square to itself."""

import math
import unittest

from pydantic import ValidationError

from hinoki.core.errors import BadPlan
from hinoki.core.join.joints import DovetailJoint, FaceRef, KeyJoint, PinJoint
from hinoki.core.join.ladders.fit_ladder import LEAST_IN_HOLE_MM, clearances, least_for
from hinoki.core.join.ladders.hole_ladder import Hole

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


def apart(one: tuple[float, float, float], two: tuple[float, float, float]) -> float:
    """How far two flanks are from each other, square to them: half width at the neck, at the head, height of each."""
    (neck, head, high), (other, _, _) = one, two
    lean = (head - neck) / high
    return (neck - other) / math.hypot(1.0, lean)


class Thinner(unittest.TestCase):
    def test_a_dovetails_flanks_move_in_and_keep_their_lean_and_its_head_is_lower(self) -> None:
        joint = DovetailJoint(id="j1", face=FACE, neck_mm=8, head_mm=14, height_mm=5)
        for by in (0.1, 0.4):
            thin = joint.thinner(by)
            assert thin is not None
            self.assertAlmostEqual(thin.height_mm, 5 - by, places=5)
            self.assertAlmostEqual((thin.head_mm - thin.neck_mm) / thin.height_mm, (14 - 8) / 5, places=5)
            moved = apart((4, 7, 5), (thin.neck_mm / 2, thin.head_mm / 2, thin.height_mm))
            self.assertAlmostEqual(moved, by, places=5)
        self.assertIsNone(joint.thinner(4.5))

    def test_a_key_is_narrower_at_its_waist_by_the_same_square_to_its_flanks(self) -> None:
        joint = KeyJoint(id="j1", face=FACE)
        thin = joint.thinner(0.2)
        assert thin is not None
        self.assertAlmostEqual(joint.waist_mm - thin.waist_mm, 2 * 0.2 * math.hypot(joint.slope, 1.0), places=5)
        self.assertAlmostEqual(thin.slope, joint.slope, places=4)


class Limits(unittest.TestCase):
    def test_a_hole_may_be_tried_half_a_millimetre_tight_and_a_joint_not_at_all(self) -> None:
        hole = Hole(thing="tool", size_mm=12)
        self.assertEqual((least_for(hole), LEAST_IN_HOLE_MM), (-0.5, -0.5))
        self.assertEqual(least_for(PinJoint(id="j1", face=FACE)), 0.0)
        self.assertEqual(clearances(-0.5, 0.1, 4, least_for(hole))[0], -0.5)
        with self.assertRaises(BadPlan):
            clearances(-0.6, 0.1, 4, least_for(hole))

    def test_a_clearance_of_its_own_is_at_most_two_millimetres(self) -> None:
        self.assertEqual(PinJoint(id="j1", face=FACE, clearance_mm=2.0).clearance_mm, 2.0)
        with self.assertRaises(ValidationError):
            PinJoint(id="j1", face=FACE, clearance_mm=2.01)

    def test_a_face_has_members_from_nought(self) -> None:
        self.assertEqual(FaceRef(parting="p1", member=0, a="a", b="b").member, 0)
        for wrong in (-1, 1001):
            with self.assertRaises(ValidationError):
                FaceRef(parting="p1", member=wrong, a="a", b="b")


if __name__ == "__main__":
    unittest.main()

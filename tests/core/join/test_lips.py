"""The rim of a lip, height by height."""

import math
import unittest
from typing import Literal

import numpy as np

from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import FaceRef, LipJoint
from hinoki.core.propose.recommend_joints import SuitWish, suited
from tests.checked import findings_of
from tests.shapes import built, level, plan_for, stl_of, tube

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


def rim_of(**measures: float) -> tuple[LipJoint, float, Solid]:
    """The lip of a tube of 68 and 80 mm parted level, its thickness, and its rim standing on the face."""
    data = stl_of(tube(40, 34, 60))
    result = built(data, plan_for(data, level(1, 30), joints=(LipJoint(id="j1", face=FACE, **measures),)))  # type: ignore[arg-type]
    placed_joint = result.placed[0]
    assert isinstance(placed_joint.joint, LipJoint)
    (rim,) = (tool.add for tool in placed_joint.tools.of(placed_joint.joint.on) if tool.add is not None)
    return (
        placed_joint.joint,
        placed_joint.joint.thick_mm(placed_joint.standing),
        rim.placed(placed_joint.standing.frame.to_frame),
    )


class Rim(unittest.TestCase):
    def test_below_its_chamfer_it_is_as_thick_as_half_the_wall(self) -> None:
        joint, thick, rim = rim_of(height_mm=6.0, tip_mm=1.5)
        self.assertAlmostEqual(thick, 3.0, delta=0.01)
        self.assertAlmostEqual(float(rim.bounds[1][2]), joint.height_mm, places=6)
        for height in (0.2, 2.0, 4.4):
            self.assertAlmostEqual(rim.slice(height).bounds[2], 34 + thick, delta=0.02)

    def test_its_chamfer_goes_in_as_far_as_up_in_steps_no_higher_than_a_layer(self) -> None:
        for tip in (0.5, 1.5):
            _, thick, rim = rim_of(height_mm=6.0, tip_mm=tip)
            count = math.ceil(tip / 0.12)
            each = tip / count
            for k in range(count):
                height = 6.0 - tip + (k + 0.5) * each
                self.assertAlmostEqual(rim.slice(height).bounds[2], 34 + thick - (k + 1) * each, delta=0.02, msg=(tip, k))

    def test_without_one_it_is_straight_to_the_top(self) -> None:
        _, thick, rim = rim_of(height_mm=6.0, tip_mm=0.0)
        np.testing.assert_allclose([rim.slice(h).bounds[2] for h in (0.5, 5.9)], 34 + thick, atol=0.02)


class Decks(unittest.TestCase):
    def test_a_deck_just_behind_the_face_is_not_taken_along(self) -> None:
        """A drum with a deck 4 mm under the seam: a rim along the inner side takes all that lies within its line."""
        drum = tube(60, 56, 60).plus([Solid.cylinder(57, 23, 26)])
        data = stl_of(drum)

        def lip(height_mm: float, side: Literal["a", "b"] = "b") -> LipJoint:
            return LipJoint(id="j1", face=FACE, on=side, height_mm=height_mm)

        for joint, told in ((lip(6.0), True), (lip(4.0), True), (lip(3.0), False), (lip(6.0, "a"), False)):
            result = built(data, plan_for(data, level(1, 30), joints=(joint,)))
            codes = {f.code for f in findings_of(result) if f.severity == "must-fix"}
            self.assertEqual("joint-lip-floor" in codes, told, joint)
            self.assertEqual(codes, {"joint-lip-floor"} & codes | ({"film"} & codes if told else set()))
        plan = plan_for(data, level(1, 30))
        (suiting,) = suited(built(data, plan), plan, SuitWish(kind="lip")).joints
        result = built(data, plan.model_copy(update={"joints": (suiting,)}))
        self.assertEqual([f.code for f in findings_of(result) if f.severity != "note"], [])


if __name__ == "__main__":
    unittest.main()

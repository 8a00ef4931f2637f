"""What is bought follows the copies that are printed."""

import unittest

from hinoki.core.build import Build
from hinoki.core.join.joints import DowelJoint, FaceRef, Joint, MagnetJoint, ScrewJoint
from hinoki.core.plan.batch_settings import Batching
from hinoki.core.plan.plan import Plan
from tests.shapes import box, built, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
DATA = stl_of(box(60, 60, 40))


def printed(joint: Joint, **copies: int) -> tuple[Plan, Build]:
    """A tile of a bottom (`low`) and a top (`high`), each printed so often."""
    often = {"p1-": copies.get("low", 1), "p1+": copies.get("high", 1)}
    plan = plan_for(DATA, level(1, 20), joints=(joint,), batching=Batching(copies=often))
    return plan, built(DATA, plan)


def bought(joint: Joint, **copies: int) -> dict[str, int]:
    return {h.name: h.count for h in printed(joint, **copies)[1].hardware}


class Copies(unittest.TestCase):
    def test_magnets_lie_in_every_copy_of_both_pieces(self) -> None:
        joint = MagnetJoint(id="j1", face=FACE, count=6, held="glue")
        name = joint.magnet.name
        self.assertEqual(bought(joint)[name], 12)
        self.assertEqual(bought(joint, low=7, high=7), {name: 84, "glue point": 84})
        self.assertEqual(bought(joint, low=7), {name: 48, "glue point": 48})  # seven bottoms need 42, the one top 6

    def test_screws_as_often_as_the_piece_there_are_more_of(self) -> None:
        joint = ScrewJoint(id="j1", face=FACE, count=2)
        once, more = bought(joint), bought(joint, low=3, high=2)
        self.assertTrue(once)
        self.assertEqual(more, {name: 3 * count for name, count in once.items()})

    def test_loose_parts_are_printed_as_often(self) -> None:
        joint = DowelJoint(id="j1", face=FACE, count=4)
        for copies, needed in ((1, 4), (5, 20)):
            (loose,) = printed(joint, low=copies)[1].loose
            self.assertEqual((loose.count, len(loose.seats)), (needed, 4))


if __name__ == "__main__":
    unittest.main()

"""Two plans compared, in words: what was added, taken out and changed, and which pieces that touches."""

import unittest

from hinoki.core.join.joints import FaceRef, PinJoint
from hinoki.core.plan.contents import PieceNote
from hinoki.present.comparison import compared
from tests.presented import view_of
from tests.shapes import box, built, level, plan_for, stl_of

COMMON = {"press": 0.05, "snug": 0.1, "sliding": 0.2, "loose": 0.3}
FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


class Changes(unittest.TestCase):
    def test_partings_joints_pieces_and_parts_are_told(self) -> None:
        data = stl_of(box(60, 50, 60))
        pin = PinJoint(id="j1", face=FACE)
        before = plan_for(data, level(1, 30), joints=(pin,))
        after = before.model_copy(
            update={
                "partings": (level(1, 32), level(2, 50)),
                "joints": (pin.model_copy(update={"diameter_mm": 6.0}),),
                "pieces": {"p1-": PieceNote(name="Foot")},
                "least_wall_mm": 2.0,
            }
        )
        found = compared(before, after, view_of(built(data, before)), view_of(built(data, after)))
        told = {(c.what, c.how): c.told for c in found.changes}
        self.assertEqual(told["parting", "changed"], "at 30 → 32")
        self.assertIn(("parting", "added"), told)
        self.assertEqual(told["joint", "changed"], "diameter 5 → 6")
        self.assertEqual(told["least wall", "changed"], "1.6 → 2")
        self.assertEqual(told["piece", "changed"], "")
        assert found.pieces
        self.assertEqual({c.how for c in found.pieces}, {"added", "taken out", "changed"})

    def test_nothing_changed(self) -> None:
        plan = plan_for(b"x", level(1, 30))
        self.assertEqual(compared(plan, plan).changes, [])
        self.assertIsNone(compared(plan, plan).pieces)


if __name__ == "__main__":
    unittest.main()

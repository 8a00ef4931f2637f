"""All parts put in an order: each instance is one thing by then, called by its name."""

import unittest
from unittest.mock import patch

from hinoki.core.cache import Cache
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import DowelJoint, FaceRef
from hinoki.core.model.steps import SeatStep
from hinoki.core.moving.movements import SlideMovement
from hinoki.core.parts import put_together
from hinoki.core.parts.put_together import parts_put_together, parts_scene
from hinoki.core.plan.parts import Instance
from hinoki.core.plan.plan import Plan
from tests.parts import everything, part, plan_of, use_of
from tests.shapes import box, level, stl_of

LID = box(60, 60, 6)


def case() -> Plan:
    """A box in two pieces, a lid on it, and two feet seated in its underside."""
    body = box(60, 60, 50).minus([Solid.box([-25, -25, 5], [25, 25, 51])])
    dowels = DowelJoint(id="j1", face=FaceRef(parting="p1", member=0, a="p1-", b="p1+"), count=2, diameter_mm=2, length_mm=8)
    feet = part(3, box(10, 10, 12), Instance(at_mm=(18, 18, -8)), Instance(at_mm=(-18, -18, -8)), name="Foot")
    return plan_of(
        use_of(stl_of(body), "case.stl"),
        partings=(level(1, 25),),
        joints=(dowels,),
        prepare=(SeatStep(id="s1", part="q3", way="z-"),),
        parts=(part(2, LID, Instance(at_mm=(0, 0, 50)), name="Lid"), feet),
    )


class PutTogether(unittest.TestCase):
    def test_each_instance_has_a_proved_step_and_feet_come_in_from_below(self) -> None:
        plan = case()
        out, _, _ = parts_put_together(plan, everything(plan), Cache())
        self.assertEqual(sorted(s.lead for s in out.order.steps), ["q1 #1", "q2 #1", "q3 #1", "q3 #2"])
        ways = {s.lead: s.motion.way for s in out.order.steps if s.motion is not None}
        on_the_feet = [way for lead, way in ways.items() if lead.startswith("q3") and way is not None]
        self.assertTrue(all(abs(way[2]) > 0.99 for way in on_the_feet), ways)

    def test_a_piece_of_a_part_that_moves_is_where_it_is_kept(self) -> None:
        """The upper half of the box slides up by 30 mm while all is put together; the lower one stays."""
        plan = case()
        up = SlideMovement(id="v1", moves=("p1+",), along=(0, 0, 1), begin=0, end=40, kept_at=30)
        rests, kept = (parts_scene(everything(p)) for p in (plan, plan.model_copy(update={"movements": (up,)})))
        (was, now) = (next(u for u in scene.units.values() if u.id == "q1 #1") for scene in (rests, kept))
        moved = [b.bounds[0][2] - a.bounds[0][2] for a, b in zip(was.solids, now.solids, strict=True)]
        self.assertEqual(sorted(round(float(m), 6) for m in moved), [0.0, 30.0])
        self.assertNotEqual(was.made_by, now.made_by)

    def test_too_many_are_refused(self) -> None:
        plan = case()
        with patch.object(put_together, "MOST_INSTANCES", 3), self.assertRaisesRegex(BadPlan, "4 instances stand"):
            parts_put_together(plan, everything(plan), Cache())

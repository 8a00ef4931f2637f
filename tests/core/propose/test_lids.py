"""Make it a lid that shuts: a hinge, a rim and magnets on one face, that all work beside each other."""

import unittest

from hinoki.core.assemble.findings import assembly_findings
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import FaceRef, HingeJoint, PinJoint
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.lids import Lid, made_to_shut
from tests.assembling import assembly
from tests.checked import findings_of
from tests.effort import either
from tests.shapes import COMMON, box, built, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
BOXES = {
    "4 mm": (box(80, 60, 40).minus([Solid.box([-36, -26, 4], [36, 26, 36])]), 30.0),
    "2 mm": (box(120, 90, 60).minus([Solid.box([-58, -43, 2], [58, 43, 58])]), 45.0),
    "a jar of 3 mm": (Solid.cylinder(40, 0, 60).minus([Solid.cylinder(37, 3, 57)]), 45.0),
}


def shut(solid: Solid, at: float, *joints: HingeJoint | PinJoint) -> tuple[bytes, Plan, Lid]:
    data = stl_of(solid)
    plan = plan_for(data, level(1, at), joints=joints)
    return data, plan, made_to_shut(plan, built(data, plan), FACE.id, lambda p: built(data, p), COMMON)


class Lids(unittest.TestCase):
    def test_boxes_and_jars_get_all_three_and_the_lid_swings_and_stays_shut(self) -> None:
        for name in either(("2 mm",), tuple(BOXES)):
            data, _, lid = shut(*BOXES[name])
            self.assertEqual({j.kind for j in lid.plan.joints}, {"hinge", "lip", "magnet"}, name)
            self.assertEqual((len(lid.joints), lid.left_out), (3, ()), name)
            result = built(data, lid.plan)
            self.assertEqual([f.code for f in findings_of(result) if f.station == "join"], [], name)
            out = assembly(result, lid.plan)
            self.assertEqual((assembly_findings(lid.plan, out), out.order.locked), ([], []), name)
            (opens,) = out.opens
            self.assertEqual((opens.touches, opens.stays_shut), (None, True), name)
            low, high = (p.solid for p in result.parts)
            self.assertLess(low.common(high).volume_mm3, 1e-4, name)

    def test_in_a_thinner_wall_what_has_no_room_is_left_out_and_said(self) -> None:
        thin = box(120, 90, 60).minus([Solid.box([-58.4, -43.4, 1.6], [58.4, 43.4, 58.4])])
        _, _, lid = shut(thin, 45.0)
        self.assertEqual(({j.kind for j in lid.plan.joints}, lid.left_out), ({"hinge", "magnet"}, ("lip",)))

    def test_a_hinge_that_is_there_stays_as_it_is(self) -> None:
        hinge = HingeJoint(id="j1", face=FACE, length_mm=24, knuckles=3)
        _, _, lid = shut(*BOXES["4 mm"], hinge)
        self.assertEqual(lid.plan.joints[0], hinge)
        self.assertEqual(sorted(j.kind for j in lid.plan.joints), ["hinge", "lip", "magnet"])
        self.assertNotIn("j1", lid.joints)

    def test_where_no_hinge_has_room_nothing_is_added(self) -> None:
        _, plan, lid = shut(box(10, 10, 40), 20.0)
        self.assertEqual((lid.plan, lid.joints, lid.left_out), (plan, (), ("hinge",)))


if __name__ == "__main__":
    unittest.main()

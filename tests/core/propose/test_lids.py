"""Make it a lid that shuts: what opens, places and holds it on one face, all of which works beside each other."""

import unittest

import shapely

from hinoki.core.assemble.findings import assembly_findings
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.strength import Stuff
from hinoki.core.join.joints import FaceRef, HingeJoint, LatchJoint, LipJoint, PinJoint
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.lids import HARD_N, Lid, Shuts, made_to_shut
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


def shut(solid: Solid, at: float, *joints: HingeJoint | LipJoint | PinJoint, shuts: Shuts = "suits") -> tuple[bytes, Plan, Lid]:
    data = stl_of(solid)
    plan = plan_for(data, level(1, at), joints=joints)
    return data, plan, made_to_shut(plan, built(data, plan), FACE.id, lambda p: built(data, p), COMMON, shuts)


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

    def works(self, name: str, data: bytes, lid: Lid) -> list[tuple[str, str | None, bool | None]]:
        """Nothing is found, the order works; how it opens, what it touches, and whether it stays shut."""
        result = built(data, lid.plan)
        self.assertEqual([f.code for f in findings_of(result) if f.station == "join"], [], name)
        out = assembly(result, lid.plan)
        self.assertEqual([f.code for f in assembly_findings(lid.plan, out) if f.severity != "note"], [], name)
        self.assertEqual(out.order.locked, [], name)
        return [(o.how, o.touches, o.stays_shut) for o in out.opens]

    def test_a_thick_lid_is_held_by_latches_with_a_hinge_or_without(self) -> None:
        block = box(80, 60, 40), 32.0
        data, _, lid = shut(*block, shuts="hinge and latch")
        self.assertEqual(([j.kind for j in lid.plan.joints], lid.left_out), (["hinge", "latch"], ()))
        self.assertEqual(self.works("hinge", data, lid), [("door", None, True)])
        latch = next(p for p in built(data, lid.plan).placed if p.joint.kind == "latch")
        hinge = next(p for p in built(data, lid.plan).placed if p.joint.kind == "hinge")
        self.assertLess(latch.places[0][1] * hinge.places[0][1], 0, "opposite the hinge")
        data, _, lid = shut(*block, shuts="latches")
        self.assertEqual(next(j.count for j in lid.plan.joints if isinstance(j, LatchJoint)), 2)
        result = built(data, lid.plan)
        self.assertEqual([f.code for f in findings_of(result) if f.severity != "note"], [])
        self.assertEqual(assembly(result, lid.plan).order.locked, [])

    def test_one_on_a_hinge_may_be_held_by_a_bump_opposite(self) -> None:
        data, _, lid = shut(*BOXES["4 mm"], shuts="hinge and bump")
        hinge, rim = lid.plan.joints
        assert isinstance(rim, LipJoint)
        self.assertEqual((hinge.kind, rim.bumps, lid.left_out), ("hinge", 1, ()))
        self.assertEqual(self.works("bump", data, lid), [("door", None, True)])
        placed = next(p for p in built(data, lid.plan).placed if p.joint.kind == "lip")
        (bump,) = rim.bumps_at(placed.standing)
        kept = shapely.centroid(placed.standing.kept)
        self.assertLess(bump.at[1] * kept.y, 0)  # across the middle from it
        ((_, force),) = rim.catches(placed.standing, (), Stuff.of(lid.plan.material))
        self.assertLess(force, HARD_N)

    def test_one_that_comes_off_clicks_hooks_or_locks(self) -> None:
        jar = Solid.cylinder(60, 0, 90).minus([Solid.cylinder(57.4, 2, 88)]), 70.0
        every: tuple[tuple[Shuts, tuple[Solid, float], set[str]], ...] = (
            ("clicks", jar, {"lip"}), ("hooks", BOXES["2 mm"], {"hook", "lip"}), ("bayonet", jar, {"bayonet"}),
            ("magnets", BOXES["2 mm"], {"magnet", "lip"}),
        )  # fmt: skip
        for way, made, kinds in either((every[0],), every):
            data, _, lid = shut(*made, shuts=way)
            self.assertEqual(({j.kind for j in lid.plan.joints}, lid.shuts), (kinds, way))
            self.assertEqual(self.works(way, data, lid), [], way)

    def test_where_a_lid_cannot_swing_what_suits_comes_off(self) -> None:
        _, _, lid = shut(Solid.cylinder(60, 0, 90).minus([Solid.cylinder(58, 2, 88)]), 70.0)
        self.assertEqual((lid.shuts, [j.kind for j in lid.plan.joints]), ("bayonet", ["bayonet"]))

    def test_a_rim_without_a_bead_that_is_there_does_not_pass_for_one_with(self) -> None:
        plain = LipJoint(id="j1", face=FACE)
        _, plan, lid = shut(*BOXES["4 mm"], plain, shuts="clicks")
        self.assertEqual((lid.plan, lid.joints, lid.left_out), (plan, (), ("lip",)))
        self.assertIn("no bead", lid.why)
        _, _, lid = shut(*BOXES["4 mm"], plain.model_copy(update={"snap_mm": 0.3, "bumps": 2}), shuts="clicks")
        self.assertEqual((lid.joints, lid.left_out), ((), ()))

    def test_a_lid_is_not_half_made_where_nothing_would_hold_it(self) -> None:
        _, plan, lid = shut(*BOXES["4 mm"], shuts="bayonet")
        self.assertEqual((lid.plan, lid.joints, lid.left_out), (plan, (), ("bayonet",)))

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
        _, plan, lid = shut(box(10, 10, 40), 20.0, shuts="hinge and magnets")
        self.assertEqual((lid.plan, lid.joints, lid.left_out), (plan, (), ("hinge",)))


if __name__ == "__main__":
    unittest.main()

"""What an edit does to printed pieces, what stays as printed, and where printed pieces differ: on real bodies."""

import unittest

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.geometry.shape_hash import shape_hash
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.channels import RodWay
from hinoki.core.join.clearance import measured_clearance
from hinoki.core.join.joints import DovetailJoint, DowelJoint, FaceRef, Joint, KeyJoint, LipJoint, PinJoint, TongueJoint
from hinoki.core.model.steps.hollow import HollowStep
from hinoki.core.plan.plan import Plan
from hinoki.core.printlog.edit_impact import PrintedPiece, Touches, touches
from hinoki.core.printlog.shape_diff import difference
from hinoki.core.progress import Tell
from tests.checked import findings_of
from tests.shapes import across, box, built, level, plan_for, stl_of, tube

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
BLOCK = stl_of(box(60, 40, 60))


class Block(unittest.TestCase):
    def setUp(self) -> None:
        self.cache = Cache()

    def make(self, plan: Plan, data: bytes = BLOCK) -> Build:
        return built(data, plan, self.cache)

    def asked(self, before: Plan, after: Plan, *printed: str, data: bytes = BLOCK) -> Touches:
        was = self.make(before, data)
        pieces = [
            PrintedPiece(key=p.key, number=p.number, name=p.name, shape=p.shape, grams=10, minutes=60, cost=1.5)
            for p in was.pieces
            if p.key in printed
        ]

        def build_of(plan: Plan, _tell: Tell) -> Build:
            return self.make(plan, data)

        return touches(was, after, build_of, pieces)


def wider(plan: Plan, to: float) -> Plan:
    return plan.model_copy(update={"joints": tuple(j.model_copy(update={"clearance_mm": to}) for j in plan.joints)})


class Touched(Block):
    def check_stays(self, joint: Joint, cut_side: str, data: bytes = BLOCK, parting: object = None) -> None:
        """The side that is cut is printed at 0.1 and stays; 0.25 is asked for now, and is there: the male is thinner."""
        plan = plan_for(data, parting or level(1, 30), joints=(joint,))  # type: ignore[arg-type]
        found = self.asked(plan, wider(plan, 0.25), cut_side, data=data)
        self.assertEqual([(t.key, t.can_stay) for t in found.touched], [(cut_side, True)], found)
        assert found.kept is not None
        kept, was = self.make(found.kept, data), self.make(plan, data)
        shapes = [{p.key: p.shape for p in b.pieces}[cut_side] for b in (kept, was)]
        self.assertEqual(*shapes)
        clearance = measured_clearance(kept.placed[0], {p.key: p.solid for p in kept.parts})
        assert clearance is not None
        self.assertAlmostEqual(clearance, 0.25, delta=0.02)

    def test_a_pin_is_made_thinner_for_a_bore_that_is_printed(self) -> None:
        self.check_stays(PinJoint(id="j1", face=FACE, on="a", clearance_mm=0.1), "p1+")

    def test_a_tongue_is(self) -> None:
        self.check_stays(TongueJoint(id="j1", face=FACE, on="a", clearance_mm=0.1, width_mm=4), "p1+")

    def test_a_dovetail_is(self) -> None:
        joint = DovetailJoint(id="j1", face=FACE, on="a", clearance_mm=0.1, lock_mm=0, lead_mm=0, edge_mm=0)
        self.check_stays(joint, "p1+")

    def test_a_loose_dowel_is(self) -> None:
        self.check_stays(DowelJoint(id="j1", face=FACE, clearance_mm=0.1), "p1+")

    def test_a_loose_key_is(self) -> None:
        side = across(1, "x", 0)
        self.check_stays(KeyJoint(id="j1", face=FACE, clearance_mm=0.1), "p1+", parting=side)

    def test_the_male_side_stays_by_itself_where_places_are_kept(self) -> None:
        plan = plan_for(BLOCK, level(1, 30), joints=(PinJoint(id="j1", face=FACE, on="a", clearance_mm=0.1),))
        found = self.asked(plan, wider(plan, 0.25), "p1-")
        self.assertTrue(all(t.can_stay for t in found.touched))

    def test_a_joint_of_other_pieces_comes_first_and_hinders_nothing(self) -> None:
        low = PinJoint(id="j1", face=FaceRef(parting="p1", member=0, a="p1-", b="p1+ p2-"), on="a", clearance_mm=0.1)
        high = PinJoint(id="j2", face=FaceRef(parting="p2", member=0, a="p1+ p2-", b="p1+ p2+"), on="a", clearance_mm=0.1)
        plan = plan_for(BLOCK, level(1, 20), level(2, 40), joints=(low, high))
        found = self.asked(plan, wider(plan, 0.25), "p1+ p2+")
        self.assertEqual([(t.key, t.can_stay) for t in found.touched], [("p1+ p2+", True)])

    def test_what_is_not_printed_is_not_asked_about(self) -> None:
        plan = plan_for(BLOCK, level(1, 30), joints=(PinJoint(id="j1", face=FACE, on="a"),))
        self.assertEqual(self.asked(plan, wider(plan, 0.25)).touched, [])

    def test_a_moved_cut_touches_both_and_none_can_stay(self) -> None:
        plan = plan_for(BLOCK, level(1, 30))
        found = self.asked(plan, plan.model_copy(update={"partings": (level(1, 31),)}), "p1-", "p1+")
        self.assertEqual([(t.key, t.can_stay, t.gone) for t in found.touched], [("p1-", False, False), ("p1+", False, False)])
        self.assertEqual((found.grams, found.minutes, found.cost, found.kept), (20, 120, 3.0, None))

    def test_a_cut_that_is_gone_leaves_no_piece(self) -> None:
        plan = plan_for(BLOCK, level(1, 30))
        found = self.asked(plan, plan.model_copy(update={"partings": ()}), "p1-")
        self.assertTrue(found.touched[0].gone)

    def test_a_lip_says_that_it_cannot_keep_its_cut(self) -> None:
        data = stl_of(tube(30, 26, 60))
        lip = LipJoint(id="j1", face=FACE, clearance_mm=0.2, cut_as_printed_mm=0.1)
        result = self.make(plan_for(data, level(1, 30), joints=(lip,)), data)
        self.assertIn("joint-cut-printed", [f.code for f in findings_of(result)])


class Differs(Block):
    def compare(self, before: Plan, after: Plan, key: str = "p1+", data: bytes = BLOCK):  # type: ignore[no-untyped-def]
        return difference(self.make(before, data), self.make(after, data), key)

    def test_nothing(self) -> None:
        plan = plan_for(BLOCK, level(1, 30))
        found, more, less = self.compare(plan, plan)
        self.assertEqual((found.where, found.mates, more, less), (["nothing"], True, None, None))

    def test_a_bore_moved(self) -> None:
        pin = PinJoint(id="j1", face=FACE, on="a", count=1, diameter_mm=6, places=((0.0, 0.0),))
        plan = plan_for(BLOCK, level(1, 30), joints=(pin,))
        moved = plan.model_copy(update={"joints": (pin.model_copy(update={"places": ((3.0, 0.0),)}),)})
        found, _, _ = self.compare(plan, moved)
        self.assertEqual((found.where, found.faces), (["joint"], ["1|2"]))
        self.assertFalse(found.mates)
        self.assertEqual([m.number for m in found.meets], [1])
        self.assertTrue(found.leaves_gap)

    def test_a_bore_that_is_only_wider_still_mates(self) -> None:
        pin = PinJoint(id="j1", face=FACE, on="a", count=1, places=((0.0, 0.0),), clearance_mm=0.3)
        plan = plan_for(BLOCK, level(1, 30), joints=(pin,))
        found, _, _ = self.compare(plan, wider(plan, 0.1))
        self.assertEqual((found.where, found.mates), (["joint"], True))
        self.assertAlmostEqual(found.most_mm, 0.2, delta=0.02)

    def test_a_bore_for_a_rod_is_told_at_the_face_it_goes_through(self) -> None:
        """The first mating face is that of other pieces."""
        parted = (level(1, 20), level(2, 40))
        ways = [RodWay(id="w1", start_mm=(x, 0, 25), end_mm=(x, 0, 55)) for x in (-10, 10)]
        before, after = (plan_for(BLOCK, *parted, ways=(way,)) for way in ways)
        found, _, _ = self.compare(before, after, "p1+ p2+")
        self.assertEqual(found.faces, ["2|3"])

    def test_what_ends_close_to_a_face_does_not_touch_it(self) -> None:
        """Half a millimetre of plastic stays between the bore's end and the mating face."""
        parted = (level(1, 20), level(2, 40))
        ways = [RodWay(id="w1", start_mm=(x, 0, 41), end_mm=(x, 0, 55)) for x in (-10, 10)]
        before, after = (plan_for(BLOCK, *parted, ways=(way,)) for way in ways)
        found, _, _ = self.compare(before, after, "p1+ p2+")
        self.assertEqual((found.where, found.faces), (["inside"], []))

    def test_the_outside(self) -> None:
        plan = plan_for(BLOCK, level(1, 30), level(2, 50, only=("p1+",)))
        moved = plan.model_copy(update={"partings": (level(1, 30), level(2, 52, only=("p1+",)))})
        found, _, less = self.compare(plan, moved, "p1+ p2-")
        self.assertIn("outside", found.where)
        assert less is not None
        self.assertAlmostEqual(less.volume_mm3, 60 * 40 * 2, delta=1)
        self.assertAlmostEqual(found.most_mm, 2.0, delta=1e-6)

    def test_only_the_inside(self) -> None:
        """A closed hollow made a little wider: no face, no joint and nothing outside changes."""
        plan = plan_for(BLOCK, prepare=(HollowStep(id="s1", wall_mm=8),))
        after = plan.model_copy(update={"prepare": (HollowStep(id="s1", wall_mm=7),)})
        found, more, _ = self.compare(plan, after, "whole")
        self.assertEqual((found.where, found.mates), (["inside"], True))
        self.assertTrue(0.9 < found.most_mm < 2.5, found.most_mm)  # a wall's width on flats, more in the corners
        assert more is not None


class Hashes(unittest.TestCase):
    def test_a_shape_is_named_by_itself(self) -> None:
        one = box(20, 20, 20).minus([Solid.cylinder(4, -1, 30)])
        again = Solid.cylinder(4, -1, 30)
        other = box(20, 20, 20).minus([again])
        self.assertEqual(shape_hash(one), shape_hash(other))
        self.assertEqual(shape_hash(one), shape_hash(Solid.from_mesh(one.mesh)))
        self.assertNotEqual(shape_hash(one), shape_hash(one.moved(0.001, 0, 0)))
        self.assertNotEqual(shape_hash(one), shape_hash(box(20, 20, 20)))

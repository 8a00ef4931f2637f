"""What holds a piece in each of six directions, by kind and with its newtons; what falls, and what only magnets keep."""

import unittest

import numpy as np

from hinoki.core.assemble.assembled import Assembled
from hinoki.core.assemble.balance import hang_points
from hinoki.core.assemble.findings import assembly_findings
from hinoki.core.assemble.planning import Step
from hinoki.core.assemble.retention import DOWN_IN, WAYS, Hold, stays_put
from hinoki.core.build import Build
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import FaceRef, HingeJoint, MagnetJoint, PinJoint, ThreadJoint
from hinoki.core.join.opening.swings import axis_of
from hinoki.core.plan.assembly_settings import Assembling, Attitude, Glued
from hinoki.core.plan.plan import Plan
from hinoki.core.workshop.materials import GRAVITY
from tests.assembling import assembly, of_bodies
from tests.core.assemble.bodies import square_link
from tests.shapes import across, box, built, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
BLOCK = stl_of(box(60, 60, 60))


def halves(*joints: object) -> Assembled:
    """A block in two, one on the other."""
    return assembly(built(BLOCK, plan_for(BLOCK, level(1, 30), joints=joints)))


def stack(**wish: object) -> Assembled:
    """A small block in the middle of a larger one."""
    bodies = {"under": box(60, 60, 20), "over": box(20, 20, 20).moved(0, 0, 20)}
    return of_bodies(bodies, Plan(assembling=Assembling(**wish)))  # type: ignore[arg-type]


def holds(out: Assembled, unit: str, attitude: Attitude = "standing") -> dict[str, Hold]:
    assert out.holding is not None
    return {name: out.holding.of(unit, way, attitude) for name, way in WAYS}


class Ways(unittest.TestCase):
    def test_they_are_six_unit_vectors_each_with_its_opposite(self) -> None:
        ways = dict(WAYS)
        self.assertEqual(len(set(ways.values())), 6)
        for one, other in (("up", "down"), ("left", "right"), ("front", "back")):
            np.testing.assert_array_equal(np.add(ways[one], ways[other]), 0)
            self.assertEqual(sorted(map(abs, ways[one])), [0, 0, 1])
        self.assertEqual((ways["up"][2], ways["right"][0], ways["back"][1]), (1, 1, 1))
        self.assertEqual({DOWN_IN[a][2] for a in ("standing", "hung")}, {-1.0})
        self.assertEqual(DOWN_IN["upside down"], (0.0, 0.0, 1.0))


class Kinds(unittest.TestCase):
    def test_a_block_on_a_block_lies_there_by_its_weight(self) -> None:
        out = stack()
        grams = out.weights["over"].grams
        each = holds(out, "over")
        self.assertEqual(each["down"], Hold("shape", ("under",)))
        self.assertEqual(each["up"], Hold("weight", (), round(grams / 1000 * GRAVITY, 2)))
        self.assertEqual({each[w].kind for w in ("left", "right", "front", "back")}, {"nothing"})

    def test_turned_over_its_weight_holds_it_on_nothing(self) -> None:
        each = holds(stack(), "over", "upside down")
        self.assertEqual((each["up"].kind, each["down"].kind), ("nothing", "shape"))
        self.assertEqual(holds(stack(), "under", "upside down")["down"].kind, "weight")

    def test_magnets_hold_off_the_face_with_their_pull_and_not_along_it(self) -> None:
        joint = MagnetJoint(id="j1", face=FACE, count=2)
        each = holds(halves(joint), "p1+")
        self.assertEqual((each["up"].kind, each["up"].by), ("magnet", ("p1-",)))
        self.assertAlmostEqual(each["up"].newtons or 0, 2 * joint.pull_n(), delta=0.11)
        self.assertEqual(each["left"].kind, "nothing")
        self.assertEqual(holds(halves(joint), "p1-")["down"].kind, "magnet")

    def test_a_magnet_that_pulls_little_holds_too(self) -> None:
        joint = MagnetJoint(id="j1", face=FACE, count=1, diameter_mm=3, thick_mm=1, skin_mm=0.6)
        self.assertLess(joint.pull_n(), 1.0)
        held = holds(halves(joint), "p1+")["up"]
        self.assertEqual((held.kind, held.newtons), ("magnet", round(joint.pull_n(), 1)))

    def test_what_pulls_and_what_holds_by_shape_the_surest_is_told(self) -> None:
        glued = holds(stack(glued=(Glued(a="over", b="under"),)), "over")
        self.assertEqual(glued["up"], Hold("glue", ("under",)))
        self.assertEqual(glued["down"].kind, "shape")
        screwed = holds(halves(ThreadJoint(id="j1", face=FACE, diameter_mm=20, pitch_mm=3, length_mm=10)), "p1+")
        self.assertEqual((screwed["up"].kind, screwed["up"].by), ("thread", ("p1-",)))

    def test_pins_hold_sideways_by_shape(self) -> None:
        each = holds(halves(PinJoint(id="j1", face=FACE, count=2, diameter_mm=6, length_mm=8)), "p1+")
        self.assertEqual({each[w].kind for w in ("left", "right", "front", "back", "down")}, {"shape"})
        self.assertIn(each["up"].kind, ("weight", "friction"))


class Falls(unittest.TestCase):
    def test_upside_down_the_small_block_falls_with_its_weight(self) -> None:
        out = stack(attitude="upside down")
        (one,) = out.falls
        self.assertEqual((set(one.units), one.falls, one.pull_n), ({"over"}, True, 0.0))
        self.assertAlmostEqual(one.weight_n, out.weights["over"].grams / 1000 * GRAVITY, delta=0.01)

    def test_magnets_that_pull_more_than_it_weighs_hold_it(self) -> None:
        bodies = halves(MagnetJoint(id="j1", face=FACE, count=4))
        assert bodies.holding is not None
        (one,) = bodies.holding.falls("upside down", frozenset(), "p1-")
        self.assertEqual((set(one.units), one.falls, one.by), ({"p1+"}, False, ("p1-",)))
        self.assertGreater(one.pull_n, one.weight_n)

    def test_hung_what_the_points_are_in_stays_and_what_stands_on_it_too(self) -> None:
        out = stack()
        assert out.holding is not None
        self.assertEqual(out.holding.falls("hung", frozenset({"under"}), "under"), [])
        fallen = out.holding.falls("hung", frozenset({"over"}), "under")
        self.assertEqual([set(f.units) for f in fallen], [{"under"}])

    def test_what_hangs_together_falls_together(self) -> None:
        tower = {"foot": box(60, 60, 20)}
        tower |= {f"block {k}": box(20, 20, 20).moved(0, 0, 20 + 20 * k) for k in range(3)}
        tower["other"] = box(8, 8, 8).moved(25, 25, 20)
        out = of_bodies(tower, Plan(assembling=Assembling(attitude="upside down")))
        self.assertEqual(sorted(sorted(f.units) for f in out.falls), [["block 0", "block 1", "block 2"], ["other"]])


class Stays(unittest.TestCase):
    """Whether something stays where it was put, by itself."""

    def stays(self, out: Assembled, moving: str, there: str, over: bool = False) -> bool:
        assert out.holding is not None
        return stays_put(out.holding, frozenset({moving}), frozenset({there}), None, over)

    def test_what_rests_on_something_does_and_what_hangs_on_its_side_does_not(self) -> None:
        bodies = {"wall": box(20, 60, 100), "lamp": box(10, 10, 10).moved(15, 0, 60), "cap": box(10, 10, 10).moved(0, 0, 100)}
        out = of_bodies(bodies)
        self.assertTrue(self.stays(out, "cap", "wall"))
        self.assertFalse(self.stays(out, "lamp", "wall"))
        self.assertTrue(self.stays(out, "wall", "lamp"))  # it stands on the table

    def test_turned_over_what_was_on_top_stands_on_the_table(self) -> None:
        bodies = {"wall": box(20, 60, 100), "foot": box(40, 80, 10).moved(0, 0, -10), "lamp": box(10, 10, 10).moved(15, 0, 60)}
        out = of_bodies(bodies)
        self.assertTrue(self.stays(out, "wall", "foot", over=True))
        self.assertTrue(self.stays(out, "foot", "wall", over=True))
        self.assertFalse(self.stays(out, "lamp", "wall", over=True))

    def test_what_hangs_on_its_side_stays_where_magnets_draw_it_on(self) -> None:
        """The right half of a block of which the left stands on a foot."""
        solid = Solid.box([-60, -30, 0], [0, 30, 60]).plus([Solid.box([-0.01, -30, 30], [40, 30, 60])])
        data, stays = stl_of(solid), {}
        for count in (0, 4):
            magnets = (MagnetJoint(id="j1", face=FACE, count=count),) if count else ()
            out = assembly(built(data, plan_for(data, across(1, "x", 10), joints=magnets)))
            stays[count] = self.stays(out, "p1+", "p1-")
        self.assertEqual(stays, {0: False, 4: True})

    def test_what_overhangs_by_more_than_half_tips_off(self) -> None:
        for off, stays in ((12.0, True), (45.0, False)):
            out = of_bodies({"under": box(40, 40, 20), "over": box(60, 20, 10).moved(off, 0, 20)})
            self.assertEqual(self.stays(out, "over", "under"), stays, off)


class Standing(unittest.TestCase):
    def test_a_tall_post_on_a_small_foot_tips_towards_the_nearest_edge(self) -> None:
        """The foot is 40 wide and reaches 5 mm beyond the post in front: that way it tips first."""
        post = Solid.united([Solid.box([-20, -5, 0], [20, 25, 4]), Solid.box([-5, -5, 4], [5, 5, 150])])
        out = of_bodies({"post": post}, Plan())
        assert out.stands is not None
        assert out.whole is not None
        way, angle = out.stands.least
        self.assertEqual(way, 270.0)
        centre = out.whole.centre
        self.assertAlmostEqual(angle, float(np.degrees(np.arctan2(centre[1] + 5, centre[2]))), places=4)
        self.assertAlmostEqual(out.stands.high_mm, float(centre[2]), places=6)

    def test_the_edge_it_tips_over_is_found_however_it_lies(self) -> None:
        """A triangular foot whose long edge looks 3 to the left and 4 to the front: it lies nearest to the post."""
        foot = np.array([[-35.0, 35.0], [45.0, -25.0], [50.0, 50.0]])
        post = Solid.united([Solid.drawn_ring(foot, 0, 4), Solid.cylinder(4, 3, 150).moved(9, 9, 0)])
        out = of_bodies({"post": post})
        assert out.stands is not None
        way, angle = out.stands.least
        self.assertAlmostEqual(way, 180 + float(np.degrees(np.arctan2(4, 3))), delta=0.02)
        assert out.whole is not None
        off = float((out.whole.centre[:2] - [5.0, 5.0]) @ np.array([0.6, 0.8]))
        self.assertAlmostEqual(angle, float(np.degrees(np.arctan2(off, out.whole.centre[2]))), delta=0.01)

    def test_what_tips_easily_is_told_and_what_stands_well_is_not(self) -> None:
        for wide, told in ((20.0, True), (90.0, False)):
            found = [f.code for f in assembly_findings(Plan(), of_bodies({"post": box(wide, wide, 150)}))]
            self.assertEqual("tips-over" in found, told, wide)

    def test_what_hangs_does_not_tip(self) -> None:
        attitudes: tuple[Attitude, ...] = ("standing", "hung", "upside down")
        for attitude in attitudes:
            plan = Plan(assembling=Assembling(attitude=attitude))
            found = [f.code for f in assembly_findings(plan, of_bodies({"post": box(20, 20, 150)}, plan))]
            self.assertEqual("tips-over" in found, attitude == "standing", attitude)

    def test_its_foot_is_the_hull_of_all_that_is_lowest(self) -> None:
        legs = [box(10, 10, 30).moved(x, y, 0) for x, y in ((-40, -40), (40, -40), (0, 40))]
        table = Solid.united([Solid.box([-50, -50, 29], [50, 50, 40]), *legs])
        out = of_bodies({"table": table}, Plan())
        assert out.stands is not None
        self.assertEqual((out.stands.foot.min(axis=0).tolist(), out.stands.foot.max(axis=0).tolist()), ([-45, -45], [45, 45]))
        self.assertEqual(len(out.stands.foot), 6)


class Doors(unittest.TestCase):
    """A lid on a hinge, held shut by a magnet: the torques of both about the hinge, by hand."""

    CASE = box(80, 60, 40).minus([Solid.box([-36, -26, 4], [36, 26, 36])])

    def case(self, *joints: HingeJoint | MagnetJoint) -> tuple[Assembled, Build, Plan]:
        data = stl_of(self.CASE)
        plan = plan_for(data, level(1, 30), joints=joints)
        result = built(data, plan)
        return assembly(result, plan), result, plan

    def level_mm(self, result: Build) -> tuple[float, float]:
        """How far the lid's middle and the magnet are from the hinge's axis, square to it."""
        hinge = next(p for p in result.placed if p.joint.kind == "hinge")
        axis = axis_of(hinge)
        assert axis is not None
        along, at = axis.frame.n, axis.frame.origin
        lid = hinge.face.b.solid.centre_of_mass - at
        held = [p for p in result.placed if p.joint.kind == "magnet"]
        place = held[0].standing.frame.world(np.array([held[0].places[0]]))[0] - at if held else at * 0
        flat = place - along * float(place @ along)
        return float(np.linalg.norm(lid - along * float(lid @ along))), float(np.linalg.norm(flat[:2]))

    def test_a_magnet_too_weak_for_the_lid_is_told_and_a_strong_one_is_not(self) -> None:
        for diameter, thick, open_ in ((3.0, 1.0, True), (6.0, 3.0, False)):
            hinge = HingeJoint(id="j1", face=FACE, opens_deg=180)
            magnet = MagnetJoint(id="j2", face=FACE, count=1, diameter_mm=diameter, thick_mm=thick, places=((0.0, 28.0),))
            out, result, plan = self.case(hinge, magnet)
            (opens,) = out.opens
            lid, held = self.level_mm(result)
            grams = out.weights[opens.unit].grams
            self.assertAlmostEqual(opens.weight, grams / 1000 * GRAVITY * lid, delta=0.06 + 0.03 * opens.weight)
            self.assertAlmostEqual(opens.shut, magnet.pull_n() * held, delta=0.06 + 0.01 * opens.shut)
            self.assertEqual(opens.shut < opens.weight, open_)
            told = {f.code for f in assembly_findings(plan, out)}
            self.assertEqual("door-falls-open" in told, open_, diameter)

    def test_without_magnets_nothing_is_said_of_staying_shut(self) -> None:
        out, _, plan = self.case(HingeJoint(id="j1", face=FACE, opens_deg=180))
        self.assertIsNone(out.opens[0].stays_shut)
        self.assertNotIn("door-falls-open", {f.code for f in assembly_findings(plan, out)})

    def test_a_lid_printed_in_place_weighs_its_share_of_both(self) -> None:
        out, result, _ = self.case(HingeJoint(id="j1", face=FACE, pin="in place", opens_deg=180))
        (opens,) = out.opens
        face = result.placed[0].face
        share = face.b.solid.volume_mm3 / (face.a.solid.volume_mm3 + face.b.solid.volume_mm3)
        self.assertLess(share, 0.4)
        grams = out.weights[opens.unit].grams * share
        self.assertAlmostEqual(opens.weight, grams / 1000 * GRAVITY * self.level_mm(result)[0], delta=0.06)


class Hung(unittest.TestCase):
    def points(self, *slots: float) -> dict[str, list[np.ndarray]]:
        """Where a bar of 200 × 40 × 20 with upright slots 10 mm wide may be hung."""
        bar = box(200, 40, 20).minus([Solid.box([x - 5, -16, -1], [x + 5, 16, 21]) for x in slots])
        return dict(hang_points(bar, bar.centre_of_mass))

    def test_one_above_its_middle_and_two_as_far_apart_as_nine_tenths(self) -> None:
        found = self.points()
        ((at,), (one, two)) = found.values()
        np.testing.assert_allclose(at, [0, 0, 20], atol=1e-6)
        np.testing.assert_allclose([one, two], [[-90, 0, 20], [90, 0, 20]], atol=1e-6)

    def test_where_there_is_a_slot_they_come_nearer_step_by_step(self) -> None:
        for slots, at in (((90.0,), 75.0), ((90.0, 75.0), 60.0), ((90.0, 75.0, 60.0), 45.0), ((90.0, 75.0, 60.0, 45.0), 30.0)):
            _, (one, two) = self.points(*slots, *(-x for x in slots)).values()
            self.assertAlmostEqual(float(two[0]), at, places=6)
            self.assertAlmostEqual(float(one[0]), -at, places=6)

    def test_over_a_slot_there_is_no_point_above_the_middle(self) -> None:
        self.assertEqual([len(p) for p in self.points(0.0).values()], [2])

    def test_two_at_other_heights_are_none(self) -> None:
        """A wedge: the ends differ by more than a twentieth of its height wherever they are along it; across it they do not."""
        wedge = Solid.hull_of(np.array([[x, y, z] for x, z in ((-100, 0), (-100, 20), (100, 0), (100, 80)) for y in (-30, 30)]))
        found = dict(hang_points(wedge, wedge.centre_of_mass))
        (one, two) = next(points for points in found.values() if len(points) == 2)
        self.assertAlmostEqual(float(one[0]), float(two[0]), places=6)
        self.assertAlmostEqual(abs(float(two[1] - one[1])), 2 * 0.9 * 30, places=6)


class Steps(unittest.TestCase):
    def test_a_group_is_what_moves_as_several_and_is_not_locked(self) -> None:
        both, one = frozenset(("a", "b")), frozenset(("a",))
        self.assertTrue(Step("a", both, None, None).is_group)
        self.assertFalse(Step("a", both, None, None, locked=True).is_group)
        self.assertFalse(Step("a", one, None, None).is_group)

    def test_what_locks_is_told_at_its_first_piece(self) -> None:
        links = {"one": square_link((0, 0, 0), "xy"), "two": square_link((30, 0, 0), "xz")}
        out = of_bodies({"x": box(20, 20, 20).moved(200, 0, 0), **links})
        (lock,) = [f for f in assembly_findings(Plan(), out) if f.code == "no-order"]
        numbers = sorted(n for u in ("one", "two") for n in out.scene.units[u].numbers)
        self.assertEqual(lock.piece, numbers[0])


if __name__ == "__main__":
    unittest.main()

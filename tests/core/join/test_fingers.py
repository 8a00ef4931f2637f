"""Fingers: how exactly they stand in notches and slots, over random shells and boxes; what they hold; how they go together."""

import math
import unittest

import numpy as np
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely.geometry import MultiPolygon

from hinoki.core.build import Build
from hinoki.core.check.pieces import BALANCE
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.apply import standing_on
from hinoki.core.join.contract.strength import Stuff
from hinoki.core.join.contract.wall_runs import even_places, wall_runs
from hinoki.core.join.joints import FingerJoint
from hinoki.core.join.joints.finger import meets_panel
from hinoki.core.join.ladders.fit_ladder import ladder
from hinoki.core.join.placing import Depths
from hinoki.core.join.sizing.recommended_sizes import suggest
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.recommend_joints import SuitWish
from hinoki.core.propose.unlock_joints import suited_together
from hinoki.core.workshop.fits import Fits
from tests.assembling import assembly, proofs
from tests.checked import findings_of
from tests.core.join.test_joint_kinds import FACE, codes, joined, measured, sides
from tests.effort import tried
from tests.shapes import COMMON, across, box, built, leaning_tube, level, plan_for, shell_of, stl_of, tube


def walls(x: float, y: float, z: float, wall: float) -> Solid:
    """A box without floor and lid."""
    return box(x, y, z).minus([Solid.box([-x / 2 + wall, -y / 2 + wall, -1], [x / 2 - wall, y / 2 - wall, z + 1])])


def cornered(solid: Solid, at: float, *joints: FingerJoint, clearance: float = 0.1) -> Build:
    """Walls with the panel beyond x = `at` parted off, and fingers of the rest in it."""
    data = stl_of(solid)
    return built(data, plan_for(data, across(1, "x", at), joints=joints, fits=Fits(snug=clearance)))


def finger(**more: object) -> FingerJoint:
    return FingerJoint(id="j1", face=FACE, **more)  # type: ignore[arg-type]


class Runs(unittest.TestCase):
    """The line in the middle of a wall: known for a ring, a rectangle, a strip."""

    def shape(self, solid: Solid, at: float) -> MultiPolygon:
        return joined(solid).faces[0].shape if at == 30 else cornered(solid, at).faces[0].shape

    def test_a_ring_is_one_closed_run_along_its_middle(self) -> None:
        (run,) = wall_runs(self.shape(tube(40, 37, 60), 30))
        self.assertTrue(run.closed)
        self.assertAlmostEqual(run.length_mm, 2 * math.pi * 38.5, delta=0.5)
        np.testing.assert_allclose(np.linalg.norm(run.middles, axis=1), 38.5, atol=0.05)
        np.testing.assert_allclose(run.thick_mm, 3.0, atol=0.05)
        self.assertTrue((run.off_ends_mm() > 1000).all())

    def test_strips_are_runs_once_each_and_their_ends_are_known(self) -> None:
        runs = wall_runs(self.shape(walls(100, 80, 50, 2), 48))
        self.assertEqual([run.closed for run in runs], [False, False])
        for run in runs:
            self.assertAlmostEqual(run.length_mm, 50, delta=2.5)
            np.testing.assert_allclose(np.abs(run.middles[:, 0]), 39, atol=0.01)
            self.assertEqual(run.off_ends_mm()[0], 0.0)
            self.assertAlmostEqual(run.off_ends_mm().max(), run.length_mm / 2, delta=1.1)

    def test_a_full_face_has_no_wall_to_be_thought_thin(self) -> None:
        data = stl_of(box(60, 60, 60))
        plan = plan_for(data, level(1, 30))
        face = built(data, plan).faces[0]
        self.assertIsNone(suggest("finger", "j1", Depths(face), "snug", standing_on(face, plan, "snug")))

    def test_places_lie_evenly(self) -> None:
        result = joined(tube(40, 38, 60), finger(count=7))
        angles = np.sort([math.degrees(math.atan2(y, x)) for x, y in result.placed[0].places])
        np.testing.assert_allclose(np.diff(angles), 360 / 7, atol=0.5)
        strip = cornered(walls(100, 80, 50, 2), 48, finger(count=6))
        heights = sorted({round(y, 1) for _, y in strip.placed[0].places})
        self.assertEqual(len(heights), 3)  # three on either wall, at equal heights
        np.testing.assert_allclose(np.diff(heights), heights[1] - heights[0], atol=0.2)

    def test_no_room_bears_no_place(self) -> None:
        self.assertEqual(even_places(MultiPolygon(), 3, 5.0), [])


class Exact(unittest.TestCase):
    """Property tests: the clearance is as asked, nothing overlaps, the outside stays, each piece is one."""

    def check(self, result: Build, clearance: float) -> None:
        gaps, there = measured(result), sides(result)
        assume(gaps)
        for gap in gaps:
            self.assertAlmostEqual(gap, clearance, delta=0.01)
        self.assertLess(there["a"].common(there["b"]).volume_mm3, 1e-4)
        together = there["a"].plus([there["b"]])
        assert result.ground is not None
        whole = result.ground.whole  # nothing beyond the model, but for a hair where walls lean: no more than is called lost
        self.assertLess(together.minus([whole]).volume_mm3, BALANCE * whole.volume_mm3)
        self.assertEqual([len(p.lumps()) for p in there.values()], [1, 1])

    @tried(6)
    @given(
        wall=st.floats(1.2, 4), radius=st.floats(25, 45), clearance=st.floats(0.05, 0.3), width=st.floats(4, 10),
        depth=st.none() | st.floats(2, 6), count=st.integers(2, 9), on=st.sampled_from(["a", "b"]),
        made=st.sampled_from(["tube", "ellipsoid", "leaning"]),
    )  # fmt: skip
    def test_in_notches_of_walls_that_curve_and_lean(  # noqa: PLR0913 - one for each measure
        self, wall: float, radius: float, clearance: float, width: float, depth: float | None, count: int, on: str, made: str
    ) -> None:
        solid = {
            "tube": lambda: tube(radius, radius - wall, 60),
            "ellipsoid": lambda: shell_of(radius, radius + 8, 40, wall).moved(0, 0, 30),
            "leaning": lambda: leaning_tube((radius, radius - wall), (radius - 12, radius - 12 - wall), 60),
        }[made]()
        joint = finger(width_mm=width, depth_mm=depth, count=count, on=on)
        self.check(joined(solid, joint, clearance=clearance), clearance)

    @tried(6)
    @given(wall=st.floats(1.2, 4), clearance=st.floats(0.05, 0.3), width=st.floats(4, 10), count=st.integers(2, 8))
    def test_in_slots_of_a_panel(self, wall: float, clearance: float, width: float, count: int) -> None:
        wall = round(wall, 2)
        solid = walls(100, 80, 50, wall)
        result = cornered(solid, 50 - wall, finger(width_mm=width, count=count), clearance=clearance)
        self.check(result, clearance)
        self.assertFalse([f for f in findings_of(result) if f.station == "join" and f.severity == "must-fix"])
        placed = result.placed[0]
        self.assertAlmostEqual(placed.joint.cut_depth_mm(placed.standing, placed.places), wall, places=3)
        for part in sides(result).values():  # through: their ends lie in the outside of the panel
            self.assertAlmostEqual(part.bounds[1][0], 50, places=3)

    def test_a_finger_trades_the_box_of_its_wall(self) -> None:
        result = cornered(walls(100, 80, 50, 2), 48, finger(width_mm=8, count=4), clearance=0.0)
        bare = cornered(walls(100, 80, 50, 2), 48)
        gained = sides(result)["a"].volume_mm3 - sides(bare)["a"].volume_mm3
        self.assertAlmostEqual(gained, 4 * 8 * 2 * 2, delta=0.05)


class Held(unittest.TestCase):
    """What fingers bear, by the textbook: F = τ·A, M = σ·Z."""

    def test_shear_and_bending_of_rectangles(self) -> None:
        result = cornered(walls(100, 80, 50, 2), 48, finger(width_mm=8, count=4))
        placed, stuff = result.placed[0], Stuff(40.0)
        holds = placed.joint.strength(placed.standing, placed.places, stuff)
        bears = placed.joint.bears(placed.standing, placed.places, stuff)
        assert holds is not None
        assert bears is not None
        # half of the strength between layers; four rectangles of 8 x 2: A = w t, Z = w t^2 / 6 the weaker way, and bent
        # obliquely, so that both edges of a corner add up, less by the root of 1 + (t / w)^2
        self.assertAlmostEqual(holds.newtons, 0.5 * 40 / math.sqrt(3) * 4 * 8 * 2, delta=0.5)
        self.assertAlmostEqual(bears.nmm, 0.5 * 40 * 4 * 8 * 2**2 / 6 / math.sqrt(1 + (2 / 8) ** 2), delta=1.0)


class Noticed(unittest.TestCase):
    def test_a_slot_that_leaves_too_thin_a_floor(self) -> None:
        self.assertIn("joint-under-line", codes(cornered(walls(100, 80, 50, 2), 48, finger(depth_mm=1.5))))
        self.assertNotIn("joint-under-line", codes(cornered(walls(100, 80, 50, 2), 48, finger())))

    def test_a_slot_that_leaves_too_thin_a_side(self) -> None:
        # a panel that stands out beyond the wall by half a millimetre; by 3 mm there is enough beside the slot
        for beyond, thin in ((0.5, True), (3.0, False), (0.0, False)):
            panel = Solid.box([48, -40 - beyond, 0], [50, 40 + beyond, 50])
            solid = walls(100, 80, 50, 2).plus([panel])
            self.assertEqual("joint-under-line" in codes(cornered(solid, 48, finger(count=4))), thin, beyond)

    def test_fingers_too_close_to_each_other(self) -> None:
        near = ((39.0, 20.0), (39.0, 28.5))
        self.assertIn("joint-finger-close", codes(cornered(walls(100, 80, 50, 2), 48, finger(width_mm=8, places=near))))
        far = ((39.0, 15.0), (39.0, 28.5))
        self.assertNotIn("joint-finger-close", codes(cornered(walls(100, 80, 50, 2), 48, finger(width_mm=8, places=far))))

    def test_a_finger_without_a_wall_behind_it(self) -> None:
        # between two windows only 2 mm of the wall are left
        holed = tube(40, 38, 60).minus([Solid.box([30, 0, 30.5], [50, 20, 50]), Solid.box([30, -20, 30.5], [50, -2, 50])])
        self.assertIn("joint-finger-wall", codes(joined(holed, finger(width_mm=8, depth_mm=6.0, places=((39.0, -1.0),)))))
        self.assertNotIn("joint-finger-wall", codes(joined(holed, finger(width_mm=8, depth_mm=6.0, places=((-39.0, -1.0),)))))


class Motions(unittest.TestCase):
    def test_straight_in_and_across_a_single_straight_wall(self) -> None:
        plate = box(100, 2, 60)
        ways = joined(plate, finger(count=3)).placed[0]
        self.assertEqual(set(ways.joint.motions(ways.standing) or ()), {(0, 0, -1), (0, 1, 0), (0, -1, 0)})

    def test_only_straight_where_walls_curve_or_stand_at_an_angle_or_in_slots(self) -> None:
        for result in (
            joined(tube(40, 38, 60), finger(count=5)),
            joined(walls(100, 80, 60, 2), finger(count=8)),
            cornered(walls(100, 80, 50, 2), 48, finger(count=4)),
        ):
            placed = result.placed[0]
            self.assertEqual(len(placed.joint.motions(placed.standing) or ()), 1)


class Chosen(unittest.TestCase):
    """A box cut into its walls gets fingers by itself, and the last wall, put on like a door, locks the rest."""

    def plan(self, wall: float) -> tuple[bytes, Plan]:
        data = stl_of(walls(100, 80, 50, wall))
        at = (
            across(1, "x", -50 + wall), across(2, "x", 50 - wall, ("p1+",)), across(3, "y", 0.0, ("p1+ p2-",)),
        )  # fmt: skip
        return data, plan_for(data, *at, fits=Fits(snug=0.1))

    def test_the_walls_of_a_box(self) -> None:
        data, plan = self.plan(1.6)
        result = built(data, plan)
        found = suited_together(result, plan, SuitWish(kind="auto"), lambda p: built(data, p), COMMON)
        self.assertEqual({j.kind for j in found.joints}, {"finger"})
        self.assertEqual(len(found.joints), 4)
        plan = plan.model_copy(update={"joints": tuple(found.joints)})
        out = assembly(built(data, plan), plan)
        self.assertEqual((out.order.locked, set(proofs(out))), ([], {"proved"}))

    def test_fingers_stand_on_the_wall_that_ends_at_the_panel(self) -> None:
        data, plan = self.plan(2.0)
        result = built(data, plan)
        for face in result.faces:
            standing = standing_on(face, plan, "snug")
            joint = suggest("finger", "j1", Depths(face), "snug", standing)
            assert isinstance(joint, FingerJoint)
            panel = "a" if face.a.key == "p1-" else "b"
            self.assertEqual((joint.female, meets_panel(standing, joint.on)), (panel, True))

    def test_smaller_thinner_and_their_names(self) -> None:
        joint = finger(width_mm=10, count=1)
        self.assertEqual((joint.label(), finger(depth_mm=3).label()), ("1 finger 10 wide", "3 fingers 6 wide, 3 deep"))
        smaller, thinner = joint.smaller(), joint.thinner(0.2)
        assert smaller is not None
        assert thinner is not None
        self.assertEqual((smaller.width_mm, thinner.width_mm), (8.0, 9.6))
        self.assertIsNone(finger(width_mm=2.2).smaller())
        self.assertIsNone(finger(width_mm=1.0).thinner(0.2))

    def test_a_ladder_of_them(self) -> None:
        made = ladder(finger(), (0.05, 0.1, 0.2), 1.2, 0.45)
        self.assertEqual(len({p.name for p in made.pieces}), 4)  # a common male and three notches, or the other way round
        self.assertTrue(all(piece.solid.volume_mm3 > 100 for piece in made.pieces))


if __name__ == "__main__":
    unittest.main()

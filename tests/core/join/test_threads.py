"""Threads between pieces: they screw in, stand upright, stop where wished, and hold in shells with a collar."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from hinoki.core.build import Build
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.clearance import measured_clearance
from hinoki.core.join.joints import FaceRef, Joint, PinJoint, ThreadJoint
from hinoki.core.plan.contents import PieceNote
from hinoki.core.propose.recommend_joints import SuitWish, suited
from hinoki.core.workshop.fits import Fits
from tests.assembling import assembly, proofs
from tests.checked import findings_of
from tests.effort import tried
from tests.shapes import box, built, level, plan_for, stl_of, tube

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
BLOCK = box(60, 60, 60)


def joined(solid: Solid, *joints: Joint, **more: object) -> Build:
    data = stl_of(solid)
    return built(data, plan_for(data, level(1, 30), joints=joints, **more))


def thread(**more: object) -> ThreadJoint:
    measures = {"diameter_mm": 24, "pitch_mm": 3, "length_mm": 12, **more}
    return ThreadJoint(id="j1", face=FACE, **measures)  # type: ignore[arg-type]


def sides(result: Build) -> tuple[Solid, Solid]:
    there = {p.key: p.solid for p in result.parts}
    return there["p1-"], there["p1+"]


def turned(solid: Solid, degrees: float, up: float) -> Solid:
    """A solid turned about the Z axis and lifted."""
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    return solid.placed(np.array([[c, -s, 0, 0], [s, c, 0, 0], [0, 0, 1.0, up]]))


def codes(result: Build) -> set[str]:
    return {f.code for f in findings_of(result) if f.station == "join" and f.severity != "note"}


class Screwing(unittest.TestCase):
    @tried(6)
    @given(
        diameter=st.floats(10, 40), pitch=st.floats(1, 3), length=st.floats(3, 20), starts=st.integers(1, 4),
        hand=st.sampled_from(["right", "left"]), on=st.sampled_from(["a", "b"]), clearance=st.floats(0.05, 0.4),
    )  # fmt: skip
    def test_any_thread_on_a_block(self, clearance: float, **more: object) -> None:
        measures = {f"{k}_mm" if k in ("diameter", "pitch", "length") else k: v for k, v in more.items()}
        result = joined(BLOCK, thread(**measures), fits=Fits(sliding=clearance))
        low, high = sides(result)
        self.assertLess(abs(low.common(high).volume_mm3), 1e-4)
        self.assertEqual([len(low.lumps()), len(high.lumps())], [1, 1])
        for piece in (low, high):
            self.assertTrue((piece.bounds[0] >= [-30, -30, -1e-6]).all())
            self.assertTrue((piece.bounds[1] <= [30, 30, 60 + 1e-6]).all())
        gap = measured_clearance(result.placed[0], {"p1-": low, "p1+": high})
        assert gap is not None
        # a helix that climbs by more than half its diameter in a turn is as steep as no screw on sale: there the chords of its
        # flanks count, and 0.0114 mm was measured
        steep = measures["starts"] * measures["pitch_mm"] > measures["diameter_mm"] / 2  # type: ignore[operator]
        self.assertAlmostEqual(gap, clearance, delta=0.013 if steep else 0.01)

    def test_unscrewing_frees_it_and_pulling_does_not(self) -> None:
        for hand, sense in (("right", 1), ("left", -1)):
            low, high = sides(joined(BLOCK, thread(hand=hand)))
            for angle in (60, 180, 360, 720):
                self.assertLess(low.common(turned(high, sense * angle, 3 * angle / 360)).volume_mm3, 0.01, (hand, angle))
            self.assertGreater(low.common(turned(high, 0, 1.5)).volume_mm3, 10, hand)
            self.assertLess(low.common(turned(high, sense * 90, 0.75)).volume_mm3, 0.01, hand)
            self.assertGreater(low.common(turned(high, -sense * 90, 0.75)).volume_mm3, 10, hand)

    def test_it_is_screwed_in(self) -> None:
        for hand, turn in (("right", 1), ("left", -1)):
            out = assembly(joined(BLOCK, thread(hand=hand)))
            motion = out.order.steps[1].motion
            assert motion is not None
            assert motion.thread is not None
            self.assertEqual((motion.kind, proofs(out)[1]), ("screw", "tried by sampling"))
            self.assertEqual(np.sign(motion.thread.by.hand), turn)

    def test_two_starts_climb_twice_as_fast(self) -> None:
        low, high = sides(joined(BLOCK, thread(starts=2)))
        self.assertLess(low.common(turned(high, 180, 3.0)).volume_mm3, 0.01)

    def test_outsides_that_line_up_are_tight_there(self) -> None:
        """Turned on by the smallest angle a thread that lines up jams; one that does not turns on by the angle it tells."""
        plain = thread(clearance_mm=0.3)
        angle = plain.tightens_deg(0.3)
        self.assertAlmostEqual(angle, 360 * 0.3 * np.tan(np.radians(30)) / 3, places=6)
        low, high = sides(joined(BLOCK, plain))
        # the faces touch, so it cannot sink: turning on draws the flanks together
        self.assertLess(low.common(turned(high, -0.9 * angle, 0)).volume_mm3, 0.05)
        self.assertGreater(low.common(turned(high, -1.3 * angle, 0)).volume_mm3, 1)
        low, high = sides(joined(BLOCK, thread(clearance_mm=0.3, lines_up=True)))
        self.assertLess(low.common(high).volume_mm3, 0.05)
        self.assertGreater(low.common(turned(high, -0.3 * angle, 0)).volume_mm3, 1)

    def test_the_plug_begins_with_a_cone_of_45_degrees(self) -> None:
        low, _ = sides(joined(BLOCK, thread()))
        top = low.bounds[1][2]
        self.assertAlmostEqual(top, 42, places=6)
        widths = [low.slice(float(top - d)).bounds[2] for d in (0.2, 0.7, 1.2)]
        for wide, d in zip(widths, (0.2, 0.7, 1.2), strict=True):
            self.assertLessEqual(wide, 12 - 0.2 - thread().chamfer_mm + d + 0.01)


class Noticed(unittest.TestCase):
    def test_a_ring_in_a_wall_thick_enough_and_one_in_a_collar(self) -> None:
        for wall, collar in ((10, False), (2, True)):
            solid = tube(40, 40 - wall, 60)
            data = stl_of(solid)
            plan = plan_for(data, level(1, 30))
            joint = suited(built(data, plan), plan, SuitWish(kind="thread")).joints[0]
            assert isinstance(joint, ThreadJoint)
            self.assertEqual((joint.collar_mm > 0, joint.bore_mm > 0, joint.fit), (collar, True, "sliding"))
            result = joined(solid, joint)
            self.assertEqual(codes(result), set(), wall)
            low, high = sides(result)
            self.assertLess(abs(low.common(high).volume_mm3), 1e-4)
            self.assertEqual([len(low.lumps()), len(high.lumps())], [1, 1])
            # the way through stays open
            open_ = (40 - wall if not collar else 40 - wall - joint.collar_mm) - 0.2
            self.assertLess(low.common(Solid.cylinder(open_, 0, 60)).volume_mm3, 1e-6)

    def test_bad_measures_are_told_with_figures(self) -> None:
        cases = {
            "thread-too-fine": thread(pitch_mm=0.5),
            "thread-thin-ring": thread(bore_mm=20),
            "joint-no-room": thread(diameter_mm=70),
            "joint-breaks-through": thread(length_mm=40, places=((0, 0),)),
        }
        for code, joint in cases.items():
            found = [f for f in findings_of(joined(BLOCK, joint)) if f.code == code]
            self.assertTrue(found, code)
            self.assertTrue(any(isinstance(v, float) for v in found[0].params.values()) or "room_for" in found[0].params)

    def test_a_pitch_that_leaves_no_core_is_refused(self) -> None:
        with self.assertRaisesRegex(ValidationError, "3.0 mm is the most"):
            thread(diameter_mm=10, pitch_mm=4)

    def test_pins_beside_a_thread_are_at_odds(self) -> None:
        pins = PinJoint(id="j2", face=FACE, count=1, places=((22, 22),))
        (odds,) = (f for f in findings_of(joined(BLOCK, thread(), pins)) if f.code == "motions-at-odds")
        self.assertEqual({odds.params["goes"], odds.params["other_goes"]}, {"turns", "straight"})

    def test_a_piece_that_lies_on_its_side_is_to_be_laid_upright(self) -> None:
        on_side = {"p1-": PieceNote(down=(1, 0, 0))}
        result = joined(BLOCK, thread(), pieces=on_side)
        finding = next(f for f in findings_of(result) if f.code == "thread-leans")
        self.assertAlmostEqual(finding.params["lean_deg"], 90)  # type: ignore[arg-type]
        fix = finding.fixes[0]
        self.assertEqual((fix.kind, fix.pieces), ("rest", ("p1-",)))
        mended = joined(BLOCK, thread(), pieces={"p1-": PieceNote(down=fix.down)})
        self.assertNotIn("thread-leans", codes(mended))


if __name__ == "__main__":
    unittest.main()


class LoosePlugs(unittest.TestCase):
    def test_a_loose_plug_screws_into_both_pieces(self) -> None:
        for hand in ("right", "left"):
            result = joined(BLOCK, thread(plug="loose", hand=hand), fits=Fits(sliding=0.2))
            placed = result.placed[0]
            (plug,) = (x.solid for x in placed.tools.loose)
            self.assertAlmostEqual(measured_clearance(placed, {p.key: p.solid for p in result.parts}) or 0, 0.2, delta=0.01)
            sign = 1 if hand == "right" else -1
            for degrees in (90, 200, 720):
                # turned about the axis it climbs by the pitch each turn, out of one socket and into the other's free end
                moved = turned(plug, sign * degrees, 3 * degrees / 360)
                self.assertLess(moved.common(sides(result)[0]).volume_mm3, 1e-3, (hand, degrees))
                pulled = plug.moved(0, 0, 1.0)
                self.assertGreater(pulled.common(sides(result)[0]).volume_mm3, 1)

    def test_it_is_a_loose_part_with_spares_and_no_side_of_its_own(self) -> None:
        result = joined(BLOCK, thread(plug="loose", spares=2))
        (loose,) = result.loose
        self.assertEqual((loose.name, loose.count, loose.spares), ("threaded plug 24 × 3, 24 long", 1, 2))
        self.assertIsNone(result.placed[0].joint.stands_on)
        self.assertAlmostEqual(loose.size_mm[2], 24, delta=0.01)
        self.assertIn("loose plug", result.placed[0].joint.label())

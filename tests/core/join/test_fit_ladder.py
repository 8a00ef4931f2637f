"""Fit ladders: exact clearances on every rung, numbered pieces that do not touch, and what answers tell."""

import unittest

import numpy as np
from hypothesis import example, given
from hypothesis import strategies as st
from pydantic import ValidationError

from hinoki.core.errors import BadPlan
from hinoki.core.formats.registry import read_file
from hinoki.core.join.joints import (
    ButtJoint,
    DovetailJoint,
    DowelJoint,
    FaceRef,
    Joint,
    KeyJoint,
    LatchJoint,
    LipJoint,
    MagnetJoint,
    PinJoint,
    RailJoint,
    ThreadJoint,
    TongueJoint,
)
from hinoki.core.join.ladders.fit_ladder import Ladder, clearances, ladder
from hinoki.core.workshop.fit_ladder_answers import ANSWERS, Answer, Answers, learned
from hinoki.core.workshop.materials import Material
from hinoki.core.workshop.printers import presets
from tests.effort import tried

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
EVERY: tuple[Joint, ...] = tuple(
    kind(id="j1", face=FACE)  # type: ignore[operator]
    for kind in (
        PinJoint,
        DowelJoint,
        DovetailJoint,
        KeyJoint,
        LipJoint,
        TongueJoint,
        ThreadJoint,
        MagnetJoint,
        RailJoint,
        LatchJoint,
    )
)


def made(joint: Joint, low: float = 0.05, high: float = 0.3, rungs: int = 4) -> Ladder:
    return ladder(joint, clearances(low, high, rungs), 1.6, 0.45)


class Pieces(unittest.TestCase):
    def test_every_kind_has_a_ladder_of_small_closed_numbered_pieces(self) -> None:
        for joint in EVERY:
            with self.subTest(joint.kind):
                found = made(joint)
                for piece in found.pieces:
                    self.assertEqual(len(piece.solid.lumps()), 1, piece.name)
                    self.assertLess(float(piece.solid.size.max()), 45, piece.name)
                    self.assertAlmostEqual(float(piece.solid.bounds[0][2]), 0, places=6)
                self.assertEqual({r for p in found.pieces for r in p.rungs}, {1, 2, 3, 4})

    def test_pieces_lie_apart(self) -> None:
        for joint in EVERY:
            found = made(joint, rungs=9)
            laid = [p.solid.moved(x, y, 0) for p, (x, y) in zip(found.pieces, found.shifts_mm, strict=True)]
            for k, one in enumerate(laid):
                for other in laid[k + 1 :]:
                    gap = np.maximum(one.bounds[0] - other.bounds[1], other.bounds[0] - one.bounds[1])[:2].max()
                    self.assertGreaterEqual(gap, 4 - 1e-6, joint.kind)

    def test_one_pin_serves_all_bores_and_one_socket_all_plugs(self) -> None:
        pins, threads = made(EVERY[0]), made(EVERY[6])
        self.assertEqual([p.name for p in pins.pieces if len(p.rungs) > 1], ["plug, for all"])
        self.assertEqual([p.name for p in threads.pieces if len(p.rungs) > 1], ["socket, for all"])
        self.assertEqual(len(pins.pieces), 5)

    def test_the_bore_of_every_rung_is_wider_by_its_clearance(self) -> None:
        joint = PinJoint(id="j1", face=FACE, diameter_mm=6, length_mm=8)
        found = made(joint, 0.0, 0.4, 5)
        for piece, clearance in zip([p for p in found.pieces if len(p.rungs) == 1], found.clearances_mm, strict=True):
            top = float(piece.solid.bounds[1][2])
            (section,) = piece.solid.slice(top - 0.5).geoms
            (ring,) = section.interiors
            across = np.ptp(np.asarray(ring.coords)[:, 0])
            self.assertAlmostEqual(float(across) / 2, 3 + clearance, delta=0.011)

    def test_glue_has_no_ladder(self) -> None:
        with self.assertRaisesRegex(BadPlan, "no fit to be tried"):
            made(ButtJoint(id="j1", face=FACE))

    def test_senseless_steps_are_refused_in_words(self) -> None:
        for low, high, rungs, words in ((0.3, 0.1, 5, "smaller to a larger"), (0.0, 9.0, 5, "2 mm"), (0.0, 0.3, 12, "3 to 9")):
            with self.assertRaisesRegex(BadPlan, words):
                clearances(low, high, rungs)

    def test_it_prints_in_minutes_and_its_file_holds_all_pieces(self) -> None:
        found = made(EVERY[2], rungs=6)
        self.assertLess(found.mass_g(Material()), 40)
        self.assertTrue(3 < found.minutes(presets()[1]) < 120)
        self.assertEqual(found.file(), made(EVERY[2], rungs=6).file())
        mesh = read_file(found.file(), "ladder.3mf").mesh
        self.assertEqual(len(mesh.faces), sum(p.solid.triangles for p in found.pieces))


class Told(unittest.TestCase):
    """Answers made from a known truth: each class begins at a clearance of its own."""

    def answers(self, steps: tuple[float, ...], begins: tuple[float, ...]) -> Answers:
        return Answers(clearances_mm=list(steps), answers=[ANSWERS[sum(c >= b for b in begins)] for c in steps])

    @tried(60)
    @example(first=0.050261, widths=(0.05, 0.05, 0.05), rungs=7)  # what is told was rounded more than the rungs are
    @given(first=st.floats(0.03, 0.08), widths=st.tuples(*[st.floats(0.05, 0.1)] * 3), rungs=st.integers(7, 9))
    def test_it_finds_the_truth_between_the_rungs(self, first: float, widths: tuple[float, ...], rungs: int) -> None:
        begins = tuple(float(b) for b in np.cumsum([first, *widths]))
        steps = clearances(0.0, 0.4, rungs)
        step = steps[1] - steps[0]
        found = learned(self.answers(steps, begins))
        values = []
        for one, low, high in zip(found, begins, (*begins[1:], begins[3]), strict=True):
            assert one.clearance_mm is not None
            self.assertTrue(low - step <= one.clearance_mm <= high + step, one)
            values.append(one.clearance_mm)
        self.assertEqual(values, sorted(values))

    def test_a_slip_is_evened_out(self) -> None:
        slipped: list[Answer] = ["force", "slides", "hand", "slides", "rattles"]
        found = {f.fit: f.clearance_mm for f in learned(Answers(clearances_mm=[0.05, 0.1, 0.15, 0.2, 0.25], answers=slipped))}
        self.assertEqual(found["press"], 0.05)
        self.assertTrue(0.05 <= (found["snug"] or 0) <= (found["sliding"] or 0) <= 0.2)
        self.assertEqual(found["loose"], 0.25)

    def test_what_the_ladder_does_not_reach_is_left_open(self) -> None:
        found = learned(Answers(clearances_mm=[0.05, 0.1, 0.15], answers=["no", "no", "force"]))
        self.assertEqual([f.clearance_mm for f in found], [0.15, None, None, None])
        self.assertIn("looser than the last rung", found[3].why)

    def test_a_class_no_rung_belongs_to_lies_between(self) -> None:
        found = learned(Answers(clearances_mm=[0.05, 0.1, 0.2], answers=["force", "force", "slides"]))
        self.assertEqual(found[1].clearance_mm, 0.15)
        self.assertIn("between rungs 2 and 3", found[1].why)

    def test_answers_that_do_not_match_the_rungs_are_refused(self) -> None:
        with self.assertRaisesRegex(ValidationError, "one answer"):
            Answers(clearances_mm=[0.1, 0.2, 0.3], answers=["no", "no", "no", "no"])
        with self.assertRaisesRegex(ValidationError, "rise from rung"):
            Answers(clearances_mm=[0.1, 0.1, 0.3], answers=["no", "no", "no"])


if __name__ == "__main__":
    unittest.main()

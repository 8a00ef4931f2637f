"""What is offered where a joint has no room, and what is made thinner where one side is printed already, by its figures."""

import unittest

from hinoki.core.join.joints import FaceRef, KeyJoint, LipJoint, PinJoint, ScrewJoint, ThreadJoint
from hinoki.core.join.sizing.turned_sizing import thread_lengths

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


class Smaller(unittest.TestCase):
    def test_a_peg_is_as_much_shorter_as_it_is_slimmer_in_half_millimetres(self) -> None:
        for diameter, length, smaller in ((6.0, 9.0, (5.0, 7.5)), (5.0, 8.0, (4.0, 6.5)), (4.6, 6.0, (4.0, 5.0))):
            peg = PinJoint(id="j1", face=FACE, diameter_mm=diameter, length_mm=length).smaller()
            assert isinstance(peg, PinJoint)
            self.assertEqual((peg.diameter_mm, peg.length_mm), smaller)

    def test_a_peg_is_never_less_than_a_millimetre_long(self) -> None:
        peg = PinJoint(id="j1", face=FACE, diameter_mm=4.0, length_mm=1.0).smaller()
        assert isinstance(peg, PinJoint)
        self.assertEqual(peg.length_mm, 1.0)

    def test_a_thread_is_the_next_of_iso_261_with_its_coarse_pitch(self) -> None:
        """ISO 261 (from memory): below M24 × 3 comes M22 × 2.5, below M20 × 2.5 M18 × 2.5."""
        for diameter, length, smaller in ((24.0, 12.0, (22.0, 2.5, 11.0)), (20.0, 10.0, (18.0, 2.5, 9.0))):
            thread = ThreadJoint(id="j1", face=FACE, diameter_mm=diameter, pitch_mm=3, length_mm=length).smaller()
            assert isinstance(thread, ThreadJoint)
            self.assertEqual((thread.diameter_mm, thread.pitch_mm, thread.length_mm), smaller)
        self.assertIsNone(ThreadJoint(id="j1", face=FACE, diameter_mm=6, pitch_mm=1, length_mm=6).smaller())
        ring = ThreadJoint(id="j1", face=FACE, diameter_mm=24, pitch_mm=3, length_mm=12, bore_mm=10)
        self.assertIsNone(ring.smaller())

    def test_a_screw_is_the_size_below_and_the_smallest_has_none(self) -> None:
        screw = ScrewJoint(id="j1", face=FACE, size="M4").smaller()
        assert isinstance(screw, ScrewJoint)
        self.assertEqual(screw.size, "M3")
        self.assertIsNone(ScrewJoint(id="j1", face=FACE, size="M2").smaller())

    def test_a_lip_is_a_millimetre_lower_and_a_low_one_has_none(self) -> None:
        lip = LipJoint(id="j1", face=FACE, height_mm=3.5).smaller()
        assert isinstance(lip, LipJoint)
        self.assertEqual(lip.height_mm, 2.5)
        self.assertIsNone(LipJoint(id="j1", face=FACE, height_mm=1.5).smaller())


class Thinner(unittest.TestCase):
    def test_a_key_is_thinner_all_round_and_its_flanks_lean_as_before(self) -> None:
        key = KeyJoint(id="j1", face=FACE, length_mm=10, end_mm=6, waist_mm=4, thickness_mm=3)
        thin = key.thinner(0.1)
        assert isinstance(thin, KeyJoint)
        self.assertAlmostEqual(thin.length_mm, 9.8)
        self.assertAlmostEqual(thin.thickness_mm, 2.9)
        self.assertAlmostEqual((thin.end_mm - thin.waist_mm) / thin.length_mm, 0.2)
        self.assertAlmostEqual(4 - thin.waist_mm, 0.2 * 1.04**0.5, places=6)
        self.assertIsNone(key.thinner(1.6))


class Engagement(unittest.TestCase):
    def test_threads_are_firm_first_and_then_three_turns(self) -> None:
        """Six tenths and nine twentieths of the diameter in half millimetres; three turns where that is less, 6 mm at least."""
        self.assertEqual(thread_lengths(20.0, 2.5), [12.0, 9.0, 7.5])
        self.assertEqual(thread_lengths(40.0, 3.0), [24.0, 18.0, 9.0])
        self.assertEqual(thread_lengths(10.0, 1.5), [6.0, 5.0])
        self.assertEqual(thread_lengths(30.0, 1.5), [18.0, 13.5, 6.0])


if __name__ == "__main__":
    unittest.main()

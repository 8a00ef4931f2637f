"""The corpus that Hinoki's own choices are judged by: what is measured is right on divisions that are plain."""

import unittest

import numpy as np

from bench.corpus.entry import Wants
from bench.corpus.figures_of import least_pieces, missed, weakest
from bench.corpus.models import ENTRIES, mesh_of
from hinoki.core.build import Build
from hinoki.core.check.joined_seams import joined_seams
from hinoki.core.join.joints import ButtJoint, FaceRef, LipJoint, PinJoint, TongueJoint
from hinoki.core.workshop.materials import GRAVITY
from tests.shapes import across, box, built, level, plan_for, stl_of, tube

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


def halves(at: float, *joints: object, axis: str = "z") -> Build:
    """A board of 200 × 60 × 40 in two."""
    data = stl_of(box(200, 60, 40))
    parting = level(1, at) if axis == "z" else across(1, axis, at)
    return built(data, plan_for(data, parting, joints=joints))


class Models(unittest.TestCase):
    def test_there_are_many_of_many_families_each_with_a_name_of_its_own(self) -> None:
        self.assertGreaterEqual(len(ENTRIES), 40)
        self.assertEqual(len({e.name for e in ENTRIES}), len(ENTRIES))
        self.assertGreaterEqual(len({e.family for e in ENTRIES}), 10)

    def test_what_is_to_stay_whole_lies_in_the_model_and_what_is_called_symmetric_is(self) -> None:
        quick = [e for e in ENTRIES if e.family in ("shells", "round", "boxes", "lattices", "vehicles")]
        for entry in quick:
            mesh = mesh_of(entry)
            low, high = mesh.bounds
            for least, most in entry.wants.clear:
                self.assertTrue((np.array(least) < high).all() and (np.array(most) > low).all(), entry.name)
            if entry.wants.mirror is not None:
                axis = "xyz".index(entry.wants.mirror)
                middles = mesh.vertices[mesh.faces].mean(axis=1) * np.linalg.norm(mesh.face_vectors, axis=1)[:, None]
                about = float(middles[:, axis].sum() / np.linalg.norm(mesh.face_vectors, axis=1).sum())
                self.assertAlmostEqual(about, (low[axis] + high[axis]) / 2, delta=1.0, msg=entry.name)


class Measured(unittest.TestCase):
    def test_never_fewer_than_whole_rooms_along_every_axis_turned_as_suits(self) -> None:
        self.assertEqual(least_pieces(np.array([400.0, 200, 100]), np.array([200.0, 200, 200])), 2)
        self.assertEqual(least_pieces(np.array([100.0, 200, 401]), np.array([200.0, 200, 200])), 3)
        self.assertEqual(least_pieces(np.array([300.0, 100, 100]), np.array([100.0, 100, 300])), 1)

    def test_a_seam_is_held_so_far_to_either_side_of_an_element(self) -> None:
        bare = halves(20, ButtJoint(id="j1", face=FACE))
        self.assertEqual([share for _, share in joined_seams(bare)], [0.0])
        one = halves(20, PinJoint(id="j1", face=FACE, places=((0.0, 0.0),)))
        ((long, near),) = joined_seams(one)
        self.assertAlmostEqual(long, 520.0, places=6)
        # both long sides, 30 mm away, within 40 mm of the middle
        self.assertAlmostEqual(near, 4 * (40**2 - 30**2) ** 0.5, delta=0.5)

    def test_what_runs_along_a_line_holds_as_far_as_it_runs(self) -> None:
        long_one = TongueJoint(id="j1", face=FACE, ends="through", along_deg=0.0)
        self.assertEqual([round(near / long, 9) for long, near in joined_seams(halves(20, long_one))], [1.0])

    def test_what_runs_along_the_outline_holds_all_of_it(self) -> None:
        data = stl_of(tube(40, 34, 60))
        lip = built(data, plan_for(data, level(1, 30), joints=(LipJoint(id="j1", face=FACE),)))
        self.assertEqual([round(near / long, 9) for long, near in joined_seams(lip)], [1.0])

    def test_the_weakest_seam_is_told_in_times_its_load(self) -> None:
        made = halves(30.0, PinJoint(id="j1", face=FACE, count=2), axis="x")
        strong = weakest(made, 0.0)
        assert strong is not None
        weight = 70 * 60 * 40 * 1.24e-6 * GRAVITY
        arm = float(np.linalg.norm([70, 30, 20]))  # from the middle of the seam to a far corner
        self.assertAlmostEqual(weakest(made, 10.0) or 0, strong * 35 * weight / (35 * weight + 10 * arm), delta=1e-3 * strong)
        self.assertIsNone(weakest(halves(20), 10.0))

    def test_a_division_in_the_middle_is_symmetric_and_one_beside_it_is_not(self) -> None:
        for at, said in ((0.0, ()), (30.0, ("symmetry",))):
            self.assertEqual(missed(halves(at, axis="x"), Wants(mirror="x"), 2), said)
        self.assertEqual(missed(halves(30.0, axis="x"), Wants(mirror="y"), 2), ())

    def test_a_seam_through_what_is_to_stay_whole_and_too_many_pieces_are_told(self) -> None:
        face = Wants(clear=(((-10, -40, 10), (10, -20, 30)),))
        self.assertEqual(missed(halves(0.0, axis="x"), face, 2), ("seam through what is to be whole",))
        self.assertEqual(missed(halves(60.0, axis="x"), face, 2), ())
        self.assertEqual(missed(halves(0.0, axis="x"), Wants(over_bound=1.5), 1), ())
        self.assertEqual(missed(halves(0.0, axis="x"), Wants(over_bound=1.0), 1), ("pieces",))


if __name__ == "__main__":
    unittest.main()

"""Wedges and lumps: what they leave, how it is named, where it mates."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import part_model
from hinoki.core.divide.mating_faces import mating_faces
from hinoki.core.divide.partings import LumpsParting, WedgesParting
from hinoki.core.geometry.solid import Solid
from hinoki.core.propose.recommend_joints import suggested
from tests.assembling import assembly, numbers_of, proofs, way_in
from tests.checked import findings_of
from tests.core.divide.test_partings import keys, parted
from tests.effort import tried
from tests.shapes import across, box, built, level, plan_for, stl_of, torus, tube

RING = tube(150, 120, 30)
"""a ring of 300 mm across"""


class Wedges(unittest.TestCase):
    def test_a_ring_of_300_mm_divides_into_four_of_150(self) -> None:
        # trade fact (common practice): four 90° wedges, each 150 × 150 mm; volumes a quarter each
        result = parted(RING, WedgesParting(id="p1", count=4))
        self.assertEqual(keys(result), ["p1:0", "p1:1", "p1:2", "p1:3"])
        for part in result.parts:
            self.assertAlmostEqual(float(part.solid.size[0]), 150, delta=0.1)
            self.assertAlmostEqual(float(part.solid.size[1]), 150, delta=0.1)
            self.assertAlmostEqual(part.solid.volume_mm3 / RING.volume_mm3, 0.25, places=6)

    def test_half_a_turn_ends_at_one_plane_with_a_piece_on_either_side(self) -> None:
        sides = [[end.side for end in part.ends] for part in parted(RING, WedgesParting(id="p1", count=2)).parts]
        self.assertEqual(sorted(sides), [[-1], [1]])

    def test_neighbours_mate_and_only_they(self) -> None:
        for count in (2, 3, 4, 7):
            parts = part_model(RING, "ring", (WedgesParting(id="p1", count=count),), Cache()).parts
            pairs = sorted(tuple(sorted((f.a.key, f.b.key))) for f in mating_faces(parts, Cache()))
            if count == 2:
                self.assertEqual(pairs, [("p1:0", "p1:1")])
                continue
            expected = sorted(tuple(sorted((f"p1:{k}", f"p1:{(k + 1) % count}"))) for k in range(count))
            self.assertEqual(pairs, expected)

    def test_a_face_of_a_wedge_is_the_rings_section(self) -> None:
        parts = part_model(RING, "ring", (WedgesParting(id="p1", count=5, start_deg=17),), Cache()).parts
        for face in mating_faces(parts, Cache()):
            self.assertAlmostEqual(face.shape.area, 30 * 30, delta=0.5)

    def test_another_hub_is_another_cut(self) -> None:
        cache = Cache()
        disc = Solid.cylinder(100, 0, 20)
        sizes = []
        for hub in (30.0, 50.0):
            parts = part_model(disc, "disc", (WedgesParting(id="p1", count=3, hub_mm=hub),), cache).parts
            sizes.append(round(float(parts[0].solid.size[0])))
        self.assertEqual(sizes, [60, 100])

    def test_a_hub_is_kept_whole(self) -> None:
        disc = Solid.cylinder(100, 0, 20)
        result = parted(disc, WedgesParting(id="p1", count=3, hub_mm=30))
        self.assertEqual(keys(result), ["p1:h", "p1:0", "p1:1", "p1:2"])
        self.assertAlmostEqual(float(result.parts[0].solid.size[0]), 60, delta=0.1)
        self.assertAlmostEqual(sum(p.solid.volume_mm3 for p in result.parts) / disc.volume_mm3, 1, places=9)

    def test_a_hub_goes_all_the_way_up_a_tall_model(self) -> None:
        result = parted(Solid.cylinder(20, 0, 400), WedgesParting(id="p1", count=3, hub_mm=8))
        self.assertEqual(keys(result)[0], "p1:h")
        self.assertAlmostEqual(float(result.parts[0].solid.size[2]), 400, places=6)

    def test_angles_one_by_one_even_over_half_a_turn(self) -> None:
        result = parted(RING, WedgesParting(id="p1", angles_deg=(0, 30, 100)))
        shares = [p.solid.volume_mm3 / RING.volume_mm3 for p in result.parts]
        for share, degrees in zip(shares, (30, 70, 260), strict=True):
            self.assertAlmostEqual(share, degrees / 360, places=4)

    def test_wedges_off_the_model_leave_no_trace(self) -> None:
        result = parted(box(10, 10, 10).moved(50, 50, 0), WedgesParting(id="p1", count=4))
        self.assertEqual(keys(result), ["whole"])
        self.assertEqual([f.code for f in result.findings], ["parting-misses"])

    @tried(12)
    @given(
        count=st.integers(2, 12),
        start=st.floats(-180, 180),
        axis=st.sampled_from(["x", "y", "z"]),
        at=st.tuples(st.floats(-10, 10), st.floats(-10, 10)),
        hub=st.sampled_from([0.0, 6.0]),
    )
    def test_volumes_add_up_and_every_piece_is_closed(
        self, count: int, start: float, axis: str, at: tuple[float, float], hub: float
    ) -> None:
        solid = Solid.from_mesh(torus(30, 9, 40, 20, 1.0))
        wedges = WedgesParting(id="p1", count=count, start_deg=start, axis=axis, through_mm=at, hub_mm=hub)  # type: ignore[arg-type]
        parts = parted(solid, wedges).parts
        self.assertAlmostEqual(sum(p.solid.volume_mm3 for p in parts) / solid.volume_mm3, 1, places=6)
        self.assertTrue(all(p.solid.mesh.edges.closed for p in parts))

    def test_a_hub_slides_into_its_ring_along_the_axis(self) -> None:
        data = stl_of(Solid.cylinder(100, 0, 20))
        basin = ("p1:h",)
        plan = plan_for(data, WedgesParting(id="p1", count=4, start_deg=45, hub_mm=50), across(2, "x", 0, only=basin))
        out = assembly(built(data, plan))
        self.assertEqual(proofs(out), ["proved"] * 6)
        last = out.order.steps[-1]
        np.testing.assert_allclose(way_in(last), [0, 0, -1], atol=1e-6)
        self.assertEqual(len(numbers_of(out, last.units)), 2)

    def test_counts_and_angles_that_make_no_sense(self) -> None:
        for count in (0, 1, 1000):
            with self.assertRaises(ValidationError):
                WedgesParting(id="p1", count=count)
        with self.assertRaisesRegex(ValidationError, "within 1°"):
            WedgesParting(id="p1", angles_deg=(10, 10.5, 200))
        with self.assertRaisesRegex(ValidationError, "within 1°"):
            WedgesParting(id="p1", angles_deg=(0, 359.8))

    def test_wedges_are_pinned_numbered_and_balanced_like_any_parting(self) -> None:
        data = stl_of(RING)
        plan = plan_for(data, WedgesParting(id="p1", count=4), level(2, 15))
        plan = suggested(built(data, plan), plan, "pin", "snug")
        result = built(data, plan)
        self.assertEqual(len(result.pieces), 8)
        self.assertTrue(all(p.fits for p in result.pieces))
        assert result.balance is not None
        self.assertLess(result.balance.relative_error, 1e-6)
        self.assertEqual({j.joint.face for j in result.placed}, {f.ref for f in result.faces})
        self.assertEqual([f.code for f in findings_of(result) if f.severity == "must-fix"], [])


class Lumps(unittest.TestCase):
    def test_separate_lumps_become_pieces(self) -> None:
        two = box(20, 20, 20).plus([box(10, 10, 10).moved(40, 0, 0)])
        result = parted(two, LumpsParting(id="p1"))
        self.assertEqual(keys(result), ["p1:0", "p1:1"])
        self.assertEqual(sorted(round(p.solid.volume_mm3) for p in result.parts), [1000, 8000])

    def test_one_lump_with_a_cavity_stays_one(self) -> None:
        hollow = box(20, 20, 20).minus([box(10, 10, 10).moved(0, 0, 5)])
        self.assertEqual(keys(parted(hollow, LumpsParting(id="p1"))), ["whole"])

    def test_lumps_can_be_parted_further(self) -> None:
        two = box(20, 20, 20).plus([box(10, 10, 30).moved(40, 0, 0)])
        result = parted(two, LumpsParting(id="p1"), level(2, 25, only=("p1:1",)))
        self.assertEqual(len(result.parts), 3)


if __name__ == "__main__":
    unittest.main()

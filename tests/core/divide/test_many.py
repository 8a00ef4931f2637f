"""Much of everything: 500 partings, 2 000 lumps, counts without sense; none hangs and none is lost."""

import unittest
from unittest import mock

import numpy as np
from pydantic import ValidationError

from hinoki.core.cache import Cache
from hinoki.core.divide.cut import MOST_PIECES, part_model
from hinoki.core.divide.partings import EvenParting, LumpsParting, WedgesParting
from hinoki.core.errors import BadPlan, Cancelled
from hinoki.core.geometry.mesh import Mesh, stacked
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.plan import plan_from
from tests.core.divide.test_partings import keys, parted
from tests.effort import either
from tests.shapes import box, level, plan_for, stl_of, tube


def gravel(count: int) -> Solid:
    """So many small boxes, every tenth a speck."""
    one = box(2, 2, 2).mesh
    spots = [(k % 50 * 4.0, k // 50 * 4.0, 0.0) for k in range(count)]
    return Solid.from_mesh(
        stacked([Mesh(one.vertices * (0.2 if k % 10 == 0 else 1.0) + spot, one.faces) for k, spot in enumerate(spots)])
    )


class Many(unittest.TestCase):
    def test_five_hundred_partings_work_and_one_more_is_refused_in_a_sentence(self) -> None:
        data = stl_of(box(10, 10, 501))
        plan = plan_for(data, *(level(k, float(k)) for k in range(1, 501)))
        many = either(150, 500)
        self.assertEqual(len(parted(box(10, 10, 501), *plan.partings[:many]).parts), many + 1)
        document = plan.model_dump(mode="json", by_alias=True)
        document["partings"] = document["partings"] + [document["partings"][-1] | {"id": "p501"}]
        with self.assertRaisesRegex(BadPlan, "partings"):
            plan_from(document)

    def test_two_thousand_lumps_become_pieces_and_more_are_refused(self) -> None:
        many = either(300, MOST_PIECES)
        with mock.patch("hinoki.core.divide.cut.MOST_PIECES", many):
            self.assertEqual(len(parted(gravel(many), LumpsParting(id="p1")).parts), many)
            with self.assertRaisesRegex(BadPlan, f"more than {many} pieces"):
                parted(gravel(many + 1), LumpsParting(id="p1"))
        self.assertEqual(MOST_PIECES, 2000)

    def test_specks_stay_with_their_neighbour_or_are_dropped(self) -> None:
        near = parted(gravel(200), LumpsParting(id="p1", speck_mm3=1.0))
        self.assertEqual(len(near.parts), 180)
        self.assertAlmostEqual(sum(p.solid.volume_mm3 for p in near.parts), gravel(200).volume_mm3, places=6)
        gone = parted(gravel(200), LumpsParting(id="p1", speck_mm3=1.0, specks="drop"))
        self.assertEqual(len(gone.parts), 180)
        self.assertAlmostEqual(gone.lost_mm3, 20 * 0.4**3, places=6)
        self.assertEqual([f.code for f in gone.findings], ["specks"])
        every = parted(gravel(20), LumpsParting(id="p1", speck_mm3=100.0))
        self.assertEqual(
            ([f.code for f in every.findings if f.severity != "must-fix"], keys(every)), (["lumps-all-specks"], ["whole"])
        )

    def test_counts_without_sense_are_refused(self) -> None:
        for count in (0, 1, 1000):
            with self.assertRaises(ValidationError):
                WedgesParting(id="p1", count=count)
            if count != 1000:
                with self.assertRaises(ValidationError):
                    EvenParting(id="p1", axis="z", parts=count)
        with self.assertRaisesRegex(BadPlan, "200 is the most"):
            parted(box(10, 10, 1000), EvenParting(id="p1", axis="z", greatest_mm=0.5))

    def test_a_build_can_be_stopped_while_it_cuts(self) -> None:
        calls = []

        def stop(fraction: float, _phrase: str) -> None:
            calls.append(fraction)
            if len(calls) > 20:
                raise Cancelled("Stopped.")

        with self.assertRaises(Cancelled):
            part_model(box(10, 10, 501), "a", [level(k, float(k)) for k in range(1, 501)], Cache(), stop)
        self.assertEqual(len(calls), 21)


class Even(unittest.TestCase):
    def test_along_any_direction(self) -> None:
        result = parted(box(100, 40, 60), EvenParting(id="p1", axis="z", tilt_deg=(0, 30), parts=4))
        self.assertEqual(len(result.parts), 4)
        along = EvenParting(id="p1", axis="z", tilt_deg=(0, 30), parts=4).direction
        spans = [np.ptp(p.solid.mesh.vertices @ along) for p in result.parts]
        np.testing.assert_allclose(spans, spans[0], rtol=1e-9)

    def test_first_and_last_by_hand_and_even_between(self) -> None:
        by_hand = EvenParting(id="p1", axis="x", parts=5, first_mm=-40, last_mm=35)
        sizes = [round(float(p.solid.size[0]), 6) for p in parted(box(100, 40, 60), by_hand).parts]
        self.assertEqual(sizes, [10, 25, 25, 25, 15])
        only_first = EvenParting(id="p1", axis="x", greatest_mm=30, first_mm=-40)
        sizes = [round(float(p.solid.size[0]), 6) for p in parted(box(100, 40, 60), only_first).parts]
        self.assertEqual(sizes, [10, 30, 30, 30])

    def test_by_hand_outside_the_model_is_refused_in_a_sentence(self) -> None:
        with self.assertRaisesRegex(BadPlan, "first cut of P1, set by hand at 80.0 mm, misses"):
            parted(box(100, 40, 60), EvenParting(id="p1", axis="x", parts=3, first_mm=80))
        with self.assertRaisesRegex(ValidationError, "beyond the first"):
            EvenParting(id="p1", axis="x", parts=4, first_mm=10, last_mm=5)

    def test_the_mirrored_row_has_the_mirrored_lengths(self) -> None:
        row = EvenParting(id="p1", axis="x", parts=4, first_mm=-40, last_mm=20)
        one = [round(float(p.solid.size[0]), 6) for p in parted(box(100, 40, 60), row).parts]
        two = [round(float(p.solid.size[0]), 6) for p in parted(box(100, 40, 60), row.mirrored(0, 0.0)).parts]
        self.assertEqual(one, two[::-1])

    def test_the_mirrored_wedges_part_a_ring_alike(self) -> None:
        wedges = WedgesParting(id="p1", count=3, start_deg=10, through_mm=(5, 0))
        ring = tube(50, 30, 20)
        mirrored = wedges.mirrored(0, 0.0)
        self.assertEqual(mirrored.through_mm, (-5.0, 0.0))
        one = sorted(p.solid.volume_mm3 for p in parted(ring, wedges).parts)
        two = sorted(p.solid.volume_mm3 for p in parted(ring, mirrored).parts)
        np.testing.assert_allclose(one, two, rtol=1e-6)


if __name__ == "__main__":
    unittest.main()

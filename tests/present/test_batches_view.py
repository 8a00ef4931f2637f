"""Batches as screens and reports tell them: sums, stock that runs out, what fits no bed, a file each."""

import json
import unittest

from hinoki.core.batch.batches import batched
from hinoki.core.batch.print_plan import printing_of
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.formats.registry import read_file
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import DowelJoint, FaceRef
from hinoki.core.plan.batch_settings import Batching
from hinoki.core.plan.plan import Plan
from hinoki.core.workshop.materials import Material
from hinoki.present.batches import batches_view
from tests.presented import exported
from tests.shapes import box, built, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
BLOCK = box(60, 50, 60)


def made(*joints: object, **more: object) -> tuple[Plan, Build]:
    data = stl_of(BLOCK)
    plan = plan_for(data, level(1, 30), joints=joints, bed=(100, 100, 100), **more)
    return plan, built(data, plan)


class Told(unittest.TestCase):
    def test_a_batch_is_as_long_as_its_pieces_with_layers_shared(self) -> None:
        plan, result = made()
        view = batches_view(batched(plan, result, Cache()), plan)
        self.assertAlmostEqual(view.took.mass_g, sum(t.took.mass_g for b in view.batches for t in b.things), delta=0.2)
        for batch in view.batches:
            self.assertLessEqual(batch.took.minutes, sum(t.took.minutes for t in batch.things) + 0.1)
            self.assertTrue(batch.took.minutes_low < batch.took.minutes < batch.took.minutes_high)

    def test_stock_that_runs_out_is_told_with_the_batch(self) -> None:
        plan, result = made(material=Material(stock_g=40.0), batching=Batching(most_hours=0.5))
        said = batches_view(batched(plan, result, Cache()), plan).said
        self.assertRegex(said[0], r"will run out in batch 1|will run out in batch 2")

    def test_a_piece_that_fits_no_bed_is_left_over_and_said(self) -> None:
        data = stl_of(box(150, 40, 40))
        plan = plan_for(data, bed=(100, 100, 100))
        view = batches_view(batched(plan, built(data, plan), Cache()), plan)
        self.assertEqual((view.batches, view.left_over), ([], ["1 Piece 1"]))
        self.assertIn("fits no bed", view.said[0])

    def test_each_batch_is_a_file_with_everything_named_and_placed(self) -> None:
        plan, result = made(DowelJoint(id="j1", face=FACE, count=2))
        files = exported(result, printing_of(plan, result, Cache()))
        report = json.loads(files["report.json"])
        for told in report["batches"]:
            read = read_file(files[told["file"]], "a.3mf")
            self.assertEqual(len(read.objects), len(told["placements"]))
            low, high = read.mesh.bounds
            self.assertTrue((low > -1e-3).all())
            self.assertTrue((high[:2] < 100 + 1e-3).all())
            self.assertAlmostEqual(float(low[2]), 0, delta=1e-3)
            for a, b in ((x, y) for k, x in enumerate(read.objects) for y in read.objects[k + 1 :]):
                self.assertEqual(Solid.from_mesh(a.mesh).common(Solid.from_mesh(b.mesh)).volume_mm3, 0)
        self.assertEqual(sorted(n for b in report["batches"] for n in b["pieces"]), [1, 2])
        self.assertTrue(all(p["estimate"]["mass_g"] > 0 and p["resting"]["height_mm"] == 30 for p in report["pieces"]))


if __name__ == "__main__":
    unittest.main()

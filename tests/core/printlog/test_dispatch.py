"""A batch made ready to be sent: every body with its share, and what the log must know of it."""

import unittest

from hinoki.core.batch.batches import batched
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.errors import NotFound
from hinoki.core.formats.registry import read_file
from hinoki.core.join.joints import DowelJoint, FaceRef, HingeJoint
from hinoki.core.plan.batch_settings import Batching
from hinoki.core.plan.plan import Plan
from hinoki.core.printlog.dispatch import prepared_batch
from hinoki.core.printlog.records import PreparedBatch
from tests.shapes import box, built, level, plan_for, stl_of

FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
DATA = stl_of(box(60, 50, 60))


def made(*joints: object, **batching: object) -> tuple[Plan, Build]:
    plan = plan_for(DATA, level(1, 20), joints=joints, bed=(150, 150, 150), batching=Batching(**batching))  # type: ignore[arg-type]
    return plan, built(DATA, plan)


def ready(plan: Plan, result: Build, number: int = 1) -> tuple[PreparedBatch, bytes]:
    return prepared_batch(batched(plan, result, Cache()), number, plan, result, "Shed", 7, "send-1.3mf")


class Dispatch(unittest.TestCase):
    def test_every_body_is_told_by_key_number_copy_and_shape(self) -> None:
        plan, result = made(DowelJoint(id="j1", face=FACE, count=2, spares=0, length_mm=10), copies={"p1+": 2})
        one, content = ready(plan, result)
        shapes = {p.key: p.shape for p in result.pieces}
        told = sorted((i.key, i.number, i.copy_number, i.shape) for i in one.items if i.number is not None)
        self.assertEqual(told, [("p1+", 2, 1, shapes["p1+"]), ("p1+", 2, 2, shapes["p1+"]), ("p1-", 1, 1, shapes["p1-"])])
        loose = [i for i in one.items if i.number is None]
        self.assertEqual([(i.key, i.copy_number) for i in loose], [("loose dowel 5 × 10", k) for k in (1, 2, 3, 4)])
        self.assertEqual({i.shape for i in loose}, {result.loose[0].shape})
        self.assertEqual(sorted(o.name for o in read_file(content, "a.3mf").objects), sorted(i.name for i in one.items))

    def test_it_knows_its_printer_its_time_and_where_it_lies(self) -> None:
        plan, result = made()
        one, _ = ready(plan, result)
        self.assertEqual((one.title, one.batch, one.batches, one.reprint), ("Shed, batch 1", 1, 1, False))
        self.assertEqual((one.file, one.printer_id, one.material_id), ("send-1.3mf", plan.printer.id, plan.material.id))
        self.assertAlmostEqual(sum(i.grams for i in one.items), one.grams, delta=0.1)
        self.assertEqual((one.height_mm, one.layers), (40.0, round(40 / one.layer_mm)))
        lower = next(i for i in one.items if i.key == "p1-")
        self.assertEqual((lower.height_mm, lower.foot_mm2), (20.0, 3000.0))

    def test_what_prints_as_one_shares_by_volume(self) -> None:
        plan, result = made(HingeJoint(id="j1", face=FACE, pin="in place", opens_deg=180))
        one, _ = ready(plan, result)
        self.assertEqual(sorted((i.key, i.number) for i in one.items), [("p1+", 2), ("p1-", 1)])
        grams = {i.key: i.grams for i in one.items}
        volumes = {p.key: p.volume_mm3 for p in result.pieces}
        self.assertAlmostEqual(grams["p1+"] / grams["p1-"], volumes["p1+"] / volumes["p1-"], places=2)
        self.assertAlmostEqual(sum(grams.values()), one.grams, delta=0.05)

    def test_a_batch_that_is_not_there_is_refused(self) -> None:
        with self.assertRaisesRegex(NotFound, "no batch 3 any more; the plan has 1"):
            ready(*made(), number=3)


if __name__ == "__main__":
    unittest.main()

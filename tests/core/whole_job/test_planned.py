"""The whole job planned at once: nothing is left to mend, and what is told of it is so."""

import unittest

import numpy as np

from hinoki.core.assemble.assembled import assembled
from hinoki.core.batch.batches import batched
from hinoki.core.build import Build
from hinoki.core.check.check import check
from hinoki.core.formats.stl import write_stl
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.join.joints import FaceRef, PinJoint
from hinoki.core.model.steps.repair import RepairStep
from hinoki.core.plan.contents import PieceNote
from hinoki.core.plan.plan import Plan
from hinoki.core.propose import Wishes
from hinoki.core.propose.recommend_joints import SuitWish
from hinoki.core.whole_job.overview import Line, overview
from hinoki.core.whole_job.planned import Planned, WholeJobWish, planned
from hinoki.core.workshop.printers import Printer
from tests.shapes import COMMON, box, built, level, plan_for, stl_of, tube

BED = Printer(bed_mm=(220, 220), height_mm=250)
BAR = stl_of(box(400, 60, 60))


def of(data: bytes, plan: Plan, **wish: object) -> Planned:
    return planned(plan, lambda _: data, COMMON, WholeJobWish.model_validate(wish))


def lines_of(build: Build) -> dict[str, Line]:
    """What is told of a build, by code."""
    batches, together = batched(build.plan, build, COMMON), assembled(build.plan, build, COMMON)
    told = overview(build, check(build, COMMON).findings, batches, together)
    return {line.code: line for station in told for line in station.lines}


class Planning(unittest.TestCase):
    def test_a_bar_is_halved_joined_and_laid(self) -> None:
        made = of(BAR, plan_for(BAR).model_copy(update={"printer": BED}))
        self.assertEqual(len(made.built.pieces), 2)
        self.assertTrue(made.plan.joints)
        self.assertTrue(all(p.fits and p.chosen for p in made.built.pieces))
        self.assertEqual(check(made.built, COMMON).must_fix, [])
        self.assertIsNone(made.repaired)
        self.assertEqual(made.passed_over, ())

    def test_what_was_divided_so_far_is_kept_as_a_variant(self) -> None:
        before = plan_for(BAR, level(1, 30)).model_copy(update={"printer": BED})
        made = of(BAR, before)
        self.assertEqual([v.partings for v in made.plan.variants], [before.partings])

    def test_planned_again_on_another_bed_nothing_lies_as_pieces_of_the_same_key_did(self) -> None:
        first = of(BAR, plan_for(BAR).model_copy(update={"printer": BED})).plan
        small = first.model_copy(update={"printer": Printer(bed_mm=(90, 140), height_mm=250)})
        asked = small.model_copy(update={"pieces": {k: PieceNote(down=(0.6, 0.8, 0.0)) for k in first.pieces}})
        again = of(BAR, asked)
        self.assertEqual(of(BAR, plan_for(BAR).model_copy(update={"printer": small.printer})).plan.pieces, again.plan.pieces)
        self.assertEqual(again.plan.variants[0].pieces, asked.pieces)

    def test_a_surface_with_a_hole_is_closed_first_unless_it_is_not_to_be(self) -> None:
        mesh = box(400, 60, 60).mesh
        data = write_stl(Mesh(mesh.vertices, mesh.faces[1:]))
        plan = plan_for(data).model_copy(update={"printer": BED})
        made = of(data, plan)
        self.assertIsInstance(made.plan.prepare[0], RepairStep)
        self.assertEqual(made.plan.prepare[0], made.repaired)
        self.assertEqual(len(made.built.pieces), 2)
        left = of(data, plan, repair=False)
        self.assertEqual((left.plan.prepare, left.built.state), ((), "open"))

    def test_a_repair_that_the_plan_has_is_left_and_none_is_added(self) -> None:
        mesh = box(400, 60, 60).mesh
        data = write_stl(Mesh(mesh.vertices, mesh.faces[1:]))
        step = RepairStep(id="s3", holes="flat")
        made = of(data, plan_for(data).model_copy(update={"printer": BED, "prepare": (step,)}))
        self.assertEqual(made.plan.prepare, (step,))

    def test_without_dividing_the_partings_stay_and_bare_plans_get_joints(self) -> None:
        plan = plan_for(BAR, level(1, 30)).model_copy(update={"printer": BED})
        made = of(BAR, plan, divide=False)
        self.assertEqual(made.plan.partings, plan.partings)
        self.assertEqual(len({j.face.id for j in made.plan.joints}), 1)
        bare = of(BAR, plan, divide=False, joints=None)
        self.assertEqual(bare.plan.joints, ())

    def test_a_joint_that_has_no_room_gives_way_to_one_that_has(self) -> None:
        data = stl_of(box(60, 40, 100))
        face = FaceRef(parting="p1", member=0, a="p1-", b="p1+")
        plan = plan_for(data, level(1, 50), joints=(PinJoint(id="j1", face=face, count=2, diameter_mm=38),))
        self.assertEqual([f.code for f in check(built(data, plan), COMMON).must_fix], ["joint-no-room"])
        made = of(data, plan, divide=False)
        self.assertEqual(check(made.built, COMMON).must_fix, [])
        self.assertEqual(len(made.plan.joints), 1)
        self.assertEqual(of(data, plan, divide=False, joints=None).plan.joints, plan.joints)

    def test_the_kind_of_joint_and_the_printers_are_as_wished(self) -> None:
        made = of(BAR, plan_for(BAR).model_copy(update={"printer": BED}), joints=SuitWish(kind="dowel"))
        self.assertEqual({j.kind for j in made.plan.joints}, {"dowel"})
        wide = Printer(id="wide", name="Wide", bed_mm=(420, 420), height_mm=250)
        plan = plan_for(BAR).model_copy(update={"printer": BED, "more_printers": (wide,)})
        self.assertEqual(len(of(BAR, plan, wishes=Wishes(printers=("wide",))).built.pieces), 1)

    def test_a_piece_whose_side_was_chosen_stays_as_it_lies(self) -> None:
        plan = plan_for(BAR, level(1, 30)).model_copy(update={"printer": BED})
        key = built(BAR, plan).pieces[0].key
        plan = plan.model_copy(update={"pieces": {key: PieceNote(down=(0.0, 1.0, 0.0))}})
        piece = of(BAR, plan, divide=False, joints=None).built.piece(key)
        np.testing.assert_allclose(piece.rest.down, (0, 1, 0), atol=1e-6)

    def test_progress_never_goes_back_and_ends_near_the_end(self) -> None:
        told: list[float] = []
        plan = plan_for(BAR).model_copy(update={"printer": BED})
        planned(plan, lambda _: BAR, COMMON, WholeJobWish(), lambda share, _phrase: told.append(share))
        self.assertEqual(told, sorted(told))
        self.assertGreater(told[-1], 0.75)


class Told(unittest.TestCase):
    def test_of_a_bar_in_two(self) -> None:
        told = lines_of(of(BAR, plan_for(BAR).model_copy(update={"printer": BED})).built)
        self.assertEqual(told["model-size"].params["size_mm"], [400.0, 60.0, 60.0])
        self.assertEqual((told["pieces"].params["count"], told["pieces"].params["bound"]), (2, 2))
        self.assertAlmostEqual(float(str(told["balance"].params["percent"])), 100.0, delta=15)
        self.assertEqual(told["joints"].params["faces"], 1)
        self.assertAlmostEqual(float(str(told["seams"].params["length_m"])), 0.24, delta=1e-6)
        self.assertEqual(told["beds"].params["count"], 1)
        self.assertEqual(told["order"].params["steps"], 2)
        self.assertEqual(told["order"].params["proved"], 2)

    def test_bare_faces_are_named_and_what_is_over_the_bed(self) -> None:
        plan = plan_for(BAR, level(1, 30)).model_copy(update={"printer": BED})
        told = lines_of(built(BAR, plan))
        self.assertEqual(told["seams-bare"].params["faces"], ["1|2"])
        self.assertEqual(told["pieces-over"].params["pieces"], [1, 2])
        self.assertIn("on-no-bed", told)
        self.assertNotIn("weakest", told)

    def test_what_fits_as_it_is_is_told_so(self) -> None:
        data = stl_of(tube(30, 20, 40))
        told = lines_of(of(data, plan_for(data).model_copy(update={"printer": BED})).built)
        self.assertIn("undivided", told)
        self.assertNotIn("joints", told)
        self.assertIn("no-support", told)

    def test_an_open_surface_tells_only_that(self) -> None:
        mesh = box(40, 60, 60).mesh
        data = write_stl(Mesh(mesh.vertices, mesh.faces[1:]))
        told = lines_of(built(data, plan_for(data)))
        self.assertIn("model-open", told)
        self.assertNotIn("pieces", told)

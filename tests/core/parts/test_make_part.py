"""Parts made for another: they follow it, go through everything, are counted, and nothing that cannot be made is added."""

import unittest

import numpy as np

from hinoki.core.build import build_all
from hinoki.core.cache import Cache
from hinoki.core.check.check import check, check_project
from hinoki.core.errors import BadPlan
from hinoki.core.make import FootMaker, LidMaker, Maker, NotMade, WeightMaker
from hinoki.core.model.prepared_model import prepared
from hinoki.core.model.steps import BoreStep, LengthStep
from hinoki.core.model.steps.seat import SeatStep
from hinoki.core.parts.make_part import Place, WithMade, with_figures, with_made
from hinoki.core.parts.play import play_between
from hinoki.core.parts.standing import standing_at
from hinoki.core.plan.parts import FIRST, Instance, KeptPart
from hinoki.core.plan.plan import Plan, plan_from, read_plan
from hinoki.core.progress import quiet
from hinoki.core.project import project_pieces
from tests.core.make.test_openings import OPEN_BOX
from tests.parts import everything, plan_of, source, use_of
from tests.shapes import COMMON, box, stl_of

BOX = use_of(stl_of(OPEN_BOX), "chest.stl")


def lidded(maker: Maker | None = None, plan: Plan | None = None) -> WithMade:
    return with_made(plan or plan_of(BOX), maker or LidMaker(), (), source, COMMON)


class ALid(unittest.TestCase):
    def test_it_is_a_part_like_any_other_that_shuts_the_box(self) -> None:
        made = lidded()
        built = everything(made.plan)
        self.assertEqual(
            [(p.key, p.name, p.count) for p in project_pieces(built)], [("whole", "Piece 1", 1), ("q2 whole", "Lid", 1)]
        )
        self.assertEqual(check_project(built, COMMON).must_fix, [])
        lid, chest = (standing_at(made.plan, q, 0, source, COMMON) for q in ("q2", "q1"))
        found = play_between(lid.value, chest.value, 2.0)
        self.assertEqual((found.overlap_mm3, found.least_mm), (0.0, 0.0))
        self.assertIn("0.20 mm clear on each side", " ".join(made.said))

    def test_there_are_as_many_as_boxes(self) -> None:
        two = (Instance(), Instance(at_mm=(150, 0, 0), turn_deg=(0, 0, 90)))
        made = lidded(plan=plan_of(BOX, instances=two))
        self.assertEqual(made.plan.working_on("q2").instances, two)
        self.assertEqual(check_project(everything(made.plan), COMMON).must_fix, [])

    def test_it_follows_the_box_that_is_changed_later(self) -> None:
        made = lidded()
        wider = made.plan.model_copy(update={"prepare": (LengthStep(id="s1", axis="x", length_mm=150),)})
        lid = everything(wider).others[0]
        assert lid.prepared is not None
        low, high = lid.prepared.shape.bounds
        self.assertAlmostEqual(high[0] - low[0], 150, places=3)
        self.assertAlmostEqual(high[2], 60 * 1.5 + 2.4, places=3)

    def test_its_figures_are_changed_later_and_it_stays_where_it_is(self) -> None:
        plan = lidded().plan.working_on("q2")
        assert isinstance(plan.made, LidMaker)
        deeper = plan.model_copy(update={"made": plan.made.model_copy(update={"deep_mm": 12.0})})
        shape = prepared(deeper, source, COMMON, quiet).shape
        self.assertAlmostEqual(shape.bounds[0][2], 48, places=3)
        self.assertAlmostEqual(shape.bounds[1][2], 62.4, places=3)

    def test_a_step_after_it_does_not_let_it_down_from_its_place(self) -> None:
        plan = lidded().plan.working_on("q2")
        bored = plan.model_copy(update={"prepare": (BoreStep(id="s1", from_mm=(0, 0, 70), to_mm=(0, 0, 50), diameter_mm=6),)})
        ready = prepared(bored, source, COMMON, quiet)
        self.assertFalse(ready.done[0].refused)
        self.assertAlmostEqual(ready.shape.bounds[0][2], 55, places=3)

    def test_one_that_slides_has_its_grooves_cut_into_the_box(self) -> None:
        made = lidded(LidMaker(shuts="slides"))
        (seat,) = made.plan.prepare
        assert isinstance(seat, SeatStep)
        self.assertEqual((seat.part, seat.way), ("q2", "x+"))
        built = everything(made.plan)
        self.assertEqual(check_project(built, COMMON).must_fix, [])
        assert built.prepared is not None
        self.assertIn("measured: as wanted", " ".join(built.prepared.done[0].said))
        lid, chest = (standing_at(made.plan, q, 0, source, COMMON).value for q in ("q2", "q1"))
        self.assertGreater(lid.moved(0, 0, 1).common(chest).volume_mm3, 1)  # it cannot be lifted
        self.assertLess(lid.moved(30, 0, 0).common(chest).volume_mm3, 1e-3)  # but drawn out
        self.assertGreater(lid.moved(-1, 0, 0).common(chest).volume_mm3, 1)  # one way

    def test_grooves_come_go_and_turn_with_its_figures(self) -> None:
        plan = lidded().plan.working_on("q2")
        sliding = with_figures(plan, LidMaker(shuts="slides"))
        (seat,) = sliding.working_on("q1").prepare
        assert isinstance(seat, SeatStep)
        self.assertEqual((seat.part, seat.way, seat.fit), ("q2", "x+", "sliding"))
        self.assertEqual(check_project(everything(sliding), COMMON).must_fix, [])
        turned = with_figures(sliding, LidMaker(shuts="slides", slides_to="y-", fit="loose"))
        (seat,) = turned.working_on("q1").prepare
        assert isinstance(seat, SeatStep)
        self.assertEqual((seat.way, seat.fit), ("y-", "loose"))
        self.assertEqual(check_project(everything(turned), COMMON).must_fix, [])
        back = with_figures(turned, LidMaker(for_part="q9"))
        self.assertEqual(back.working_on("q1").prepare, ())
        self.assertEqual(back.made, LidMaker(for_part="q1"))  # what it is made for stays
        with self.assertRaisesRegex(BadPlan, "is not made by Hinoki"):
            with_figures(plan_of(BOX), LidMaker())

    def test_plans_keep_its_figures(self) -> None:
        plan = lidded(LidMaker(shuts="both", knob_mm=14)).plan
        self.assertEqual(read_plan(plan.json_text()), plan)
        self.assertEqual(plan_from(plan.model_dump(mode="json", by_alias=True)).working_on("q2").made, plan.parts[0].made)


class Refused(unittest.TestCase):
    def test_nothing_is_added_that_cannot_be_made(self) -> None:
        with self.assertRaisesRegex(NotMade, "no opening with a flat rim"):
            lidded(plan=plan_of(use_of(stl_of(box(20, 20, 20)), "cube.stl")))

    def test_a_box_that_lost_its_opening_leaves_a_finding_and_the_figures(self) -> None:
        made = lidded()
        cube = made.plan.model_copy(update={"model": use_of(stl_of(box(20, 20, 20)), "cube.stl")})
        built = everything(cube)
        (found,) = check(built.others[0], COMMON).findings
        self.assertEqual((found.code, found.severity), ("not-made", "must-fix"))
        self.assertIn("no opening", str(found.params["why"]))
        self.assertEqual(built.others[0].plan.made, made.plan.parts[0].made)
        self.assertEqual([p.key for p in project_pieces(built)], ["whole"])

    def test_a_part_that_was_taken_out_is_named_as_gone(self) -> None:
        plan = lidded().plan
        lone = plan.working_on("q2").model_copy(update={"made": LidMaker(for_part="q9")})
        built = build_all(lone, source, Cache())
        self.assertIn("not in this project any more", built.not_made)
        own = plan.working_on("q2").model_copy(update={"made": LidMaker(for_part="q2")})
        self.assertIn("not in this project any more", build_all(own, source, Cache()).not_made)

    def test_a_lid_of_a_lid_is_refused(self) -> None:
        with self.assertRaisesRegex(NotMade, "cannot be made for a part that is itself made for another"):
            with_made(lidded().plan.working_on("q2"), LidMaker(), (), source, COMMON)

    def test_a_file_or_figures_but_not_both(self) -> None:
        with self.assertRaisesRegex(BadPlan, "of a file, or made of figures"):
            plan_from({"schema": "hinoki-plan/1", "model": BOX.model_dump(mode="json"), "made": {"kind": "foot"}})

    def test_a_seat_for_a_part_that_cannot_be_made_says_why(self) -> None:
        part = KeptPart(id="q2", made=FootMaker(top_mm=6, bottom_mm=6))
        plan = plan_of(BOX, parts=(part,), prepare=(SeatStep(id="s1", part="q2"),))
        done = prepared(plan, source, COMMON, quiet).done[0]
        self.assertTrue(done.refused)
        self.assertIn("too narrow", str(done.findings[0].params["why"]))


class OnFaces(unittest.TestCase):
    def test_feet_stand_at_each_place_of_each_box_and_look_out_of_it(self) -> None:
        two = (Instance(), Instance(at_mm=(150, 0, 0), turn_deg=(0, 0, 90)))
        corners = [Place(at_mm=(x, y, 0), facing=(0, 0, -1)) for x in (-40, 40) for y in (-25, 25)]
        made = with_made(plan_of(BOX, instances=two), FootMaker(high_mm=8), corners, source, COMMON)
        built = everything(made.plan)
        self.assertEqual([p.count for p in project_pieces(built)], [2, 8])
        self.assertEqual(check_project(built, COMMON).must_fix, [])
        foot = made.plan.working_on("q2")
        solids = [standing_at(made.plan, "q2", k, source, COMMON).value for k in range(8)]
        self.assertEqual(len(foot.instances), 8)
        for solid in solids:
            np.testing.assert_allclose((solid.bounds[0][2], solid.bounds[1][2]), (-8, 0), atol=1e-6)
        np.testing.assert_allclose(sorted(s.centre_of_box[0] for s in solids[4:]), (125, 125, 175, 175), atol=1e-6)

    def test_without_a_place_it_stands_beside(self) -> None:
        made = with_made(plan_of(BOX), FootMaker(), (), source, COMMON)
        self.assertEqual(check_project(everything(made.plan), COMMON).must_fix, [])
        (there,) = made.plan.working_on(made.part_id).instances
        self.assertEqual(there.at_mm, (50 + 20 + 10, 0, 0))  # half the box, room, half the foot

    def test_a_weight_chamber_comes_with_its_plug(self) -> None:
        corners = [Place(at_mm=(x, 0, 60)) for x in (-300, 300)]
        made = with_made(plan_of(BOX), WeightMaker(grams=100), corners, source, COMMON)
        self.assertEqual(made.plan.working_on(made.part_id).label, "Weight chamber")
        built = everything(made.plan)
        self.assertEqual([(p.name, p.count) for p in project_pieces(built)][1:], [("Weight chamber", 2), ("Screw plug", 2)])
        self.assertEqual(check_project(built, COMMON).must_fix, [])

    def test_both_share_their_figures_whichever_is_changed(self) -> None:
        made = with_made(plan_of(BOX), WeightMaker(grams=100), (), source, COMMON)
        can, plug = made.plan.part_ids[1:]
        for part, inside in ((can, 40.0), (plug, 30.0)):
            opened = made.plan.working_on(part)
            assert opened.made is not None
            changed = with_figures(opened, opened.made.model_copy(update={"inside_mm": inside}))
            for one, piece in ((can, "can"), (plug, "plug")):
                maker = changed.working_on(one).made
                assert isinstance(maker, WeightMaker)
                self.assertEqual((maker.inside_mm, maker.piece), (inside, piece))
            self.assertEqual(changed.working_on("q1").made, None)

    def test_a_project_may_begin_with_one(self) -> None:
        plan = Plan(made=FootMaker(), part_id=FIRST)
        built = build_all(plan, source, Cache())
        self.assertEqual([(p.key, p.name) for p in project_pieces(built)], [("whole", "Foot")])

    def test_too_many_are_refused(self) -> None:
        many = tuple(Instance(at_mm=(k, 0, 0)) for k in range(1500))
        places = [Place(at_mm=(0, 0, 60)), Place(at_mm=(1, 0, 60))]
        with self.assertRaisesRegex(BadPlan, "would be 3000 of them"):
            with_made(plan_of(BOX, instances=many), FootMaker(), places, source, COMMON)

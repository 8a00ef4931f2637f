"""The print log's rules: lives, how a project stands, what the log teaches, what changed between plans."""

import statistics
import unittest

from hinoki.core.batch.estimate.estimate import Estimate
from hinoki.core.batch.estimate.factor import SURE, Factor
from hinoki.core.batch.print_items import Known
from hinoki.core.errors import NotSo
from hinoki.core.join.joints import FaceRef
from hinoki.core.plan.contents import PieceNote
from hinoki.core.printlog.edit_impact import printed_now, shapes_may_change
from hinoki.core.printlog.fit_answers import FitAnswer, lessons
from hinoki.core.printlog.learning import causes_of, factor_of, factors_of, learned_from, remedies_of
from hinoki.core.printlog.project_status import Held, Needed, standing_of
from hinoki.core.printlog.states import (
    MADE,
    PIECE_STATES,
    by_hand,
    marked,
    piece_may,
    print_may,
    refuse_piece_step,
    when_ended,
)
from tests.printed import item, prepared, printed
from tests.shapes import box, built, level, plan_for, stl_of

COMMON = {"press": 0.05, "snug": 0.1, "sliding": 0.2, "loose": 0.3}
FACE = FaceRef(parting="p1", member=0, a="p1-", b="p1+")


class Lives(unittest.TestCase):
    def test_a_print_that_has_ended_stays_so(self) -> None:
        for ended in ("done", "stopped", "broke off", "refused"):
            self.assertFalse(print_may(ended, "printing"))  # type: ignore[arg-type]

    def test_what_is_there_may_be_lost_and_found_and_what_was_never_printed_may_not(self) -> None:
        self.assertTrue(piece_may("installed", "lost"))
        self.assertTrue(piece_may("lost", "spare"))
        self.assertFalse(piece_may("not printed", "printed"))
        with self.assertRaisesRegex(NotSo, "1 Roof is in a batch, so it cannot become installed; it can become printing or"):
            refuse_piece_step("1 Roof", "in a batch", "installed")

    def test_a_print_that_broke_off_spoils_what_had_begun_and_nothing_else(self) -> None:
        self.assertEqual(when_ended("broke off", "printing", fell=False), "failed")
        self.assertEqual(when_ended("broke off", "in a batch", fell=False), "not printed")
        self.assertEqual(when_ended("done", "printing", fell=True), "failed")
        self.assertEqual(when_ended("done", "cleaned", fell=True), "cleaned")

    def test_a_person_says_only_what_may_follow_and_never_that_it_prints(self) -> None:
        for state in PIECE_STATES:
            self.assertTrue(all(piece_may(state, then) for then in by_hand(state)), state)
            self.assertNotIn("printing", by_hand(state))
        self.assertEqual(by_hand("printing"), ("printed", "failed"))
        self.assertEqual({s for s in PIECE_STATES if "lost" in by_hand(s)}, set(MADE))

    def test_failed_as_a_result_and_as_a_state_are_one(self) -> None:
        self.assertEqual(marked("printed", None, None, "failed", "warped"), ("failed", "failed", "warped"))
        self.assertEqual(marked("printed", "good", "failed", None, None), ("failed", "failed", "other"))
        self.assertEqual(marked("failed", "failed", None, "usable after clean-up", None)[0], "printed")
        self.assertEqual(marked("failed", "failed", "spare", None, None), ("spare", None, None))

    def test_nothing_comes_to_life_by_a_result(self) -> None:
        for state in PIECE_STATES:
            then, result, _ = marked(state, None, None, "good", None)
            self.assertTrue(then in MADE or state in ("lost", "not printed"), (state, then))
            self.assertEqual(result, "good")


class Standing(unittest.TestCase):
    def held(self, count: int, *states: str, shape: str = "s") -> Held:
        needed = Needed("loose key", None, "key", count, "s")
        return Held(needed, [item("loose key", s, shape=shape) for s in states])  # type: ignore[arg-type]

    def test_of_several_the_last_tells_the_state(self) -> None:
        self.assertEqual(self.held(2, "installed", "cleaned").state, "cleaned")
        self.assertEqual(self.held(2, "installed").state, "planned")

    def test_a_spare_stands_in(self) -> None:
        self.assertEqual((self.held(2, "fitted", "spare").missing, self.held(2, "fitted", "spare").state), (0, "printed"))

    def test_another_shape_does_not_count(self) -> None:
        one = self.held(1, "installed", shape="old")
        self.assertEqual((one.missing, len(one.old)), (1, 1))

    def test_a_block_in_two(self) -> None:
        data = stl_of(box(60, 50, 60))
        pieces = built(data, plan_for(data, level(1, 30))).pieces
        shapes = {p.key: p.shape for p in pieces}
        needed = [Needed(p.key, p.number, p.name, 1, p.shape) for p in pieces]
        items = [
            item("p1-", "failed", 1, shapes["p1-"], reason="warped"),
            item("p1+", "installed", 2, shapes["p1+"], item=1),
            item("gone", "printed", 9, item=2),
        ]
        now = standing_of(needed, items, {"p1-": (30.0, 120.0), "p1+": (10.0, 60.0)})
        self.assertEqual([(r.number, r.state) for r in now.board], [(1, "planned"), (2, "installed")])
        self.assertEqual({a.key: a.count for a in now.again}, {"p1-": 1})
        self.assertEqual(now.again[0].why, ["failed"])
        self.assertEqual([i.key for i in now.gone], ["gone"])
        assert now.grams
        assert now.hours
        self.assertEqual((now.grams.done, now.grams.all, now.hours.done, now.hours.all), (10.0, 40.0, 1.0, 3.0))


class Learning(unittest.TestCase):
    def test_a_made_log_with_known_factors(self) -> None:
        """Prints that all take 1.15 times as long and 1.04 as much, one odd one among them: the medians are these."""
        log = [printed(k, 115.0 + (k % 3 - 1), 52.0) for k in range(1, 10)] + [printed(10, 400.0, 52.0)]
        (found,) = factors_of(log)
        self.assertAlmostEqual(found.factor.time, 1.15, delta=0.01)
        self.assertAlmostEqual(found.factor.mass, 1.04, delta=1e-9)
        self.assertEqual(found.factor.prints, 10)
        self.assertIn("10 prints: time × 1.1", found.says)
        self.assertEqual(found.factor.time, round(statistics.median(p.minutes / 100 for p in log if p.minutes), 4))

    def test_prints_that_broke_off_and_slips_teach_nothing(self) -> None:
        self.assertEqual(factor_of([(100.0, 9000.0, 50.0, 0.1)]).prints, 0)
        self.assertEqual(factors_of([printed(1, 50.0, 20.0, "broke off")]), [])

    def test_printers_and_materials_are_told_apart(self) -> None:
        log = [printed(1, 120.0, None), printed(2, 90.0, None, printer_id="other")]
        self.assertEqual([f.factor.time for f in factors_of(log)], [1.2, 0.9])

    def test_an_estimate_is_corrected_and_says_how_sure_it_is(self) -> None:
        raw = Estimate(50.0, 5.0, 16.0, 100.0, 0.2, 3.0, 200, 1.0)
        better = raw.corrected(Factor(time=1.2, mass=1.1, time_spread=0.06, prints=5, weighed=5))
        self.assertAlmostEqual(better.minutes, 120.0)
        self.assertAlmostEqual(better.mass_g, 55.0)
        self.assertAlmostEqual(better.cost, 1.1 * 1.0 + 1.2 * 2.0)
        low, high = better.minutes_range
        self.assertAlmostEqual((high - low) / 2 / better.minutes, 0.05)
        self.assertEqual(raw.corrected(Factor(time=1.2, prints=1)).sure, SURE)

    def test_what_is_known_of_stock_comes_from_spools(self) -> None:
        known = Known(stock_g={"pla": 12.0})
        material = plan_for(b"x").material.model_copy(update={"id": "pla"})
        self.assertEqual(known.left_g(material), 12.0)
        self.assertEqual(Known().left_g(material), material.stock_g)

    def test_a_cause_that_repeats_brings_a_remedy_and_one_that_does_not_brings_none(self) -> None:
        once = [item("a", "failed", 1, reason="warped")]
        self.assertEqual(remedies_of(once), [])
        twice = [item("a", "failed", 1, reason="came loose"), item("b", "failed", 2, reason="came loose")]
        found = remedies_of(twice, {"a": 50.0}, {"a": 20.0, "b": 900.0})
        self.assertEqual([(r.do, r.numbers) for r in found], [("brim", [1, 2]), ("spare", [1])])

    def test_failures_are_counted_of_what_came_off_the_bed(self) -> None:
        items = [item("a", "failed", reason="broke"), item("b", "printed"), item("c", "in a batch"), item("d", "installed")]
        (cause,) = causes_of(items)
        self.assertEqual((cause.failed, cause.of), (1, 3))
        self.assertEqual(learned_from([], items).made, 3)


class Fits(unittest.TestCase):
    def answer(self, gap: float, how: str, fit: str = "snug") -> FitAnswer:
        return FitAnswer(
            printer_id="b", material_id="pla", joint="2 pins", fit=fit, clearance_mm=gap, answer=how  # type: ignore[arg-type]
        )  # fmt: skip

    def test_too_tight_is_tried_a_tenth_wider(self) -> None:
        """Common practice: 0.1 → 0.2 each side is the usual second try when the first is too tight."""
        (found,) = lessons([self.answer(0.1, "no")], [], COMMON)  # type: ignore[arg-type]
        self.assertAlmostEqual(found.better_mm, 0.2)

    def test_between_too_tight_and_too_loose(self) -> None:
        (found,) = lessons([self.answer(0.1, "force"), self.answer(0.3, "slides")], [], COMMON)  # type: ignore[arg-type]
        self.assertAlmostEqual(found.better_mm, 0.2)

    def test_answers_as_wished_stay(self) -> None:
        self.assertEqual(lessons([self.answer(0.1, "hand")], [], COMMON), [])  # type: ignore[arg-type]


class MayTouch(unittest.TestCase):
    def test_names_and_beds_shape_nothing_joints_and_fits_do(self) -> None:
        plan = plan_for(b"x", level(1, 30))
        named = plan.model_copy(update={"pieces": {"p1-": PieceNote(name="Foot", number=3)}})
        self.assertFalse(shapes_may_change(plan, named))
        wider = plan.model_copy(update={"fits": plan.fits.model_copy(update={"snug": 0.2})})
        self.assertTrue(shapes_may_change(plan, wider))
        lying = plan.model_copy(update={"pieces": {"p1-": PieceNote(down=(0, 0, 1))}})
        self.assertTrue(shapes_may_change(plan, lying))

    def test_what_is_printed_now_costs_its_share(self) -> None:
        one = printed(1, 200.0, 100.0)
        one = one.model_copy(update={"batch": prepared("a", "b", cost=4.0)})
        one.items = [item("a", "printed"), item("b", "printed", 2, item=1)]
        found = printed_now([one], {"a": "s", "b": "other"})
        self.assertEqual([p.key for p in found], ["a"])
        self.assertAlmostEqual(found[0].cost, 4.0 * 20 / 100)
        self.assertAlmostEqual(found[0].grams, 10.0 * 100 / 50)

"""What is told of a job: every code has words, and the figures stand in them."""

import ast
import unittest
from pathlib import Path

import hinoki.core.whole_job.overview as told_in_core
from hinoki.core.assemble.assembled import assembled
from hinoki.core.batch.batches import batched
from hinoki.core.check.check import check
from hinoki.core.findings import Accepted
from hinoki.core.plan.plan import Plan
from hinoki.core.whole_job.overview import overview
from hinoki.core.whole_job.planned import WholeJobWish, planned
from hinoki.core.workshop.printers import Printer
from hinoki.present.overview import OverviewView, overview_view, reasons
from hinoki.present.words.overview import OVERVIEW
from hinoki.present.words.wording import say
from tests.shapes import COMMON, box, built, level, plan_for, stl_of

BED = Printer(bed_mm=(220, 220), height_mm=250)
BAR = stl_of(box(400, 60, 60))


def seen(plan: Plan) -> OverviewView:
    build = built(BAR, plan)
    batches, together = batched(plan, build, COMMON), assembled(plan, build, COMMON)
    return overview_view(overview(build, check(build, COMMON).findings, batches, together), plan)


class Words(unittest.TestCase):
    def test_every_code_has_words_and_all_words_have_a_code(self) -> None:
        tree = ast.parse(Path(str(told_in_core.__file__)).read_text())
        calls = [n for n in ast.walk(tree) if isinstance(n, ast.Call) and getattr(n.func, "id", "") == "Line"]
        codes = {arg.value for call in calls for arg in call.args[:1] if isinstance(arg, ast.Constant)}
        self.assertGreater(len(codes), 10)
        self.assertEqual(codes, set(OVERVIEW))

    def test_of_many_names_some_are_told_and_how_many_more_there_are(self) -> None:
        faces = [f"{n}|{n + 1}" for n in range(1, 9)]
        told = say(OVERVIEW["seams-bare"], {"faces": faces})
        self.assertIn("8 seams", told)
        self.assertIn("6|7 and 2 more", told)
        self.assertNotIn("7|8", told)

    def test_times_are_told_in_hours_and_minutes(self) -> None:
        told = say(OVERVIEW["beds"], {"count": 2, "minutes": 125.0, "grams": 80.2, "longest": 61.0})
        self.assertEqual(told, "2 beds, about 2 h 05 min in all, the longest 1 h 01 min, 80 g.")


class Seen(unittest.TestCase):
    def test_what_must_be_fixed_is_counted_and_what_was_accepted_is_not(self) -> None:
        plan = plan_for(BAR, level(1, 30)).model_copy(update={"printer": BED})
        view = seen(plan)
        self.assertEqual([s.station for s in view.stations], list(told_in_core.STATIONS))
        self.assertGreater(view.must_fix, 0)
        worst = next(f for s in view.stations for f in s.findings)
        self.assertEqual(worst.severity, "must-fix")
        accepted = plan.model_copy(update={"accepted": {worst.id: Accepted(reason="so be it", params=worst.params)}})
        self.assertEqual(seen(accepted).must_fix, view.must_fix - 1)

    def test_why_names_the_proposal_that_was_taken(self) -> None:
        plan = plan_for(BAR).model_copy(update={"printer": BED})
        made = planned(plan, lambda _: BAR, COMMON, WholeJobWish())
        assert made.proposals is not None
        self.assertIn(made.proposals.proposals[0].title, reasons(made)[0])
        self.assertEqual(reasons(planned(plan, lambda _: BAR, COMMON, WholeJobWish(divide=False))), [])

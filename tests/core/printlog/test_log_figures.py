"""The log's figures, each worked by hand: what is left to print, what it needs, what prints cost, what they teach."""

import unittest

from pydantic import ValidationError
from scipy.stats import binomtest

from hinoki.core.printlog.edit_impact import printed_now
from hinoki.core.printlog.fit_answers import FitAnswer, lessons
from hinoki.core.printlog.learning import causes_of, factor_of, learned_from, remedies_of, wilson_upper
from hinoki.core.printlog.printer_connection import Machine
from hinoki.core.printlog.project_status import BatchNeeds, Needed, batches_left, standing_of
from hinoki.core.printlog.states import piece_may, print_may
from hinoki.core.workshop.fit_ladder_answers import LadderEntry
from hinoki.core.workshop.fits import Fits
from tests.printed import item, prepared, printed

COMMON = {fit: getattr(Fits(), fit) for fit in ("press", "snug", "sliding", "loose")}


def two_pieces() -> list[Needed]:
    return [Needed("a", 1, "A", 1, "s"), Needed("b", 2, "B", 1, "s"), Needed("loose key", None, "key", 3, "s")]


class Left(unittest.TestCase):
    def left(self, stock_g: float, *states: tuple[str, str]) -> list[tuple[int, int, bool]]:
        """(made, all, enough) of two batches of 60 g: piece A and B, then three keys."""
        standing = standing_of(two_pieces(), [item(key, state, k + 1, item=k) for k, (key, state) in enumerate(states)])  # type: ignore[arg-type]
        keys = [("loose key", ()), ("loose key #2", ()), ("loose key #3", ())]
        batches = [BatchNeeds(1, "PLA", 60.0, [("a", (1,)), ("b", (2,))]), BatchNeeds(2, "PLA", 60.0, keys)]
        return [(one.made, one.all, one.enough) for one in batches_left(batches, standing, {"PLA": stock_g})]

    def test_what_is_printed_needs_no_material_any_more(self) -> None:
        self.assertEqual(self.left(120), [(0, 2, True), (0, 3, True)])
        self.assertEqual(self.left(119), [(0, 2, True), (0, 3, False)])
        self.assertEqual(self.left(90, ("a", "printed")), [(1, 2, True), (0, 3, True)])
        self.assertEqual(self.left(89.5, ("a", "printed")), [(1, 2, True), (0, 3, False)])

    def test_a_batch_that_is_made_has_enough_whatever_is_left(self) -> None:
        made = (("a", "printed"), ("b", "cleaned"))
        self.assertEqual(self.left(0, *made), [(2, 2, True), (0, 3, False)])
        self.assertEqual(self.left(60, *made), [(2, 2, True), (0, 3, True)])


class Stands(unittest.TestCase):
    def test_spares_are_what_is_there_beyond_what_is_needed(self) -> None:
        keys = [item("loose key", state, item=k) for k, state in enumerate(("printed",) * 4 + ("spare",))]  # type: ignore[arg-type]
        row = next(r for r in standing_of(two_pieces(), keys).board if r.key == "loose key")
        self.assertEqual((row.missing, row.spares), (0, 2))
        (fewer,) = (r for r in standing_of(two_pieces(), keys[:2]).board if r.key == "loose key")
        self.assertEqual((fewer.missing, fewer.spares), (1, 0))
        under_way = [*keys[:2], item("loose key", "printing", item=9)]
        (row,) = (r for r in standing_of(two_pieces(), under_way).board if r.key == "loose key")
        self.assertEqual((row.missing, row.spares), (0, 0))

    def test_grams_and_hours_are_of_all_that_is_needed(self) -> None:
        each = {"a": (30.0, 90.0), "b": (10.0, 30.0), "loose key": (2.0, 6.0)}
        keys = [item("loose key", "printed", item=k) for k in range(2)]
        now = standing_of(two_pieces(), [item("a", "printed", item=8), *keys], each)
        assert now.grams is not None
        assert now.hours is not None
        self.assertEqual((now.grams.done, now.grams.all), (34.0, 46.0))
        self.assertEqual((now.hours.done, now.hours.all), (1.7, 2.3))
        self.assertEqual((now.pieces.done, now.pieces.all, now.installed.done), (3, 5, 0))

    def test_only_what_is_there_can_be_out_of_date(self) -> None:
        gone = [
            item("a", "failed", shape="old"),
            item("a", "lost", shape="old", item=1),
            item("a", "fitted", shape="old", item=2),
        ]
        (row,) = (r for r in standing_of(two_pieces(), gone).board if r.key == "a")
        self.assertEqual([one.state for one in row.old], ["fitted"])
        now = [item("a", "printed")]
        (row,) = (r for r in standing_of(two_pieces(), now).board if r.key == "a")
        self.assertEqual(row.old, [])

    def test_what_failed_was_lost_and_is_out_of_date_is_printed_again_with_each_reason(self) -> None:
        log = [
            item("a", "failed"),
            item("a", "failed", item=1),
            item("a", "lost", item=2),
            item("a", "printed", shape="old", item=3),
        ]
        keys = [item("loose key", "failed", item=9), item("loose key", "printed", item=10)]
        again = {line.key: (line.count, line.why) for line in standing_of(two_pieces(), [*log, *keys]).again}
        self.assertEqual(again["a"], (1, ["2 failed", "lost", "out of date"]))
        self.assertEqual(again["loose key"], (2, ["failed", "spares used up"]))


class Costs(unittest.TestCase):
    def priced(self, minutes: float | None, grams: float | None, state: str = "done") -> tuple[float, float, float]:
        """Grams, minutes and cost of one of two bodies (10 g and 20 minutes estimated) of a print of 50 g and 100 minutes."""
        one = printed(1, minutes, grams, state)  # type: ignore[arg-type]
        one = one.model_copy(update={"batch": prepared("a", "b", cost=4.0)})
        one.items = [item("a", "printed")]
        (found,) = printed_now([one], {"a": "s"})
        return found.grams, found.minutes, found.cost

    def test_a_body_costs_its_share_of_what_was_measured(self) -> None:
        self.assertEqual(self.priced(None, None), (10.0, 20.0, 0.8))
        self.assertEqual(self.priced(150.0, None), (10.0, 30.0, 0.8))
        self.assertEqual(self.priced(None, 25.0), (5.0, 20.0, 0.8))

    def test_what_broke_off_was_not_measured_whole(self) -> None:
        self.assertEqual(self.priced(150.0, 25.0, "broke off"), (10.0, 20.0, 0.8))

    def test_a_batch_without_estimates_has_no_shares(self) -> None:
        one = printed(1, 30.0, 5.0).model_copy(update={"batch": prepared("a", cost=4.0, minutes=0.0, grams=0.0)})
        one.items = [item("a", "printed")]
        (found,) = printed_now([one], {"a": "s"})
        self.assertEqual((found.grams, found.minutes, found.cost), (10.0, 20.0, 0.0))


class Teaches(unittest.TestCase):
    def test_without_weights_the_mass_is_as_estimated(self) -> None:
        found = factor_of([(100.0, 120.0, 50.0, None), (100.0, 130.0, 50.0, None)])
        self.assertEqual((found.mass, found.weighed, found.time, found.prints), (1.0, 0, 1.25, 2))
        self.assertEqual((factor_of([]).time, factor_of([]).mass), (1.0, 1.0))

    def test_slips_are_left_out_and_the_edges_are_not(self) -> None:
        """A print that took under a fifth or over five times as long was noted wrongly."""
        edges = factor_of([(100.0, 20.0, 1.0, None), (100.0, 500.0, 1.0, None)])
        self.assertEqual((edges.prints, edges.time), (2, 2.6))
        beyond = factor_of([(100.0, 19.9, 1.0, None), (100.0, 500.1, 1.0, None)])
        self.assertEqual((beyond.prints, beyond.time), (0, 1.0))

    def test_rates_are_shares_of_what_came_off_the_bed(self) -> None:
        """Wilson's interval of 1 of 4 at 90 %, worked by hand (p̂ = 0.25, z = 1.6449): up to 0.644; and as scipy has it."""
        items = [item("a", "failed", reason="warped", item=0), *(item("a", "printed", item=k) for k in (1, 2, 3))]
        (cause,) = causes_of(items)
        self.assertEqual((cause.rate, cause.failed, cause.of), (0.25, 1, 4))
        self.assertAlmostEqual(cause.at_most, 0.644, places=3)
        for hits, of in ((1, 4), (0, 3), (5, 40), (7, 7)):
            outside = binomtest(hits, of).proportion_ci(0.9, method="wilson").high
            self.assertAlmostEqual(wilson_upper(hits, of), outside, places=4)
        self.assertEqual(learned_from([], items).failed, 1)

    def test_remedies_name_pieces_by_number_and_loose_parts_by_name(self) -> None:
        pieces = [item("a", "failed", 3, reason="warped"), item("b", "failed", 1, reason="warped", item=1)]
        (found,) = remedies_of(pieces)
        self.assertEqual((found.failed, found.numbers, found.do), (2, [1, 3], "brim"))
        same = [item("a", "failed", 3, reason="warped"), item("a", "failed", 3, reason="warped", item=1)]
        self.assertEqual((remedies_of(same)[0].failed, remedies_of(same)[0].numbers), (2, [3]))
        loose = [item("loose key", "failed", None, reason="warped", item=k) for k in range(2)]  # type: ignore[arg-type]
        self.assertEqual((remedies_of(loose)[0].numbers, remedies_of(loose)[0].name), ([], loose[0].name))

    def test_what_stands_on_little_or_is_slender_wants_a_spare(self) -> None:
        fell = [item(key, "failed", k, reason="came loose", item=k) for k, key in enumerate("abc", 1)]
        found = remedies_of(fell, {"a": 10.0, "b": 81.0, "c": 79.0}, {"a": 59.9, "b": 100.0, "c": 100.0})
        self.assertEqual([(r.do, r.keys) for r in found], [("brim", ["a", "b", "c"]), ("spare", ["a", "b"])])


class Clearances(unittest.TestCase):
    def answer(self, gap: float, how: str) -> FitAnswer:
        return FitAnswer(printer_id="b", material_id="pla", joint="2 pins", fit="snug", clearance_mm=gap, answer=how)  # type: ignore[arg-type]

    def test_a_clearance_never_gets_over_two_millimetres_or_under_none(self) -> None:
        (wide,) = lessons([self.answer(1.95, "no")], [], COMMON)  # type: ignore[arg-type]
        self.assertEqual(wide.better_mm, 2.0)
        (some,) = lessons([self.answer(1.5, "no")], [], COMMON)  # type: ignore[arg-type]
        self.assertEqual(some.better_mm, 1.6)
        (tight,) = lessons([self.answer(0.02, "rattles")], [], COMMON)  # type: ignore[arg-type]
        self.assertEqual(tight.better_mm, 0.0)

    def test_what_it_rests_on_is_counted(self) -> None:
        ladder = LadderEntry.model_validate(
            {
                "id": 1, "printer_id": "b", "material_id": "pla", "layer_mm": 0.2, "joint": "pin", "made_at": "",
                "answers": {"clearances_mm": [0.05, 0.06, 0.3], "answers": ["no", "no", "slides"]},
            }
        )  # fmt: skip
        asked = [self.answer(0.1, "no")]
        for ladders, says in (([], "1 joint of real pieces"), ([ladder], "and 1 ladder"), ([ladder, ladder], "and 2 ladders")):
            (found,) = lessons(asked, ladders, COMMON)  # type: ignore[arg-type]
            self.assertTrue(found.why.endswith(says), found.why)


class States(unittest.TestCase):
    def test_a_state_may_be_said_again_and_only_what_follows_besides(self) -> None:
        self.assertTrue(print_may("done", "done"))
        self.assertFalse(print_may("done", "printing"))
        self.assertFalse(print_may("sent", "refused"))
        self.assertTrue(print_may("printing", "paused"))
        self.assertTrue(piece_may("not printed", "not printed"))
        self.assertFalse(piece_may("not printed", "installed"))
        self.assertFalse(piece_may("printing", "installed"))


class Connections(unittest.TestCase):
    def test_a_printer_needs_a_name_and_an_address_of_its_kind(self) -> None:
        good = {"name": "Attic", "address": "http://127.0.0.1:8471", "printer_id": "bench"}
        self.assertEqual(Machine.model_validate(good).way, "http")
        for wrong in ({"name": ""}, {"address": "attic"}, {"address": ""}, {"name": "A" * 81}):
            with self.subTest(wrong), self.assertRaises(ValidationError):
                Machine.model_validate(good | wrong)
        self.assertEqual(Machine.model_validate(good | {"way": "folder", "address": "/media/card"}).address, "/media/card")


if __name__ == "__main__":
    unittest.main()

"""What the print log says in words."""

import unittest

from hinoki.core.printlog.learning import learned_from, remedies_of
from hinoki.core.printlog.shape_diff import Difference, Meets
from hinoki.present.printlog import difference_view, lessons_view
from hinoki.present.words.printlog import remedy_says
from tests.printed import item


class Remedies(unittest.TestCase):
    def test_they_name_pieces_by_number_and_loose_parts_by_name(self) -> None:
        pieces = [item("a", "failed", 3, reason="warped"), item("b", "failed", 1, reason="warped", item=1)]
        helps = "A brim of 5 mm holds the corners down; a side with less on the bed warps less."
        self.assertEqual(remedy_says(remedies_of(pieces)[0]), f"2 warped (pieces 1, 3). {helps}")
        self.assertTrue(remedy_says(remedies_of([pieces[1], pieces[1]])[0]).startswith("2 warped (piece 1). "))
        loose = [item("loose key", "failed", None, reason="warped", item=k) for k in range(2)]  # type: ignore[arg-type]
        self.assertEqual(remedy_says(remedies_of(loose)[0]), f"2 warped ({loose[0].name}). {helps}")

    def test_the_screen_gets_all_that_was_learned_with_words(self) -> None:
        learned = learned_from([], [item(key, "failed", k, reason="warped", item=k) for k, key in enumerate("ab", 1)])
        shown = lessons_view(learned)
        self.assertEqual(shown.model_dump(exclude={"remedies": {0: {"says"}}}), learned.model_dump())
        self.assertEqual([one.says for one in shown.remedies], [remedy_says(one) for one in learned.remedies])

    def test_of_those_that_stand_on_little_one_more_is_printed(self) -> None:
        fell = [item(key, "failed", k, reason="came loose", item=k) for k, key in enumerate("ab", 1)]
        _, spare = remedies_of(fell, {}, {"a": 10.0, "b": 100.0})
        self.assertEqual(remedy_says(spare), "These stand on little: print one more of each in the same go.")


class Differences(unittest.TestCase):
    def says(self, **figures: object) -> str:
        usual = {"key": "p1+", "number": 2, "where": ["joint"], "more_mm3": 0.0, "less_mm3": 0.0, "most_mm": 0.2, "mates": True}
        return difference_view(Difference.model_validate({**usual, **figures}), None, None).says

    def test_what_differs_and_whether_it_goes_together(self) -> None:
        self.assertEqual(
            self.says(where=["joint", "outside"], faces=["1|2", "2|3"], leaves_gap=True),
            "It differs at 1|2, 2|3 and its outside differs, by up to 0.20 mm. It still goes together with its neighbours; "
            "what moved leaves a gap.",
        )
        self.assertEqual(
            self.says(faces=["1|2"], mates=False, meets=[Meets(key="p1-", number=1, mm3=12.34)], most_mm=3.0),
            "It differs at 1|2, by up to 3.00 mm. It no longer goes together: it would meet piece 1 by 12.3 mm³.",
        )
        self.assertEqual(
            self.says(where=["inside"]),
            "Only its inside differs, by up to 0.20 mm. It still goes together with its neighbours.",
        )
        self.assertTrue(self.says(where=["nothing"]).startswith("It is the same shape"))

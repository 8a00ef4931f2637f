"""The sheets of a project of several parts."""

import unittest

from hinoki.core.cache import Cache
from hinoki.core.plan.parts import Instance
from hinoki.present.assemble.assembly import assembly_of_all
from tests.core.parts.test_put_together import case
from tests.parts import everything


class Sheets(unittest.TestCase):
    def test_sheets_tell_the_whole_first_and_how_many_of_each_to_make(self) -> None:
        plan = case()
        pair = plan.working_on("q1").model_copy(update={"instances": (Instance(), Instance(at_mm=(200, 0, 0)))})
        made = assembly_of_all(pair, everything(pair), Cache(), "Case")
        self.assertEqual([sheet.title for sheet in made.sheets], ["Case", "Case: case (make 2)"])
        self.assertEqual(list(made.parts), ["q1"])
        told = " ".join(panel.title + panel.how for panel in made.sheets[0].panels)
        self.assertIn("Lid", told)
        self.assertNotIn("piece ", told)

    def test_a_project_of_one_part_is_just_that_part(self) -> None:
        plan = case().model_copy(update={"parts": (), "prepare": ()})
        made = assembly_of_all(plan, everything(plan), Cache(), "Case", with_sheet=False)
        self.assertEqual((len(made.view.units), made.parts), (3, {}))

"""What a maker accepted stays accepted while its figures do, however it is worded; also what 0.8 accepted."""

import hashlib
import json
import unittest
from unittest.mock import patch

from hinoki.core.findings import Accepted, Finding
from hinoki.core.plan.parts import KeptPart
from hinoki.core.plan.plan import Plan
from hinoki.present import findings
from hinoki.present.findings import finding_view, finding_views

THIN = Finding(
    severity="must-fix",
    code="joint-thin-wall",
    station="join",
    params={"name": "Pin A", "wall_mm": 0.9, "least_mm": 1.6},
    piece=2,
    face="1|2",
    joint="j1",
    about="0",
)


class Accepting(unittest.TestCase):
    def accepted(self, finding: Finding, known: dict[str, Accepted]) -> str | None:
        return finding_view(finding, known).accepted

    def test_it_stays_so_when_it_is_worded_otherwise(self) -> None:
        known = {THIN.id: Accepted(reason="will glue", message="as it was said", params=THIN.params)}
        with patch.object(findings, "sentence", lambda _: "Said in other words."):
            self.assertEqual(self.accepted(THIN, known), "will glue")

    def test_it_comes_back_when_its_figures_change_or_it_is_elsewhere(self) -> None:
        known = {THIN.id: Accepted(reason="will glue", params=THIN.params)}
        thinner = THIN.model_copy(update={"params": {**THIN.params, "wall_mm": 0.6}})
        self.assertIsNone(self.accepted(thinner, known))
        self.assertIsNone(self.accepted(THIN.model_copy(update={"about": "1"}), known))
        self.assertEqual(self.accepted(THIN, known), "will glue")

    def test_what_0_8_accepted_is_known_by_what_it_said(self) -> None:
        """Up to 0.8 an id was a hash of code, place and sentence (`tests/releases/0.8`)."""
        message = "Pin A on 1|2 leaves a wall of 0.9 mm in piece 2; 1.6 mm is the least. Move it inwards or use a smaller or "
        place = ["joint-thin-wall", 2, "1|2", "j1", None, None, message + "shorter one."]
        before = hashlib.sha256(json.dumps(place).encode()).hexdigest()[:16]
        known = {before: Accepted(reason="will glue", message=message)}
        self.assertEqual(self.accepted(THIN, known), "will glue")
        thinner = THIN.model_copy(update={"params": {**THIN.params, "wall_mm": 0.6}})
        self.assertIsNone(self.accepted(thinner, known))

    def test_what_is_about_the_whole_project_stays_accepted_whichever_part_is_open(self) -> None:
        whole = THIN.model_copy(
            update={"whole": True, "code": "parts-overlap", "params": {"one": "A", "other": "B", "cm3": 2.0}}
        )
        reason = {whole.id: Accepted(reason="pressed in", params=whole.params)}
        plan = Plan(project_accepted=reason, parts=(KeptPart(id="q2"),))
        for part in ("q1", "q2"):
            (view,) = finding_views([whole], plan.working_on(part))
            self.assertEqual((view.accepted, view.whole), ("pressed in", True))
        self.assertEqual(finding_views([whole], Plan(accepted=reason))[0].accepted, "pressed in")  # as up to 0.11
        own = whole.model_copy(update={"whole": False})
        self.assertIsNone(finding_views([own], plan)[0].accepted)

    def test_a_view_tells_code_figures_and_words(self) -> None:
        (view,) = finding_views([THIN], Plan())
        self.assertEqual((view.id, view.code, view.params, view.piece), (THIN.id, THIN.code, THIN.params, 2))
        self.assertIn("a wall of 0.9 mm", view.message)


if __name__ == "__main__":
    unittest.main()

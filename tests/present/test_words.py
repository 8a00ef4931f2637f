"""Words: every code has some, templates are filled with the figures findings carry, fixes are named."""

import ast
import re
import unittest
from functools import cache
from pathlib import Path
from typing import get_args

from hinoki.core.divide.partings import Parting
from hinoki.core.findings import Finding, Fix, Params
from hinoki.core.join.joints import Joint
from hinoki.core.model.health.report import Issue
from hinoki.present.words import catalogue, fix_label, issue_sentence, sentence
from hinoki.present.words.divide import lies
from hinoki.present.words.fixes import FIXES
from hinoki.present.words.wording import mm, say

ROOT = Path(__file__).parents[2]
CODE_FIRST = ("Problem", "Issue", "_issue", "_changed")
"""calls whose first string is a code; that of a remark stands after its severity"""


def strings(node: ast.AST) -> set[str]:
    return {n.value for n in ast.walk(node) if isinstance(n, ast.Constant) and isinstance(n.value, str)}


@cache
def made() -> tuple[set[str], set[str], set[str]]:
    """The codes of findings that the core makes, those of fixes, and all its strings."""
    findings: set[str] = set()
    fixes: set[str] = set()
    every: set[str] = set()
    for path in (ROOT / "hinoki" / "core").rglob("*.py"):
        tree = ast.parse(path.read_text())
        every |= strings(tree)
        for call in (n for n in ast.walk(tree) if isinstance(n, ast.Call)):
            name = getattr(call.func, "id", "")
            found = fixes if name in ("Fix", "_changed") else findings
            found |= (
                {s for k in call.keywords if k.arg == "code" for s in strings(k.value)} if name in ("Finding", "Fix") else set()
            )
            constants = [a.value for a in call.args if isinstance(a, ast.Constant) and isinstance(a.value, str)]
            place = 1 if name == "Remark" else 0
            found |= set(constants[place : place + 1]) if name in (*CODE_FIRST, "Remark") else set()
    return findings, fixes, every


def said(code: str, **params: object) -> str:
    place = {k: params.pop(k) for k in ("piece", "face", "parting") if k in params}
    return sentence(Finding(severity="note", code=code, params=params, **place))  # type: ignore[arg-type]


class Wording(unittest.TestCase):
    def test_one_is_said_as_one(self) -> None:
        counts = [say("{n:#face is|faces are} open: turn {n:?it|them}.", {"n": n}) for n in (0, 1, 12_345)]
        self.assertEqual(
            counts, ["0 faces are open: turn them.", "1 face is open: turn it.", "12,345 faces are open: turn them."]
        )

    def test_lengths_have_one_decimal_and_two_below_half_a_millimetre(self) -> None:
        self.assertEqual([mm(v) for v in (0.449, 0.5, 12.34)], ["0.45 mm", "0.5 mm", "12.3 mm"])

    def test_lists_and_capitals(self) -> None:
        figures = {"what": "piece 2", "pieces": [1, 2], "at_mm": [1.0, 2.25]}
        self.assertEqual(say("{what:^}, {pieces:and}, {at_mm:.1f}", figures), "Piece 2, 1 and 2, 1.0, 2.2")

    def test_a_figure_that_is_missing_is_a_fault(self) -> None:
        with self.assertRaises(KeyError):
            said("joint-thin-wall", name="Pin A")


class Catalogue(unittest.TestCase):
    def codes(self) -> set[str]:
        return {name.split("/")[0].split(":")[-1] for name in catalogue()}

    def test_every_code_that_is_made_has_words_and_the_other_way_round(self) -> None:
        findings, _, every = made()
        self.assertGreater(len(findings), 60)
        self.assertEqual(findings - self.codes(), set())
        self.assertEqual(self.codes() - every, set())

    def test_every_code_is_documented(self) -> None:
        told = set(re.findall(r"^\| `([a-z-]+)`", (ROOT / "docs" / "findings.md").read_text(), re.MULTILINE))
        self.assertEqual(self.codes() - told, set())
        self.assertEqual(told - self.codes(), set())

    def test_every_fix_that_is_made_has_words_and_the_other_way_round(self) -> None:
        self.assertEqual(made()[1], set(FIXES))

    def test_a_kinds_own_words_are_found_by_its_kind(self) -> None:
        for kind in get_args(get_args(Joint)[0]):
            name = kind.model_fields["kind"].default
            for code in kind.words:
                with self.subTest(kind=name, code=code):
                    self.assertIn(f"{name}:{code}", catalogue())
        for kind in get_args(get_args(Parting)[0]):
            self.assertLessEqual(set(kind.words), set(catalogue()))

    def test_problems_begin_with_the_element_and_its_face(self) -> None:
        figures: Params = {"kind": "dovetail", "name": "Dovetail A", "neck_mm": 0.5}
        words = "Dovetail A on 1|2 has a neck of 0.5 mm, under two printed lines. Make it wider."
        self.assertEqual(said("joint-under-line", face="1|2", **figures), words)
        sharp = said("joint-sharp-edge", face="1|2", kind="tongue", name="Tongue A")
        self.assertTrue(sharp.startswith("Tongue A on 1|2 has sharp edges"))

    def test_cases_have_words_of_their_own(self) -> None:
        self.assertIn("The model falls over by itself", said("tips-over", tip_deg=0.0, safe_deg=10.0, least_base_mm=60.0))
        fall = {"what": "piece 3", "weight_n": 1.0, "pull_n": 0.5, "attitude": "hung"}
        self.assertEqual(
            said("falls-off", case="pulled", things=1, **fall),
            "Hung up, piece 3 (1.0 N) falls off: the magnets pull 0.5 N only. Use larger ones.",
        )

    def test_how_a_piece_lies_is_a_sentence(self) -> None:
        every = ("as it stands", "mating face", "flat face", "leaning", "X down", "chosen")
        words = ["as it stands", "lying on its mating face", "lying on a flat face", "leaning", "lying with X down"]
        self.assertEqual([lies(w) for w in every], [*words, "as it was laid"])

    def test_issues_and_fixes(self) -> None:
        self.assertIn(
            "1 hole (3 open edges", issue_sentence(Issue("surface-open", "must-fix", 1, {"edges": 3, "around_mm": 9.0}))
        )
        shift = Fix(kind="shift", code="shift", params={"by_mm": 2.1}, parting="p1", by_mm=-2.1)
        self.assertEqual(fix_label(shift), "Shift P1 by 2.1 mm")


if __name__ == "__main__":
    unittest.main()

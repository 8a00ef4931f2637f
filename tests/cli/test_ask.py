"""`hinoki ask`: every operation that is declared can be asked on the command line, with options by its request."""

import contextlib
import io
import json
import tempfile
import unittest
import zipfile
from pathlib import Path

from hinoki.cli import main
from hinoki.core.formats.registry import read_file
from hinoki.core.join.joints import PinJoint
from hinoki.operations.registry import operations
from tests.shapes import box, level, plan_for, stl_of

TALL = box(60, 60, 120)


class Ask(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.model = self.folder / "tall.stl"
        self.model.write_bytes(stl_of(TALL))

    def ask(self, *words: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            try:
                code = main(["ask", *words])
            except SystemExit as stop:
                code = int(stop.code or 0)
        return code, out.getvalue(), err.getvalue()

    def good(self, operation: str, *more: str) -> dict[str, object]:
        code, out, err = self.ask(operation, str(self.model), "--bed", "100x100x100", "--json", "--quiet", *more)
        self.assertEqual((code, err), (0, ""))
        return dict(json.loads(out))

    def test_all_that_is_declared_is_there_with_its_sentence_and_every_field_of_its_request(self) -> None:
        _, out, _ = self.ask("--help")
        said = " ".join(out.split())
        for name, own in operations().items():
            self.assertIn(name, said)
            self.assertIn(own.summary, said)
            _, told, _ = self.ask(name, "--help")
            for field in own.request.model_fields:
                self.assertRegex(told, f"--(asked-|no-|){field.replace('_', '-')}\\b", (name, field))

    def test_words_and_numbers_are_given_as_such_and_the_rest_as_json(self) -> None:
        found = self.good("propose", "--most-pieces", "4", "--prefer", "sturdy")
        self.assertEqual(found["proposals"][0]["title"], "Sturdiest joints")  # type: ignore[index]
        two = self.good("what-if", "--options", '[{}, {"scale": 0.5}]')
        as_it_is, half = (line["took"]["mass_g"] for line in two["lines"])  # type: ignore[attr-defined]
        self.assertLess(half, as_it_is / 4)

    def test_an_edit_gives_the_plan_as_it_would_be(self) -> None:
        plan = self.folder / "plan.json"
        plan.write_text(plan_for(stl_of(TALL), level(1, 60), bed=(100, 100, 100)).json_text())
        out = self.folder / "out"
        found = self.good("add-joints", "--kind", "auto", "--plan", str(plan), "--out", str(out))
        edited = json.loads((out / "add-joints.plan.json").read_text())
        self.assertEqual([j["id"] for j in edited["joints"]], found["joints"])
        self.assertEqual(len(edited["joints"]), 1)

    def test_files_and_drawings_are_written_where_a_folder_is_named(self) -> None:
        out = self.folder / "out"
        self.good("export", "--out", str(out))
        with zipfile.ZipFile(out / "export.zip") as made:
            self.assertIn("report.json", made.namelist())
        self.good("batch", "--out", str(out))
        (drawn,) = out.glob("*.ply")
        self.assertEqual(read_file(drawn.read_bytes(), drawn.name).mesh.bounds[1].round(3).tolist(), [30, 30, 120])

    def test_what_it_does_is_told_on_stderr_and_the_result_on_stdout(self) -> None:
        out = self.folder / "out"
        code, said, told = self.ask("export", str(self.model), "--bed", "200x200x200", "--out", str(out))
        self.assertEqual(code, 0)
        self.assertIn("pieces", json.loads(said))
        self.assertIn(f"{out / 'export.zip'} was written", told)

    def test_nonsense_is_refused_in_one_line(self) -> None:
        plan = plan_for(stl_of(TALL), level(1, 60), bed=(100, 100, 100)).model_copy(
            update={"joints": (PinJoint(id="j1", face={"parting": "p1", "member": 0, "a": "p1-", "b": "p1+"}),)}  # type: ignore[arg-type]
        )
        path = self.folder / "plan.json"
        path.write_text(plan.json_text())
        given = (str(self.model), "--plan", str(path))
        for words, said in (
            (("paint", *given), "arguments are required"),
            (("copy-joint", *given, "--joint", "j9"), "not in the plan any more"),
            (("propose", *given, "--most-pieces", "0"), "most_pieces"),
            (("propose", *given, "--printers", "{"), "is not JSON"),
            (("fly", *given), "invalid choice"),
            (("propose", str(self.model)), "--bed is needed"),
        ):
            code, out, err = self.ask(*words)
            self.assertEqual((code, out), (2, ""), words)
            self.assertRegex(err, said)
            self.assertNotIn("Traceback", err)

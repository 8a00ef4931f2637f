"""What every command says: JSON alone where it is asked for, nothing where it is to be quiet; help and completion at once."""

import contextlib
import io
import json
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from hinoki.cli import COMMANDS, main
from tests.shapes import box, stl_of

ROOT = Path(__file__).parents[2]
TELLING = """
import atexit, sys
atexit.register(lambda: print("numpy" in sys.modules))
from hinoki.cli import main
main(["{}"])
"""


def said(*arguments: str) -> tuple[int, str, str]:
    """A command's exit code, and what it says on stdout and stderr."""
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        code = main(arguments)
    return code, out.getvalue(), err.getvalue()


class Said(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.model = self.folder / "block.stl"
        self.model.write_bytes(stl_of(box(30, 20, 40)))
        (self.folder / "meshes").mkdir()
        (self.folder / "meshes" / "block.stl").write_bytes(self.model.read_bytes())
        bed = ("--bed", "100x100x100")
        self.commands: dict[str, tuple[str, ...]] = {
            "make": (str(self.model), *bed, "--lean", "--out", str(self.folder / "made")),
            "inspect": (str(self.model),),
            "repair": (str(self.model), "--out", str(self.folder / "repaired.stl")),
            "propose": (str(self.model), *bed),
            "ladder": ("pin", "--out", str(self.folder / "ladder")),
            "orient": (str(self.model), *bed),
            "assemble": (str(self.folder / "meshes"),),
        }

    def test_json_is_all_that_stands_on_stdout(self) -> None:
        for command, given in self.commands.items():
            with self.subTest(command):
                code, out, _ = said(command, *given, "--json")
                self.assertEqual((code, json.loads(out)["schema"].partition("/")[0][:7]), (0, "hinoki-"))

    def test_quiet_says_nothing(self) -> None:
        for command, given in self.commands.items():
            with self.subTest(command):
                self.assertEqual(said(command, *given, "--quiet"), (0, "", ""))

    def test_a_backup_is_told_as_json_and_taken_back(self) -> None:
        from hinoki.store.database import Database

        data, copy = self.folder / "data", self.folder / "copy.sqlite"
        data.mkdir()
        Database(data / "hinoki.sqlite").close()
        code, out, _ = said("backup", str(copy), "--data", str(data), "--json")
        self.assertEqual((code, json.loads(out)["bytes"]), (0, copy.stat().st_size))
        code, out, _ = said("restore", str(copy), "--data", str(data), "--json")
        self.assertEqual((code, json.loads(out)["from"]), (0, str(copy)))

    def test_shells_complete_every_command_and_what_it_takes(self) -> None:
        code, out, _ = said("--print-completion", "bash")
        self.assertEqual(code, 0)
        for word in (*COMMANDS, "--max-pieces", "--prefer", "--quiet"):
            self.assertIn(word, out)
        self.assertEqual(said("--print-completion", "abacus")[0], 2)

    def test_version_and_help_read_nothing_heavy(self) -> None:
        for word in ("--version", "--help"):
            done = subprocess.run(
                [sys.executable, "-c", TELLING.format(word)], cwd=ROOT, capture_output=True, text=True, check=True
            )
            self.assertEqual(done.stdout.splitlines()[-1], "False")


if __name__ == "__main__":
    unittest.main()

"""The wheel, built, installed where nothing else is, and used: no Node, no checkout."""

import json
import subprocess
import tempfile
import unittest
import urllib.request
from pathlib import Path
from typing import Any

from hinoki import __version__
from packing.wheel import make_wheel
from tests.api.serving import started
from tests.packing.clean_environment import installed
from tests.shapes import box, stl_of


def told(command: list[str], **more: Any) -> str:
    """What a command writes; it has to succeed."""
    done: str = subprocess.run(command, check=True, capture_output=True, text=True, **more).stdout
    return done


class Wheel(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.folder = Path(cls.enterClassContext(tempfile.TemporaryDirectory()))
        cls.wheel = make_wheel(cls.folder / "dist")
        cls.programs = installed(cls.wheel, cls.folder / "there")

    def said(self, *arguments: str) -> str:
        """What the installed `hinoki` says, away from the checkout and without any other program."""
        return told([str(self.programs / "hinoki"), *arguments], cwd=self.folder, env=self.bare())

    def bare(self) -> dict[str, str]:
        return {"PATH": str(self.programs), "HOME": str(self.folder), "LANG": "C.UTF-8", "TMPDIR": tempfile.gettempdir()}

    def test_its_version_stands_in_one_place(self) -> None:
        self.assertEqual(self.wheel.name, f"hinoki-{__version__}-py3-none-any.whl")
        self.assertEqual(self.said("--version").strip(), f"hinoki {__version__}")

    def test_it_makes_pieces_of_a_model(self) -> None:
        (self.folder / "block.stl").write_bytes(stl_of(box(30, 20, 140)))
        told = json.loads(self.said("make", "block.stl", "--bed", "100x100x100", "--out", "made", "--json"))
        self.assertGreaterEqual(len(told["pieces"]), 2)
        self.assertTrue(list((self.folder / "made").rglob("*.3mf")) or list((self.folder / "made").rglob("*.stl")))

    def test_the_demo_answers_with_its_screens(self) -> None:
        python = str(self.programs / "python")
        where = {"python": python, "cwd": self.folder, "env": self.bare()}
        process, address = started("demo", self.folder / "data", made=False, **where)
        self.addCleanup(process.wait)
        self.addCleanup(process.terminate)
        making = json.load(urllib.request.urlopen(f"{address}/api/shelf/making"))
        self.assertTrue(making["names"])
        page = urllib.request.urlopen(f"{address}/").read().decode()
        scripts = [part.split('"')[0] for part in page.split('src="')[1:]]
        self.assertTrue(scripts)
        for script in scripts:
            self.assertGreater(len(urllib.request.urlopen(address + script).read()), 1000)

    def test_a_manual_page_and_completion_come_with_it(self) -> None:
        share = self.programs.parent / "share"
        page = (share / "man/man1/hinoki.1").read_text()
        self.assertTrue(page.startswith(".TH HINOKI"), page[:40])
        for command in ("make", "serve", "propose"):
            self.assertIn(f"hinoki {command}", page)
        for place in ("bash-completion/completions/hinoki", "zsh/site-functions/_hinoki"):
            self.assertIn("--access-phrase-file", (share / place).read_text())
        completed = 'source "$1"; COMP_WORDS=(hinoki prop); COMP_CWORD=1; _shtab_hinoki; printf "%s\\n" "${COMPREPLY[@]}"'
        script = str(share / "bash-completion/completions/hinoki")
        self.assertEqual(told(["bash", "-c", completed, "x", script]).split(), ["propose"])

"""The commands inspect and repair, and what make takes of a model."""

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path

import numpy as np

from hinoki.cli import main
from hinoki.core.formats.base import NamedMesh
from hinoki.core.formats.registry import read_file
from hinoki.core.formats.stl import write_stl
from hinoki.core.formats.write import write_file
from hinoki.core.geometry.mesh import Mesh
from tests.shapes import box, torus

RING = torus(40, 12, 72, 36, 1.0)


class CommandCase(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def file(self, name: str, content: bytes) -> str:
        path = self.folder / name
        path.write_bytes(content)
        return str(path)

    def run_it(self, *arguments: str) -> tuple[int, str, str]:
        out, err = io.TextIOWrapper(io.BytesIO()), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(arguments)
        out.flush()
        return code, out.buffer.getvalue().decode(), err.getvalue()


class Inspect(CommandCase):
    def test_a_good_model(self) -> None:
        code, out, _ = self.run_it("inspect", self.file("ring.obj", write_file([NamedMesh("ring", RING)], "a.obj")))
        self.assertEqual(code, 0)
        self.assertIn("closed", out)
        self.assertIn("unit: millimetres", out)

    def test_json_has_codes_counts_and_places(self) -> None:
        path = self.file("holed.stl", write_stl(Mesh(RING.vertices, RING.faces[1:])))
        code, out, _ = self.run_it("inspect", path, "--json")
        document = json.loads(out)
        self.assertEqual((code, document["schema"], document["closed"]), (1, "hinoki-inspect/1", False))
        issue = document["findings"][0]
        self.assertEqual((issue["code"], issue["count"], len(issue["places"])), ("surface-open", 1, 1))

    def test_the_unit_asked_for_wins(self) -> None:
        path = self.file("a.stl", write_stl(Mesh(RING.vertices / 25.4, RING.faces)))
        _, out, _ = self.run_it("inspect", path, "--unit", "inch", "--json")
        self.assertAlmostEqual(json.loads(out)["size_mm"][2], float(np.ptp(RING.vertices[:, 2])), places=2)

    def test_what_cannot_be_read_exits_with_2_and_one_line(self) -> None:
        code, out, err = self.run_it("inspect", self.file("a.3mf", b"PK nothing"))
        self.assertEqual((code, out, err.count("\n")), (2, "", 1))


class Repair(CommandCase):
    def test_before_and_after_and_a_closed_file(self) -> None:
        path = self.file("holed.stl", write_stl(Mesh(RING.vertices, RING.faces[1:])))
        target = self.folder / "whole.3mf"
        code, out, _ = self.run_it("repair", path, "-o", str(target))
        self.assertEqual(code, 0)
        self.assertRegex(out, r"holes\s+1\s+0")
        self.assertTrue(read_file(target.read_bytes(), "whole.3mf").mesh.edges.closed)

    def test_rebuilding_at_a_fineness(self) -> None:
        path = self.file("soup.stl", write_stl(Mesh(RING.vertices, RING.faces[::-1][40:])))
        code, out, _ = self.run_it("repair", path, "-o", str(self.folder / "new.ply"), "--fineness", "2")
        self.assertEqual(code, 0)
        self.assertIn("rebuilt at 2 mm", out)

    def test_nothing_to_repair(self) -> None:
        _, out, _ = self.run_it("repair", self.file("a.stl", write_stl(RING)), "-o", str(self.folder / "b.stl"))
        self.assertIn("nothing to repair", out)

    def test_an_ending_that_cannot_be_written_is_refused_first(self) -> None:
        code, _, err = self.run_it("repair", self.file("a.stl", write_stl(RING)), "-o", str(self.folder / "b.step"))
        self.assertEqual(code, 2)
        self.assertIn(".step cannot be written", err)


class Make(CommandCase):
    def size(self, out: Path) -> list[float]:
        return [round(v, 2) for v in json.loads((out / "report.json").read_text())["model"]["size_mm"]]

    def test_it_takes_every_format_scales_and_stands(self) -> None:
        asked = "--bed", "200x200x200", "--scale", "1:3", "--up", "y", "--lean"
        for ending in (".3mf", ".obj", ".ply", ".glb"):
            path = self.file(f"a{ending}", write_file([NamedMesh("part", box(30, 60, 90).mesh)], f"a{ending}"))
            out = self.folder / ending[1:]
            code, _, err = self.run_it("make", path, *asked, "--out", str(out))
            self.assertEqual(code, 0, err)
            self.assertEqual(self.size(out), [10, 30, 20])

    def test_hollowing(self) -> None:
        path = self.file("post.stl", write_stl(box(30, 30, 30).mesh))
        out = self.folder / "out"
        code, _, err = self.run_it("make", path, "--bed", "200x200x200", "--hollow", "3", "--lean", "--out", str(out))
        self.assertEqual(code, 0, err)
        report = json.loads((out / "report.json").read_text())
        self.assertLess(report["model"]["volume_mm3"], 0.6 * 30**3)
        self.assertEqual([s["kind"] for s in json.loads((out / "plan.json").read_text())["prepare"]], ["hollow"])

    def test_bad_numbers(self) -> None:
        path = self.file("a.stl", write_stl(RING))
        code, _, err = self.run_it("make", path, "--bed", "200x200x200", "--hollow", "0", "--out", str(self.folder / "o"))
        self.assertEqual(code, 2)
        self.assertIn("--hollow", err)
        with self.assertRaises(SystemExit), contextlib.redirect_stderr(io.StringIO()):
            main(["make", path, "--bed", "1x1x1", "--scale", "1:0", "--out", "o"])


if __name__ == "__main__":
    unittest.main()

"""`hinoki assemble`: meshes placed as assembled, and what cannot be read."""

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path

import pypdfium2 as pdfium

from hinoki.cli import main
from hinoki.core.geometry.solid import Solid
from tests.core.assemble.bodies import cabinet, square_link
from tests.shapes import stl_of


class Assemble(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "cabinet"
        self.folder.mkdir()

    def put(self, bodies: dict[str, Solid]) -> None:
        for name, solid in bodies.items():
            (self.folder / f"{name}.stl").write_bytes(stl_of(solid))

    def run_assemble(self, *more: str) -> tuple[int, str, str]:
        out, err = io.TextIOWrapper(io.BytesIO(), encoding="utf-8", write_through=True), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            try:
                code = main(["assemble", str(self.folder), *more])
            except SystemExit as stop:
                code = int(stop.code or 0)
        return code, out.buffer.getvalue().decode(), err.getvalue()

    def test_steps_are_told_and_written_with_their_sheets(self) -> None:
        self.put(cabinet())
        out_folder = self.folder.parent / "out"
        code, out, _ = self.run_assemble("--out", str(out_folder), "--paper", "Letter")
        self.assertEqual(code, 0, out)
        self.assertLess(out.index("Drawer"), out.index("Frame"))
        document = json.loads((out_folder / "assembly.json").read_text())
        self.assertEqual(document["schema"], "hinoki-assemble/1")
        self.assertEqual([s["proof"] for s in document["steps"]], ["proved"] * 3)
        self.assertEqual(document["steps"][1]["motion"]["direction"], [0, 1, 0])
        pages = pdfium.PdfDocument(out_folder / "assembly.pdf")
        self.assertIn("Drawer", "".join(p.get_textpage().get_text_range() for p in pages))

    def test_inches_are_told_apart_from_millimetres(self) -> None:
        self.put(cabinet())
        _, out, _ = self.run_assemble("--json", "--unit", "inch")
        drawer = json.loads(out)["steps"][1]
        self.assertGreater(drawer["motion"]["distance_mm"], 25 * 60)

    def test_without_an_order_it_says_so_and_exits_with_1(self) -> None:
        self.put({"one": square_link((0, 0, 0), "xy"), "two": square_link((30, 0, 0), "xz")})
        code, out, _ = self.run_assemble()
        self.assertEqual(code, 1)
        self.assertIn("lock each other", out)

    def test_what_cannot_be_read_is_said_with_its_name(self) -> None:
        code, _, err = self.run_assemble()
        self.assertEqual(code, 2)
        self.assertIn("holds no mesh", err)
        (self.folder / "bad.stl").write_bytes(b"solid nothing")
        code, _, err = self.run_assemble()
        self.assertEqual((code, "bad.stl" in err), (2, True), err)
        self.folder = self.folder / "missing"
        self.assertIn("is not a folder", self.run_assemble()[2])

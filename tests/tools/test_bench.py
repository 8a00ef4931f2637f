"""The bench measures what the product does: each of its rows that needs no screen is made, on models with few triangles."""

import io
import sys
import tempfile
import unittest
from collections.abc import Callable
from pathlib import Path
from typing import Any
from unittest.mock import patch

from bench import assemble, divide, join, model, run
from bench import print as printing
from bench.model import Line
from hinoki.core.geometry.mesh import Mesh
from tests.shapes import torus

COARSER = 10


def coarse(outer: float, inner: float, around: int, across: int, *more: Any) -> Mesh:
    """A torus with a hundredth of its triangles."""
    return torus(outer, inner, around // COARSER, across // COARSER, *more)


class Measured(unittest.TestCase):
    def test_a_row_is_measured_from_reading_to_writing(self) -> None:
        with patch.dict(run.SIZES, {8_000: (80, 50)}, clear=True), patch.object(run, "ROUNDS", 1):
            row = run.measure(8_000)
        self.assertTrue(0 < row.read_s < row.full_s)
        self.assertTrue(0 < row.write_s < row.full_s)
        self.assertGreater(row.floor_s, 0)

    def rows(self, module: Any, *makers: Callable[[], Line | list[Line]]) -> None:
        """Each of the rows has taken some time, and its floor, too."""
        with patch.object(module, "torus", coarse):
            for make in makers:
                found = make()
                for line in found if isinstance(found, list) else [found]:
                    self.assertGreater(line.seconds, 0, line.what)
                    self.assertGreater(1 if line.floor is None else line.floor, 0, line.what)

    def test_rows_of_the_model(self) -> None:
        self.rows(model, model.bring_in, model.thickness_map, model.hollow)

    def test_rows_of_dividing(self) -> None:
        with patch.object(divide, "BED", (480.0, 480.0, 250.0)):
            self.rows(divide, divide.proposals, divide.undo)

    def test_rows_of_joining(self) -> None:
        with patch.object(join, "ROUNDS", 1):
            self.rows(join, join.moving, join.everything, join.placing)

    def test_rows_of_printing(self) -> None:
        with patch.object(printing, "ROUNDS", 1):
            self.rows(printing, printing.rows)

    def test_rows_of_assembling(self) -> None:
        with patch.object(assemble, "WEDGES", 3):
            self.rows(assemble, assemble.planning)

    def test_sections_are_measured_by_name_and_written_where_they_stand(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            doc = Path(folder) / "performance.md"
            doc.write_text("a <!-- join --> old <!-- end --> b <!-- log --> kept <!-- end -->")
            sections = {"join": ("joints", lambda: "| new |"), "log": ("the log", lambda: "| other |")}
            with (
                patch.object(run, "DOC", doc),
                patch.dict(run.SECTIONS, sections, clear=True),
                patch.object(sys, "argv", ["bench", "join"]),
                patch("sys.stdout", io.StringIO()) as said,
            ):
                self.assertEqual(run.main(), 0)
            self.assertIn("| new |", doc.read_text())
            self.assertIn("kept", doc.read_text())
            self.assertIn("1 of 1: join, joints", said.getvalue())

    def test_a_section_there_is_not_is_told(self) -> None:
        with (
            patch.object(sys, "argv", ["bench", "nothing"]),
            patch("sys.stderr", io.StringIO()) as said,
            self.assertRaises(SystemExit),
        ):
            run.main()
        self.assertIn("there is no section nothing", said.getvalue())


if __name__ == "__main__":
    unittest.main()

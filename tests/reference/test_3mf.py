"""3MF read back and validated by lib3mf, the 3MF Consortium's own library, in strict mode."""

import tempfile
import unittest
from pathlib import Path

import lib3mf
import numpy as np

from hinoki.core.export.archive import export_files
from hinoki.core.formats.threemf_write import Placed, write_3mf
from hinoki.core.propose.recommend_joints import suggested
from tests.shapes import box, built, level, plan_for, stl_of, tube


def read_strictly(content: bytes):  # type: ignore[no-untyped-def]
    """The model as lib3mf reads it in strict mode; any warning fails."""
    wrapper = lib3mf.get_wrapper()
    model = wrapper.CreateModel()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "read.3mf"
        path.write_bytes(content)
        reader = model.QueryReader("3mf")
        reader.SetStrictModeActive(True)
        reader.ReadFromFile(str(path))
        if reader.GetWarningCount():
            raise AssertionError([reader.GetWarning(i) for i in range(reader.GetWarningCount())])
    return model


def objects(model) -> dict[str, tuple[float, bool]]:  # type: ignore[no-untyped-def]
    """Name → (volume, closed and consistently turned) of all mesh objects."""
    found = {}
    items = model.GetMeshObjects()
    while items.MoveNext():
        mesh = items.GetCurrentMeshObject()
        points = np.array([list(v.Coordinates) for v in mesh.GetVertices()])
        faces = np.array([list(t.Indices) for t in mesh.GetTriangleIndices()])
        a, b, c = (points[faces[:, k]] for k in range(3))
        found[mesh.GetName()] = float(np.einsum("ij,ij->", a, np.cross(b, c)) / 6), mesh.IsManifoldAndOriented()
    return found


class Strict(unittest.TestCase):
    def test_names_volumes_and_unit(self) -> None:
        parts = [Placed("1 Rock & <roll>", box(10, 20, 30).mesh), Placed("2 “Ø” tube", tube(9, 5, 20).mesh)]
        model = read_strictly(write_3mf(parts, 'A "title" & more'))
        self.assertEqual(model.GetUnit(), lib3mf.ModelUnit.MilliMeter)
        found = objects(model)
        self.assertAlmostEqual(found["1 Rock & <roll>"][0] / 6000, 1, places=5)
        self.assertAlmostEqual(found["2 “Ø” tube"][0] / tube(9, 5, 20).volume_mm3, 1, places=5)
        self.assertEqual(model.GetBuildItems().Count(), 2)

    def test_an_export_holds_every_piece_closed_and_of_its_volume(self) -> None:
        data = stl_of(tube(46, 34, 300))
        plan = plan_for(data, level(1, 100), level(2, 200))
        plan = suggested(built(data, plan), plan, "pin", "snug")
        result = built(data, plan)
        found = objects(read_strictly(dict(export_files(plan, result))["pieces.3mf"]))
        self.assertEqual(len(found), 3)
        for piece in result.pieces:
            volume, closed = found[f"{piece.number} {piece.name}"]
            self.assertTrue(closed)
            self.assertAlmostEqual(volume / piece.volume_mm3, 1, places=5)

"""What prints is made larger by what its material shrinks, so that it comes out as it was drawn."""

import io
import unittest
import zipfile

import numpy as np
import orjson

from hinoki.core.batch.print_plan import printing_of
from hinoki.core.build import build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check_all
from hinoki.core.export.archive import ExportWish, export_zip
from hinoki.core.formats.registry import read_file
from hinoki.core.plan.plan import Plan
from hinoki.core.workshop.materials import Material
from hinoki.present.export import outgoing_of
from tests.shapes import box, level, plan_for, stl_of


def exported(plan: Plan, data: bytes) -> zipfile.ZipFile:
    cache = Cache()
    built = build(plan, lambda _: data, cache)
    printing = printing_of(plan, built, cache)
    return zipfile.ZipFile(
        io.BytesIO(export_zip(plan, built, outgoing=outgoing_of(built, check_all(built, cache), ExportWish(), printing)))
    )


def sizes(archive: zipfile.ZipFile, start: str) -> list[list[float]]:
    """The sorted sizes of the bodies in the files of a folder."""
    found = []
    for name in sorted(n for n in archive.namelist() if n.startswith(start)):
        for body in read_file(archive.read(name), name).objects:
            found.append(sorted(np.ptp(body.mesh.vertices, axis=0).tolist()))
    return sorted(found)


class Shrinkage(unittest.TestCase):
    def test_after_it_shrank_it_is_as_drawn(self) -> None:
        """Factor 1/(1 − s): what shrinks by s per cent of its printed size has the drawn size then."""
        data = stl_of(box(60, 40, 100))
        for percent in (0.4, 2.0):
            material = Material(shrinkage_percent=percent, compensated=True)
            archive = exported(plan_for(data, level(1, 30), material=material), data)
            for folder in ("pieces/", "batches/"):
                cold = [[side * (1 - percent / 100) for side in size] for size in sizes(archive, folder)]
                np.testing.assert_allclose(cold, [[30, 40, 60], [40, 60, 70]], atol=2e-5)
            report = orjson.loads(archive.read("report.json"))
            self.assertEqual({p["enlarged_percent"] for p in report["pieces"]}, {round(100 * (1 / (1 - percent / 100) - 1), 4)})
            (batch,) = (n for n in archive.namelist() if n.startswith("batches/"))
            model = zipfile.ZipFile(io.BytesIO(archive.read(batch))).read("3D/3dmodel.model")
            self.assertIn(b"against shrinkage", model)

    def test_it_is_as_drawn_where_nothing_is_said(self) -> None:
        data = stl_of(box(60, 40, 100))
        archive = exported(plan_for(data, level(1, 30)), data)
        np.testing.assert_allclose(sizes(archive, "pieces/"), [[30, 40, 60], [40, 60, 70]], atol=1e-5)

    def test_what_just_fits_does_not_once_it_is_larger(self) -> None:
        data = stl_of(box(99.9, 99.9, 99.9))
        for compensated, fits in ((False, True), (True, False)):
            plan = plan_for(data, bed=(100, 100, 100), material=Material(shrinkage_percent=0.5, compensated=compensated))
            (piece,) = build(plan, lambda _: data, Cache()).pieces
            self.assertEqual(piece.fits, fits)


if __name__ == "__main__":
    unittest.main()

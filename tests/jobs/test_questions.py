"""Questions put to a worker: surveys, repairs, walls and drains, each stopped or answered in full."""

import hashlib
import json
import tempfile
import time
import unittest
from pathlib import Path
from typing import Any

import numpy as np

from hinoki.core.errors import HinokiError
from hinoki.core.formats.stl import write_stl
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.model.steps import HollowStep, StretchStep
from hinoki.core.plan.contents import ModelUse
from hinoki.core.plan.plan import Plan
from hinoki.jobs.pool import Pool
from hinoki.store.database import Database
from hinoki.store.tables.sources import SourceFacts, add_source
from tests.questions import job_of
from tests.shapes import box, level, torus


class Asking(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.database = Database(self.folder / "h.sqlite")
        self.addCleanup(self.database.close)
        self.pool = Pool(self.database.path, self.folder / "cache", workers=1)
        self.addCleanup(self.pool.close)

    def plan(self, mesh: Mesh, **changes: Any) -> str:
        """A plan for a model that is in the database."""
        data = write_stl(mesh)
        source = hashlib.sha256(data).hexdigest()
        path = self.folder / "model.stl"
        path.write_bytes(data)
        facts = SourceFacts(source, "model.stl", len(data), len(mesh.faces), (1.0, 1.0, 1.0))
        self.database.write(lambda c: add_source(c, path, facts))
        return Plan(model=ModelUse(source=source, file_name="model.stl"), **changes).json_text()

    def ask(self, operation: str, plan: str, **request: Any) -> dict[str, Any]:
        name = self.pool.submit(job_of(operation, request, plan, "answer.json")).wait(120)
        found: dict[str, Any] = json.loads((self.folder / "cache" / "answers" / name).read_text())
        return found

    def test_a_survey_leaves_a_thickness_map(self) -> None:
        found = self.ask("survey", self.plan(torus(30, 8, 48, 24)))
        self.assertEqual(found["issues"], [])
        under = np.frombuffer((self.folder / "cache" / "meshes" / f"{found['mesh']}.thick").read_bytes(), "<f4")
        self.assertGreater(len(under), 1000)
        self.assertAlmostEqual(float(under.max()), 16, delta=0.5)

    def test_pieces_are_drawn_and_told_before_the_build_is_done(self) -> None:
        heard: list[tuple[str, dict[str, str]]] = []
        plan = self.plan(box(30, 30, 80).mesh, partings=(level(1, 40),))
        job = job_of("build", None, plan, "build.json")
        job.on_change = lambda now: heard.append((now.state, dict(now.pieces)))
        self.pool.submit(job).wait(120)
        state, pieces = next((state, pieces) for state, pieces in heard if pieces)
        view = json.loads((self.folder / "cache" / "builds" / "build.json").read_text())
        self.assertEqual((state, pieces), ("running", {p["key"]: p["mesh"] for p in view["pieces"]}))
        for name in pieces.values():
            self.assertTrue((self.folder / "cache" / "meshes" / f"{name}.bin").exists())

    def test_walls_are_measured_for_every_piece(self) -> None:
        plan = self.plan(box(30, 30, 80).mesh, partings=(level(1, 40),))
        found = self.ask("walls", plan)
        for name in found["maps"]:
            self.assertTrue((self.folder / "cache" / "meshes" / f"{name}.thick").exists())
        self.assertGreaterEqual(len(found["maps"]), 3)

    def test_a_chosen_repair_is_tried_as_it_is(self) -> None:
        mesh = Mesh(box(30, 30, 30).mesh.vertices, box(30, 30, 30).mesh.faces[2:])
        step = {"kind": "repair", "id": "s1", "holes": "leave"}
        found = self.ask("repair-trial", self.plan(mesh), step=step)
        self.assertFalse(found["comparison"]["after"]["closed"])
        self.assertEqual(found["step"]["holes"], "leave")

    def test_drains_of_what_is_not_hollow_are_refused(self) -> None:
        with self.assertRaisesRegex(HinokiError, "no hollow to drain"):
            self.ask("drains", self.plan(box(30, 30, 30).mesh, prepare=(StretchStep(id="s1"),)), step="s1")

    def test_a_long_hollow_tells_its_progress_and_can_be_stopped(self) -> None:
        told: list[float] = []
        plan = self.plan(torus(80, 30, 300, 150, 1.5), prepare=(HollowStep(id="s1", wall_mm=2),))
        job = job_of("build", None, plan, "b.json", on_change=lambda j: told.append(j.fraction))
        self.pool.submit(job)
        while len(set(told)) < 3 and job.state in ("queued", "running"):
            time.sleep(0.01)
        job.cancel_asked = True
        with self.assertRaisesRegex(HinokiError, "stopped"):
            job.wait(60)
        self.assertEqual(job.state, "cancelled")
        self.assertFalse((self.folder / "cache" / "builds" / "b.json").exists())
        # the worker goes on, and the next answer is whole
        self.assertEqual(self.ask("survey", self.plan(box(20, 20, 20).mesh))["issues"], [])


if __name__ == "__main__":
    unittest.main()

"""The API over real requests: the whole path, refusals, two windows, safety."""

import importlib
import io
import json
import pkgutil
import shutil
import tempfile
import time
import unittest
import zipfile
from pathlib import Path
from typing import Any

from fastapi.testclient import TestClient

import hinoki.api.routers
from hinoki.api.app import make_app
from hinoki.api.openapi import document
from hinoki.api.routers.operations import operations_router
from hinoki.api.shared.state import State
from hinoki.api.shared.strict_route import Heeding
from hinoki.present.display_mesh import MAGIC
from hinoki.store.backups import backup
from tests.shapes import box, stl_of, tube


class ApiCase(unittest.TestCase):
    limit = 2_000_000

    @classmethod
    def setUpClass(cls) -> None:
        cls.folder = tempfile.TemporaryDirectory()
        cls.state = State(Path(cls.folder.name), upload_limit=cls.limit)
        cls.client = TestClient(make_app(cls.state), base_url="http://localhost", raise_server_exceptions=False)
        cls.client.__enter__()

    @classmethod
    def tearDownClass(cls) -> None:
        cls.client.__exit__(None, None, None)
        cls.folder.cleanup()

    def begin(self, name: str = "Shed") -> str:
        return str(self.client.post("/api/projects", json={"name": name}).json()["project_id"])

    def bring(self, project: str, content: bytes, base: int = 1, name: str = "a.stl"):  # type: ignore[no-untyped-def]
        return self.client.post(f"/api/projects/{project}/model?file_name={name}&base_revision={base}", content=content)

    def put(self, project: str, base: int, **changes: object):  # type: ignore[no-untyped-def]
        plan = self.client.get(f"/api/projects/{project}").json()["plan"] | changes
        body = {"base_revision": base, "label": "Changed", "plan": plan}
        return self.client.put(f"/api/projects/{project}/plan", json=body)

    def settle(self, project: str) -> None:
        """Wait until the model is there and built."""
        for _ in range(600):
            if self.client.get(f"/api/projects/{project}").json()["plan"]["model"]:
                break
            time.sleep(0.05)
        self.build(project)

    def revision(self, project: str) -> int:
        return int(self.client.get(f"/api/projects/{project}").json()["revision"])

    def plan(self, project: str) -> dict[str, Any]:
        found: dict[str, Any] = self.client.get(f"/api/projects/{project}").json()["plan"]
        return found

    def answer(self, project: str, operation: str, body: object = None) -> dict[str, Any]:
        """The result of an operation."""
        asked = self.client.post(f"/api/projects/{project}/{operation}", json=body)
        self.assertEqual(asked.status_code, 202, asked.text)
        found: dict[str, Any] = self.client.get(f"/api/results/{operation}/{self.ended(asked.json())}").json()
        return found

    def ended(self, job: dict[str, Any]) -> str:
        """The name of a job's answer, once it is there."""
        for _ in range(1200):
            if job["state"] in ("done", "failed", "cancelled"):
                break
            time.sleep(0.05)
            job = self.client.get(f"/api/jobs/{job['id']}").json()
        self.assertEqual(job["state"], "done", job)
        return str(job["result"])

    def build(self, project: str) -> dict:  # type: ignore[type-arg]
        for _ in range(600):
            answer = self.client.get(f"/api/projects/{project}/build")
            self.assertIn(answer.status_code, (200, 202), answer.text)
            if answer.json()["build"]:
                return answer.json()["build"]  # type: ignore[no-any-return]
            time.sleep(0.05)
        raise AssertionError("the build did not end")

    def refused(self, answer, status: int, *words: str) -> dict:  # type: ignore[no-untyped-def,type-arg]
        self.assertEqual(answer.status_code, status, answer.text)
        self.assertEqual(answer.headers["content-type"], "application/problem+json")
        problem = answer.json()
        for word in words:
            self.assertIn(word, problem["detail"])
        return problem  # type: ignore[no-any-return]


FLAT = {"kind": "flat", "id": "p1", "axis": "z", "at_mm": 150}


class WholePath(ApiCase):
    def test_from_an_upload_to_a_zip(self) -> None:
        project = self.begin("Tall tube")
        self.assertEqual(self.bring(project, stl_of(tube(46, 36, 300))).status_code, 200)
        self.assertEqual(self.put(project, 2, partings=[FLAT]).json()["revision"], 3)
        view = self.build(project)
        self.assertEqual([p["number"] for p in view["pieces"]], [1, 2])
        self.assertEqual(
            self.put(project, 3, joints=self.answer(project, "suggest-joints", {"kind": "pin"})["joints"]).json()["revision"], 4
        )
        view = self.build(project)
        self.assertEqual(len(view["joints"]), 1)
        mesh = self.client.get(f"/api/meshes/{view['pieces'][0]['mesh']}")
        self.assertEqual(mesh.content[:4], MAGIC)
        self.assertIn("immutable", mesh.headers["cache-control"])

        job = self.client.post(f"/api/projects/{project}/exports").json()
        while job["state"] in ("queued", "running"):
            time.sleep(0.05)
            job = self.client.get(f"/api/jobs/{job['id']}").json()
        self.assertEqual(job["state"], "done", job)
        answer = self.client.get(f"/api/projects/{project}/exports/{job['result']}")
        self.assertIn("tall-tube", answer.headers["content-disposition"])
        with zipfile.ZipFile(io.BytesIO(answer.content)) as archive:
            names = set(archive.namelist())
            report = json.loads(archive.read("report.json"))
        self.assertLessEqual({"pieces.3mf", "plan.json", "report.json", "cut-list.csv"}, names)
        self.assertEqual(len([n for n in names if n.startswith("pieces/")]), 2)
        self.assertEqual(report["joints"][0]["face"], "1|2")

    def test_undo_and_redo_and_history(self) -> None:
        project = self.begin()
        self.bring(project, stl_of(box(40, 40, 300)))
        self.put(project, 2, partings=[FLAT])
        back = self.client.post(f"/api/projects/{project}/undo", json={"base_revision": 3}).json()
        self.assertEqual((back["revision"], back["plan"]["partings"], back["redo"]), (2, [], "Changed"))
        again = self.client.post(f"/api/projects/{project}/redo", json={"base_revision": 2}).json()
        self.assertEqual(again["revision"], 3)
        self.assertEqual(len(self.client.get(f"/api/projects/{project}/history").json()), 3)
        self.refused(self.client.post(f"/api/projects/{project}/redo", json={"base_revision": 3}), 404, "nothing to redo")

    def test_the_build_is_still_there_after_a_new_start(self) -> None:
        project = self.begin()
        self.bring(project, stl_of(box(40, 40, 300)))
        self.put(project, 2, partings=[FLAT])
        before = self.build(project)
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        backup(self.state.database.path, Path(folder.name) / "hinoki.sqlite")
        shutil.copytree(self.state.cache, Path(folder.name) / "cache")
        other = State(Path(folder.name))
        try:
            content = other.built(project, 3)
            assert content is not None
            self.assertEqual(json.loads(content)["numbers"], before["numbers"])
        finally:
            other.close()

    def test_a_deleted_cache_is_made_again(self) -> None:
        project = self.begin()
        self.bring(project, stl_of(box(41, 41, 300)))
        mesh = self.build(project)["pieces"][0]["mesh"]
        path = self.state.cache / "meshes" / f"{mesh}.bin"
        path.unlink()
        self.refused(self.client.get(f"/api/meshes/{mesh}"), 404, "load the page again")
        self.build(project)
        self.assertTrue(path.exists())

    def test_numbers_are_kept_when_a_parting_is_added(self) -> None:
        project = self.begin()
        self.bring(project, stl_of(box(40, 40, 300)))
        self.put(project, 2, partings=[FLAT])
        first = self.build(project)["numbers"]
        self.put(project, 3, partings=[FLAT, FLAT | {"id": "p2", "at_mm": 70}])
        second = self.build(project)["numbers"]
        self.assertEqual(second["p1+"], first["p1+"])


class Refusals(ApiCase):
    def stored(self) -> int:
        with self.state.database.reading() as connection:
            return int(connection.execute("SELECT count(*) FROM source_chunks").fetchone()[0])

    def test_broken_files_are_refused_and_leave_nothing(self) -> None:
        project = self.begin()
        good = stl_of(box(10, 10, 10))
        before = self.stored()
        broken = {"empty": b"", "text file": b"only words", "cut off": good[:300], "header says": good + b"x" * 7}
        for words, content in broken.items():
            self.refused(self.bring(project, content), 422, words)
        self.assertEqual(self.client.get(f"/api/projects/{project}").json()["revision"], 1)
        self.assertEqual(list(self.state.incoming.iterdir()), [])
        self.assertEqual(self.stored(), before)
        self.assertEqual(self.bring(project, good).status_code, 200)

    def test_a_file_over_the_limit_says_the_limit(self) -> None:
        project = self.begin()
        self.refused(self.bring(project, bytes(self.limit + 1)), 413, "2 MB")

        def stream():  # type: ignore[no-untyped-def]
            for _ in range(5):
                yield bytes(self.limit // 4)

        self.refused(self.bring(project, stream()), 413, "2 MB")
        self.assertEqual(list(self.state.incoming.iterdir()), [])

    def test_an_unknown_ending(self) -> None:
        self.refused(self.bring(self.begin(), b"x", name="shed.docx"), 422, ".docx")

    def test_partings_that_make_no_sense(self) -> None:
        project = self.begin()
        self.bring(project, stl_of(box(40, 40, 300)))
        miss = self.put(project, 2, partings=[FLAT | {"at_mm": 300.0}])
        self.assertEqual(self.refused(miss, 422, "P1", "misses the model", "0.0 to 300.0")["where"], "partings.0.at_mm")
        twice = self.put(project, 2, partings=[FLAT, FLAT | {"id": "p2"}])
        self.refused(twice, 422, "P1", "same place as P2")
        zigzag = self.put(project, 2, partings=[FLAT | {"kind": "zigzag"}])
        self.refused(zigzag, 422, "zigzag", "not known")
        self.assertEqual(self.client.get(f"/api/projects/{project}").json()["revision"], 2)

    def test_an_old_parting_that_misses_now_does_not_stop_other_edits(self) -> None:
        project = self.begin()
        self.bring(project, stl_of(box(40, 40, 300)))
        self.put(project, 2, partings=[FLAT])
        self.bring(project, stl_of(box(40, 40, 100)), base=3)
        self.assertEqual(self.put(project, 4, least_wall_mm=2.0).status_code, 200)
        self.assertIn("parting-misses", [f["code"] for f in self.build(project)["findings"]])

    def test_bad_plans_and_beds(self) -> None:
        project = self.begin()
        self.refused(self.put(project, 1, schema="hinoki-plan/7"), 422, "newer Hinoki")
        self.refused(self.put(project, 1, printer={"bed_mm": [0, 220], "height_mm": 250}), 422, "printer.bed_mm.0")
        self.refused(self.put(project, 1, least_wall_mm=-1), 422, "least_wall_mm")

    def test_two_windows_never_lose_an_edit(self) -> None:
        project = self.begin()
        self.assertEqual(self.put(project, 1, least_wall_mm=2.0).status_code, 200)
        self.refused(self.put(project, 1, least_wall_mm=3.0), 409, "changed elsewhere", "revision 2")
        self.assertEqual(self.client.get(f"/api/projects/{project}").json()["plan"]["least_wall_mm"], 2.0)

    def test_things_that_are_not_there(self) -> None:
        for path in ("/api/projects/nope", "/api/projects/nope/build", "/api/jobs/nope", "/api/meshes/abc", "/api/nothing"):
            self.assertEqual(self.client.get(path).status_code, 404, path)
        self.refused(self.client.post(f"/api/projects/{self.begin()}/exports"), 404, "no model")
        self.assertEqual(self.client.get("/api/meshes/..%2f..%2fhinoki").status_code, 404)

    def test_what_nobody_knows_is_refused_by_name(self) -> None:
        project = self.begin()
        self.refused(self.client.post("/api/projects", json={"name": "Shed", "colour": "red"}), 422, "colour is no field here")
        self.refused(self.put(project, 1, least_wal_mm=2.0), 422, "least_wal_mm is no field here")
        parting = {"kind": "flat", "id": "p1", "axis": "z", "at_mm": 20, "tilt": [3, 0]}
        self.refused(self.put(project, 1, partings=[parting]), 422, "partings.0.tilt is no field here")
        self.refused(self.put(project, 1, printer={"bed_mm": [220, 220], "height_mm": 250, "hight": 3}), 422, "printer.hight")
        wish = {"wish": {"preset": "balanced", "weights": {"support": 1, "tmie": 2}}}
        self.refused(self.client.post(f"/api/projects/{project}/orient", json=wish), 422, "is no field here")
        self.refused(self.client.get(f"/api/projects/{project}/build?revison=1"), 422, "?revison is no field here")
        self.assertEqual(self.client.get(f"/api/projects/{project}").json()["revision"], 1)

    def test_every_route_heeds_all_it_is_asked(self) -> None:
        modules = [
            importlib.import_module(f"hinoki.api.routers.{m.name}") for m in pkgutil.iter_modules(hinoki.api.routers.__path__)
        ]
        routers = [module.router for module in modules if hasattr(module, "router")]
        routes = [route for router in (*routers, operations_router()) for route in router.routes]
        paths = make_app(self.state).openapi()["paths"]
        self.assertEqual({r.path for r in routes}, set(paths))
        self.assertEqual([r.path for r in routes if not isinstance(r, Heeding)], [])

    def test_a_request_without_a_body(self) -> None:
        self.refused(self.client.put(f"/api/projects/{self.begin()}/plan"), 422)


class Safety(ApiCase):
    def test_other_host_names_are_refused(self) -> None:
        self.refused(self.client.get("/api/projects", headers={"host": "elsewhere.example"}), 421)

    def test_another_sites_page_cannot_write(self) -> None:
        headers = {"origin": "http://elsewhere.example"}
        self.refused(self.client.post("/api/projects", json={"name": "x"}, headers=headers), 403)

    def test_an_access_phrase_is_asked_for(self) -> None:
        client = TestClient(make_app(self.state, ("*",), "sawdust"), base_url="http://localhost")
        self.assertEqual(client.get("/api/projects").status_code, 401)
        self.assertEqual(client.get("/api/projects", auth=("me", "wrong")).status_code, 401)
        self.assertEqual(client.get("/api/projects", auth=("me", "sawdust")).status_code, 200)

    def test_other_addresses_need_a_phrase(self) -> None:
        from hinoki.api.server import serve
        from hinoki.core.errors import BadPlan

        with self.assertRaisesRegex(BadPlan, "--access-phrase-file"):
            serve(self.state.folder, "0.0.0.0", 1, None, False)


class Types(unittest.TestCase):
    def test_the_document_the_screens_types_come_from_is_the_apis_own(self) -> None:
        web = Path(__file__).parents[2] / "web"
        now = document()
        self.assertEqual(json.loads((web / "openapi.json").read_text()), json.loads(now), "run 'python3 run.py types'")

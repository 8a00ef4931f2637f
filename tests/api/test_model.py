"""Files, surveys, repairs and the workshop over real requests."""

import hashlib
import io
import struct
import time
import unittest
import zipfile
from datetime import UTC, datetime, timedelta
from typing import Any

import numpy as np
from PIL import Image

from hinoki.core.formats.base import NamedMesh
from hinoki.core.formats.registry import read_file
from hinoki.core.formats.stl import write_stl
from hinoki.core.formats.write import write_file
from hinoki.core.geometry.mesh import Mesh
from tests.api.test_api import ApiCase
from tests.core.formats.test_formats import GOOD, broken
from tests.shapes import box, stl_of, torus

RING = torus(40, 12, 72, 36, 1.0)
MIDDLES = RING.vertices[RING.faces].mean(axis=1)
HOLED = Mesh(RING.vertices, RING.faces[np.linalg.norm(MIDDLES - MIDDLES[500], axis=1) > 4])


class SurfaceCase(ApiCase):
    def asked(self, project: str, path: str, body: Any = None, query: str = "") -> str:
        answer = self.client.post(f"/api/projects/{project}/{path}{query}", json=body)
        self.assertEqual(answer.status_code, 202, answer.text)
        job = answer.json()
        for _ in range(1200):
            if job["state"] not in ("queued", "running"):
                break
            time.sleep(0.05)
            job = self.client.get(f"/api/jobs/{job['id']}").json()
        self.assertEqual(job["state"], "done", job)
        return str(job["result"])


class Files(SurfaceCase):
    def test_every_format_is_brought_in_with_its_unit(self) -> None:
        for ending in (".stl", ".3mf", ".obj", ".ply", ".glb"):
            project = self.begin()
            answer = self.bring(project, write_file([NamedMesh("ring", RING)], f"a{ending}"), name=f"a{ending}")
            use = answer.json()["plan"]["model"]
            self.assertEqual(use["unit"], "m" if ending == ".glb" else "mm")
            self.assertEqual(use["unit_from"], "file" if ending in (".glb", ".3mf") else "picked")
            model = self.build(project)["model"]
            self.assertTrue(model["closed"])
            self.assertAlmostEqual(model["size_mm"][2], 24.0, delta=2.5)

    def test_a_tiny_file_is_asked_about(self) -> None:
        project = self.begin()
        use = self.bring(project, write_stl(Mesh(RING.vertices / 1000, RING.faces))).json()["plan"]["model"]
        self.assertEqual((use["unit"], use["unit_from"]), ("m", "proposed"))
        self.assertIn("metres", use["unit_reason"])

    def test_several_files_make_one_project(self) -> None:
        project = self.begin()
        self.bring(project, stl_of(box(20, 20, 20)), name="low.stl")
        path = f"/api/projects/{project}/model?file_name=high.obj&base_revision=2&add=true"
        knob = box(10, 10, 10).mesh
        other = Mesh(knob.vertices + np.array([40.0, 0, 0]), knob.faces)
        self.assertEqual(self.client.post(path, content=write_file([NamedMesh("knob", other)], "a.obj")).status_code, 200)
        model = self.build(project)["model"]
        self.assertEqual([o["name"] for o in model["objects"]], ["low", "knob"])
        self.assertEqual(model["size_mm"], [55.0, 20.0, 20.0])

    def test_the_prepared_model_is_saved_in_any_format(self) -> None:
        project = self.begin()
        self.bring(project, write_stl(RING))
        for ending in ("stl", "3mf", "obj", "ply", "glb"):
            name = self.asked(project, "model-file", {"ending": ending})
            answer = self.client.get(f"/api/model-files/{name}")
            self.assertIn(f"model.{ending}", answer.headers["content-disposition"])
            found = read_file(answer.content, f"m.{ending}")
            scale = 1e9 if ending == "glb" else 1
            self.assertAlmostEqual(found.mesh.volume_mm3 * scale / RING.volume_mm3, 1, places=4)

    def test_deleting_a_project_deletes_only_its_own_files(self) -> None:
        keep, gone = self.begin(), self.begin()
        self.bring(gone, stl_of(box(21, 20, 20)))
        self.bring(keep, stl_of(box(22, 20, 20)))
        added = stl_of(box(23, 20, 20))
        self.client.post(f"/api/projects/{keep}/model?file_name=b.stl&base_revision=2&add=true", content=added)
        self.client.delete(f"/api/projects/{gone}")
        self.assertEqual(len(self.build(keep)["model"]["objects"]), 2)


class BrokenFiles(SurfaceCase):
    def test_broken_files_of_every_format_never_take_the_server_down(self) -> None:
        project = self.begin()
        for ending, data in GOOD.items():
            variants = list(broken(data))
            for variant in variants[:: 17 if ending == ".step" else 5]:
                now = self.client.get(f"/api/projects/{project}").json()["revision"]
                answer = self.bring(project, variant, base=now, name=f"a{ending}")
                self.assertIn(answer.status_code, (200, 422), answer.text)
                if answer.status_code == 422:
                    self.assertEqual(answer.headers["content-type"], "application/problem+json")
        self.assertEqual(self.bring(self.begin(), write_stl(RING)).status_code, 200)
        self.assertEqual(list(self.state.incoming.iterdir()), [])


class Surveys(SurfaceCase):
    def test_a_survey_says_what_where_and_maps_the_walls(self) -> None:
        project = self.begin()
        self.bring(project, write_stl(HOLED))
        found = self.client.get(f"/api/results/survey/{self.asked(project, 'survey')}").json()
        issue = next(i for i in found["issues"] if i["code"] == "surface-open")
        self.assertEqual(len(issue["places"]), 1)
        self.assertEqual(len(issue["places"][0]["line"]) % 6, 0)
        mesh = self.client.get(f"/api/meshes/{found['mesh']}").content
        count = struct.unpack_from("<I", mesh, 4)[0]
        thickness = self.client.get(f"/api/meshes/{found['mesh']}/thickness").content
        self.assertEqual(len(thickness), 4 * count)

    def test_the_same_question_is_answered_at_once(self) -> None:
        project = self.begin()
        self.bring(project, write_stl(RING))
        self.asked(project, "survey")
        self.assertEqual(self.client.post(f"/api/projects/{project}/survey").json()["state"], "done")

    def test_walls_that_were_not_measured(self) -> None:
        self.refused(self.client.get("/api/meshes/abcdef0123456789/thickness"), 404, "Look closely")

    def test_answers_that_are_not_there(self) -> None:
        for path in (
            "results/survey/survey-..%2f..%2fhinoki",
            "results/repair-trial/x",
            "results/drains/survey-0",
            "model-files/nothing",
        ):
            self.assertEqual(self.client.get(f"/api/{path}").status_code, 404, path)


class Repairs(SurfaceCase):
    def test_the_recommended_repair_is_tried_kept_and_taken_back(self) -> None:
        project = self.begin()
        self.bring(project, write_stl(HOLED))
        trial = self.client.get(f"/api/results/repair-trial/{self.asked(project, 'repair-trial', {'step': None})}").json()
        self.assertEqual((trial["comparison"]["before"]["holes"], trial["comparison"]["after"]["holes"]), (1, 0))
        for name in (trial["before_mesh"], trial["after_mesh"]):
            self.assertEqual(self.client.get(f"/api/meshes/{name}").status_code, 200)
        self.assertFalse(self.build(project)["model"]["closed"])
        self.put(project, 2, prepare=[trial["step"]])
        view = self.build(project)
        self.assertTrue(view["model"]["closed"])
        self.assertEqual(view["prepare"][0]["said"][-1], "1 hole filled")
        self.client.post(f"/api/projects/{project}/undo", json={"base_revision": 3})
        self.assertFalse(self.build(project)["model"]["closed"])

    def test_nothing_to_repair(self) -> None:
        project = self.begin()
        self.bring(project, write_stl(RING))
        trial = self.client.get(f"/api/results/repair-trial/{self.asked(project, 'repair-trial', {'step': None})}").json()
        self.assertIsNone(trial["step"])

    def test_drain_holes_are_suggested_for_a_hollow(self) -> None:
        project = self.begin()
        self.bring(project, stl_of(box(40, 40, 40)))
        self.put(project, 2, prepare=[{"kind": "hollow", "id": "s1", "wall_mm": 3}])
        found = self.client.get(f"/api/results/drains/{self.asked(project, 'drains', {'step': 's1'})}").json()
        self.assertEqual([d["inwards"][2] for d in found["drains"]], [1, -1])

    def test_a_step_that_cannot_be_done_is_a_finding_not_a_failure(self) -> None:
        project = self.begin()
        self.bring(project, stl_of(box(40, 40, 40)))
        self.put(project, 2, prepare=[{"kind": "stretch", "id": "s1", "axis": "x", "at_mm": 300}])
        found = [f for f in self.build(project)["findings"] if f["step"] == "s1"]
        self.assertEqual([f["code"] for f in found], ["step-refused"])
        bad = self.put(project, 3, prepare=[{"kind": "stretch", "id": "s1", "by_mm": -4}])
        self.refused(bad, 422, "prepare.0.stretch.by_mm")

    def test_partings_are_checked_against_the_prepared_model(self) -> None:
        project = self.begin()
        self.bring(project, stl_of(box(40, 40, 40)))
        self.put(project, 2, prepare=[{"kind": "length", "id": "s1", "axis": "z", "length_mm": 400}])
        self.build(project)
        flat = {"kind": "flat", "id": "p1", "axis": "z", "at_mm": 200}
        self.assertEqual(self.put(project, 3, partings=[flat]).status_code, 200)
        self.build(project)
        self.refused(self.put(project, 4, partings=[flat | {"at_mm": 500}]), 422, "0.0 to 400.0")


class Workshop(SurfaceCase):
    def test_printers_are_copied_changed_and_taken_out(self) -> None:
        first = self.client.get("/api/workshop").json()["printers"][0]
        kept = self.client.put("/api/workshop/printers/mine", json=first | {"name": "Mine", "height_mm": 333}).json()
        self.assertEqual([p["height_mm"] for p in kept["printers"] if p["id"] == "mine"], [333])
        left = self.client.delete("/api/workshop/printers/mine").json()
        self.assertNotIn("mine", [p["id"] for p in left["printers"]])
        self.refused(self.client.delete("/api/workshop/printers/mine"), 404, "no printer “mine”")

    def test_a_printer_in_use_stays(self) -> None:
        self.begin("Mill")
        self.refused(self.client.delete("/api/workshop/printers/bench-220"), 409, "used by", "Mill")

    def test_numbers_that_make_no_sense(self) -> None:
        printer = self.client.get("/api/workshop").json()["printers"][0]
        self.refused(self.client.put("/api/workshop/printers/x", json=printer | {"bed_mm": [0, 5]}), 422, "bed_mm.0")
        material = self.client.get("/api/workshop").json()["materials"][0]
        self.refused(self.client.put("/api/workshop/materials/x", json=material | {"density_g_cm3": 0}), 422, "density")
        self.refused(self.client.put("/api/workshop/materials/x", json=material | {"price": -1}), 422, "price")
        self.refused(self.client.put("/api/workshop/fits/small-180/pla/snug", json={"clearance_mm": 9}), 422, "clearance")

    def test_fits_and_export_and_import(self) -> None:
        self.client.put("/api/workshop/fits/small-180/pla/snug", json={"clearance_mm": 0.13})
        document = self.client.get("/api/workshop/workshop.json").json()
        self.assertEqual(document["schema"], "hinoki-workshop/1")
        self.client.put("/api/workshop/fits/small-180/pla/snug", json={"clearance_mm": None})
        self.assertEqual(self.client.post("/api/workshop/import", json=document).json()["fits"][0]["clearance_mm"], 0.13)
        self.refused(self.client.post("/api/workshop/import", json={"schema": "other/1"}), 422, "not an exported workshop")
        broken = document | {"printers": [{"id": "x"}]}
        self.refused(self.client.post("/api/workshop/import", json=broken), 422, "printers.0")


if __name__ == "__main__":
    unittest.main()


class PicturesBehind(ApiCase):
    def kept(self, project: str) -> dict[str, Any]:
        sheet = Image.new("RGB", (2000, 1000), "#c0b090")
        out = io.BytesIO()
        sheet.save(out, "PNG")
        answer = self.client.post(f"/api/projects/{project}/pictures?file_name=plan.png", content=out.getvalue())
        self.assertEqual(answer.status_code, 200, answer.text)
        return dict(answer.json())

    def test_one_is_kept_re_encoded_and_goes_along_with_the_project(self) -> None:
        project = self.begin()
        self.bring(project, stl_of(box(20, 20, 20)))
        kept = self.kept(project)
        self.assertEqual((kept["wide_px"], kept["high_px"]), (1280, 640))
        plan = self.client.get(f"/api/projects/{project}").json()["plan"]
        plan["pictures"] = [{"id": "b1", "file_name": "plan.png", **kept}]
        body = {"base_revision": 2, "plan": plan, "label": "Picture"}
        self.assertEqual(self.client.put(f"/api/projects/{project}/plan", json=body).status_code, 200)
        shown = self.client.get(f"/api/pictures/{kept['source']}")
        self.assertEqual((shown.status_code, shown.headers["content-type"]), (200, "image/jpeg"))
        self.assertEqual(hashlib.sha256(shown.content).hexdigest(), kept["source"])

        archive = self.client.get(f"/api/projects/{project}/archive")
        with zipfile.ZipFile(io.BytesIO(archive.content)) as found:
            self.assertEqual(found.read(f"sources/{kept['source']}"), shown.content)

    def test_it_stays_when_another_project_is_deleted_whichever_part_is_open(self) -> None:
        project, gone = self.begin(), self.begin()
        self.bring(project, stl_of(box(20, 20, 20)))
        self.bring(gone, stl_of(box(21, 20, 20)))
        kept = self.kept(project)
        plan = self.client.get(f"/api/projects/{project}").json()["plan"]
        plan["pictures"] = [{"id": "b1", "file_name": "plan.png", **kept}]
        self.client.put(f"/api/projects/{project}/plan", json={"base_revision": 2, "plan": plan, "label": "Picture"})
        aged = datetime.now(UTC) - timedelta(days=1)
        self.state.database.write(lambda c: c.execute("UPDATE sources SET created_at = ?", (aged.isoformat(),)))
        self.client.delete(f"/api/projects/{gone}")
        self.assertEqual(self.client.get(f"/api/pictures/{kept['source']}").status_code, 200)

    def test_one_that_came_in_just_now_waits_for_its_plan(self) -> None:
        project, gone = self.begin(), self.begin()
        kept = self.kept(project)
        self.client.delete(f"/api/projects/{gone}")
        self.assertEqual(self.client.get(f"/api/pictures/{kept['source']}").status_code, 200)

    def test_a_model_is_no_picture_and_a_picture_that_is_not_here_is_no_part_of_a_plan(self) -> None:
        project = self.begin()
        use = self.bring(project, stl_of(box(20, 20, 20))).json()["plan"]["model"]
        self.assertEqual(self.client.get(f"/api/pictures/{use['source']}").status_code, 404)
        gone = self.client.get(f"/api/pictures/{'ab' * 32}")
        self.assertEqual(gone.status_code, 404, gone.text)
        plan = self.client.get(f"/api/projects/{project}").json()["plan"]
        plan["pictures"] = [{"id": "b1", "source": "ab" * 32, "wide_px": 10, "high_px": 10}]
        answer = self.client.put(f"/api/projects/{project}/plan", json={"base_revision": 2, "plan": plan, "label": "x"})
        self.assertEqual(answer.status_code, 404)
        self.assertIn("not in this workshop", answer.json()["detail"])

"""Parts over real requests: added, taken apart, opened, placed, measured; what cannot be is refused and nothing is lost."""

from typing import Any

from hinoki.core.formats.base import NamedMesh
from hinoki.core.formats.write import write_file
from tests.api.test_model import SurfaceCase
from tests.core.parts.test_take_apart import ring_of_pods
from tests.shapes import box, stl_of

POD = box(20, 20, 30)


class PartsApi(SurfaceCase):
    def with_pod(self) -> str:
        """A project of a block and a pod beside it."""
        project = self.begin()
        self.bring(project, stl_of(box(60, 60, 40)), name="block.stl")
        self.build(project)
        path = f"/api/projects/{project}/model?file_name=pod.stl&base_revision=2&as_part=true"
        self.assertEqual(self.client.post(path, content=stl_of(POD)).status_code, 200)
        return project

    def now(self, project: str) -> Any:
        return self.client.get(f"/api/projects/{project}").json()

    def edit(self, project: str, **changes: object) -> Any:
        now = self.now(project)
        edit = {"base_revision": now["revision"], "label": "Changed", "plan": now["plan"] | changes}
        return self.client.put(f"/api/projects/{project}/plan", json=edit)

    def test_an_added_part_stands_beside_and_is_counted(self) -> None:
        project = self.with_pod()
        (pod,) = self.now(project)["plan"]["parts"]
        self.assertEqual((pod["id"], pod["instances"][0]["at_mm"]), ("q2", [60.0, 0.0, 0.0]))
        pod["instances"] += [{"at_mm": [100, 0, 0]}, {"at_mm": [140, 0, 0], "mirrored": True}]
        self.assertEqual(self.edit(project, parts=[pod]).status_code, 200)
        view = self.build(project)
        self.assertEqual([(p["id"], p["count"], p["open"]) for p in view["parts"]], [("q1", 1, True), ("q2", 3, False)])
        self.assertEqual(
            [(n["key"], n["count"]) for n in view["needed"]], [("whole", 1), ("q2 whole", 2), ("q2 whole mirrored", 1)]
        )
        batches = self.client.get(f"/api/results/batch/{self.asked(project, 'batch', {})}").json()
        self.assertEqual(sum(len(b["things"]) for b in batches["batches"]), 4)

    def test_opening_another_keeps_all_and_is_undone(self) -> None:
        project = self.with_pod()
        before = self.now(project)["plan"]
        self.build(project)
        self.asked(project, "open-part", {"base_revision": 3, "part": "q2"})
        opened = self.now(project)
        self.assertEqual((opened["plan"]["part_id"], opened["plan"]["model"]["file_name"]), ("q2", "pod.stl"))
        numbers = {p["number"] for part in self.build(project)["parts"] for p in part["pieces"]}
        self.assertEqual(numbers, {1, 2})
        self.client.post(f"/api/projects/{project}/undo", json={"base_revision": opened["revision"]})
        self.assertEqual(self.now(project)["plan"], before)

    def test_a_file_of_many_bodies_is_taken_apart(self) -> None:
        project = self.begin()
        content = write_file([NamedMesh(name, body.mesh) for name, body in ring_of_pods(4).items()], "set.3mf")
        self.bring(project, content, name="set.3mf")
        name = self.asked(project, "take-apart", {"base_revision": 2})
        self.assertEqual(self.client.get(f"/api/results/take-apart/{name}").json()["said"], "3 parts, 6 in all")
        view = self.build(project)
        self.assertEqual([(p["name"], p["count"]) for p in view["parts"]], [("Hull", 1), ("Pod 1", 4), ("Lid", 1)])

    def test_play_is_measured_and_drawn(self) -> None:
        project = self.with_pod()
        (pod,) = self.now(project)["plan"]["parts"]
        self.edit(project, parts=[pod | {"instances": [{"at_mm": [40.25, 0, 0]}]}])
        found = self.client.get(
            f"/api/results/play/{self.asked(project, 'play', {'first': 'q1', 'second': 'q2', 'within_mm': 1.0})}"
        ).json()
        self.assertAlmostEqual(found["least_mm"], 0.25, places=3)
        self.assertIn("0.25 to 0.25 mm between them", found["says"])
        for path in ("", "/thickness"):
            self.assertEqual(self.client.get(f"/api/meshes/{found['mesh']}{path}").status_code, 200)

    def test_what_cannot_be_is_said(self) -> None:
        project = self.with_pod()
        for path, body, said in (
            ("open-part", {"base_revision": 3, "part": "q9"}, "no part q9"),
            ("take-apart", {"base_revision": 3}, "only one body"),
            ("arrange-part", {"base_revision": 3, "which": 4, "how": {"how": "row", "count": 2}}, "no instance 5"),
            ("play", {"first": "q1", "second": "q1"}, "one and the same"),
            ("play", {"first": "q1", "second": "q2", "second_instance": 3}, "no pod 4"),
        ):
            self.assertIn(said, self.failed(project, path, body), path)
        now = self.now(project)["plan"]
        many = now["parts"][0] | {"instances": [{"at_mm": [k, 0, 0]} for k in range(2001)]}
        refused = self.edit(project, parts=[many])
        self.assertEqual(refused.status_code, 422)
        self.assertIn("2000", refused.json()["detail"])
        lost = self.edit(project, parts=[now["parts"][0] | {"model": now["parts"][0]["model"] | {"source": "0" * 64}}])
        self.assertEqual(lost.status_code, 404)
        self.assertEqual(self.now(project)["plan"], now)

    def failed(self, project: str, path: str, body: Any) -> str:
        """The sentence a question ends with."""
        job = self.client.post(f"/api/projects/{project}/{path}", json=body).json()
        for _ in range(1200):
            if job.get("state") not in ("queued", "running"):
                break
            job = self.client.get(f"/api/jobs/{job['id']}").json()
        return str(job.get("message") or job.get("detail"))

    def test_the_files_of_parts_go_with_their_project_and_no_sooner(self) -> None:
        one, two = self.with_pod(), self.begin()
        self.bring(two, stl_of(box(70, 60, 40)), name="other.stl")
        self.client.delete(f"/api/projects/{two}")
        self.assertEqual(len(self.build(one)["parts"]), 2)
        saved = self.client.get(f"/api/projects/{one}/archive")
        self.client.delete(f"/api/projects/{one}")
        taken = self.client.post("/api/archives", content=saved.content)
        self.assertLess(taken.status_code, 300, taken.text)
        self.assertEqual(len(self.build(str(taken.json()["project_id"]))["parts"]), 2)

"""Joining over real requests: joints that suit, where there is no room, and what is refused."""

import json
import time
from typing import Any

from tests.api.test_api import ApiCase
from tests.shapes import box, stl_of

FLAT = {"kind": "flat", "id": "p1", "axis": "z", "at_mm": 30}


class JoinApi(ApiCase):
    def block(self, side: float = 60) -> str:
        project = self.begin()
        self.bring(project, stl_of(box(side, side, 60)))
        self.settle(project)
        self.put(project, self.revision(project), partings=[{"kind": "flat", "id": "p1", "axis": "z", "at_mm": 30}])
        self.build(project)
        return project

    def test_joints_that_suit_come_with_their_measures_and_are_kept(self) -> None:
        project = self.block()
        found = self.answer(project, "suggest-joints", {"kind": "dovetail"})
        self.assertEqual((found["without"], found["joints"][0]["kind"]), ([], "dovetail"))
        self.put(project, self.revision(project), joints=found["joints"])
        view = self.build(project)
        self.assertEqual(view["joints"][0]["label"], "dovetail 10/20 × 6")
        self.assertTrue(view["joints"][0]["shapes"][0])
        again = self.answer(project, "suggest-joints", {"kind": "auto"})
        self.assertEqual(again["joints"], [])  # no face is bare any more

    def test_a_face_without_room_is_named(self) -> None:
        project = self.block(3)
        found = self.answer(project, "suggest-joints", {"kind": "pin"})
        self.assertEqual((found["joints"], found["without"]), ([], ["p1/0 p1-|p1+"]))
        glue = self.answer(project, "suggest-joints", {"kind": "auto"})
        self.assertEqual(glue["joints"][0]["kind"], "butt")

    def test_what_is_no_joint_is_refused_in_words(self) -> None:
        project = self.block()
        refused = self.client.post(f"/api/projects/{project}/suggest-joints", json={"kind": "nail"})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("kind", refused.json()["detail"])
        face = {"parting": "p1", "member": 0, "a": "p1-", "b": "p1+"}
        wrong = [{"kind": "dovetail", "id": "j1", "face": face, "neck_mm": 9, "head_mm": 9}]
        answer = self.put(project, self.revision(project), joints=wrong)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("wider than its neck", answer.json()["detail"])

    def edit(self, project: str, operation: str, **body: object) -> dict[str, Any]:
        """What an operation that edits told; a revision that it made is built."""
        return self.answer(project, operation, {"base_revision": self.revision(project), **body})

    def test_joints_are_added_copied_and_changed_each_by_one_command(self) -> None:
        project = self.block()
        added = self.edit(project, "add-joints", kind="pin")
        self.assertEqual((added["joints"], added["without"], added["changed"]), (["j1"], [], True))
        line = self.client.get(f"/api/projects/{project}/history").json()[0]
        self.assertEqual(line["label"], "Joints on all bare faces")
        turned = self.edit(project, "add-joints", kind="dowel", faces=["p1/0 p1-|p1+"], instead_of="j1")
        self.assertEqual((turned["label"], turned["changed"]), ("Kind of joint on 1|2", True))
        self.assertEqual([(j["id"], j["kind"]) for j in self.plan(project)["joints"]], [("j1", "dowel")])
        self.put(project, self.revision(project), partings=[FLAT, {**FLAT, "id": "p2", "axis": "x", "at_mm": 0}], joints=[])
        self.build(project)
        self.edit(project, "add-joints", kind="pin", faces=["p1/0 p1- p2-|p1+ p2-"])
        copied = self.edit(project, "copy-joint", joint="j1")
        self.assertEqual((copied["label"], copied["joints"]), ("Copied pins to 1 face", ["j2"]))
        self.assertEqual(self.edit(project, "copy-joint", joint="j1")["changed"], False)
        self.assertEqual(len(self.build(project)["joints"]), 2)
        faces = [f["id"] for f in self.build(project)["faces"]]
        anew = self.edit(project, "add-joints", kind="dowel", faces=faces, anew=True)
        self.assertEqual((anew["label"], anew["without"]), (f"Dowels on {len(faces)} faces", []))
        self.assertEqual([j["kind"] for j in self.plan(project)["joints"]], ["dowel"] * len(faces))
        kept = self.edit(project, "add-joints", kind="splice", faces=faces, anew=True)  # a solid block has no wall
        self.assertEqual((sorted(kept["without"]), kept["changed"]), (sorted(faces), False))

    def test_a_face_becomes_a_lid_that_shuts_by_one_command(self) -> None:
        project = self.block()
        made = self.edit(project, "make-lid", face="p1/0 p1-|p1+")
        self.assertEqual((made["label"], made["changed"], made["left_out"]), ("Lid that shuts on 1|2", True, ["lip"]))
        self.assertEqual([j["kind"] for j in self.plan(project)["joints"]], ["hinge", "magnet"])
        self.assertEqual(made["shuts"], "hinge and magnets")
        again = self.edit(project, "make-lid", face="p1/0 p1-|p1+")
        self.assertEqual((again["changed"], again["joints"]), (False, []))
        gone = {"face": "p9/0 p9-|p9+", "base_revision": self.revision(project)}
        job = self.client.post(f"/api/projects/{project}/make-lid", json=gone).json()
        while job["state"] in ("queued", "running"):
            time.sleep(0.05)
            job = self.client.get(f"/api/jobs/{job['id']}").json()
        self.assertEqual(job["state"], "failed")
        self.assertIn("This face is not there any more", json.dumps(job))

    def test_the_same_command_to_two_equal_projects_at_once_is_saved_in_both(self) -> None:
        project = self.block()
        copy = self.client.post(f"/api/projects/{project}/copy", json={"name": "Copy"}).json()["project_id"]
        asked = {p: {"base_revision": self.revision(p), "kind": "dovetail"} for p in (project, copy)}
        for job in [self.client.post(f"/api/projects/{p}/add-joints", json=body).json() for p, body in asked.items()]:
            self.ended(job)
        for p, body in asked.items():
            now = self.client.get(f"/api/projects/{p}").json()
            self.assertEqual((now["revision"], len(now["plan"]["joints"])), (body["base_revision"] + 1, 1), p == copy)

    def test_the_same_command_after_undo_is_saved_again(self) -> None:
        project = self.block()
        for _ in range(2):
            self.edit(project, "add-joints", kind="pin")
            self.assertEqual(len(self.plan(project)["joints"]), 1)
            move = {"base_revision": self.revision(project)}
            self.assertEqual(self.client.post(f"/api/projects/{project}/undo", json=move).status_code, 200)
            self.assertEqual(self.plan(project)["joints"], [])

    def test_a_command_on_another_revision_or_about_another_joint_is_refused(self) -> None:
        project = self.block()
        base = self.revision(project)
        for operation, body, status in (
            ("add-joints", {"kind": "pin", "base_revision": base - 1}, 409),
            ("add-joints", {"kind": "pin", "base_revision": base, "instead_of": "j9"}, 422),
            ("copy-joint", {"joint": "j9", "base_revision": base}, 422),
            ("add-joints", {"kind": "nail", "base_revision": base}, 422),
            ("add-joints", {"kind": "pin"}, 422),
        ):
            self.refused(self.client.post(f"/api/projects/{project}/{operation}", json=body), status)
        self.assertEqual(self.revision(project), base)

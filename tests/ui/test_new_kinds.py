"""A new kind is one file: a joint, a parting and an operation of `tests.new_kinds`, from the screens to the pieces."""

import tempfile
from pathlib import Path
from typing import Any

from tests.api.serving import started
from tests.shapes import box, stl_of
from tests.ui.browser import BrowserCase


class NewKinds(BrowserCase):
    """A server that was told of them before it read what a plan is; its workers, too."""

    @classmethod
    def setUpClass(cls) -> None:
        cls.folder = Path(cls.enterClassContext(tempfile.TemporaryDirectory()))
        process, cls.address = started("serve", cls.folder / "data", program="tests.with_new_kinds")
        cls.addClassCleanup(process.wait)
        cls.addClassCleanup(process.terminate)

    def build(self, project: str) -> dict[str, Any]:
        """The build of the newest revision."""
        found: dict[str, Any] = self.http.get(f"/api/projects/{project}/build").json()["build"]
        return found

    def test_a_parting_and_a_joint_go_from_their_forms_to_the_findings(self) -> None:
        project = self.started("Block", stl_of(box(40, 40, 90)))
        self.show(project, "divide")
        self.edited(self.at("add-halves").click)
        self.assertEqual(len(self.build(project)["pieces"]), 2)
        self.edited(lambda: self.type_in("share", "0.4"))
        tall = sorted(round(piece["size_mm"][2], 3) for piece in self.build(project)["pieces"])
        self.assertEqual(tall, [36.0, 54.0])

        self.station("join")
        self.page.wait_for_selector("[data-test=face-sheet]")
        self.edited(self.at("add-stub").click)
        (joint,) = self.build(project)["joints"]
        self.assertEqual((joint["kind"], len(joint["places"])), ("stub", 2))
        self.counted("field-coats", 0)
        self.edited(lambda: self.at("field-paint").select_option(label="with oil"))
        self.edited(lambda: self.type_in("coats", "3"))
        self.edited(lambda: self.type_in("length_mm", "3"))

        plan = self.http.get(f"/api/projects/{project}").json()["plan"]
        self.assertEqual((plan["joints"][0]["paint"], plan["joints"][0]["coats"]), ("oiled", 3))
        said = {f["code"]: f["message"] for f in self.build(project)["findings"]}
        self.assertEqual(said["parting-uneven"], "P1 leaves 0.4 of a piece below.")
        self.assertRegex(said["joint-stub-wide"], "is 5 mm wide and 3 long: it wobbles")

    def test_an_operation_is_asked_by_its_url_and_told_in_the_document(self) -> None:
        plan = {"partings": [{"kind": "halves", "id": "p1", "share": 0.3}]}
        project = self.started("Block", stl_of(box(40, 40, 90)), **plan)
        answer = self.http.post(f"/api/projects/{project}/heavier-pieces", json={"than_mm3": 90_000})
        self.assertEqual(answer.status_code, 202)
        job = answer.json()
        while job["state"] in ("queued", "running"):
            job = self.http.get(f"/api/jobs/{job['id']}").json()
        found = self.http.get(f"/api/results/heavier-pieces/{job['result']}").json()
        self.assertEqual(len(found["numbers"]), 1)
        schemas = self.http.get("/openapi.json").json()["components"]["schemas"]
        self.assertEqual(schemas["Heavier"]["required"], ["than_mm3"])
        self.assertTrue({"StubJoint", "HalvesParting"} <= set(schemas))

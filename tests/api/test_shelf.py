"""Keeping projects over the API: put away, copied, packed, backed up and restored; revisions named, compared, gone back to."""

from unittest.mock import patch

from tests.api.test_api import ApiCase
from tests.shapes import box, level, stl_of


class Keeping(ApiCase):
    def setUp(self) -> None:
        self.project = self.begin("Shed")
        self.bring(self.project, stl_of(box(40, 30, 40)))
        self.settle(self.project)

    def shelf(self) -> dict[str, dict]:  # type: ignore[type-arg]
        return {p["name"]: p for p in self.client.get("/api/projects").json()}

    def test_put_away_and_back(self) -> None:
        self.client.put(f"/api/projects/{self.project}/away", json={"away": True})
        self.assertTrue(next(p for p in self.client.get("/api/projects").json() if p["id"] == self.project)["away"])
        self.client.put(f"/api/projects/{self.project}/away", json={"away": False})
        self.assertFalse(next(p for p in self.client.get("/api/projects").json() if p["id"] == self.project)["away"])
        self.assertEqual(self.client.put("/api/projects/none/away", json={"away": True}).status_code, 404)

    def test_a_copy_is_a_project_of_its_own(self) -> None:
        made = self.client.post(f"/api/projects/{self.project}/copy", json={"name": "Another"}).json()
        self.assertEqual((made["name"], made["revision"]), ("Another", self.revision(self.project)))
        self.assertEqual(self.put(made["project_id"], made["revision"], least_wall_mm=2.5).status_code, 200)
        self.assertEqual(self.plan(self.project)["least_wall_mm"], 1.6)
        self.settle(made["project_id"])

    def test_packed_and_taken_in(self) -> None:
        packed = self.client.get(f"/api/projects/{self.project}/archive")
        self.assertIn('filename="shed.hinoki.zip"', packed.headers["content-disposition"])
        made = self.client.post("/api/archives", content=packed.content)
        self.assertEqual(made.status_code, 201, made.text)
        again = self.client.get(f"/api/projects/{made.json()['project_id']}/archive")
        self.assertEqual(packed.content, again.content)
        bad = self.client.post("/api/archives", content=b"nothing")
        self.assertEqual((bad.status_code, "no project archive" in bad.json()["detail"]), (422, True))
        self.assertEqual(list(self.state.incoming.iterdir()), [])

    def test_a_backup_goes_back_and_a_bad_one_changes_nothing(self) -> None:
        saved = self.client.get("/api/backup").content
        later = self.begin("Later")
        bad = self.client.post("/api/restore", content=b"nothing")
        self.assertEqual(bad.status_code, 422)
        self.assertIn("Later", self.shelf())
        done = self.client.post("/api/restore", content=saved)
        self.assertEqual(done.status_code, 200, done.text)
        self.assertNotIn("Later", self.shelf())
        self.assertEqual(self.client.get(f"/api/projects/{later}").status_code, 404)
        self.build(self.project)

    def test_what_cannot_be_made_leaves_nothing_behind(self) -> None:
        full = OSError(28, "No space left on device")
        making = {"/api/backup": "hinoki.api.routers.shelf.backup", "archive": "hinoki.store.archive.write_archive"}
        for url, made in making.items():
            with self.subTest(url), patch(made, side_effect=full):
                answer = self.client.get(url if "/" in url else f"/api/projects/{self.project}/{url}")
                self.assertEqual((answer.status_code, answer.json()["code"]), (507, "disk-full"))
                self.assertEqual(list(self.state.incoming.iterdir()), [])

    def test_revisions_are_named_compared_and_gone_back_to(self) -> None:
        was = self.revision(self.project)
        self.put(self.project, was, partings=[level(1, 20).model_dump(mode="json")])
        self.build(self.project)
        self.client.put(f"/api/projects/{self.project}/revisions/{was}/name", json={"name": "in one"})
        lines = self.client.get(f"/api/projects/{self.project}/history").json()
        self.assertEqual({line["number"]: line["name"] for line in lines}[was], "in one")
        told = self.client.get(f"/api/projects/{self.project}/compare?before={was}&after={was + 1}").json()
        self.assertEqual([(c["what"], c["how"]) for c in told["changes"]], [("parting", "added")])
        self.assertEqual(sorted(p["how"] for p in told["pieces"]), ["added", "added", "taken out"])
        then = self.client.get(f"/api/projects/{self.project}/revisions/{was}/plan").json()
        back = self.put(self.project, was + 1, **then).json()
        self.assertEqual((back["revision"], back["plan"]["partings"]), (was + 2, []))
        self.assertEqual(self.client.get(f"/api/projects/{self.project}/revisions/99/plan").status_code, 404)
        self.assertEqual(self.client.get(f"/api/projects/{self.project}/compare?before=1&after=99").status_code, 404)

    def test_a_picture_is_drawn_when_it_is_asked_for(self) -> None:
        empty = self.begin("Empty")
        self.assertEqual(self.client.get(f"/api/projects/{empty}/picture").status_code, 204)
        self.build(self.project)
        first = self.client.get(f"/api/projects/{self.project}/picture")
        if first.status_code == 202:
            self.ended(first.json())
        picture = self.client.get(f"/api/projects/{self.project}/picture")
        self.assertEqual((picture.status_code, picture.content[:4]), (200, b"\x89PNG"))
        with patch.object(self.state, "built", return_value=None):  # as after an edit whose build is not there yet
            last = self.client.get(f"/api/projects/{self.project}/picture")
        self.assertEqual((last.status_code, last.content), (200, picture.content))
        for file in (self.state.cache / "exports").glob("picture-*.png"):  # as when room is made on the disk
            file.unlink()
        self.assertEqual(self.client.get(f"/api/projects/{self.project}/picture").content, picture.content)
        again = self.client.get(f"/api/projects/{self.project}/picture")
        self.assertEqual(again.status_code, 202)
        self.ended(again.json())
        self.assertEqual(self.client.get(f"/api/projects/{self.project}/picture").content, picture.content)
        kept = self.state.last_picture(self.project)
        self.client.delete(f"/api/projects/{self.project}")
        self.assertFalse(kept.exists())

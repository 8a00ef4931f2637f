"""Languages over HTTP: which there are, what one says, and what is told of those that cannot be used."""

from pathlib import Path

from tests.api.test_api import ApiCase
from tests.made_up import CODE, in_made_up, write_made_up


class Languages(ApiCase):
    def folder_of_languages(self) -> Path:
        return Path(str(self.client.get("/api/languages").json()["folder"]))

    def test_a_catalogue_that_is_put_into_the_folder_is_there_at_once(self) -> None:
        self.assertEqual(self.client.get("/api/languages").json()["languages"], [])
        path = write_made_up(self.folder_of_languages())
        self.addCleanup(path.unlink)
        (one,) = self.client.get("/api/languages").json()["languages"]
        self.assertEqual((one["code"], one["share"], one["problem"]), (CODE, 1.0, ""))
        said = self.client.get(f"/api/languages/{CODE}").json()
        self.assertEqual(said["Workshop"], in_made_up("Workshop"))

    def test_what_cannot_be_used_is_told_with_the_right_status(self) -> None:
        gone = self.client.get("/api/languages/de")
        self.assertEqual((gone.status_code, gone.json()["code"]), (404, "not-found"))
        self.assertIn("put de.po into", gone.json()["detail"])
        broken = self.folder_of_languages() / "de.po"
        broken.parent.mkdir(exist_ok=True)
        broken.write_text("this is a letter, not a catalogue\n")
        self.addCleanup(broken.unlink)
        refused = self.client.get("/api/languages/de")
        self.assertEqual((refused.status_code, refused.json()["code"]), (422, "unreadable-catalogue"))
        self.assertIn("de.po is no catalogue", self.client.get("/api/languages").json()["languages"][0]["problem"])

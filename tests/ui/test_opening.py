"""A project that is opened while its build is on its way: nothing says that it is not there."""

import httpx
from playwright.sync_api import expect

from tests.shapes import box, stl_of
from tests.ui.browser import BrowserCase


class WhileBuilt(BrowserCase):
    def test_the_last_picture_stays_and_no_page_says_that_there_is_no_model(self) -> None:
        project = self.started("block", stl_of(box(30, 20, 140)))
        self.show_picture_of(project)
        self.edit_elsewhere(project)
        held: list[object] = []
        self.page.route("**/build?*", lambda route: held.append(route))
        for station in ("model", "divide", "check"):
            self.page.goto(f"{self.address}/projects/{project}/{station}")
            expect(self.at("on-its-way").first).to_be_visible()
            expect(self.at("last-picture")).to_be_visible()
            words = self.page.locator("body").inner_text()
            for lie in ("Bring in a model first", "none yet", "0 pieces", "nothing found", "Nothing must be fixed"):
                self.assertNotIn(lie, words, station)
        self.page.unroute_all(behavior="ignoreErrors")
        self.page.reload()
        self.page.wait_for_selector("text=Nothing must be fixed")
        self.counted("last-picture", 0)

    def test_a_verdict_of_the_plan_as_it_was_is_not_told_of_the_plan_as_it_is(self) -> None:
        project = self.started("block", stl_of(box(30, 20, 140)))
        self.show(project, "check")
        self.page.wait_for_selector("text=Nothing must be fixed")
        held: list[object] = []
        self.page.route("**/build?*", lambda route: held.append(route))
        small = self.http.get("/api/printers").json()[0] | {"bed_mm": [40, 40], "height_mm": 50}
        self.change(project, printer=small)
        expect(self.at("check-waits")).to_be_visible()
        self.assertNotIn("Nothing must be fixed", self.page.locator("body").inner_text())
        self.station("join")
        expect(self.at("station-end")).to_contain_text("not known yet")
        self.page.unroute_all(behavior="ignoreErrors")
        self.page.reload()
        self.station("check")
        self.page.wait_for_selector("text=1 thing must be fixed")

    def show_picture_of(self, project: str) -> None:
        """Have its picture drawn, as the shelf does."""
        self.page.goto(f"{self.address}/")
        expect(self.at("project").filter(has_text="block").locator("img").first).to_be_visible()
        self.assertEqual(self.picture(project).headers["content-type"], "image/png")

    def edit_elsewhere(self, project: str) -> None:
        """Another revision, whose build nobody has asked for yet: the picture is that of the last one."""
        self.change(project, printer=self.http.get("/api/printers").json()[-1])
        self.assertEqual(self.picture(project).status_code, 200)

    def picture(self, project: str) -> httpx.Response:
        return self.http.get(f"/api/projects/{project}/picture")

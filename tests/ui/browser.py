"""Tests that use the real screens: a page each on the server that all have in common, a project each."""

import tempfile
import unittest
from pathlib import Path
from typing import Any

import httpx
from playwright.sync_api import Page, expect

from tests.ui.demos import coarse_project, demo_project
from tests.ui.serving import browser, own_server, phone, shared_address

PATIENCE_MS = 180_000
"""how long a slow machine may take; nothing waits longer than it must"""
expect.set_options(timeout=PATIENCE_MS)
LIGHT = "localStorage.getItem('hinoki.light-drawing') ?? localStorage.setItem('hinoki.light-drawing', 'yes')"
ALL_FIELDS = "localStorage.getItem('hinoki.more-fields') ?? localStorage.setItem('hinoki.more-fields', 'true')"


class BrowserCase(unittest.TestCase):
    """A fresh page for every test; console errors fail it."""

    address: str
    own: str = ""
    """why a class needs a server of its own; most do not"""
    each_alone = True
    """its tests have nothing in common but the server"""
    all_fields = True
    """forms show all their fields; not where it is looked at what a maker sees first"""
    light = True
    """draws with few pixels; not where pictures are looked at"""
    copies = True
    """demo projects are copied before they are opened; not where the demos themselves are shown"""
    coarse = True
    """demo projects have models of fewer triangles, which draw and build in a fraction of the time"""
    print_speed = 0.0
    """of the simulated printers of an own server; 0 for none"""
    expected: tuple[str, ...] = ()
    """parts of console errors that a test means to cause"""

    @classmethod
    def setUpClass(cls) -> None:
        cls.folder = Path(cls.enterClassContext(tempfile.TemporaryDirectory()))
        cls.address = cls.enterClassContext(own_server(cls.print_speed)) if cls.own else shared_address()

    def setUp(self) -> None:
        self.expected = ()
        self.problems: list[str] = []
        self.http = self.enterContext(httpx.Client(base_url=self.address, timeout=300, verify=False))
        self.made: list[str] = []
        self.addCleanup(self.clear)
        browser().set_default_timeout(PATIENCE_MS)
        self.page = self.window()
        session = browser().new_cdp_session(self.page)
        session.send("Storage.clearDataForOrigin", {"origin": self.address, "storageTypes": "cookies,local_storage,indexeddb"})
        session.detach()
        self.page.on("pageerror", lambda error: self.problems.append(str(error)))
        self.page.on(
            "console", lambda m: self.problems.append(f"{m.text} {m.location.get('url', '')}") if m.type == "error" else None
        )
        self.addCleanup(self.no_problems)

    def clear(self) -> None:
        """Take away the projects made here, so that the shelf does not get longer and longer."""
        for project in self.made if self.each_alone else ():
            self.http.delete(f"/api/projects/{project}")

    def window(self, width: int = 1280, height: int = 800) -> Page:
        """A window of its own, with nothing in it yet."""
        page = browser().new_page()
        self.addCleanup(page.close)
        page.set_viewport_size({"width": width, "height": height})
        if self.light:
            page.add_init_script(LIGHT)
        if self.all_fields:
            page.add_init_script(ALL_FIELDS)
        return page

    def touched(self) -> Page:
        """A window of a phone, which is touched."""
        page = phone().new_page()
        self.addCleanup(page.close)
        page.set_default_timeout(PATIENCE_MS)
        page.on("pageerror", lambda error: self.problems.append(str(error)))
        return page

    def no_problems(self) -> None:
        # the shelf may show a project that another test takes away meanwhile: its picture is not there any more
        gone = [p for p in self.problems if "404" in p and "/picture" in p]
        left = [p for p in self.problems if p not in gone and not any(word in p for word in self.expected)]
        self.assertEqual(left, [])

    def at(self, test_id: str) -> Any:
        return self.page.locator(f"[data-test={test_id}]")

    def counted(self, test_id: str, number: int) -> None:
        """Wait until so many are there."""
        expect(self.at(test_id)).to_have_count(number)

    def station(self, name: str) -> None:
        self.at(f"station-{name}").click()

    def revision(self) -> int:
        return int(self.at("revision").inner_text().split()[1])

    def after_edit(self, was: int) -> None:
        """Wait until another revision is shown and its build is there."""
        self.page.wait_for_function(
            "n => !document.querySelector('[data-test=revision]').textContent.startsWith(`Revision ${n} `)", arg=was
        )
        self.settled()

    def edited(self, action: Any) -> None:
        """Do something that makes a new revision, and wait for its build."""
        was = self.revision()
        action()
        self.after_edit(was)

    def settled(self) -> None:
        """Nothing is worked out any more; what a message says may still be read."""
        self.page.wait_for_selector("[role=status]:not(.v-snackbar__content)", state="detached")

    def drawn(self) -> None:
        """What was asked of the view has been drawn."""
        self.page.evaluate("() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")

    def steady(self, test_id: str) -> dict[str, float]:
        """Where something is on the page, once the view has drawn and it stays there."""
        at: dict[str, float] = {}
        while True:
            self.drawn()
            now = self.at(test_id).first.bounding_box()
            if now is not None and now == at:
                return at
            at = now or {}

    # projects

    def open_demo(self, station: str = "divide", name: str = "lighthouse", **changes: object) -> str:
        """A demo project at a station, its plan changed so; gives its id."""
        project = self._copied(name) if self.copies else demo_project(self.address, name)
        if changes:
            self.change(project, **changes)
        self.show(project, station)
        return project

    def show(self, project: str, station: str) -> None:
        """A project at a station, its build there."""
        self.page.goto(f"{self.address}/projects/{project}/divide")
        self.page.wait_for_selector(".balloon")
        self.settled()
        if station != "divide":
            self.station(station)

    def _copied(self, name: str) -> str:
        demo = coarse_project(self.address, name) if self.coarse else demo_project(self.address, name)
        answer = self.http.post(f"/api/projects/{demo}/copy", json={"name": f"{name}, {self._testMethodName}"[:70]})
        answer.raise_for_status()
        return self.kept(str(answer.json()["project_id"]))

    def kept(self, project: str) -> str:
        """Note a project that is to go after the test; gives its id."""
        self.made.append(project)
        return project

    def change(self, project: str, **changes: object) -> None:
        """Change a project's plan as an edit elsewhere would."""
        now = self.http.get(f"/api/projects/{project}").json()
        edit = {"base_revision": now["revision"], "label": "Prepared", "plan": now["plan"] | changes}
        self.http.put(f"/api/projects/{project}/plan", json=edit).raise_for_status()

    def started(self, name: str, model: bytes, file_name: str = "", **changes: object) -> str:
        """A new project with a model, made over the API: what is tested begins after it; gives its id."""
        project = self.kept(str(self.http.post("/api/projects", json={"name": name}).json()["project_id"]))
        path = f"/api/projects/{project}/model?file_name={file_name or name.lower() + '.stl'}&base_revision=1"
        self.http.post(path, content=model).raise_for_status()
        if changes:
            self.change(project, **changes)
        return project

    def new_project(self, name: str) -> None:
        """Begin a project on the shelf, as a maker does."""
        self.page.goto(self.address)
        self.at("new-project").click()
        self.page.locator("[data-test=project-name] input").fill(name)
        self.at("project-begin").click()
        self.page.wait_for_selector("[data-test=pick]")
        self.kept(self.page.url.split("/projects/")[1].split("/")[0])

    def bring(self, path: Path) -> None:
        self.at("file").set_input_files(str(path))

    def type_in(self, field: str, text: str) -> None:
        box = self.page.locator(f"[data-test=field-{field}] input, input[data-test=field-{field}]").first
        box.fill(text)
        box.press("Enter")

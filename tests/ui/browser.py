"""A server and a headless Chromium for tests that use the real screens."""

import atexit
import contextlib
import functools
import shutil
import socket
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path
from typing import Any

import httpx
from playwright.sync_api import Page, expect, sync_playwright

from hinoki.api.server import add_demos
from hinoki.api.state import State
from hinoki.store.projects import list_projects

FLAGS = [
    "--no-sandbox",
    "--use-angle=swiftshader",
    "--enable-unsafe-swiftshader",
    "--ignore-gpu-blocklist",
    "--disable-background-networking",
]
PATIENCE_MS = 60_000
expect.set_options(timeout=PATIENCE_MS)


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@functools.cache
def demo_data() -> Path:
    """A data folder with the demo projects, made once for all tests of a run."""
    folder = Path(tempfile.mkdtemp(prefix="hinoki-demo-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    state = State(folder)
    try:
        add_demos(state)
        with state.database.reading() as connection:
            rows = list_projects(connection)
        for row in rows:  # built once, so that no test waits for it
            state.start_build(row.id, row.head).wait(300)
    finally:
        state.close()
    return folder


class BrowserCase(unittest.TestCase):
    """One demo server and one browser a class, a fresh page a test; console errors fail the test."""

    page: Page
    print_speed = 0.0
    """of the simulated printers; 0 for none"""
    expected: tuple[str, ...] = ()
    """parts of console errors that a test means to cause"""

    @classmethod
    def setUpClass(cls) -> None:
        cls.stack = contextlib.ExitStack()
        cls.addClassCleanup(cls.stack.close)
        cls.folder = Path(cls.stack.enter_context(tempfile.TemporaryDirectory()))
        shutil.copytree(demo_data(), cls.folder / "data")
        port = free_port()
        cls.address = f"http://127.0.0.1:{port}"
        speed = ["--print-speed", str(cls.print_speed)]
        command = [sys.executable, "-m", "hinoki.cli", "demo", "--data", str(cls.folder / "data"), "--port", str(port), *speed]
        server = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        cls.stack.callback(server.wait)
        cls.stack.callback(server.terminate)
        for _ in range(1200):
            with contextlib.suppress(httpx.TransportError):
                httpx.get(f"{cls.address}/api/projects")
                break
            time.sleep(0.05)
        playwright = cls.stack.enter_context(sync_playwright())
        cls.browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        cls.stack.callback(cls.browser.close)

    def setUp(self) -> None:
        self.expected = ()
        self.problems: list[str] = []
        self.page = self.browser.new_page(viewport={"width": 1280, "height": 800}, accept_downloads=True)
        self.addCleanup(self.page.close)
        self.page.set_default_timeout(PATIENCE_MS)
        self.page.on("pageerror", lambda error: self.problems.append(str(error)))
        self.page.on("console", lambda m: self.problems.append(m.text) if m.type == "error" else None)
        self.addCleanup(self.no_problems)

    def no_problems(self) -> None:
        left = [p for p in self.problems if not any(word in p for word in self.expected)]
        self.assertEqual(left, [])

    def at(self, test_id: str) -> Any:
        return self.page.locator(f"[data-test={test_id}]")

    def counted(self, test_id: str, number: int) -> None:
        """Wait until so many are there."""
        expect(self.at(test_id)).to_have_count(number, timeout=PATIENCE_MS)

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

    def settled(self) -> None:
        self.page.wait_for_selector("[role=status]", state="detached")

    def open_demo(self, station: str = "divide") -> None:
        self.page.goto(self.address)
        self.at("project").filter(has_text="lighthouse").locator("a").click()
        self.page.wait_for_selector(".balloon")
        self.settled()
        if station != "divide":
            self.station(station)

    def new_project(self, name: str) -> None:
        self.page.goto(self.address)
        self.at("new-project").click()
        self.page.locator("[data-test=project-name] input").fill(name)
        self.at("project-begin").click()
        self.page.wait_for_selector("[data-test=pick]")

    def bring(self, path: Path) -> None:
        self.at("file").set_input_files(str(path))

    def type_in(self, field: str, text: str) -> None:
        box = self.page.locator(f"[data-test=field-{field}] input, input[data-test=field-{field}]").first
        box.fill(text)
        box.press("Enter")

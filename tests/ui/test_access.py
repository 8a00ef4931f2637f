"""What stands in the way of people who read with a screen reader or work by keyboard: axe-core finds none on any page.

Rules: WCAG 2.1, levels A and AA, as axe-core checks them (a published library; its rules name the criteria they are of).
"""

import json
import re
from pathlib import Path
from typing import Any

from playwright.sync_api import expect

from tests.ui.browser import BrowserCase

WEB = Path(__file__).parents[2] / "web"
AXE = WEB / "node_modules" / "axe-core" / "axe.min.js"
TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa"]
RUN = f"() => axe.run(document, {{ runOnly: {json.dumps(TAGS)}, resultTypes: ['violations'] }})"
STATIONS = ("model", "whole-job", "divide", "join", "check", "orient", "batch", "assemble", "log")


class Access(BrowserCase):
    def found(self) -> list[str]:
        """What axe-core finds on the page: the rule, and up to three places of it."""
        # half-faded words have no contrast: what fades has done so
        self.page.wait_for_function("() => document.getAnimations().every((one) => one.playState === 'finished')")
        if not self.page.evaluate("() => 'axe' in window"):
            self.page.evaluate(AXE.read_text())
        result: dict[str, Any] = self.page.evaluate(RUN)
        return [f"{one['id']} ({len(one['nodes'])}): {'; '.join(map(_said, one['nodes'][:3]))}" for one in result["violations"]]

    def test_the_stations(self) -> None:
        self.open_demo()
        for name in STATIONS:
            self.station(name)
            self.settled()
            with self.subTest(station=name):
                self.assertEqual(self.found(), [])
            for number in range(1, self.page.locator("[role=tab]").count()):
                tab = self.page.locator("[role=tab]").nth(number)
                words = tab.inner_text()
                tab.click()
                self.settled()
                with self.subTest(station=name, page=words):
                    self.assertEqual(self.found(), [])

    def test_the_keyboard_is_told_and_numbers_lead_to_stations(self) -> None:
        self.open_demo("model")
        self.page.keyboard.press("?")
        told = self.page.get_by_role("dialog", name="What the keyboard does")
        expect(told).to_be_visible()
        self.assertEqual(self.found(), [])
        self.page.keyboard.press("4")  # a dialog is open: nothing behind it moves
        self.page.keyboard.press("Escape")
        expect(told).to_be_hidden()
        self.assertTrue(self.page.url.endswith("/model"))
        self.page.keyboard.press("4")
        self.page.wait_for_url("**/join")
        self.settled()
        self.page.keyboard.press("3")
        self.page.wait_for_url("**/divide")
        self.settled()
        was = self.revision()
        self.page.locator("[data-test=field-at_mm] input, input[data-test=field-at_mm]").first.select_text()
        self.page.keyboard.type("95")  # a number that is typed belongs to its field
        self.page.keyboard.press("Enter")
        self.after_edit(was)
        self.assertTrue(self.page.url.endswith("/divide"))
        self.page.get_by_role("button", name="Keyboard").click()
        expect(told).to_be_visible()

    def test_whatever_tells_progress_says_of_what(self) -> None:
        """Progress is seldom there when a page is looked at, so the screens' own text is."""
        for path in sorted((WEB / "src").rglob("*.vue")):
            for tag in re.findall(r"<v-progress-\w+[^>]*>", path.read_text()):
                with self.subTest(path.name, tag=tag):
                    self.assertIn("aria-label", tag)

    def test_the_shelf_and_the_workshop(self) -> None:
        self.page.goto(f"{self.address}/workshop")
        self.page.wait_for_load_state("networkidle")
        with self.subTest("workshop"):
            self.assertEqual(self.found(), [])
        self.page.goto(f"{self.address}/")
        self.at("new-project").wait_for()
        with self.subTest("shelf"):
            self.assertEqual(self.found(), [])
        self.at("new-project").click()
        self.at("project-name").wait_for()
        with self.subTest("a dialog"):
            self.assertEqual(self.found(), [])


def _said(node: dict[str, Any]) -> str:
    """A place on the page, and what is wrong there."""
    return f"{node['html'][:110]} {' '.join(one['message'] for one in (*node['any'], *node['all'], *node['none']))[:150]}"

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
ALL = f"{{ runOnly: {json.dumps(TAGS)}, resultTypes: ['violations'] }}"
STATIONS = ("model", "whole-job", "divide", "join", "check", "orient", "batch", "assemble", "log")


class Access(BrowserCase):
    def found(self) -> list[str]:
        """What axe-core finds on the page; on dark paper only colours are others."""
        day = self._found()
        self.page.emulate_media(color_scheme="dark")
        expect(self.page.locator("html")).to_have_attribute("data-light", "night")
        night = self._found("{ runOnly: ['color-contrast'] }")
        self.page.emulate_media(color_scheme="light")
        return day + [f"at night: {one}" for one in night]

    def _found(self, options: str = ALL) -> list[str]:
        """The rule, and up to three places of it."""
        # half-faded words have no contrast: what fades has done so
        self.page.wait_for_function("() => document.getAnimations().every((one) => one.playState === 'finished')")
        if not self.page.evaluate("() => 'axe' in window"):
            self.page.evaluate(AXE.read_text())
        result: dict[str, Any] = self.page.evaluate(f"() => axe.run(document, {options})")
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
        told = self.page.get_by_role("dialog", name="Help")
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
        self.page.get_by_role("button", name="Help").click()
        expect(told).to_be_visible()

    def test_words_are_explained_where_they_stand_and_in_a_list(self) -> None:
        self.open_demo("join")
        self.page.get_by_role("button", name="What is it: mating face").click()
        expect(self.page.get_by_role("note")).to_contain_text("where two pieces meet, written 5|6")
        self.assertEqual(self.found(), [])
        self.page.keyboard.press("Escape")
        self.page.get_by_role("button", name="Help").click()
        self.page.get_by_role("tab", name="Words").click()
        self.assertEqual(self.found(), [])
        self.page.get_by_role("searchbox", name="Look for a word").fill("dovet")
        expect(self.page.get_by_role("term")).to_have_text(["dovetail"])

    def test_the_guide_leads_from_station_to_station_and_can_be_left_and_taken_up(self) -> None:
        demo = self.open_demo("check")
        self.page.get_by_role("button", name="Help").click()
        self.page.get_by_role("tab", name="Guide").click()
        self.page.get_by_role("button", name="Show me round").click()
        slip = self.page.get_by_role("complementary", name="Guide")
        stations = ("model", "whole-job", "divide", "join", "check", "orient", "batch", "assemble")
        for k, station in enumerate(stations[:4]):
            expect(slip).to_contain_text(f"{k + 1} of 8")
            self.page.wait_for_url(f"**/{demo}/{station}")
            slip.get_by_role("button", name="Next hint").click()
        self.assertEqual(self.found(), [])
        slip.get_by_role("button", name="Leave the guide").click()
        expect(slip).to_be_hidden()
        self.page.reload()  # where it was left is kept
        self.page.get_by_role("button", name="Help").click()
        self.page.get_by_role("tab", name="Guide").click()
        self.page.get_by_role("button", name="Go on with hint 5").click()
        for station in stations[4:7]:
            self.page.wait_for_url(f"**/{demo}/{station}")
            slip.get_by_role("button", name="Next hint").click()
        self.page.wait_for_url(f"**/{demo}/assemble")
        slip.get_by_role("button", name="Done").click()
        expect(slip).to_be_hidden()
        self.page.goto(self.address)
        self.page.get_by_role("link", name="Be shown round the lighthouse").click()
        expect(slip).to_contain_text("1 of 8 · Model")
        slip.get_by_role("button", name="Leave the guide").click()

    def test_paper_is_dark_when_it_is_wished_and_stays_so(self) -> None:
        self.open_demo("check")
        expect(self.page.locator("html")).to_have_attribute("data-light", "day")
        self.page.get_by_role("button", name="Dark paper").click()
        expect(self.page.locator("html")).to_have_attribute("data-light", "night")
        self.page.goto(self.address)
        expect(self.page.locator("html")).to_have_attribute("data-light", "night")
        self.page.get_by_role("button", name="Light paper").click()
        expect(self.page.locator("html")).to_have_attribute("data-light", "day")

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

"""A phone at the bench, and a desk at 200 %: one sheet at a time, nothing cut off, targets that wet fingers hit.

Sizes: WCAG 2.1, 2.5.5 (targets of 44 px) and 1.4.10 (reflow: no scrolling in two directions).
"""

import re
from typing import Any

from playwright.sync_api import Page, expect

from tests.ui.browser import BrowserCase

TARGET_PX = 44
SMALL = f"""() => [...document.querySelectorAll('button, a[href], select, input, summary, [role=slider]')]
    .filter((one) => one.checkVisibility({{ visibilityProperty: true, opacityProperty: true }}) && one.type !== 'file')
    .filter((one) => !one.classList.contains('balloon'))  // what they choose stands in the lists too
    .map((one) => [one, (one.closest('label, .row, .v-slider, li') ?? one).getBoundingClientRect()])
    .filter(([one, at]) => at.height > 0 && at.height < {TARGET_PX - 0.5})
    .map(([one, at]) => `${{one.outerHTML.slice(0, 90)}} ${{at.height}}`)"""
"""what can be touched and is lower than a finger, with the row it stands in"""
CUT_OFF = "() => document.documentElement.scrollWidth - window.innerWidth"
STATIONS = ("Model", "Whole job", "Divide", "Join", "Check", "Orient", "Batch", "Assemble", "Print log")


class SmallScreens(BrowserCase):
    def station_of(self, page: Page, name: str) -> None:
        leaf: Any = page.get_by_role("navigation", name="Stations").get_by_role("link", name=name)
        leaf.click()
        expect(leaf).to_have_attribute("aria-current", "page")
        expect(leaf).to_be_in_viewport()
        page.wait_for_selector("[role=status]:not(.v-snackbar__content)", state="detached")

    def test_at_the_bench_targets_are_large_and_nothing_is_cut_off(self) -> None:
        project = self.open_demo()
        page = self.touched()
        page.goto(self.address)
        page.get_by_role("button", name="New project").wait_for()
        with self.subTest("shelf"):
            self.assertEqual((page.evaluate(CUT_OFF), page.evaluate(SMALL)), (0, []))
        page.goto(f"{self.address}/projects/{project}/model")
        for name in STATIONS:
            self.station_of(page, name)
            with self.subTest(station=name):
                self.assertEqual(page.evaluate(CUT_OFF), 0)
                if name in ("Batch", "Assemble", "Print log"):
                    self.assertEqual(page.evaluate(SMALL), [])

    def test_one_sheet_at_a_time_and_the_view_when_something_is_to_be_picked(self) -> None:
        project = self.open_demo()
        page = self.touched()
        page.goto(f"{self.address}/projects/{project}/divide")
        sheet, cuts = page.get_by_label("divide worksheet"), page.get_by_role("complementary", name="Cut list")
        expect(sheet).to_be_visible()
        expect(cuts).to_be_hidden()
        page.get_by_role("button", name="Cut list", exact=True).click()
        expect(cuts.get_by_text("Rock, south-east")).to_be_visible()
        expect(sheet).to_be_hidden()
        page.get_by_role("button", name="Work", exact=True).click()
        page.get_by_role("button", name="+ Profile").click()
        sheet.get_by_role("button", name="Front").click()
        stop = page.get_by_role("button", name="Stop (Esc)")
        expect(stop).to_be_visible()  # a line is drawn in the view
        expect(sheet).to_be_hidden()
        back, end = (page.get_by_role("button", name=name) for name in ("Point back", "End the line"))
        expect(end).to_be_disabled()
        view = page.locator("canvas").bounding_box()
        assert view
        for share in (0.1, 0.5, 0.9):
            page.touchscreen.tap(view["x"] + share * view["width"], view["y"] + view["height"] * 0.45)
        expect(page.locator("svg circle[r='4']")).to_have_count(3)
        back.click()
        expect(page.locator("svg circle[r='4']")).to_have_count(2)
        stop.click()
        expect(sheet).to_be_visible()

    def test_ticks_made_where_no_network_reaches_are_kept_and_sent(self) -> None:
        project = self.open_demo("assemble")
        page = self.touched()
        page.goto(f"{self.address}/projects/{project}/assemble")
        ticks = page.get_by_role("checkbox", name=re.compile("^Step .* is done"))
        ticks.first.wait_for()
        page.wait_for_selector("[role=status]:not(.v-snackbar__content)", state="detached")
        page.context.set_offline(True)
        self.addCleanup(page.context.set_offline, False)
        ticks.nth(0).check()
        ticks.nth(1).check()
        expect(page.get_by_text("2 ticks are kept in this browser")).to_be_visible()
        page.get_by_role("button", name="Play").tap()  # the steps that are loaded are played as before
        page.get_by_role("button", name="Pause").wait_for()
        ticks.nth(1).uncheck()
        expect(self.page.get_by_text("0 of 12")).to_be_visible()
        page.context.set_offline(False)
        expect(page.get_by_text("kept in this browser")).to_be_hidden()
        expect(ticks.nth(0)).to_be_checked()
        expect(self.page.get_by_text("1 of 12")).to_be_visible()  # the desk hears of it

    def test_a_desk_at_twice_the_size_has_all_stations(self) -> None:
        """1280 × 800 at 200 % is a page of 640 × 400."""
        project = self.open_demo()
        self.page.set_viewport_size({"width": 640, "height": 400})
        self.page.goto(f"{self.address}/projects/{project}/model")
        for name in STATIONS:
            self.station_of(self.page, name)
            with self.subTest(station=name):
                self.assertEqual(self.page.evaluate(CUT_OFF), 0)
                expect(self.page.get_by_role("button", name="Export pieces")).to_be_in_viewport()
                expect(self.page.locator(".worksheet")).to_be_visible()

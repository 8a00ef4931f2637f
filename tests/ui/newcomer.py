"""A newcomer's hands: they do only what can be seen, by the roles and names of what is on the page, and count it."""

import re
from pathlib import Path
from typing import Literal

from playwright.sync_api import Locator, Page, expect

Way = Literal["mouse", "keys", "touch"]
MOST_TABS = 400


class Hands:
    """By mouse, by the keyboard alone, or by touch. An action is a press, a choice, a word typed, or a file picked."""

    def __init__(self, page: Page, way: Way = "mouse") -> None:
        self.page, self.way, self.actions = page, way, 0

    def press(self, role: str, name: str, nth: int = 0) -> None:
        """Press a button, follow a link, turn to a page."""
        self.actions += 1
        self._press(self.named(role, name, nth))

    def choose(self, label: str, option: str) -> None:
        """Choose in a list."""
        self.actions += 1
        at = self.named("combobox", label)
        if self.way != "keys":
            at.select_option(label=re.sub(r"\s+", " ", option))
            return
        self._reach(at)
        self.page.keyboard.type(option)

    def type(self, label: str, text: str, role: str = "textbox") -> None:
        """Type into a field."""
        self.actions += 1
        at = self.named(role, label)
        if self.way == "keys":
            self._reach(at)
        else:
            self._press(at)
        self.page.keyboard.press("Control+a")
        self.page.keyboard.type(text)
        self.page.keyboard.press("Enter")

    def bring(self, button: str, file: Path) -> None:
        """Press the button that asks for a file, and pick one: two actions."""
        self.actions += 2
        with self.page.expect_file_chooser() as asked:
            self._press(self.named("button", button))
        asked.value.set_files(file)

    def go(self, station: str) -> None:
        """To a station: by its leaf, or by keyboard by its number."""
        self.actions += 1
        leaf = self.page.get_by_role("navigation", name="Stations").get_by_role("link", name=station)
        if self.way == "keys":
            self.page.keyboard.press(leaf.inner_text().split()[0])
        else:
            self._press(leaf)
        expect(leaf).to_have_attribute("aria-current", "page")

    def named(self, role: str, name: str, nth: int = 0) -> Locator:
        """What is seen under a role and a name that begins so."""
        found = self.page.get_by_role(role, name=re.compile(f"^{re.escape(name)}"))  # type: ignore[arg-type]
        return found.nth(nth)

    def sees(self, text: str) -> None:
        """Wait until a text can be read."""
        expect(self.page.get_by_text(text).first).to_be_visible()

    def rests(self) -> None:
        """Nothing on the page tells of work any more."""
        expect(self.page.get_by_role("progressbar")).to_have_count(0)
        expect(self.page.locator("[role=status]:not(.v-snackbar__content)")).to_have_count(0)

    def made(self, revision: int) -> None:
        """Wait until an edit is kept, as the top line tells, and what follows from it is worked out."""
        self.sees(f"Revision {revision} · saved")
        self.rests()

    def _press(self, at: Locator) -> None:
        if self.way == "touch":
            at.tap()
            return
        if self.way == "mouse":
            at.click()
            return
        expect(at).to_be_enabled()
        self._reach(at)
        self.page.keyboard.press("Enter")

    def _reach(self, at: Locator) -> None:
        """Tab until it has the focus, as one who has no mouse."""
        expect(at).to_be_visible()
        for _ in range(MOST_TABS):
            if at.evaluate("(one) => one === document.activeElement"):
                return
            self.page.keyboard.press("Tab")
        raise AssertionError(f"the keyboard does not lead to {at}")

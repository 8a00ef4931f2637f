"""Every page in a made-up language: no sentence is left in English."""

import calendar
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from playwright.sync_api import expect

from tests.made_up import CODE, in_made_up, write_made_up
from tests.ui.browser import BrowserCase

STATIONS = ("model", "whole-job", "divide", "join", "check", "orient", "batch", "assemble", "log")
SHOWN = """() => {
  const names = ['title', 'placeholder', 'alt', 'aria-label', 'aria-description', 'aria-valuetext']
  const found = []
  const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_ELEMENT | NodeFilter.SHOW_TEXT)
  for (let node = walk.currentNode; node; node = walk.nextNode()) {
    const element = node.nodeType === Node.TEXT_NODE ? node.parentElement : node
    if (!element || element.closest('[translate=no], script, style')) continue
    if (node.nodeType === Node.TEXT_NODE) found.push(node.data)
    else for (const name of names) if (node.hasAttribute(name)) found.push(node.getAttribute(name))
  }
  return found
}"""
"""all that is read on the page, or by a screen reader, but what is marked as a name"""
STAYS = {"min", "Hinoki", *calendar.month_name, *calendar.month_abbr}
"""units, and dates: a browser writes those, and knows no made-up language"""
NAMED = ("name", "text", "note", "reason", "printer")


def typed(thing: Any, under: str = "") -> Iterator[str]:
    """What makers called their things, in what the API gives."""
    if isinstance(thing, str):
        if under in NAMED or under.endswith("_name"):
            yield thing
    elif isinstance(thing, dict):
        for key, one in thing.items():
            yield from typed(one, key)
    elif isinstance(thing, list):
        for one in thing:
            yield from typed(one, under)


class Languages(BrowserCase):
    own = "a language is put into its data folder, and all that stands on its shelf is looked at"
    coarse = False

    def setUp(self) -> None:
        super().setUp()
        self.languages = Path(str(self.http.get("/api/languages").json()["folder"]))
        path = write_made_up(self.languages)
        self.addCleanup(path.unlink, missing_ok=True)

    def read_in(self, code: str) -> None:
        """Have this browser read Hinoki in a language, until it is told otherwise."""
        kept = "localStorage.getItem('hinoki.language') ?? localStorage.setItem('hinoki.language', '%s')"
        self.page.add_init_script(kept % code)

    def names(self) -> list[str]:
        """All that makers called their things, the longest first."""
        shelf = self.http.get("/api/projects").json()
        workshop = self.http.get("/api/workshop").json()
        plans = [self.http.get(f"/api/projects/{p['id']}").json()["plan"] for p in shelf]
        kept = [shelf, workshop["printers"], workshop["materials"], plans, self.http.get("/api/machines").json()]
        kept.append(self.http.get("/api/spools").json())
        return sorted({name for name in typed(kept) if len(name) > 2}, key=len, reverse=True)

    def texts(self) -> set[str]:
        """What stands on the page once all it asked for has come."""
        self.page.wait_for_load_state("networkidle")
        self.settled()
        self.drawn()
        return {" ".join(text.split()) for text in self.page.evaluate(SHOWN)}

    def left_in_english(self, names: list[str]) -> list[str]:
        """Texts on the page with a word that was not said anew."""
        texts: set[str] = set()
        while (now := self.texts()) != texts:
            texts = now
        return sorted(text for text in texts if english(text, names))

    def looked_at(self) -> dict[str, list[str]]:
        """What is left in English at each station of the project that is open, and on each of its pages."""
        left, names = {}, self.names()
        for station in STATIONS:
            self.station(station)
            self.page.wait_for_function("name => location.pathname.endsWith(name)", arg=station)
            left[station] = self.left_in_english(names)
            tabs = self.page.locator("[role=tab]")
            for number in range(1, tabs.count()):
                tabs.nth(number).click()
                left[f"{station}, {tabs.nth(number).inner_text()}"] = self.left_in_english(names)
        return left

    def test_no_page_of_a_project_is_left_in_english(self) -> None:
        self.read_in(CODE)
        for demo, pages in (("lighthouse", 17), ("signal box", 20)):
            with self.subTest(demo):
                self.open_demo(name=demo)
                left = self.looked_at()
                self.assertGreaterEqual(len(left), pages)
                self.assertEqual({page: texts for page, texts in left.items() if texts}, {})

    def test_neither_help_nor_shelf_nor_workshop_is_left_in_english(self) -> None:
        self.read_in(CODE)
        self.open_demo()
        left, names = {}, self.names()
        self.page.keyboard.press("?")
        tabs = self.page.locator("[role=dialog] [role=tab]")
        tabs.first.wait_for()
        for number in range(tabs.count()):
            tabs.nth(number).click()
            left[f"help {number}"] = self.left_in_english(names)
        self.page.goto(f"{self.address}/workshop")
        self.at("language").wait_for()
        left["workshop"] = self.left_in_english(names)
        self.page.goto(f"{self.address}/")
        self.at("project").first.wait_for()
        left["shelf"] = self.left_in_english(names)
        self.at("new-project").click()
        left["a new project"] = self.left_in_english(names)
        self.assertGreater(len(left), 4)
        self.assertEqual({page: texts for page, texts in left.items() if texts}, {})

    def test_a_language_is_chosen_in_the_workshop_and_english_again(self) -> None:
        heading = self.page.get_by_role("heading", level=1)
        self.page.goto(f"{self.address}/workshop")
        english_words = heading.inner_text()
        self.at("language").select_option(CODE)
        expect(heading).to_have_text(in_made_up(english_words))
        expect(self.page.get_by_text(in_made_up("of what Hinoki says is in this language"))).to_contain_text("100 %")
        self.assertEqual(self.page.locator("html").get_attribute("lang"), CODE)
        self.page.goto(f"{self.address}/workshop")
        self.at("language").select_option("")
        expect(heading).to_have_text(english_words)
        self.assertEqual(self.page.locator("html").get_attribute("lang"), "en")

    def test_words_are_looked_for_as_they_are_shown(self) -> None:
        self.read_in(CODE)
        self.open_demo()
        self.page.keyboard.press("?")
        self.page.get_by_role("tab", name=in_made_up("Words")).click()
        self.at("look-for-word").fill(in_made_up("dovetail"))
        words = self.at("help").locator("dt")
        expect(words.first).to_have_text(in_made_up("dovetail"))
        self.assertGreater(25, words.count())

    def test_a_catalogue_that_cannot_be_read_is_told_and_one_that_is_gone_leaves_english(self) -> None:
        broken = self.languages / "de.po"
        broken.write_text('msgid "Pieces"\nmsgtext "Teile"\n')
        self.addCleanup(broken.unlink)
        self.expected = ("404",)
        self.read_in("fr")
        self.page.goto(f"{self.address}/workshop")
        self.page.get_by_text("de.po is no catalogue in the form of gettext").wait_for()
        self.page.get_by_text("There is no catalogue for the language “fr”: put fr.po into").wait_for()
        expect(self.at("language")).to_have_value("")


def english(text: str, names: list[str]) -> list[str]:
    """The words of a text that are neither in the made-up language nor names, units, dates, files or codes."""
    for name in names:
        text = text.replace(name, "")
    text = re.sub(r"\S+\.\w+|\b[a-z]+(-[a-z]+)+\b", "", text)
    words = re.findall(r"(?<!\w)[A-Za-z][a-z]{2,}(?!\w)", text)
    return [word for word in words if re.search(r"[aeiouyAEIOUY]", word) and word not in STAYS]

"""Six newcomers' jobs, end to end, with only what can be seen: roles and names, no marks for tests.

How many actions each takes is kept in docs/ease.md; what it tells must be true.
"""

import re
import time
from pathlib import Path

from tests.ui import newcomer_models as models
from tests.ui.browser import BrowserCase
from tests.ui.newcomer import Hands, Way

MOST_FOR_A_WHOLE_JOB = 12
EASE = Path(__file__).parents[2] / "docs" / "ease.md"


class Newcomers(BrowserCase):
    def begun(self, name: str, size: tuple[int, int], way: Way = "mouse") -> Hands:
        """At the shelf, with a new project of that name."""
        if way == "touch":
            self.page = self.touched()
        self.page.set_viewport_size({"width": size[0], "height": size[1]})
        self.page.goto(self.address)
        self.hands = hands = Hands(self.page, way)
        self.since = time.monotonic()
        hands.press("button", "New project")
        hands.type("Name", name)
        self.page.wait_for_url("**/projects/**")
        self.kept(self.page.url.split("/projects/")[1].split("/")[0])
        return hands

    def file(self, name: str, data: bytes) -> Path:
        path = self.folder / name
        path.write_bytes(data)
        return path

    def ended(self, job: str) -> None:
        """It took as many actions as docs/ease.md tells."""
        told = re.search(rf"^\| {job} \|.*\| (\d+) \| \d+ \|$", EASE.read_text(), re.M)
        assert told, f"docs/ease.md does not tell of {job}"
        self.assertEqual(self.hands.actions, int(told[1]), f"{job}: {time.monotonic() - self.since:.0f} s")

    def test_a_helmet_by_the_whole_job(self) -> None:
        hands = self.begun("Diver's helmet", (1280, 800))
        hands.bring("Choose a file", self.file("helmet.stl", models.helmet()))
        hands.press("button", "Plan the whole job")
        hands.sees("Nothing must be fixed.")
        hands.go("Batch")
        hands.sees("of filament")
        self.assertLessEqual(hands.actions, MOST_FOR_A_WHOLE_JOB)
        self.ended("diver's helmet")

    def test_a_schooner_divided_by_hand(self) -> None:
        hands = self.begun("Schooner", (1920, 1080))
        hands.bring("Choose a file", self.file("schooner.stl", models.schooner()))
        hands.sees("closed")
        hands.go("Divide")
        hands.press("tab", "Propose")
        hands.press("button", "Propose a division")
        hands.press("button", "Take it")
        hands.made(3)
        hands.press("link", "Next: Join")
        hands.press("button", "On ")
        hands.sees("otherwise on the bed now")
        hands.made(4)
        hands.press("link", "Next: Check")
        hands.sees("Nothing must be fixed.")  # a piece that its joint made longer than the bed lies otherwise
        hands.press("link", "Next: Orient")
        hands.press("link", "Next: Batch")
        hands.sees("of filament")
        self.ended("schooner")

    def test_a_crate_with_a_parting_of_its_own(self) -> None:
        hands = self.begun("Crate", (1024, 768))
        hands.bring("Choose a file", self.file("crate.stl", models.crate()))
        hands.sees("closed")
        hands.press("link", "Next: Whole job")
        hands.press("link", "Next: Divide")
        hands.press("button", "+ Flat")
        hands.made(3)
        hands.choose("Axis", "X, across")
        hands.made(4)
        hands.type("Position", "30")
        hands.made(5)
        hands.press("link", "Next: Join")
        hands.press("button", "+ Fingers")
        hands.made(6)
        hands.press("link", "Next: Check")
        hands.sees("2 things must be fixed.")  # the crate is wider than the bed, and so are both halves
        self.ended("crate")

    def test_a_cart_of_several_parts_by_the_keyboard_alone(self) -> None:
        hands = self.begun("Hand cart", (1280, 800), "keys")
        hands.bring("Choose a file", self.file("cart.3mf", models.cart()))
        hands.sees("closed")
        hands.press("tab", "Parts")
        hands.press("button", "Take 5 bodies apart")
        hands.rests()
        hands.go("Whole job")
        hands.press("button", "Plan the whole job")
        hands.sees("Nothing must be fixed.")
        hands.go("Assemble")
        hands.press("button", "Play")
        self.ended("hand cart")

    def test_a_scan_with_faults_is_made_right(self) -> None:
        hands = self.begun("Stone head", (1280, 800))
        hands.bring("Choose a file", self.file("head.stl", models.scan()))
        hands.sees("not closed")
        hands.press("tab", "Make it right")
        hands.press("button", "Do what is recommended")
        hands.press("button", "Keep")
        hands.made(3)
        hands.press("tab", "What it is")
        hands.press("button", "Plan the whole job")
        hands.sees("Nothing must be fixed.")
        hands.go("Batch")
        hands.sees("of filament")
        self.ended("scanned head")

    def test_a_relief_on_a_phone(self) -> None:
        hands = self.begun("Relief", (390, 844), "touch")
        hands.bring("Choose a file", self.file("relief.stl", models.relief()))
        hands.press("button", "Plan the whole job")
        hands.sees("Nothing must be fixed.")
        hands.go("Batch")
        hands.press("button", "View")
        hands.go("Print log")
        hands.press("button", "Send")
        hands.go("Assemble")
        hands.press("checkbox", "Step 1 is done")
        self.ended("relief")

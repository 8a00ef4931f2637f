"""Wedges in the browser: on the demo harbour, by typing, angle by angle, and taken back."""

from tests.ui.browser import BrowserCase


class Wedges(BrowserCase):
    def test_count_hub_and_angles_one_by_one(self) -> None:
        self.open_demo(name="harbour")
        self.counted("piece", 8)
        self.assertIn("Wedges · 4 around Z, hub 143.0", self.at("parting").first.inner_text())
        self.assertTrue(all("fits" in text for text in self.at("piece").all_inner_texts()))
        was = self.revision()
        self.type_in("count", "6")
        self.after_edit(was)
        self.counted("piece", 10)
        was = self.revision()
        self.at("one-by-one").click()
        self.after_edit(was)
        self.counted("angle", 6)
        was = self.revision()
        angle = self.at("angle").locator("input").first
        angle.fill("20")
        angle.press("Enter")
        self.after_edit(was)
        was = self.revision()
        self.at("add-angle").click()
        self.after_edit(was)
        self.counted("piece", 11)
        was = self.revision()
        self.at("even-angles").click()
        self.after_edit(was)
        self.counted("piece", 10)
        for _ in range(5):
            was = self.revision()
            self.at("undo").click()
            self.after_edit(was)
        self.counted("piece", 8)

    def test_wedges_are_added_joined_and_ordered(self) -> None:
        self.open_demo(name="harbour")
        self.station("assemble")
        self.counted("step", 8)
        self.assertIn("The order works", self.at("proof").inner_text())
        self.station("divide")
        self.counted("parting", 3)
        while self.at("parting").count():
            was = self.revision()
            self.at("parting").last.click()
            self.at("parting-remove").click()
            self.after_edit(was)
        self.counted("piece", 1)
        was = self.revision()
        self.at("add-wedges").click()
        self.after_edit(was)
        self.counted("piece", 4)

"""Large projects: long lists are looked through by words and keys, and several of them are changed together."""

from playwright.sync_api import expect

from hinoki.core.geometry.solid import Solid
from tests.shapes import stl_of
from tests.ui.joining import JoinCase

ROWS = [
    {"kind": "even", "id": f"p{k}", "axis": axis, "parts": parts} for k, (axis, parts) in enumerate((("x", 6), ("y", 2)), 1)
]
"""a board in twelve pieces with sixteen mating faces"""


class LongLists(JoinCase):
    def test_faces_are_found_by_words_and_several_are_changed_at_once(self) -> None:
        board = stl_of(Solid.box([-150, -60, 0], [150, 60, 24]))
        self.show(self.started("Board", board, partings=ROWS), "join")
        self.counted("face", 16)
        self.at("several").click()
        self.page.get_by_role("button", name="All that are listed").click()
        self.at("several-kind").select_option("pin")
        self.edited(self.at("several-renew").click)
        self.assertTrue(all("pins" in t for t in self.at("face").all_inner_texts()))
        self.edited(lambda: self.at("several-fit").select_option("loose"))
        self.assertTrue(all("loose" in t for t in self.at("face").all_inner_texts()))

        # of those that a word is looked for in, some are given another kind instead
        looked = self.page.get_by_role("searchbox", name="Look for faces")
        looked.fill("1|2")
        few = self.at("face").count()
        self.assertLess(few, 16)
        expect(self.page.get_by_text(f"{few} of 16")).to_be_visible()
        self.at("several-slip").get_by_role("button", name="Done").click()
        self.at("several").click()
        self.page.get_by_role("button", name="All that are listed").click()
        self.at("several-kind").select_option("dowel")
        self.edited(self.at("several-renew").click)
        looked.fill("dowel")
        self.counted("face", few)
        looked.fill("pins loose")
        self.counted("face", 16 - few)
        looked.fill("")
        self.edited(self.at("several-remove").click)
        looked.fill("no joint yet")
        self.counted("face", few)
        self.edited(self.at("undo").click)
        self.counted("face", 0)

        # pieces by name and by number; arrows lead from row to row
        self.station("check")
        self.page.get_by_role("searchbox", name="Look for pieces").fill("piece 1 fits")
        pieces = [t.split("\n")[0] for t in self.at("piece").all_inner_texts()]
        self.assertEqual(pieces, ["1", "10", "11", "12"])
        self.at("piece").first.focus()
        for _ in range(2):
            self.page.keyboard.press("ArrowDown")
        self.page.keyboard.press("Enter")
        expect(self.at("piece").nth(2)).to_have_class("on")

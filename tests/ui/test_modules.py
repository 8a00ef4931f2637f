"""Modules that hold by themselves, with real clicks: a field of dovetail tiles that grows later, and a part given its sides."""

from playwright.sync_api import expect

from hinoki.core.geometry.solid import Solid
from tests.shapes import box, stl_of
from tests.ui.test_parts import PartsCase, as_3mf


class Modules(PartsCase):
    def in_a_row(self, count: int, step: tuple[int, int, int]) -> None:
        self.at("more-row").click()
        self.page.locator("[data-test=row-count] input, input[data-test=row-count]").first.fill(str(count))
        self.page.keyboard.press("Tab")
        for axis, by in zip("XYZ", step, strict=True):
            field = self.page.get_by_label(f"Step along {axis}", exact=True)
            field.fill(str(by))
            field.press("Tab")
        self.edited(self.at("place-more").click)

    def test_a_field_of_eight_dovetail_tiles_grows_by_two(self) -> None:
        self.begin(stl_of(box(50, 50, 10)), "tile.stl")
        self.in_a_row(8, (50, 0, 0))
        self.station("join")
        self.edited(self.at("add-modules").click)
        self.edited(lambda: self.at("meet-by").select_option("dovetails"))
        expect(self.at("modules")).to_contain_text("tail and groove 5/9 × 4 a side")
        said = self.at("module-says")
        expect(said.nth(0)).to_contain_text("All 16 pairs of sides were tried: every side meets every side.")
        expect(said.nth(1)).to_contain_text("16 pairs were put together with the real bodies: each goes down into its place")
        expect(said.nth(1)).to_contain_text("held against pull")
        self.counted("module-pole", 8)
        self.assertEqual(self.at("finding").count(), 0)
        self.station("batch")
        self.page.wait_for_selector("[data-test=laid]")
        self.counted("laid", 8)

        # later two more are wanted: the same part, standing twice more
        self.station("model")
        self.at("sheet-parts").click()
        self.at("which").select_option(index=7)
        self.in_a_row(3, (50, 0, 0))
        expect(self.at("part-count").first).to_contain_text("× 10")
        self.assertEqual(self.at("finding").count(), 0)
        self.station("batch")
        self.counted("laid", 10)

        # a head that is drawn through its neck is told, with the pair that showed it
        self.station("join")
        self.edited(lambda: self.type_in("head_mm", "5.3"))
        expect(self.page.get_by_text("is not held at side").first).to_be_visible()
        self.edited(self.at("undo").click)

    def test_hooks_that_would_break_are_told_with_the_length_that_does(self) -> None:
        self.begin(stl_of(box(50, 50, 10)), "tile.stl")
        self.station("join")
        self.edited(self.at("add-modules").click)
        self.edited(lambda: self.at("meet-by").select_option("hooks"))
        expect(self.at("modules")).to_contain_text("snap hook 14 × 5 × 1.8 a side")
        expect(self.at("module-says").nth(2)).to_contain_text("Two sides go in with about 12 N and come off again with about")
        self.edited(lambda: self.type_in("long_mm", "8"))
        expect(self.page.get_by_text("Make them 12.5 mm long").first).to_be_visible()
        self.edited(lambda: self.type_in("long_mm", "12.5"))
        self.assertEqual(self.at("finding").count(), 0)

    def test_a_part_that_comes_later_gets_the_same_sides(self) -> None:
        bodies: dict[str, Solid] = {"Tile": box(60, 60, 12), "Long": box(60, 120, 18).moved(90, 0, 0)}
        self.begin(as_3mf(bodies), "later.3mf")
        self.edited(self.at("take-apart").click)
        self.station("join")
        self.edited(self.at("add-modules").click)
        self.edited(lambda: self.at("meet-by").select_option("keys"))
        self.station("model")
        self.at("sheet-parts").click()
        self.open_part("Long")
        self.station("join")
        self.edited(self.at("same-modules").click)
        expect(self.at("same-told")).to_contain_text("16 pairs of its sides and those of Tile were put together")
        expect(self.at("modules")).to_contain_text("a groove 5/9 × 4 for loose keys a side")

"""The workshop with real clicks: printers, fits, own sizes and stock, ladders answered, what is kept in this browser."""

from tests.shapes import box, stl_of
from tests.ui.joining import JoinCase


class Workshop(JoinCase):
    each_alone = False
    own = "what is changed here, all projects share"

    def test_a_printer_is_copied_changed_used_and_then_kept(self) -> None:
        self.expected = ("409",)
        self.page.goto(self.address)
        self.at("to-workshop").click()
        self.at("ws-printer").filter(has_text="Bench 220").click()
        self.at("copy-printer").click()
        self.page.wait_for_selector("text=Bench 220, copy")
        self.type_in("name", "Garage")
        self.page.wait_for_selector("[data-test=ws-printer]:has-text('Garage')")
        self.type_in("height_mm", "280")
        self.page.wait_for_selector("[data-test=ws-printer]:has-text('280')")
        fit = self.at("fit-snug").locator("input")
        fit.fill("0.14")
        fit.press("Enter")
        self.page.wait_for_selector("[data-test=fit-snug]:has-text('typed')")
        with self.page.expect_download() as download:
            self.at("workshop-out").click()
        path = self.folder / "workshop.json"
        download.value.save_as(path)
        self.assertIn("Garage", path.read_text())

        # a project takes the printer and its fits
        self.new_project("Uses it")
        self.bring_box()
        was = self.revision()
        self.at("printer").select_option(label="Garage · 220 × 220 × 280")
        self.after_edit(was)
        self.page.wait_for_selector("text=snug 0.14")

        # in use, it cannot be taken out
        self.at("to-workshop").click()
        self.at("ws-printer").filter(has_text="Garage").click()
        self.at("drop-printer").click()
        self.page.wait_for_selector("text=is used by “Uses it”")
        self.at("workshop-file").set_input_files(str(path))
        self.page.wait_for_selector("text=Took in workshop.json")

    def bring_box(self) -> None:
        path = self.folder / "box.stl"
        path.write_bytes(stl_of(box(30, 30, 30)))
        self.bring(path)
        self.page.wait_for_selector("[data-test=model-facts]")
        self.settled()

    def test_own_sizes_stock_and_ladders_of_any_kind_in_the_workshop(self) -> None:
        self.page.goto(f"{self.address}/workshop")
        self.at("add-own-magnet").click()
        self.at("own-name").fill("From the old speaker")
        self.at("own-name").press("Enter")
        self.page.get_by_text("From the old speaker").wait_for()
        self.type_in("diameter_mm", "11")
        self.at("stock-name").fill("magnet disc 6 × 3")
        self.at("stock-count").locator("input").or_(self.page.locator("input[data-test=stock-count]")).first.fill("30")
        self.page.keyboard.press("Enter")
        self.at("stock-add").click()
        self.counted("stock", 1)
        for kind, words in (("hole", "hole for a bearing"), ("dovetail", "dovetail")):
            self.at("maker-kind").select_option(kind)
            self.at("maker-make").click()
            self.at("maker-made").filter(has_text=words).wait_for()
            with self.page.expect_download() as waiting:
                self.at("maker-3mf").click()
            self.assertTrue(waiting.value.suggested_filename.endswith(".3mf"))
            self.assertIn(words, self.page.get_by_label("Joint of the ladder").input_value())
        self.open_demo("join", "fen")
        self.assertIn("From the old speaker (own)", self.at("module-size").inner_text())
        self.station("divide")
        self.at("to-buy").filter(has_text="8 to buy").wait_for()

    def test_a_fit_ladder_is_made_answered_and_taken_over(self) -> None:
        self.block()
        self.edited(self.at("add-pin").click)
        self.at("ladder-open").click()
        self.at("ladder-make").click()
        self.at("ladder-made").wait_for()
        with self.page.expect_download() as waiting:
            self.at("ladder-3mf").click()
        self.assertTrue(waiting.value.suggested_filename.endswith(".3mf"))
        self.page.goto(self.address)
        self.at("to-workshop").click()
        for rung, answer in enumerate(("no", "force", "hand", "slides", "slides", "rattles"), start=1):
            self.at(f"rung-{rung}").select_option(answer)
        self.at("ladder-told").click()
        self.assertIn("snug: 0.15 mm each side", self.at("told").inner_text())
        self.at("ladder-keep").click()
        self.at("ladder-take").first.click()
        self.page.wait_for_selector("[data-test=fit-snug]:has-text('fit ladder')")

    def test_light_drawing_is_switched_and_kept_in_this_browser(self) -> None:
        self.page.goto(f"{self.address}/workshop")
        switch = self.at("light-drawing")
        self.assertTrue(switch.is_checked())  # the tests draw lightly
        pixels = "() => { const c = document.querySelector('[data-test=view] canvas'); return c.width / c.clientWidth }"
        for on, ratio in ((True, 0.5), (False, 1.0)):
            self.page.goto(f"{self.address}/workshop")
            switch.set_checked(on)
            self.page.reload()
            self.page.wait_for_selector("[data-test=light-drawing]")
            self.assertEqual(switch.is_checked(), on)
            self.open_demo("join", "fen")
            self.page.wait_for_function(f"() => Math.abs(({pixels})() - {ratio}) < 0.01")  # once it has drawn

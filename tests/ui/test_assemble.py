"""Assemble in the browser: played, rearranged, refused, taken out, ticked on a phone, drawn as sheets."""

import io

from PIL import Image
from playwright.sync_api import expect

from hinoki.core.divide.partings import LumpsParting
from hinoki.core.geometry.solid import Solid
from tests.core.assemble.bodies import cabinet, square_link
from tests.shapes import stl_of
from tests.ui.joining import JoinCase


class Assemble(JoinCase):
    """From an order to sheets."""

    def several(self, bodies: dict[str, Solid]) -> None:
        """A project whose pieces came in as bodies of one file."""
        lumps = LumpsParting(id="p1").model_dump(mode="json")
        model = stl_of(Solid.together(list(bodies.values())))
        self.show(self.started("Bodies", model, partings=[lumps]), "assemble")
        self.counted("piece", len(bodies))
        self.page.wait_for_selector("[data-test=step]")
        self.settled()

    def order(self) -> list[str]:
        return [text.split("\n")[0] for text in self.page.locator("[data-test=step] b.grow").all_inner_texts()]

    def choose(self, row: int) -> None:
        """Choose a step by its number, not by what is below it once it is chosen."""
        self.at("step").nth(row).locator(".tag").click()

    def drag(self, row: int, to: int) -> None:  # type: ignore[override]
        """Drag a step in the list by its grip."""
        grips = self.at("grip")
        start, end = grips.nth(row).bounding_box(), grips.nth(to).bounding_box()
        assert start is not None
        assert end is not None
        self.page.mouse.move(start["x"] + 4, start["y"] + 8)
        self.page.mouse.down()
        self.page.mouse.move(start["x"] + 4, start["y"] + 20 * (1 if to > row else -1), steps=4)
        self.page.mouse.move(end["x"] + 4, end["y"] + (14 if to > row else 2), steps=12)
        self.page.mouse.up()

    def test_the_lighthouse_is_played_spread_and_taken_apart(self) -> None:
        self.open_demo()
        self.station("assemble")
        self.page.wait_for_selector("[data-test=step]")
        self.assertIn("The order works", self.at("proof").inner_text())
        self.counted("step", 12)
        self.choose(5)
        self.assertIn("Step 6 of 12", self.page.locator(".play-bar").inner_text())
        slider = self.page.locator("[data-test=scrubber] [role=slider]")
        slider.focus()
        for _ in range(30):
            self.page.keyboard.press("ArrowLeft")
        self.assertEqual(float(slider.get_attribute("aria-valuenow") or 0), 5.7)
        self.assertIn("Group of pieces 3 and 4", self.page.locator("[data-test=step].on").inner_text())
        self.at("play").click()
        expect(self.at("play")).to_have_text("Pause")
        self.page.wait_for_function("() => +document.querySelector('[data-test=scrubber] [role=slider]').ariaValueNow > 6.2")
        self.at("play").click()
        apart = self.page.locator("[data-test=apart] [role=slider]")
        apart.focus()
        self.page.keyboard.press("End")
        self.assertGreater(self.page.locator(".over .guide").count(), 5)
        self.at("page-out").click()
        self.at("replace").filter(has_text="Tower, upper").click()
        self.page.get_by_text("must come off first").wait_for()
        self.assertGreater(self.at("comes-off-first").count(), 0)
        self.at("page-holds").click()
        self.at("stays").wait_for()
        self.at("page-balance").click()
        self.assertGreater(float(self.at("tip").inner_text().rstrip("°")), 30)
        self.page.wait_for_selector("[data-test=take-ballast]")

    def test_a_drawer_too_late_is_refused_and_put_right_by_dragging(self) -> None:
        self.several(cabinet())
        before = self.order()
        drawer = next(k for k, text in enumerate(before) if self.how(k).find("from the front") > 0)
        self.assertEqual(drawer, 1)
        self.edited(lambda: self.drag(2, 1))
        self.assertEqual(self.order(), [before[0], before[2], before[1]])
        self.assertIn("not work: 3", self.at("proof").inner_text())
        self.choose(2)
        self.assertIn("no longer goes in here", self.at("step-why").inner_text())
        self.at("show-meeting").click()
        self.at("pinned").wait_for()
        self.edited(lambda: self.drag(2, 1))
        self.assertEqual(self.order(), before)
        self.assertIn("The order works", self.at("proof").inner_text())
        self.choose(2)
        self.edited(self.at("earlier").click)
        self.edited(self.at("unpin").click)
        self.assertEqual(self.order(), before)

    def how(self, step: int) -> str:
        self.choose(step)
        return str(self.at("step-how").inner_text())

    def test_what_comes_off_first_is_told_and_glue_forbids_it(self) -> None:
        self.several(cabinet())
        self.choose(2)
        name = self.order()[2]
        self.edited(self.at("comes-off").click)
        self.edited(self.at("may-glue").first.click)
        self.assertIn("must come off again, but is glued", " ".join(self.at("finding").all_inner_texts()))
        self.assertIn("!", self.at("station-assemble").inner_text())
        self.at("page-out").click()
        self.at("replace").filter(has_text=name).click()
        self.assertIn("without breaking the glue", self.at("replacing").inner_text())

    def test_steps_are_grouped_and_resolved_again(self) -> None:
        self.several(cabinet())
        self.at("group").click()
        self.assertTrue(self.at("group-these").is_disabled())
        self.choose(1)
        self.choose(2)
        self.edited(self.at("group-these").click)
        self.assertIn("Group of pieces", self.order()[2])
        self.choose(2)
        self.edited(self.at("ungroup").click)
        self.assertNotIn("Group", " ".join(self.order()))

    def test_links_of_a_chain_are_said_to_have_no_order(self) -> None:
        self.several({"one": square_link((0, 0, 0), "xy"), "two": square_link((30, 0, 0), "xz")})
        self.assertIn("lock each other", self.at("locked").inner_text())
        self.assertIn("not work", self.at("proof").inner_text())

    def test_ticks_notes_and_a_photograph_on_a_phone_are_seen_on_the_desk(self) -> None:
        self.several(cabinet())
        phone = self.window(390, 780)
        phone.goto(self.page.url)
        phone.locator("[data-test=tick]").nth(1).click()
        wide = phone.evaluate("document.documentElement.scrollWidth - window.innerWidth")
        self.assertLessEqual(wide, 0)
        for test in ("tick", "grip", "play", "scrubber"):
            box = phone.locator(f"[data-test={test}]").first.bounding_box()
            assert box is not None
            self.assertGreaterEqual(box["x"], 0)
            self.assertLessEqual(box["x"] + box["width"], 390)
        self.page.get_by_text("1 of 3").wait_for()
        phone.locator("[data-test=step]").nth(1).click()
        picture = io.BytesIO()
        Image.new("RGB", (640, 480), "#7f9bb0").save(picture, "JPEG")
        photo = {"name": "step.jpg", "mimeType": "image/jpeg", "buffer": picture.getvalue()}
        phone.locator("[data-test=photo-file]").set_input_files(photo)  # type: ignore[arg-type]
        phone.locator("[data-test=photo]").wait_for()
        self.choose(1)
        self.at("photo").wait_for()
        self.at("note").fill("wax the sides")
        self.edited(lambda: self.at("note").blur())
        phone.locator("[data-test=note]").wait_for()
        phone.wait_for_function("() => document.querySelector('[data-test=note]')?.value === 'wax the sides'")
        was = self.revision()
        self.at("note").focus()
        self.page.keyboard.type(" well")
        self.page.keyboard.press("Control+z")  # takes back what was typed, not the plan's last edit
        expect(self.at("note")).to_have_value("wax the sides")
        self.at("note").blur()
        self.assertEqual(self.revision(), was)
        self.at("untick").click()
        self.page.get_by_text("0 of 3").wait_for()
        bad = {"name": "step.jpg", "mimeType": "image/jpeg", "buffer": b"no picture"}
        self.at("drop-photo").click()
        self.expected = ("422",)
        self.at("photo-file").set_input_files(bad)
        self.page.get_by_text("This is no photograph").wait_for()

    def test_sheets_are_drawn_looked_at_and_saved(self) -> None:
        self.several(cabinet())
        self.at("page-sheets").click()
        self.edited(lambda: self.at("field-paper").select_option("Letter"))
        self.at("draw-sheets").click()
        self.page.wait_for_selector("[data-test=sheets-seen]")
        seen = self.page.frame_locator("[data-test=sheets-seen]")
        expect(seen.locator("section.step")).to_have_count(3)
        with self.page.expect_download() as waiting:
            self.at("sheet-pdf").click()
        path = self.folder / "sheet.pdf"
        waiting.value.save_as(path)
        self.assertEqual(path.read_bytes()[:5], b"%PDF-")
        self.assertTrue(waiting.value.suggested_filename.endswith("-assembly.pdf"))

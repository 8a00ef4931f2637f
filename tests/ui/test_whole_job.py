"""The whole job with real clicks: on an uploaded STL from nothing to the ZIP, and on the demo project."""

import json
import zipfile

from playwright.sync_api import expect

from tests.shapes import stl_of, tube
from tests.ui.browser import BrowserCase


class PlannedAtOnce(BrowserCase):
    def test_an_upload_becomes_a_job_by_one_click_and_each_station_can_be_changed(self) -> None:
        model = self.folder / "chimney.stl"
        model.write_bytes(stl_of(tube(46, 34, 520)))
        self.new_project("Chimney at once")
        self.bring(model)
        self.page.wait_for_selector("[data-test=model-facts]")
        self.settled()
        was = self.revision()
        self.at("plan-it").click()
        self.after_edit(was)
        expect(self.at("job-verdict")).to_contain_text("Nothing must be fixed.")
        expect(self.at("job-reasons")).to_contain_text("was taken")
        self.assertIn("3 pieces", self.at("job-divide").inner_text())
        self.assertIn("mating faces", self.at("job-join").inner_text())
        self.assertIn("bed", self.at("job-batch").inner_text())
        self.assertIn("steps", self.at("job-assemble").inner_text())
        self.assertEqual([t.count("fits") for t in self.at("piece").all_inner_texts()], [1] * 3)

        # each station can be changed; what is told follows, and the reasons go with what they were of
        self.at("job-join").get_by_role("link", name="Change it").click()
        self.counted("face", 2)
        force = self.page.locator("[data-test=handling] input, input[data-test=handling]").first
        force.fill("2000")
        self.edited(lambda: force.press("Enter"))
        expect(self.at("finding").first).to_contain_text("pushed at its end with 2000 N")
        self.edited(lambda: self.at("undo").click())
        self.edited(lambda: self.at("remove-joint").first.click())
        self.station("whole-job")
        expect(self.at("job-join")).to_contain_text("glue alone on 1 seam")
        self.counted("job-reasons", 0)

        # planned anew the division so far is kept, and one step back brings it again
        self.at("job-prefer").select_option("sturdy")
        self.edited(lambda: self.at("plan-whole-job").click())
        expect(self.at("job-verdict")).to_contain_text("Nothing must be fixed.")
        self.edited(lambda: self.at("undo").click())
        expect(self.at("job-join")).to_contain_text("glue alone on 1 seam")

    def test_planning_is_stopped_and_nothing_is_changed(self) -> None:
        model = self.folder / "bar.stl"
        model.write_bytes(stl_of(tube(300, 280, 900)))
        self.new_project("Stopped")
        self.bring(model)
        self.page.wait_for_selector("[data-test=model-facts]")
        self.settled()
        was = self.revision()
        self.at("plan-it").click()
        self.at("planning-job").get_by_role("button", name="Stop").click()
        self.page.wait_for_selector("[data-test=plan-whole-job]:not([disabled])")
        self.assertEqual(self.revision(), was)
        self.counted("piece", 1)


class UploadedModel(BrowserCase):
    def test_from_an_upload_to_the_download(self) -> None:
        model = self.folder / "chimney.stl"
        model.write_bytes(stl_of(tube(46, 34, 520)))
        self.new_project("Chimney")

        # Model: facts, unit, printer, what is over
        self.bring(model)
        self.page.wait_for_selector("[data-test=model-facts]")
        facts = self.at("model-facts").inner_text()
        self.assertIn("92.0 × 92.0 × 520.0 mm", facts)
        self.assertIn("closed", facts)
        self.assertIn("over 270.0", self.at("fit-table").inner_text())
        self.settled()
        self.at("unit").select_option("cm")
        self.page.wait_for_function("() => document.querySelector('[data-test=model-facts]').textContent.includes('5200.0')")
        self.at("undo").click()
        self.page.wait_for_function("() => document.querySelector('[data-test=model-facts]').textContent.includes('× 520.0')")
        self.settled()
        was = self.revision()
        self.at("printer").select_option("small-180")
        self.after_edit(was)
        self.assertIn("over 340.0", self.at("fit-table").inner_text())

        # Divide: even spacing by typing, one more flat parting, dragged
        self.station("divide")
        was = self.revision()
        self.at("add-even").click()
        self.after_edit(was)
        self.counted("piece", 3)
        was = self.revision()
        self.type_in("parts", "4")
        self.after_edit(was)
        self.counted("piece", 4)
        self.assertEqual([t.count("fits") for t in self.at("piece").all_inner_texts()], [1] * 4)

        # Join: pins on all faces; one dragged to the rim breaks through, undo brings it back
        self.station("join")
        self.counted("face", 3)
        was = self.revision()
        self.at("everywhere-kind").select_option("pin")
        self.at("everywhere").click()
        self.after_edit(was)
        self.assertNotIn("no joint yet", " ".join(self.at("face").all_inner_texts()))
        self.page.wait_for_selector("[data-test=spot]")
        spot = self.at("spot").first.bounding_box()
        was = self.revision()
        x, y = spot["x"] + spot["width"] / 2, spot["y"] + spot["height"] / 2
        sheet = self.at("face-sheet").bounding_box()
        middle = sheet["x"] + sheet["width"] / 2 + 14
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + (40 if x > middle else -40), y, steps=4)
        self.page.mouse.up()
        self.after_edit(was)
        self.page.wait_for_selector("[data-test=finding]")
        self.assertRegex(" ".join(self.at("finding").all_inner_texts()), r"breaks through the surface of piece \d by \d")
        was = self.revision()
        self.at("undo").click()
        self.after_edit(was)
        self.counted("finding", 0)
        was = self.revision()
        self.at("field-shape").select_option("square")
        self.after_edit(was)

        # Orient and Assemble
        self.station("orient")
        self.counted("orient-piece", 4)
        self.page.wait_for_selector("[data-test=rest]")
        self.station("assemble")
        self.counted("step", 4)
        self.assertIn("straight down", self.at("step").nth(3).inner_text())

        # Export
        with self.page.expect_download() as download:
            self.at("export").click()
        path = self.folder / "chimney.zip"
        download.value.save_as(path)
        with zipfile.ZipFile(path) as archive:
            names = archive.namelist()
            report = json.loads(archive.read("report.json"))
        self.assertEqual(len([n for n in names if n.startswith("pieces/")]), 4)
        self.assertEqual({j["kind"] for j in report["joints"]}, {"pin"})
        self.assertTrue(all(p["fits"] and p["closed"] for p in report["pieces"]))
        self.assertEqual(report["bed_mm"], [180, 180, 180])

        # a reload shows the same
        self.page.reload()
        self.page.wait_for_selector("[data-test=step]")
        self.counted("step", 4)
        self.counted("piece", 4)

    def test_a_broken_file_is_refused_in_words_and_nothing_is_lost(self) -> None:
        self.expected = ("422",)
        self.new_project("Broken")
        broken = self.folder / "broken.stl"
        broken.write_bytes(stl_of(tube(10, 8, 10))[:500])
        self.bring(broken)
        self.page.wait_for_selector("text=The file is cut off")
        self.assertEqual(self.revision(), 1)
        whole = self.folder / "whole.stl"
        whole.write_bytes(stl_of(tube(10, 8, 20)))
        self.bring(whole)
        self.page.wait_for_selector("[data-test=model-facts]")


class Demo(BrowserCase):
    def test_a_parting_follows_the_mouse_the_keys_and_the_typed_number(self) -> None:
        self.open_demo()
        begun = self.revision()
        self.page.wait_for_selector("[data-test=sides]")
        self.assertIn("over by", self.at("sides").inner_text())
        before = self.at("section").inner_text()
        was = self.revision()
        handle = self.steady("plane-handle")
        x, y = handle["x"] + 17, handle["y"] + 17
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x, y - 30, steps=6)
        # still held: no edit yet, but the drawing and the sizes follow
        self.page.wait_for_function("t => document.querySelector('[data-test=section]').innerText !== t", arg=before)
        self.assertEqual(self.revision(), was)
        self.page.mouse.up()
        self.after_edit(was)
        moved = self.at("parting").first.inner_text()
        self.assertNotIn("112.0", moved)

        was = self.revision()
        self.at("plane-handle").focus()
        self.page.keyboard.press("ArrowDown")
        self.after_edit(was)

        was = self.revision()
        self.type_in("at_mm", "112")
        self.after_edit(was)
        self.assertIn("112.0", self.at("parting").first.inner_text())
        self.assertEqual(self.at("section").inner_text(), before)
        for _ in range(3):
            was = self.revision()
            self.at("undo").click()
            self.after_edit(was)
        self.assertEqual(self.revision(), begun)

    def test_the_live_section_agrees_with_the_exact_one(self) -> None:
        self.coarse = False
        self.open_demo()
        self.page.wait_for_selector("[data-test=section]")
        project = self.page.url.split("/projects/")[1].split("/")[0]
        answer = self.page.request.get(f"{self.address}/api/projects/{project}/build").json()
        exact = answer["build"]["partings"][0]["sections"][0]
        text = self.at("section").inner_text().replace("\u2009", "")
        self.assertIn(f"area {round(exact['area_mm2'])} mm²", text)
        self.assertIn(f"wall {exact['least_wall_mm']:.1f} mm", text)

    def test_partings_can_be_switched_reordered_removed_and_limited_to_pieces(self) -> None:
        self.open_demo()
        last = self.at("parting").last
        last.click()
        was = self.revision()
        self.at("parting-on").uncheck()
        self.after_edit(was)
        self.counted("piece", 7)
        was = self.revision()
        last.locator("[aria-label=Earlier]").click()
        self.after_edit(was)
        self.assertIn("P6", self.at("parting").nth(4).inner_text())
        was = self.revision()
        self.at("parting-remove").click()
        self.after_edit(was)
        self.counted("parting", 5)
        self.at("parting").filter(has_text="P3").click()
        self.at("cuts-only").click()
        was = self.revision()
        self.page.locator(".menu input").last.check()
        self.after_edit(was)
        for _ in range(4):
            was = self.revision()
            self.at("undo").click()
            self.after_edit(was)
        self.counted("piece", 8)

    def test_an_impossible_parting_is_refused_in_words(self) -> None:
        self.expected = ("422",)
        self.open_demo()
        was = self.revision()
        self.type_in("at_mm", "900")
        self.page.wait_for_selector("text=misses the model")
        self.assertEqual(self.revision(), was)

    def test_pieces_are_named_and_picked_and_spread(self) -> None:
        self.open_demo()
        self.at("piece").first.click()
        was = self.revision()
        self.at("rename").click()
        self.at("piece-name").fill("Landing stage")
        self.at("piece-name").press("Enter")
        self.after_edit(was)
        self.assertIn("Landing stage", self.at("piece").first.inner_text())
        self.assertIn("Landing stage", self.at("title-block").inner_text())
        self.page.locator(".balloon", has_text="8").click()
        self.assertIn("Roof and mast", self.at("title-block").inner_text())
        top = self.page.locator(".balloon", has_text="6").bounding_box()["y"]
        self.page.locator("[data-test=spread] [role=slider]").focus()
        for _ in range(20):
            self.page.keyboard.press("ArrowRight")
        place = "[...document.querySelectorAll('.balloon')].find((b) => b.textContent.trim() === '6').getBoundingClientRect().y"
        higher = f"top => {place} < top"
        self.page.wait_for_function(higher, arg=top)
        was = self.revision()
        self.at("undo").click()
        self.after_edit(was)

    def test_another_resting_face_can_be_chosen(self) -> None:
        self.open_demo("orient")
        self.page.wait_for_selector("[data-test=rest]")
        was = self.revision()
        self.page.locator("[data-test=rest][aria-pressed=false]").first.click()
        self.after_edit(was)
        self.assertNotIn("proposed", self.at("orient-piece").first.inner_text())
        was = self.revision()
        self.at("rest-auto").click()
        self.after_edit(was)
        self.assertIn("proposed", self.at("orient-piece").first.inner_text())

    def test_all_pieces_are_oriented_but_the_locked_one_stays(self) -> None:
        self.open_demo("orient")
        self.page.wait_for_selector("[data-test=rest]")
        self.at("preset").select_option("fastest")
        self.page.wait_for_selector("[data-test=rest]")
        was = self.revision()
        self.at("rest-lock").click()
        self.after_edit(was)
        self.assertIn("locked", self.at("orient-piece").first.inner_text())
        was = self.revision()
        self.at("turn-x").click()  # a locked one may still be turned by hand
        self.after_edit(was)
        was = self.revision()
        self.at("orient-all").click()
        self.after_edit(was)
        states = self.at("orient-piece").all_inner_texts()
        self.assertEqual((sum("locked" in s for s in states), sum("proposed" in s for s in states)), (1, 0))

    def test_everything_is_laid_on_beds_with_figures(self) -> None:
        self.open_demo("batch")
        self.page.wait_for_selector("[data-test=batch]")
        laid = self.at("laid").count()
        self.assertGreaterEqual(laid, len(self.page.locator("[data-test=piece]").all()))
        batches = self.at("batch").count()
        was = self.revision()
        self.type_in("most_hours", "12")
        self.after_edit(was)
        self.page.wait_for_function("n => document.querySelectorAll('[data-test=batch]').length > n", arg=batches)
        self.assertEqual(self.at("laid").count(), laid)
        self.assertIn("batches,", self.at("batch-sum").inner_text())
        self.assertIn("about", self.at("piece-takes").first.inner_text())
        was = self.revision()
        self.at("undo").click()
        self.after_edit(was)

    def test_a_peg_moves_by_keys_and_dowels_replace_pins(self) -> None:
        self.open_demo("join")
        self.page.wait_for_selector("[data-test=spot]")
        was = self.revision()
        label = self.at("spot").first.get_attribute("aria-label")
        self.at("spot").first.focus()
        self.page.keyboard.press("ArrowRight")
        self.after_edit(was)
        self.assertNotEqual(self.at("spot").first.get_attribute("aria-label"), label)
        was = self.revision()
        self.page.locator("[aria-label='Kind of joint']").select_option("dowel")
        self.after_edit(was)
        self.assertIn("dowels", self.at("face").first.inner_text())
        was = self.revision()
        self.at("spread-evenly").click()
        self.after_edit(was)
        was = self.revision()
        self.at("remove-joint").click()
        self.after_edit(was)
        self.assertIn("needs one", self.at("face").first.inner_text())

    def test_every_station_opens_and_stays_within_the_page(self) -> None:
        self.coarse = False
        self.open_demo()
        for width, height in ((1280, 800), (1024, 768)):
            self.page.set_viewport_size({"width": width, "height": height})
            for name in ("model", "divide", "join", "check", "orient", "batch", "assemble", "log"):
                self.station(name)
                self.page.wait_for_selector("section h2")
                scroll = self.page.evaluate("document.documentElement.scrollHeight - window.innerHeight")
                self.assertLessEqual(scroll, 0, name)
                wide = self.page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
                self.assertLessEqual(wide, 0, name)

    def test_what_is_changed_before_the_events_come_in_is_seen_all_the_same(self) -> None:
        """The second window has loaded the project, but its events are held up while the first one edits."""
        self.open_demo()
        other, held = self.window(), []
        other.route("**/events", lambda route: route.continue_() if held else held.append(route))
        with other.expect_request("**/events"):
            other.goto(self.page.url)
        other.wait_for_selector("[data-test=parting]")
        was = self.revision()
        self.type_in("at_mm", "111")
        self.after_edit(was)
        held[0].continue_()
        expect(other.locator("[data-test=parting]").first).to_contain_text("111.0")

    def test_two_windows_tell_each_other(self) -> None:
        self.open_demo()
        other = self.window()
        other.goto(self.page.url)
        other.wait_for_selector("[data-test=parting]")
        was = self.revision()
        self.type_in("at_mm", "110")
        self.after_edit(was)
        other.wait_for_function("() => document.querySelector('[data-test=parting]').textContent.includes('110.0')")
        was = self.revision()
        self.at("undo").click()
        self.after_edit(was)

"""Orient and Batch with real clicks: laid alike, dragged from bed to bed, pinned, copied, compared, sent out, followed."""

import json
import re
import zipfile

from playwright.sync_api import expect

from hinoki.core.geometry.solid import Solid
from tests.shapes import ellipsoid, stl_of, tube
from tests.ui.joining import JoinCase

FACE = {"parting": "p1", "member": 0, "a": "p1-", "b": "p1+"}


class Printing(JoinCase):
    def to_batch(self, solid: Solid | None = None) -> None:
        self.block(solid)
        self.station("batch")
        self.page.wait_for_selector("[data-test=laid]")
        self.settled()

    def middle(self, key: str) -> tuple[float, float]:
        place = self.page.locator(f"[data-key='{key}']").bounding_box()
        assert place is not None
        return place["x"] + place["width"] / 2, place["y"] + place["height"] / 2

    def drag_to(self, key: str, x: float, y: float) -> None:
        self.page.mouse.move(*self.middle(key))
        self.page.mouse.down()
        self.page.mouse.move(x, y, steps=6)
        self.page.mouse.up()

    def placed(self, key: str) -> tuple[str, str, str]:
        self.page.locator(f"[data-key='{key}']").click()
        bed = self.at("to-bed").locator("option:checked").inner_text()
        return bed, *(self.at(f"at-{axis}").locator("input").input_value() for axis in "xy")

    def test_orienting_all_puts_pins_on_the_piece_that_has_another_base(self) -> None:
        half = ellipsoid(40, 40, 40).minus([Solid.box([0, -50, -50], [50, 50, 50])])
        pins = {"id": "j1", "kind": "pin", "face": FACE, "count": 2, "diameter_mm": 5, "length_mm": 8, "on": "a"}
        cut = {"kind": "flat", "id": "p1", "axis": "x", "at_mm": 0.0}
        solid = half.plus([Solid.box([-1, -40, -40], [40, 40, 40])])
        project = self.started("Snout", stl_of(solid), partings=[cut], joints=[pins])
        self.show(project, "orient")
        was = self.revision()
        self.at("orient-all").click()
        self.after_edit(was)
        expect(self.page.locator(".v-snackbar__content").last).to_contain_text("Pins or rims were put on the other piece")
        (joint,) = self.http.get(f"/api/projects/{project}").json()["plan"]["joints"]
        self.assertEqual(joint["on"], "b")

    def test_things_are_dragged_pinned_moved_to_other_beds_and_never_onto_each_other(self) -> None:
        self.to_batch()
        self.counted("batch", 1)
        bed = self.page.locator("svg[data-batch='1'] .plate").bounding_box()
        assert bed is not None
        corner = bed["x"] + 0.78 * bed["width"], bed["y"] + 0.22 * bed["height"]
        self.edited(lambda: self.drag_to("p1-", *corner))
        where = self.placed("p1-")
        self.assertEqual(where[0], "Batch 1")
        self.assertTrue(50 < float(where[1]) < 75, where)
        self.assertEqual(self.page.locator("[data-key='p1-'] .pin").count(), 1)
        # onto the other one it does not go, and nothing changes
        self.expected = ("409",)
        was = self.revision()
        self.drag_to("p1-", *self.middle("p1+"))
        self.page.wait_for_selector("text=It stays where it was")
        self.assertEqual(self.revision(), was)
        self.assertEqual(self.placed("p1-"), where)
        self.edited(lambda: self.at("to-bed").select_option(label="a batch of its own"))
        self.counted("batch", 2)
        self.assertEqual(self.placed("p1-")[0], "Batch 2")
        self.edited(lambda: self.at("at-x").locator("input").fill("-12") or self.page.keyboard.press("Enter"))
        self.edited(lambda: self.at("at-y").locator("input").fill("0") or self.page.keyboard.press("Enter"))
        self.assertEqual(self.placed("p1-")[1:], ("-12.0", "0.0"))
        self.edited(lambda: self.at("turn-thing").click())
        self.assertEqual(self.at("at-turn").locator("input").input_value(), "45.0")
        self.edited(lambda: self.at("pin-thing").click())  # let go
        self.edited(lambda: self.at("lay-out").click())
        self.counted("batch", 1)

    def test_a_piece_and_a_part_are_printed_otherwise(self) -> None:
        self.to_batch()
        self.page.locator("[data-key='p1-']").click()
        self.at("own-settings").click()
        self.edited(lambda: self.type_in("walls", "6"))
        expect(self.at("otherwise")).to_have_text(", printed with 6 walls")
        self.counted("batch", 1)
        self.edited(lambda: self.at("own-layers").select_option("fine"))  # they need a bed of their own
        self.counted("batch", 2)
        expect(self.at("batch").first.or_(self.at("batch").nth(1)).filter(has_text="fine layers").first).to_be_visible()
        self.at("own-scope").select_option("part")
        self.edited(lambda: self.at("own-layers").select_option("fine"))
        self.counted("batch", 1)  # all of the part is fine now

        # a group of the two: named, with walls of its own; one of them is taken out again
        self.edited(lambda: self.at("own-scope").select_option("new"))
        name = self.at("group-name")
        name.fill("shells")
        self.edited(lambda: name.press("Enter"))
        self.edited(lambda: self.type_in("infill_percent", "55"))
        expect(self.at("otherwise")).to_contain_text("55 % infill")
        self.page.locator("[data-key='p1+']").click()
        self.at("own-settings").click()
        expect(self.at("own-scope")).to_contain_text("shells (it is not in it)")
        self.at("own-scope").select_option(label="shells (it is not in it)")
        self.edited(self.at("group-take").click)
        self.counted("group-member", 2)
        expect(self.at("otherwise")).to_contain_text("55 % infill")
        self.edited(self.at("group-member").last.click)
        expect(self.at("otherwise")).not_to_contain_text("55 % infill")

    def test_copies_hours_and_a_timetable(self) -> None:
        self.to_batch()
        self.page.locator("[data-key='p1-']").click()
        self.edited(lambda: self.at("copies").locator("input").fill("3") or self.page.keyboard.press("Enter"))
        self.counted("laid", 4)
        self.edited(lambda: self.type_in("most_hours", "2"))
        self.assertGreater(self.at("batch").count(), 1)
        self.assertEqual(self.at("run").count(), self.at("batch").count())
        self.assertIn("day 1, 08:00", self.at("run").first.inner_text())
        self.edited(lambda: self.type_in("from_hour", "10"))
        self.assertIn("day 1, 10:00", self.at("run").first.inner_text())
        self.edited(lambda: self.page.locator("[data-test=field-aim]").select_option("even"))
        self.at("in-space").first.click()
        self.page.wait_for_selector("[data-test=from-above]")
        self.assertEqual(self.at("beds").count(), 0)
        self.at("from-above").click()
        self.page.wait_for_selector("[data-test=beds]")

    def test_small_parts_get_a_spare_in_one_click(self) -> None:
        self.block()
        self.edited(lambda: self.at("add-dowel").click())
        self.edited(lambda: self.type_in("length_mm", "12"))
        self.station("batch")
        self.page.wait_for_selector("[data-test=spares]")
        self.settled()
        laid = self.at("laid").count()
        self.edited(lambda: self.at("one-more").first.click())
        self.counted("laid", laid + 1)

    def test_options_are_compared_and_pieces_listed(self) -> None:
        self.to_batch()
        self.at("page-estimates").click()
        self.assertEqual(self.at("estimate-line").count(), 2)
        self.page.wait_for_selector("[data-test=estimates] canvas")
        for k in (0, 3):
            self.at("what-if-add").nth(k).click()
        self.at("what-if").click()
        rows = self.at("what-if-table").locator("tbody tr")
        rows.nth(2).wait_for()
        texts = rows.all_inner_texts()
        self.assertEqual([t.split("\t")[0].strip() for t in texts], ["as it is", "fine layers", "no infill"])
        self.assertRegex(texts[1], r"\(\+\d+ %\)")
        self.assertRegex(texts[2], r"\(−\d+ %\)")
        self.edited(lambda: self.type_in("walls", "1"))

    def test_what_goes_out_is_chosen_and_remembered_and_a_plan_is_followed(self) -> None:
        self.to_batch()
        self.at("page-files").click()
        self.page.locator("[data-test=field-pieces]").select_option("obj")
        self.page.locator("[data-test=field-model]").uncheck()
        with self.page.expect_download() as waiting:
            self.at("export-all").click()
        path = self.folder / "files.zip"
        waiting.value.save_as(path)
        with zipfile.ZipFile(path) as archive:
            names = archive.namelist()
            plan = archive.read("plan.json")
        self.assertLessEqual({"pieces/01-piece-1.obj", "batches/01-bench-220.3mf", "faces/1-2.dxf"}, set(names))
        self.assertFalse(any(n.startswith("model/") for n in names))
        self.page.wait_for_selector("[data-test=went]")
        self.assertIn("nothing has changed since", self.at("went").first.inner_text())
        other = json.loads(plan)
        other["partings"][0]["at_mm"] = 20
        other["pieces"]["p9+"] = {"name": "Chimney"}
        file = self.folder / "plan.json"
        file.write_text(json.dumps(other))
        self.edited(lambda: self.at("plan-file").set_input_files(str(file)))
        self.page.wait_for_function("() => /changed since: 1, 2/.test(document.querySelector('[data-test=went]').textContent)")
        self.station("check")
        self.page.wait_for_selector("text=The settings of Chimney wait")
        self.station("batch")
        self.at("page-files").click()
        file.write_text("no plan")
        self.at("plan-file").set_input_files(str(file))
        self.page.wait_for_selector("text=is not JSON")

    def test_equal_pieces_are_laid_alike_and_how_a_piece_lies_is_shown(self) -> None:
        self.block()
        self.station("orient")
        self.page.wait_for_selector("[data-test=layer-plot]")
        self.assertIn("piece 2", self.at("mates").inner_text())
        self.assertGreater(self.at("height-scale").count(), 0)
        self.page.locator("summary", has_text="Weigh it yourself").click()
        self.at("weight-time").fill("9")
        self.page.wait_for_function("() => document.querySelector('[data-test=preset]').value === ''")
        self.page.wait_for_selector("[data-test=layer-plot]")
        self.at("preset").select_option("fastest")
        self.page.wait_for_selector("[data-test=layer-plot]")
        self.settled()
        self.edited(lambda: self.page.locator("[data-test=rest][aria-pressed=false]").first.click())
        self.assertEqual([t for t in self.at("orient-piece").all_inner_texts() if "proposed" in t], [])
        self.page.wait_for_selector("[data-test=mates]")
        self.at("mates").locator("input").uncheck()
        self.edited(lambda: self.at("rest-auto").click())
        self.assertEqual(sum("proposed" in t for t in self.at("orient-piece").all_inner_texts()), 1)

    def test_in_resin_a_cup_is_told_what_it_traps(self) -> None:
        cup = tube(25, 22, 60).plus([Solid.cylinder(25, 0, 3)])
        self.block(cup)
        self.station("model")
        self.edited(lambda: self.at("printer").select_option("resin-143"))
        self.station("orient")
        self.page.wait_for_selector("[data-test=vent]")
        self.assertRegex(self.at("now-said").first.inner_text(), r"Shuts in \d+\.\d cm³ at \d+ mm: give it a drain hole")
        self.assertRegex(self.at("vent").first.inner_text(), re.compile(r"a hole there\s+opens it"))

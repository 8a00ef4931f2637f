"""The Join station: every kind of joint is made, changed, dragged and exported in the browser."""

from typing import Any

from playwright.sync_api import expect

from hinoki.core.geometry.solid import Solid
from tests.effort import either
from tests.shapes import across, box, stl_of, tube
from tests.ui.joining import JoinCase

EXPORTED = ("pin", "dovetail")
DRAGGED = either(
    ("pin", "dovetail", "thread", "hinge"), ("pin", "dowel", "dovetail", "key", "tongue", "thread", "magnet", "screw", "hinge")
)
"""kinds whose elements have places; a lip follows the outline, glue has none"""
KINDS = (
    "pin",
    "dowel",
    "dovetail",
    "key",
    "lip",
    "tongue",
    "thread",
    "bayonet",
    "magnet",
    "screw",
    "hinge",
    "rail",
    "latch",
    "butt",
)


class Joining(JoinCase):
    """Every kind of joint, and what is found about joints."""

    def test_every_kind_is_made_dragged_and_exported(self) -> None:
        self.block()
        for kind in KINDS:
            self.edited(self.at(f"add-{kind}").click)
            self.counted("joint", 1)
            if kind in DRAGGED:
                self.page.wait_for_selector("[data-test=spot]")
                before = self.at("spot").first.get_attribute("aria-label")
                self.edited(lambda: self.drag(-14, -14))
                self.assertNotEqual(self.at("spot").first.get_attribute("aria-label"), before, kind)
            # what is measured on every kind is tested in the core; here, that it goes out
            joint = self.exported()["joints"][0] if kind in EXPORTED else self.placed()
            self.assertEqual(joint["kind"], kind)
            if kind in EXPORTED:
                self.assertAlmostEqual(joint["clearance_measured_mm"], joint["clearance_mm"], delta=0.01)
            if kind == KINDS[-1]:
                break
            self.edited(self.at("remove-joint").click)
        self.edited(lambda: self.page.get_by_label("Kind of joint").select_option("dovetail"))
        self.edited(lambda: self.type_in("neck_mm", "5"))
        self.edited(lambda: self.type_in("head_mm", "10"))
        self.edited(lambda: self.type_in("height_mm", "3"))
        self.assertEqual(self.page.locator("input[data-test=flank], [data-test=flank] input").input_value(), "50.2")

    def placed(self) -> dict[str, Any]:
        """The first joint as it is built now."""
        project = self.page.url.split("/")[-2]
        found: dict[str, Any] = self.http.get(f"/api/projects/{project}/build").json()["build"]["joints"][0]
        return found

    def test_magnets_get_a_size_on_sale_and_poles_that_turn_over(self) -> None:
        self.block()
        self.edited(self.at("add-magnet").click)
        self.edited(lambda: self.at("size").select_option(label="disc 12.7 × 3.2"))
        self.assertIn("12.7 × 3.2", self.at("face").first.inner_text())
        self.assertIn("pull about", self.at("joint").inner_text())
        self.assertEqual(self.at("pole-drawn").all_text_contents(), ["N", "N"])
        self.page.locator("summary").filter(has_text="spread by Hinoki").click()
        self.edited(self.at("pole").last.click)
        self.assertEqual(self.at("pole-drawn").all_text_contents(), ["N", "S"])
        self.at("mirror-sheet").click()
        self.assertEqual(self.at("pole-drawn").all_text_contents(), ["S", "N"])
        self.station("check")
        self.assertIn("4 × magnet disc 12.7 × 3.2", self.at("hardware").inner_text())

    def test_a_thread_screws_in_and_leaning_it_is_mended_by_a_fix(self) -> None:
        self.block()
        self.edited(self.at("add-thread").click)
        self.assertIn("turned in", self.at("title-block").inner_text())
        self.edited(lambda: self.at("size").select_option(label="M30 × 3.5"))
        self.edited(self.at("field-lines_up").click)
        self.edited(lambda: self.type_in("length_mm", "10"))
        self.page.get_by_text("it wobbles").first.wait_for()
        self.station("assemble")
        self.page.get_by_text("Screw piece 2 onto piece 1, clockwise").first.wait_for()

    def test_a_rod_and_a_cable_way_are_added_typed_and_meet_a_pin(self) -> None:
        self.block()
        self.edited(self.at("add-pin").click)
        self.edited(self.at("add-rod").click)
        self.assertIn("rod ø4, 50 long", self.at("way").inner_text())
        self.edited(lambda: self.way_field("diameter_mm", "6"))
        self.assertIn("rod ø6", self.at("way").inner_text())
        self.edited(self.at("add-cable").click)
        self.edited(self.at("add-via").click)
        self.edited(lambda: self.via("0-0", "15"))
        self.counted("way", 2)
        self.station("check")
        self.page.get_by_text("rod ø6, steel, 50.0 mm").wait_for()
        self.station("join")
        self.edited(self.at("remove-way").click)
        self.counted("way", 1)

    def way_field(self, name: str, text: str) -> None:
        box_ = self.at("ways").locator(f"input[data-test=field-{name}], [data-test=field-{name}] input").first
        box_.fill(text)
        box_.press("Enter")

    def via(self, name: str, text: str) -> None:
        box_ = self.page.locator(f"input[data-test=via-{name}], [data-test=via-{name}] input").first
        box_.fill(text)
        box_.press("Enter")

    def test_pins_of_a_thin_shell_stand_in_a_collar_by_a_fix(self) -> None:
        self.block(tube(40, 38, 120))
        self.edited(self.at("add-lip").click)
        self.edited(lambda: self.page.get_by_label("Kind of joint").select_option("pin"))
        self.assertGreater(len(self.at("collar").get_attribute("d") or ""), 20)
        self.edited(lambda: self.type_in("collar_mm", "0"))
        self.page.get_by_text("there is room for none").first.wait_for()
        self.edited(self.at("fix").filter(has_text="Stand it in a collar").first.click)
        self.assertGreater(len(self.at("collar").get_attribute("d") or ""), 20)
        self.assertGreater(self.at("spot").count(), 1)

    def test_pins_of_a_panel_stand_in_posts_of_the_walls_that_end_at_it(self) -> None:
        case = box(80, 60, 40).minus([Solid.box([-37.6, -27.6, 2.4], [37.6, 27.6, 41])])
        end = across(1, "x", -37.6).model_dump(mode="json")
        self.show(self.started("Case", stl_of(case), partings=[end]), "join")
        self.edited(self.at("add-pin").click)
        self.assertGreater(len(self.at("collar").get_attribute("d") or ""), 20)
        report = self.exported()
        (joint,) = report["joints"]
        self.assertAlmostEqual(joint["clearance_measured_mm"], joint["clearance_mm"], delta=0.01)
        self.assertEqual([f["code"] for f in report["findings"] if f["severity"] != "note"], [])

    def test_a_joint_is_dragged_with_its_distances_shown_and_typed(self) -> None:
        self.block()
        self.edited(self.at("add-key").click)
        self.page.get_by_label("Kind of joint").select_option("tongue")
        self.page.wait_for_selector("[data-test=field-width_mm]")
        self.settled()
        was = self.revision()
        self.drag(0, -60)
        self.after_edit(was)
        self.page.locator("summary").filter(has_text="set by hand").click()
        field = self.page.locator("input[data-test=place-0-1], [data-test=place-0-1] input").first
        self.assertGreater(float(field.input_value()), 3)
        self.edited(lambda: (field.fill("-8"), field.press("Enter")))
        self.assertIn("-8.0", self.at("spot").first.get_attribute("aria-label") or "")

    def test_a_measure_that_was_typed_looks_otherwise_and_is_given_back(self) -> None:
        self.block()
        self.edited(self.at("add-pin").click)
        field = self.page.locator("[data-test=field-length_mm] input")
        chosen = field.input_value()
        expect(field).to_have_class("chosen")
        self.counted("give-back-length_mm", 0)
        self.edited(lambda: self.type_in("length_mm", "9.5"))
        expect(field).not_to_have_class("chosen")
        expect(self.page.locator("[data-test=field-diameter_mm] input")).to_have_class("chosen")
        self.page.reload()
        self.at("face").first.click()
        self.edited(self.at("give-back-length_mm").click)
        expect(field).to_have_value(chosen)
        expect(field).to_have_class("chosen")
        self.edited(self.at("undo").click)
        expect(field).to_have_value("9.5")
        expect(field).not_to_have_class("chosen")

    def test_a_fit_is_changed_after_its_effect_was_shown(self) -> None:
        self.block()
        self.edited(self.at("add-pin").click)
        field = self.page.locator("input[data-test=fit-snug], [data-test=fit-snug] input").first
        field.fill("0.15")
        field.press("Enter")
        self.assertIn("pins", self.at("fit-preview").inner_text())
        self.edited(self.at("fit-make").click)
        self.assertIn("0.15 mm each side", self.at("joint").inner_text())

    def test_motions_that_are_at_odds_are_named(self) -> None:
        self.block()
        self.edited(self.at("add-dovetail").click)
        self.edited(self.at("add-pin").click)
        self.page.get_by_text("cannot be put together").first.wait_for()

    def test_faces_are_marked_and_one_is_left_out(self) -> None:
        self.block()
        self.edited(self.at("field-on").last.click)
        self.assertIn("A1", self.at("mating-marks").inner_text())
        self.assertGreater(len(self.at("letters").get_attribute("d") or ""), 20)
        self.edited(self.at("mark-face").click)
        self.assertIn("left out", self.at("mating-marks").inner_text())

    def test_a_symmetric_pattern_is_made_one_way_by_its_fix(self) -> None:
        self.block()
        self.edited(self.at("add-pin").click)
        self.edited(self.at("fix").filter(has_text="Only one way").first.click)
        self.assertTrue(self.at("field-one_way").is_checked())
        self.assertEqual(self.page.get_by_text("can be put together turned").count(), 0)

    def test_a_finding_is_mended_another_accepted_and_taken_back(self) -> None:
        self.block()
        self.edited(self.at("add-pin").click)
        self.page.locator("summary").filter(has_text="spread by Hinoki").click()
        field = self.page.locator("input[data-test=place-0-0], [data-test=place-0-0] input").first
        self.edited(lambda: (field.fill("-25"), field.press("Enter")))
        self.station("check")
        self.at("sorted-by").select_option("face")
        bad = self.at("finding").filter(has_text="must fix")
        self.assertIn("breaks through the surface", bad.first.inner_text())
        self.edited(bad.first.locator("[data-test=fix]").filter(has_text="Move it inwards").click)
        self.assertEqual(self.at("finding").filter(has_text="must fix").count(), 0)
        self.edited(self.at("undo").click)
        bad.first.locator("[data-test=accept]").click()
        self.at("reason").fill("it is filled afterwards")
        self.edited(self.at("accept-it").click)
        self.assertIn("it is filled afterwards", self.at("accepted").inner_text())
        self.edited(self.at("take-back").first.click)
        self.counted("accepted", 0)

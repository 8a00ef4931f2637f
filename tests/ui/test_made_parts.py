"""Parts that Hinoki makes, with real clicks: a box gets a lid that shuts, and slides; feet where one clicks."""

from playwright.sync_api import expect

from tests.core.make.test_openings import OPEN_BOX
from tests.shapes import box, stl_of
from tests.ui.test_parts import PartsCase


class Lids(PartsCase):
    def test_an_open_box_gets_a_lid_that_shuts(self) -> None:
        self.begin(stl_of(OPEN_BOX), "chest.stl")
        self.at("make-part").click()
        self.at("make-lid").click()
        expect(self.at("opening")).to_contain_text("92.0 × 62.0 × 57.0, up")
        self.type_in("knob_mm", "16")
        self.edited(self.at("make-it").click)
        expect(self.at("parts-told")).to_contain_text("it comes off straight; 0.20 mm clear on each side")
        self.counted("part", 2)
        expect(self.at("part-name")).to_have_value("Lid")

        # the play is measured, and nothing runs into anything
        self.at("play-first").select_option(label="Lid")
        self.at("play-second").select_option(label="chest")
        self.at("measure-play").click()
        expect(self.at("play-says")).to_contain_text("They touch; where they do not, there is up to 0.20 mm between them")
        self.assertEqual(self.at("finding").count(), 0)

        # its figures are changed later; it stays where it is, and shuts
        self.edited(lambda: self.at("field-shuts").select_option("both"))
        expect(self.at("made-said").first).to_contain_text("opening of 92.0 × 62.0 mm")
        expect(self.at("made-said").nth(1)).to_contain_text("0.20 mm clear on each side")

        # a figure that cannot be is told and kept, and taken back
        self.edited(lambda: self.type_in("deep_mm", "80"))
        expect(self.page.get_by_text("The opening is only 57.0 mm deep").first).to_be_visible()
        expect(self.page.locator("[data-test=field-deep_mm] input, input[data-test=field-deep_mm]")).to_have_value("80.0")
        self.edited(self.at("undo").click)
        self.counted("made-said", 2)

        # it goes through everything: printed, put together
        self.station("batch")
        self.page.wait_for_selector("[data-test=laid]")
        self.counted("laid", 2)

    def test_one_that_slides_cuts_its_grooves(self) -> None:
        self.begin(stl_of(OPEN_BOX), "chest.stl")
        self.at("make-part").click()
        self.at("make-lid").click()
        self.at("field-shuts").select_option("slides")
        self.edited(self.at("make-it").click)
        expect(self.at("parts-told")).to_contain_text("measured: as wanted")
        self.open_part("chest")
        self.at("sheet-shape").click()
        expect(self.at("prepare-step")).to_contain_text("Seat, sliding")
        self.at("sheet-parts").click()
        self.open_part("Lid")
        self.edited(lambda: self.at("field-slides_to").select_option("y-"))
        self.open_part("chest")
        self.at("sheet-shape").click()
        expect(self.at("field-way")).to_have_value("y-")

    def test_what_has_no_opening_gets_none_and_says_why(self) -> None:
        self.begin(stl_of(box(40, 40, 40)), "cube.stl")
        self.at("make-part").click()
        self.at("make-lid").click()
        expect(self.page.get_by_text("none with a flat rim")).to_be_visible()
        self.at("make-it").click()
        expect(self.at("message")).to_contain_text("This part has no opening with a flat rim")
        self.counted("part", 1)


class OnFaces(PartsCase):
    def click_middle(self) -> None:
        view = self.page.locator("canvas").bounding_box()
        assert view is not None
        self.page.mouse.click(view["x"] + 0.5 * view["width"], view["y"] + 0.5 * view["height"])

    def test_a_foot_is_put_where_one_clicks(self) -> None:
        self.begin(stl_of(box(60, 60, 30)), "block.stl")
        self.at("make-part").click()
        self.at("make-foot").click()
        self.at("pick-place").click()
        self.click_middle()
        expect(self.at("places-picked")).to_have_text("1 place")
        self.edited(self.at("make-it").click)
        self.counted("part", 2)
        expect(self.at("part-name")).to_have_value("Foot")
        self.edited(lambda: self.type_in("high_mm", "20"))
        self.assertEqual(self.at("finding").count(), 0)

"""Parts that Hinoki makes, with real clicks: a box gets a lid that shuts, and slides; feet where one clicks."""

import re

from playwright.sync_api import expect

from hinoki.core.geometry.solid import Solid
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


class WhatTurnsAndSprings(PartsCase):
    def make(self, kind: str) -> None:
        self.at("sheet-parts").click()
        self.at("make-part").click()
        self.at(f"make-{kind}").click()

    def test_an_axle_is_made_for_a_bore_that_is_clicked(self) -> None:
        ring = box(60, 60, 12).minus([Solid.cylinder(20.0, -1, 13, around=True)])
        self.begin(stl_of(ring), "frame.stl")
        self.at("make-part").click()
        self.at("make-axle").click()
        self.at("pick-bore_mm").click()
        view = self.page.locator("canvas").bounding_box()
        assert view is not None
        # the far wall of the bore, as it is seen from above
        self.page.mouse.click(view["x"] + 0.497 * view["width"], view["y"] + 0.478 * view["height"])
        expect(self.at("places-picked")).to_have_text("1 place")
        expect(
            self.at("field-bore_mm").locator("input").or_(self.page.locator("input[data-test=field-bore_mm]"))
        ).to_have_value(re.compile(r"40\.0"))
        self.type_in("washer_mm", "48")
        self.edited(self.at("make-it").click)
        self.counted("part", 3)
        expect(self.at("parts-told")).to_contain_text(re.compile(r"ø39.6\d? in a bore of 40.*0.2 mm clear on each side"))

    def test_a_spring_tells_its_rate_and_a_hinge_its_strain(self) -> None:
        self.begin(stl_of(box(60, 60, 12)), "frame.stl")
        self.make("spring")
        self.edited(self.at("make-it").click)
        expect(self.at("made-said").nth(1)).to_contain_text("N for each mm in")
        self.edited(lambda: self.type_in("pressed_mm", "30"))
        expect(self.page.get_by_text("its turns lie on each other")).to_be_visible()
        self.make("living-hinge")
        self.edited(self.at("make-it").click)
        expect(self.page.get_by_text("Its web is strained by")).to_be_visible()

    def test_a_bearing_gets_its_seat(self) -> None:
        self.begin(stl_of(box(60, 60, 20)), "frame.stl")
        self.at("sheet-shape").click()
        self.at("add-step").click()
        self.edited(self.at("add-bearing-seat").click)
        self.edited(lambda: self.at("bearing").select_option(label="608: 8 × 22 × 7"))
        self.edited(lambda: self.at("field-behind").select_option("closed"))
        expect(self.at("step-said")).to_contain_text("only the outer ring rests on it")
        self.assertEqual(self.at("finding").count(), 0)

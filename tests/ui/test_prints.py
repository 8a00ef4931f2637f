"""What prints of it, with real clicks: a fin that no line fits into is told and shown; relief before and after."""

from playwright.sync_api import expect

from hinoki.core.geometry.solid import Solid
from tests.core.printed.test_layers import fin
from tests.shapes import box, stl_of
from tests.ui.test_parts import PartsCase


class WhatPrints(PartsCase):
    def test_a_thin_fin_is_lost_and_with_a_thinner_line_is_not(self) -> None:
        self.begin(stl_of(fin(0.4)), "fin.stl")
        self.station("orient")
        self.at("prints-look").click()
        expect(self.at("prints-says")).to_contain_text("Lost: 39.7 mm³")
        expect(self.at("prints-show")).to_have_attribute("aria-pressed", "true")
        self.at("prints-go").click()
        self.at("prints-time").click()
        expect(self.at("prints-lines")).to_contain_text("the estimate says")
        self.type_in("prints-line", "0.35")
        self.at("prints-look").click()
        expect(self.at("prints-says")).to_contain_text("Nothing is lost in layers of 0.20 with lines of 0.35 mm")
        self.at("prints-show").click()
        expect(self.at("prints-show")).to_have_attribute("aria-pressed", "false")

    def test_relief_before_and_after(self) -> None:
        """A rib of 0.35 mm is lost; made a line wide it prints."""
        rib = Solid.united([box(30, 20, 10), Solid.box((14, -0.175, 0), (15.6, 0.175, 10))]).refined(0.6)
        self.begin(stl_of(rib), "rib.stl")
        self.at("sheet-shape").click()
        self.at("add-step").click()
        self.edited(self.at("add-relief").click)
        self.edited(lambda: self.type_in("factor", "1"))
        self.edited(lambda: self.type_in("at_least_mm", "0.45"))
        self.at("prints-look").click()
        expect(self.at("prints-both")).to_contain_text("Lost before 1.9 mm³")
        expect(self.at("prints-both")).to_contain_text("after 0.0 mm³")
        self.at("prints-before").click()
        expect(self.at("prints-says")).to_contain_text("Lost: 1.9")
        self.at("prints-after").click()
        expect(self.at("prints-says")).to_contain_text("Nothing is lost")

from tests.core.printed.test_layers import fin
from tests.shapes import stl_of
from tests.ui.test_parts import PartsCase


class Zz(PartsCase):
    light = False

    def test_shot(self) -> None:
        self.begin(stl_of(fin(0.4)), "fin.stl")
        self.station("orient")
        self.at("prints-look").click()
        self.at("prints-says").wait_for()
        self.page.wait_for_timeout(1500)
        self.at("prints").scroll_into_view_if_needed()
        self.page.screenshot(path="/tmp/m/a.png")
        self.at("prints-time").click()
        self.at("prints-lines").wait_for()
        self.at("prints-go").click()
        self.page.wait_for_timeout(2500)
        self.page.screenshot(path="/tmp/m/b.png")

from tests.ui.joining import JoinCase


class Zz(JoinCase):
    light = False

    def test_shot(self) -> None:
        self.block()
        self.edited(self.at("add-pin").click)
        self.at("versions-open").click()
        self.edited(self.at("keep-version").click)
        self.edited(lambda: self.type_in("clearance_mm", "0.2"))
        self.edited(self.at("keep-version").click)
        self.at("versions").scroll_into_view_if_needed()
        self.page.wait_for_timeout(900)
        self.page.screenshot(path="/tmp/m/a.png")

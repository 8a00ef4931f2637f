"""What moves, with real clicks: a lever in its frame, a bolt that it drives, what they touch, two at once."""

from playwright.sync_api import expect

from hinoki.core.geometry.solid import Solid
from tests.shapes import box
from tests.ui.test_parts import PartsCase, as_3mf


def lever_frame() -> dict[str, Solid]:
    """A frame with a cheek in which a lever's axle turns, along Y; a bolt before it; and a stop behind."""
    cheek = Solid.box((-15, 10, 0), (15, 16, 60))
    bore = Solid.cylinder(4.2, -1, 30).placed([[1.0, 0, 0, 0], [0, 0, 1.0, 0], [0, -1.0, 0, 40]])
    axle = Solid.cylinder(4.0, -4, 17).placed([[1.0, 0, 0, 0], [0, 0, 1.0, 0], [0, -1.0, 0, 40]])
    arm = Solid.box((-6, -4, 30), (6, 4, 110))
    return {
        "Frame": box(140, 60, 6).moved(0, 0, -6).plus([cheek.moved(0, 0, -0.1)]).minus([bore]),
        "Lever": arm.plus([axle]),
        "Bolt": Solid.box((30, -6, 0.5), (60, 6, 20)),
        "Stop": Solid.box((50, -10, 0), (56, 10, 90)),
    }


class Moving(PartsCase):
    def begun(self) -> str:
        project = self.begin(as_3mf(lever_frame()), "levers.3mf")
        self.edited(self.at("take-apart").click)
        self.station("assemble")
        self.page.get_by_role("tab", name="Moving").click()
        expect(self.at("moving")).to_contain_text("say what moves")
        self.page.wait_for_selector("[data-test=add-movement-turn]")
        return project

    def figure(self, field: str, value: str) -> None:
        self.edited(lambda: self.type_in(field, value))

    def movement(self, kind: str, thing: str) -> None:
        self.edited(self.at(f"add-movement-{kind}").click)
        self.edited(lambda: self.at("also-moves").select_option(label=thing))

    def test_a_lever_is_turned_through_its_travel_and_drives_a_bolt(self) -> None:
        project = self.begun()
        self.movement("turn", "Lever")
        self.edited(self.at("along-Y").click)
        for field, value in (("at_mm-2", "46"), ("end", "30"), ("begin", "-30")):  # the file was let down by 6 mm
            self.figure(field, value)
        self.page.wait_for_selector("text=keeps 0.1")  # mm in its bore, all along
        expect(self.at("moving-says").first).to_have_text("Moves Lever.")
        expect(self.at("moving-good")).to_have_text("Nothing touches anything on its way.")
        self.at("play-moving").click()
        expect(self.at("moved-to")).not_to_contain_text("at rest")
        self.at("play-moving").click()
        self.at("moving-rest").click()
        expect(self.at("moved-to")).to_contain_text("at rest")

        # farther it runs into the stop, and is shown there
        self.figure("end", "70")
        touch = self.at("moving-mark").first
        expect(touch).to_contain_text("Touches at")
        expect(self.at("finding").first).to_contain_text("Lever touches Stop")
        touch.click()
        expect(self.at("moved-to")).to_contain_text(touch.inner_text().removeprefix("Touches at ")[:3])
        self.edited(self.at("fix").first.click)  # carve its path out of the stop
        expect(self.at("moving-good")).to_be_visible()
        stop = next(p for p in self.http.get(f"/api/projects/{project}").json()["plan"]["parts"] if p["name"] == "Stop")
        self.assertEqual([step["kind"] for step in stop["prepare"]], ["clear-path"])

        # it drives the bolt, which is tried along with it
        self.movement("slide", "Bolt")
        self.edited(lambda: self.at("field-driven").select_option("other"))
        expect(self.at("movement-by")).to_have_value("v1")
        self.figure("ratio", "-0.1")
        self.at("movement").first.click()
        expect(self.at("moving-says").first).to_have_text("Moves Lever, Bolt.")

        # by itself, both are tried at once
        self.at("movement").nth(1).click()
        self.edited(lambda: self.at("field-driven").select_option("itself"))
        self.figure("end", "15")
        expect(self.at("moving-together")).to_contain_text("Every two of them were tried at once")

        # what it moved is not there any more
        self.edited(self.at("remove-movement").click)
        self.counted("movement", 1)

"""Takes the pictures in docs/screenshots from the demo project, with the real screens in headless Chromium."""

import io
import sys
import unittest
from pathlib import Path

from PIL import Image

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.shapes import box, stl_of, tube
from tests.ui.browser import BrowserCase

FOLDER = Path(__file__).parent / "screenshots"
STATIONS = ("model", "divide", "join", "check", "orient", "batch", "assemble", "log")


class Pictures(BrowserCase):
    """One picture of each main view at 1280 × 800."""

    def test_take_them(self) -> None:
        """Visit every station of the demo project and save what it shows."""
        FOLDER.mkdir(exist_ok=True)
        self.page.goto(self.address)
        self.page.wait_for_selector("[data-test=project]")
        self.page.screenshot(path=FOLDER / "shelf.png")
        self.open_demo()
        for name in STATIONS:
            self.station(name)
            self.page.wait_for_timeout(1500)
            if name == "divide":
                self.page.locator("[data-test=spread] [role=slider]").focus()
                for _ in range(25):
                    self.page.keyboard.press("ArrowRight")
                self.page.wait_for_timeout(300)
                self.page.get_by_role("button", name="Corner").click()
            if name == "join":
                self.at("face").filter(has_text="1|2").click()
                self.page.wait_for_timeout(800)
                self.at("cut-joint").click()
                self.page.wait_for_timeout(1500)
            self.page.wait_for_timeout(800)
            self.page.screenshot(path=FOLDER / f"{name}.png")
        self.take_the_joints()
        self.take_the_mask()

    def take_the_joints(self) -> None:
        """Nine kinds of joint on a small block (the lip on a tube), each cut through, side by side."""
        shapes = {"block": box(60, 60, 60), "tube": tube(30, 24, 60)}
        pictures: list[Image.Image] = []
        for shape, kinds in (
            ("block", ("pin", "dowel", "dovetail", "key", "tongue", "thread", "magnet", "screw")),
            ("tube", ("lip",)),
        ):
            path = self.folder / f"{shape}.stl"
            path.write_bytes(stl_of(shapes[shape]))
            self.new_project(shape)
            self.bring(path)
            self.page.wait_for_selector("[data-test=model-facts]")
            self.station("divide")
            was = self.revision()
            self.at("add-even").click()
            self.after_edit(was)
            self.station("join")
            self.page.wait_for_selector("[data-test=face-sheet]")
            for kind in kinds:
                was = self.revision()
                self.at(f"add-{kind}").click()
                self.after_edit(was)
                if kind == "dovetail":
                    was = self.revision()
                    self.at("field-ends").select_option("closed")
                    self.after_edit(was)
                if self.at("cut-joint").get_attribute("aria-pressed") == "true":
                    self.at("cut-joint").click()
                self.at("cut-joint").click()
                self.page.wait_for_timeout(2500)
                box_ = self.at("view").bounding_box()
                top = {"x": box_["x"], "y": box_["y"] + 150, "width": box_["width"], "height": 300}
                pictures.append(Image.open(io.BytesIO(self.page.screenshot(clip=top))))
                was = self.revision()
                self.at("remove-joint").click()
                self.after_edit(was)
        wide, high = pictures[0].size
        sheet = Image.new("RGB", (3 * wide + 20, 3 * high + 20), "#fbf8f1")
        for k, picture in enumerate(pictures):
            sheet.paste(picture, ((k % 3) * (wide + 10), (k // 3) * (high + 10)))
        sheet.save(FOLDER / "joint-kinds.png")

    def take_the_mask(self) -> None:
        """The Model station's sheets and the workshop, from the second demo project."""
        self.page.goto(self.address)
        self.at("project").filter(has_text="owl").locator("a").click()
        self.page.wait_for_selector(".balloon")
        self.settled()
        self.station("model")
        self.page.wait_for_timeout(1500)
        self.page.get_by_role("button", name="Front").click()
        self.at("sheet-shape").click()
        self.at("prepare-step").first.click()
        self.at("cut-away").click()
        self.page.get_by_role("button", name="Cut along X").click()
        self.page.get_by_role("button", name="Corner").click()
        self.page.wait_for_timeout(1500)
        self.page.screenshot(path=FOLDER / "prepare.png")
        self.at("cut-away").click()
        was = self.revision()
        self.at("step-on").uncheck()
        self.after_edit(was)
        self.at("sheet-surface").click()
        self.at("walls").click()
        self.page.wait_for_selector("[data-test=walls-key]")
        self.page.wait_for_timeout(1500)
        self.page.screenshot(path=FOLDER / "surface.png")
        self.at("repair").click()
        self.page.wait_for_selector("[data-test=trial-facts] td")
        self.page.wait_for_timeout(3000)
        self.page.screenshot(path=FOLDER / "repair.png")
        self.at("trial-leave").click()
        self.page.goto(self.address)
        self.at("project").filter(has_text="harbour").locator("a").click()
        self.page.wait_for_selector(".balloon")
        self.settled()
        self.page.locator("[data-test=spread] [role=slider]").focus()
        for _ in range(25):
            self.page.keyboard.press("ArrowRight")
        self.page.get_by_role("button", name="Corner").click()
        self.page.wait_for_timeout(1500)
        self.page.screenshot(path=FOLDER / "wedges.png")
        self.take_the_division()
        self.page.goto(f"{self.address}/workshop")
        self.page.wait_for_selector("[data-test=ws-printer]")
        self.page.wait_for_timeout(500)
        self.page.screenshot(path=FOLDER / "workshop.png")

    def take_the_division(self) -> None:
        """Marks, proposals and a drawn profile, on the harbour that is open."""
        self.page.locator("[data-test=spread] [role=slider]").focus()
        self.page.keyboard.press("Home")
        self.at("page-marks").click()
        self.at("mark").first.click()
        self.page.wait_for_timeout(1500)
        self.page.screenshot(path=FOLDER / "marks.png")
        self.at("page-propose").click()
        self.at("propose").click()
        self.page.wait_for_selector("[data-test=proposal] img", timeout=180_000)
        self.settled()
        self.page.wait_for_timeout(3000)
        self.page.screenshot(path=FOLDER / "propose.png")
        self.at("page-partings").click()
        while self.at("parting").count():
            was = self.revision()
            self.at("parting").last.click()
            self.at("parting-remove").click()
            self.after_edit(was)
        was = self.revision()
        self.at("add-profile").click()
        self.after_edit(was)
        self.at("draw-top").click()
        self.page.wait_for_timeout(1500)
        box = self.at("view").bounding_box()
        for across, down in ((0.04, 0.62), (0.3, 0.62), (0.42, 0.44), (0.58, 0.44), (0.7, 0.62), (0.96, 0.62)):
            self.page.mouse.click(box["x"] + across * box["width"], box["y"] + down * box["height"])
            self.page.wait_for_timeout(400)
        was = self.revision()
        self.page.keyboard.press("Enter")
        self.after_edit(was)
        self.page.get_by_role("button", name="Corner").click()
        self.page.wait_for_timeout(1500)
        self.page.screenshot(path=FOLDER / "profile.png")


if __name__ == "__main__":
    unittest.main()

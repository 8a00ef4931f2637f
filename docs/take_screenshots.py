"""Takes the pictures in docs/screenshots from the demo project, with the real screens in headless Chromium."""

import io
import sys
import unittest
from pathlib import Path

from PIL import Image
from playwright.sync_api import expect
from pypdfium2 import PdfDocument

sys.path.insert(0, str(Path(__file__).parents[1]))

from hinoki.core.geometry.solid import Solid
from tests.doors import folding_plan
from tests.shapes import box, stl_of, tube
from tests.ui.browser import BrowserCase

FOLDER = Path(__file__).parent / "screenshots"
STATIONS = ("model", "divide", "join", "check", "orient", "batch", "assemble")


SHAPES = {
    "block": box(60, 60, 60),
    "lid": box(60, 60, 60).minus([Solid.box([-26, -26, 4], [26, 26, 56])]),
    "tube": tube(30, 24, 60),
    "thin": tube(30, 26, 80),
    "walls": box(56, 56, 70).minus([Solid.box([-26, -26, -1], [26, 26, 71])]),
    "post": box(40, 40, 60),
}
JOINTS = (
    *(
        ("block", kind)
        for kind in (
            "pin",
            "dowel",
            "dovetail",
            "key",
            "tongue",
            "thread",
            "bayonet",
            "magnet",
            "screw",
            "hook",
            "rail",
            "latch",
        )
    ),
    ("lid", "hinge"),
    ("tube", "lip"),
    ("walls", "finger"),
    ("walls", "splice"),
    ("thin", "screw"),
    ("post", "stand"),
)
MIDDLE = {"x": 0, "y": 84, "width": 1280, "height": 670}


def stacked(*pictures: Image.Image) -> Image.Image:
    """Pictures of one size, one above the other."""
    wide, high = pictures[0].size
    sheet = Image.new("RGB", (wide, len(pictures) * (high + 10) - 10), "#2b2521")
    for k, picture in enumerate(pictures):
        sheet.paste(picture, (0, k * (high + 10)))
    return sheet


class Pictures(BrowserCase):
    """One picture of each main view at 1280 × 800."""

    own = "its shelf shows the demo projects alone, and its printers print"
    shape = ""
    light = False
    all_fields = False
    copies = False
    print_speed = 30_000.0

    def test_take_them(self) -> None:
        """Visit every station of the demo project and save what it shows."""
        FOLDER.mkdir(exist_ok=True)
        for name in ("signal", "lantern", "fen", "harbour", "owl", "lighthouse"):  # the shelf has pictures of what was built
            self.open_demo(name=name)
        self.page.goto(self.address)
        self.page.wait_for_selector("[data-test=project]")
        expect(self.at("project-picture")).to_have_count(6, timeout=60_000)
        self.page.wait_for_timeout(1000)
        self.page.screenshot(path=FOLDER / "shelf.png")
        self.take_the_night()
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
            if name in ("orient", "batch"):
                self.page.wait_for_selector("[data-test=rest] img, [data-test=batch]")
                self.page.wait_for_timeout(3000)
            if name == "join":
                self.at("face").filter(has_text="1|2").click()
                self.page.wait_for_timeout(800)
                self.at("cut-joint").click()
                self.page.wait_for_timeout(1500)
            self.page.wait_for_timeout(800)
            if name == "batch":
                self.at("laid").first.click()
            if name == "assemble":
                self.play_a_step()
            self.page.screenshot(path=FOLDER / f"{name}.png")
            if name == "orient":
                self.take_what_prints()
            if name == "batch":
                self.take_the_estimates()
        self.take_the_sheets()
        self.take_the_log()
        self.take_the_joints()
        self.take_the_door_and_the_tiles()
        self.take_the_mask()
        self.take_the_parts()

    def take_the_night(self) -> None:
        """Below the shelf: a station on dark paper."""
        self.open_demo("join")
        self.page.emulate_media(color_scheme="dark")
        self.at("face").filter(has_text="1|2").click()
        self.page.wait_for_timeout(1500)
        path = FOLDER / "shelf.png"
        with Image.open(path) as above, Image.open(io.BytesIO(self.page.screenshot())) as below:
            both = stacked(above.convert("RGB"), below.convert("RGB"))
        both.save(path)
        self.page.emulate_media(color_scheme="light")

    def take_what_prints(self) -> None:
        """Below the cards: what prints of a piece with a very coarse line, what is lost in red, and the time of every line."""
        self.at("orient-piece").filter(has_text="Gallery").click()
        self.type_in("prints-line", "2.6")
        self.at("prints-time").click()
        self.at("prints-lines").wait_for()
        self.at("prints").scroll_into_view_if_needed()
        self.page.wait_for_timeout(2500)
        path = FOLDER / "orient.png"
        with Image.open(path) as above, Image.open(io.BytesIO(self.page.screenshot())) as below:
            both = stacked(above.convert("RGB"), below.convert("RGB"))
        both.save(path)

    def play_a_step(self) -> None:
        """The step that is screwed on, halfway."""
        self.page.wait_for_selector("[data-test=step]")
        self.settled()
        self.at("step").nth(9).locator(".tag").click()
        self.page.locator("[data-test=scrubber] [role=slider]").focus()
        for _ in range(45):
            self.page.keyboard.press("ArrowLeft")
        self.page.wait_for_timeout(2000)

    def take_the_sheets(self) -> None:
        """A page of the assembly sheets, and beside it Assemble on a phone."""
        self.at("page-sheets").click()
        self.at("draw-sheets").click()
        self.page.wait_for_selector("[data-test=sheet-pdf]")
        with self.page.expect_download() as waiting:
            self.at("sheet-pdf").click()
        path = self.folder / "sheet.pdf"
        waiting.value.save_as(path)
        page = PdfDocument(path)[3].render(scale=1.35).to_pil()
        self.at("page-steps").click()
        self.page.set_viewport_size({"width": 390, "height": 844})
        self.at("tick").nth(0).click()
        self.at("tick").nth(1).click()
        self.at("step").nth(5).locator(".tag").click()
        self.page.wait_for_timeout(2500)
        phone = Image.open(io.BytesIO(self.page.screenshot()))
        self.at("untick").click()
        self.page.set_viewport_size({"width": 1280, "height": 800})
        both = Image.new("RGB", (page.width + phone.width + 30, max(page.height, phone.height) + 20), "#2b2521")
        both.paste(page, (10, 10))
        both.paste(phone, (page.width + 20, 10))
        both.save(FOLDER / "assembly-sheet.png")

    def take_the_log(self) -> None:
        """The lighthouse partly printed: states on the model, and under it what the log teaches."""
        self.station("log")
        self.page.wait_for_selector("[data-test=send-row]")
        for row in (0, 1, 3):
            self.at("send-row").nth(row).locator("[data-test=send]").click()
            self.page.wait_for_timeout(1500)
            self.at("send-out").click()
            self.at("send-out").wait_for(state="detached")
        for _ in range(200):
            self.page.wait_for_timeout(200)
            if self.at("resume").count():
                self.at("resume").first.click()
            if self.at("active-print").count() == 0:
                break
        self.at("on-board").click()
        for column in ("printed", "printed", "cleaned", "cleaned"):
            self.at(f"column-{column}").locator("[data-test=board-card]").first.press("ArrowRight")
            self.page.wait_for_timeout(700)
        self.at("on-model").click()
        self.at("page-send").click()
        self.at("send-row").nth(2).locator("[data-test=send]").click()
        self.page.wait_for_timeout(2500)
        upper = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        self.at("page-lessons").click()
        self.page.wait_for_timeout(1500)
        lower = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        stacked(upper, lower).save(FOLDER / "print-log.png")

    def take_the_estimates(self) -> None:
        """What if, and what each piece takes; the same page of Batch stays open."""
        self.at("page-estimates").click()
        for k in (0, 1, 4):
            self.at("what-if-add").nth(k).click()
        self.at("what-if").click()
        self.page.wait_for_selector("[data-test=what-if-table]")
        self.page.wait_for_timeout(1000)
        self.page.screenshot(path=FOLDER / "estimates.png")

    def take_the_joints(self) -> None:
        """Joints on small bodies, each cut through, side by side."""
        pictures = [self.one_joint(shape, kind) for shape, kind in JOINTS]
        (wide, high), rows = pictures[0].size, -(-len(pictures) // 4)
        sheet = Image.new("RGB", (4 * wide + 30, rows * high + 10 * (rows - 1)), "#fbf8f1")
        for k, picture in enumerate(pictures):
            sheet.paste(picture, ((k % 4) * (wide + 10), (k // 4) * (high + 10)))
        sheet.save(FOLDER / "joint-kinds.png")

    def one_joint(self, shape: str, kind: str) -> Image.Image:
        """One joint on a body of its own, cut through."""
        if shape != self.shape:
            self.shape = shape
            path = self.folder / f"{shape}.stl"
            path.write_bytes(stl_of(SHAPES[shape]))
            self.new_project(shape)
            self.bring(path)
            self.page.wait_for_selector("[data-test=model-facts]")
            self.station("divide")
            self.edited(self.at("add-even").click)
            self.station("join")
            self.page.wait_for_selector("[data-test=face-sheet]")
        self.edited(self.at(f"add-{kind}").click)
        if kind == "dovetail":
            self.edited(lambda: self.at("field-ends").select_option("closed"))
        if kind == "screw" and shape == "block":
            self.edited(lambda: self.at("field-into").select_option("nut"))
            self.edited(lambda: self.at("field-nut_from").select_option("side"))
        if kind == "hook":  # one, and stout, so that its nose is seen
            for field, size in (("count", "1"), ("length_mm", "12"), ("thick_mm", "2.4"), ("nose_mm", "1.6")):
                self.edited(lambda field=field, size=size: self.type_in(field, size))
        if kind == "stand":
            self.page.get_by_role("button", name="Corner").click()
        else:
            if self.at("cut-joint").get_attribute("aria-pressed") == "true":
                self.at("cut-joint").click()
            self.at("cut-joint").click()
        self.page.wait_for_timeout(2500)
        box_ = self.at("view").bounding_box()
        top = {"x": box_["x"], "y": box_["y"] + 150, "width": box_["width"], "height": 300}
        picture = Image.open(io.BytesIO(self.page.screenshot(clip=top)))
        self.edited(self.at("remove-way" if kind == "stand" else "remove-joint").click)
        return picture

    def take_the_door_and_the_tiles(self) -> None:
        """The mask's door, opened, under the tiles of the fen, and a folding door."""
        self.open_at_join("fen")
        self.page.evaluate("document.querySelector('[data-test=modules]').scrollIntoView()")
        self.page.wait_for_timeout(1500)
        upper = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        self.open_at_join("owl")
        self.at("face").filter(has_text="hinge").click()
        self.page.wait_for_timeout(1500)
        self.at("open").fill("18")
        self.page.wait_for_timeout(2000)
        middle = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        data, plan = folding_plan()
        given = plan.model_dump(mode="json")
        self.show(self.started("Folding door", data, partings=given["partings"], joints=given["joints"]), "join")
        self.at("face").filter(has_text="pin ø3").click()
        self.page.wait_for_timeout(1500)
        self.at("open").fill("8")
        self.page.wait_for_timeout(2000)
        lower = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        stacked(upper, middle, lower).save(FOLDER / "door-and-tiles.png")

    def open_at_join(self, name: str) -> None:
        """A demo project at Join."""
        self.page.goto(self.address)
        self.at("project").filter(has_text=name).locator("a").click()
        self.page.wait_for_selector(".balloon")
        self.settled()
        self.station("join")
        self.page.wait_for_timeout(1500)

    def take_the_parts(self) -> None:
        """The signal box: the play of a window, its seats cut away, the name board's figures, and the order of all parts."""
        self.open_demo("model", name="signal")
        self.at("sheet-parts").click()
        self.at("play-first").select_option(label="Window, 2 of 6")
        self.at("play-second").select_option(label="Walls")
        self.at("measure-play").click()
        self.page.wait_for_selector("[data-test=play-says]")
        self.page.wait_for_timeout(2500)
        play = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        self.at("play-off").click()
        self.at("sheet-shape").click()
        self.at("other-parts").click()
        self.page.get_by_role("button", name="Corner").click()
        self.page.wait_for_timeout(2000)
        seats = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        self.at("other-parts").click()
        self.at("sheet-parts").click()
        self.page.get_by_role("button", name="Work on Name board").click()
        self.page.wait_for_selector("[data-test=made-said]")
        self.settled()
        self.page.get_by_role("button", name="Top").click()
        self.page.wait_for_timeout(2000)
        made = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        self.station("assemble")
        self.at("scope-project").click()
        expect(self.at("step")).to_have_count(17, timeout=60_000)
        self.at("step").nth(4).locator(".tag").click()
        self.page.locator("[data-test=scrubber] [role=slider]").focus()
        for _ in range(45):
            self.page.keyboard.press("ArrowLeft")
        self.page.wait_for_timeout(2500)
        together = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        stacked(play, seats, made, together).save(FOLDER / "parts.png")
        self.at("page-moving").click()
        self.at("moving-mark").or_(self.at("moving-good")).first.wait_for()
        self.at("movement").nth(2).click()
        self.page.locator("[data-test=moving-scrubber] [role=slider]").focus()
        for _ in range(20):
            self.page.keyboard.press("PageUp")
        self.page.wait_for_timeout(2500)
        thrown = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        steps = Image.open(FOLDER / "assemble.png").crop((0, 84, 1280, 754))
        stacked(steps, thrown).save(FOLDER / "assemble.png")

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
        steps = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        self.at("cut-away").click()
        was = self.revision()
        self.at("step-on").uncheck()
        self.after_edit(was)
        self.at("sheet-surface").click()
        self.at("walls").click()
        self.page.wait_for_selector("[data-test=walls-key]")
        self.page.wait_for_timeout(1500)
        upper = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        self.at("repair").click()
        self.page.wait_for_selector("[data-test=trial-facts] td")
        self.page.wait_for_timeout(3000)
        lower = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        stacked(upper, lower, steps).save(FOLDER / "made-right-and-prepared.png")
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
        wedges = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        self.take_the_division(wedges)
        self.page.goto(f"{self.address}/workshop")
        self.page.wait_for_selector("[data-test=ws-printer]")
        self.page.wait_for_timeout(500)
        self.page.screenshot(path=FOLDER / "workshop.png")

    def take_the_division(self, wedges: Image.Image) -> None:
        """Marks and proposals, a drawn profile (under the wedges), then the whole job, on the harbour that is open."""
        self.page.locator("[data-test=spread] [role=slider]").focus()
        self.page.keyboard.press("Home")
        self.at("page-marks").click()
        self.at("mark").first.click()
        self.page.wait_for_timeout(1500)
        marks = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        self.at("page-propose").click()
        self.at("propose").click()
        self.page.wait_for_selector("[data-test=proposal] img", timeout=180_000)
        self.settled()
        self.page.wait_for_timeout(3000)
        proposals = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        stacked(marks, proposals).save(FOLDER / "marks-and-proposals.png")
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
        profile = Image.open(io.BytesIO(self.page.screenshot(clip=MIDDLE)))
        stacked(wedges, profile).save(FOLDER / "wedges-and-profile.png")
        self.station("whole-job")
        self.edited(self.at("plan-whole-job").click)
        self.page.wait_for_selector("[data-test=job-reasons]")
        self.page.wait_for_timeout(2000)
        self.page.screenshot(path=FOLDER / "whole-job.png")


if __name__ == "__main__":
    unittest.main()

"""Pictures behind the model, with real clicks: brought in, scaled by two points, moved, kept with the project."""

import io
import tempfile
from pathlib import Path

from PIL import Image, ImageDraw
from playwright.sync_api import expect

from tests.shapes import box, stl_of
from tests.ui.test_parts import PartsCase


def drawing() -> bytes:
    """A sheet of 400 × 300 points with a frame, and a cross in a corner of it."""
    sheet = Image.new("RGB", (400, 300), "#f4efe2")
    pen = ImageDraw.Draw(sheet)
    pen.rectangle((40, 40, 360, 260), outline="#2b2b2b", width=4)
    pen.line((40, 40, 360, 260), fill="#8a3a20", width=3)
    out = io.BytesIO()
    sheet.save(out, "PNG")
    return out.getvalue()


class Behind(PartsCase):
    def bring(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "front view.png"
            path.write_bytes(drawing())
            self.edited(lambda: self.page.set_input_files("[data-test=picture-file]", path))

    def click_at(self, right: float, up: float) -> None:
        """On the view, in shares of it from its middle."""
        view = self.page.locator("canvas").bounding_box()
        assert view is not None
        self.page.mouse.click(view["x"] + (0.5 + right) * view["width"], view["y"] + (0.5 - up) * view["height"])

    def number(self, field: str) -> float:
        box_ = self.page.locator(f"[data-test=field-{field}] input, input[data-test=field-{field}]").first
        return float(box_.input_value())

    def test_it_is_scaled_by_two_points_moved_and_kept(self) -> None:
        self.begin(stl_of(box(60, 40, 50)), "chest.stl")
        self.at("sheet-file").click()
        self.bring()
        expect(self.at("picture")).to_have_text("front view.png")
        self.assertEqual(self.number("across_mm"), 60)
        self.page.wait_for_timeout(800)  # the view turns to the front

        # two points a fifth of the view apart are said to be twice as far apart as they are
        self.at("picture-points").click()
        self.click_at(-0.1, 0.0)
        self.click_at(0.1, 0.0)
        self.type_in("picture-known", "200")
        self.edited(self.at("picture-scale").click)
        wide = self.number("across_mm")
        self.assertGreater(wide, 100)
        self.at("picture-points").click()
        self.click_at(-0.1, 0.0)
        self.click_at(0.1, 0.0)
        self.type_in("picture-known", "200")
        self.edited(self.at("picture-scale").click)
        again = self.number("across_mm")
        self.at("undo").click()

        self.assertAlmostEqual(again / wide, 1, delta=0.02)  # it is looked at as large as before: the same share of it

        # moved by two points: to the right, as far as from one click to the other
        before = self.number("right_mm")
        self.at("picture-move").click()
        self.click_at(0.0, 0.0)
        self.edited(lambda: self.click_at(0.1, 0.0))
        self.assertGreater(self.number("right_mm"), before)

        # it is still there when the project is opened anew, and can be hidden
        self.page.reload()
        self.settled()
        expect(self.at("picture")).to_have_text("front view.png")
        self.edited(self.at("picture-shown").click)
        expect(self.page.get_by_text("hidden")).to_be_visible()

    def test_what_is_no_picture_is_refused_and_nothing_is_lost(self) -> None:
        self.begin(stl_of(box(60, 40, 50)), "chest.stl")
        self.at("sheet-file").click()
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "notes.png"
            path.write_bytes(b"no picture at all")
            self.page.set_input_files("[data-test=picture-file]", path)
            expect(self.at("message")).to_contain_text("This is no photograph that can be read")
        self.assertEqual(self.at("picture").count(), 0)
        self.expected = ("422",)

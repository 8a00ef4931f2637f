"""Assembly sheets: what stands on them, read back from the PDF, and the pictures drawn without a screen."""

import io
import struct
import unittest
import zlib
from unittest import mock

import numpy as np
import pypdfium2 as pdfium
from PIL import Image

from hinoki.core.cache import Cache
from hinoki.core.errors import HinokiError, TooLarge
from hinoki.core.geometry.slide_collision import Form
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import FaceRef, MagnetJoint, PinJoint
from hinoki.core.plan.assembly_settings import Assembling
from hinoki.core.plan.plan import Plan
from hinoki.core.printlog.photographs import LONGEST_PX, as_kept
from hinoki.present.assemble.assembly import assembly_of
from hinoki.present.sheets.line_drawing import Drawn, draw, view_of
from hinoki.present.sheets.sheet import Sheet
from hinoki.present.sheets.sheet_html import write_html
from hinoki.present.sheets.sheet_pdf import font_file, write_pdf
from hinoki.present.sheets.viewpoint import FRONT, best_look
from hinoki.present.sheets.viewpoint import Body as Seen
from tests.shapes import box, built, level, plan_for, stl_of

LOW = FaceRef(parting="p1", member=0, a="p1-", b="p1+ p2-")
HIGH = FaceRef(parting="p2", member=0, a="p1+ p2-", b="p1+ p2+")


def a_photo(width: int = 400, height: int = 300, kind: str = "PNG") -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (width, height), "#8fa37e").save(out, kind)
    return out.getvalue()


def said_to_be(width: int, height: int) -> bytes:
    """A PNG whose header says it is larger than it is."""
    content = bytearray(a_photo(4, 4))
    content[16:24] = struct.pack(">II", width, height)
    content[29:33] = struct.pack(">I", zlib.crc32(bytes(content[12:29])))
    return bytes(content)


class Sheets(unittest.TestCase):
    """A column of three blocks with pins and magnets."""

    sheet: Sheet

    @classmethod
    def setUpClass(cls) -> None:
        data = stl_of(box(60, 60, 90))
        joints = (PinJoint(id="j1", face=LOW), MagnetJoint(id="j2", face=HIGH, places=((-15, 0), (15, 0))))
        wish = Assembling(notes={"p1+ p2+": "mind the north pole"}, paper="Letter")
        plan = plan_for(data, level(1, 30.0), level(2, 60.0), joints=joints, assembling=wish)
        photos = {"p1+ p2+": as_kept(a_photo())}
        made = assembly_of(plan, built(data, plan), Cache(), "Column", 7, True, photos)
        (cls.sheet,), cls.view = made.sheets, made.view

    def pages(self) -> list[str]:
        document = pdfium.PdfDocument(write_pdf(self.sheet))
        return [page.get_textpage().get_text_range() for page in document]

    def test_the_first_page_has_title_figures_hardware_and_tools(self) -> None:
        text = "\n".join(self.pages()[:2])
        for words in ("Column", "revision 7", "60 × 60 × 90 mm", "3 pieces", "magnet disc", "Piece 1"):
            self.assertIn(words, text)

    def test_every_step_has_its_panel_with_what_it_needs_and_the_note(self) -> None:
        text = "\n".join(self.pages())
        for step in self.view.steps:
            self.assertIn(step.title, text)
        self.assertIn("mind the north pole", text)
        self.assertIn("straight down", text)
        magnets = next(p for p in self.sheet.panels if p.faces)
        self.assertEqual({pole[3] for pole in magnets.faces[0].poles} - {"N", "S"}, set())
        self.assertEqual(len(magnets.faces[0].poles), 2)

    def test_the_paper_is_the_one_that_was_chosen(self) -> None:
        page = pdfium.PdfDocument(write_pdf(self.sheet))[0]
        self.assertEqual(tuple(round(v) for v in page.get_size()), (612, 792))  # Letter, 8.5 × 11 inches of 72 points

    def test_it_is_the_same_every_time(self) -> None:
        self.assertEqual(write_pdf(self.sheet), write_pdf(self.sheet))

    def test_its_fonts_do_not_tell_when_they_were_made(self) -> None:
        now = font_file(400)
        with mock.patch("time.time", return_value=2_000_000_000.0):
            self.assertEqual(font_file(400), now)

    def test_pages_are_drawn_upon(self) -> None:
        for page in pdfium.PdfDocument(write_pdf(self.sheet)):
            shades = np.asarray(page.render(scale=0.5).to_pil().convert("L"))
            self.assertGreater(float((shades < 200).mean()), 0.005)

    def test_the_page_to_print_holds_everything_and_asks_for_nothing(self) -> None:
        page = write_html(self.sheet).decode()
        self.assertEqual(page.count("<section class=step>"), len(self.view.steps))
        self.assertIn("mind the north pole", page)
        self.assertIn("data:image/jpeg;base64", page)
        self.assertNotIn("http://", page.replace("http://www.w3.org", ""))
        self.assertNotIn("<script", page)

    def test_what_a_maker_writes_is_text_and_nothing_else(self) -> None:
        self.sheet.panels[0].note = '<img src=x onerror="alert(1)">'
        try:
            self.assertNotIn("<img src=x", write_html(self.sheet).decode())
            self.assertIn("onerror", "\n".join(self.pages()))
        finally:
            self.sheet.panels[0].note = ""


class Drawing(unittest.TestCase):
    """Shaded pictures with ink lines, by rays."""

    def picture(self, *bodies: tuple[str, Solid, str]) -> np.ndarray:
        drawn = [Drawn(name, Form(solid.mesh), np.zeros(3), colour, False) for name, solid, colour in bodies]
        made = draw(drawn, view_of(drawn, np.array([0.0, -1.0, 0.0]), 200, 200))
        self.seen = made.seen
        return np.asarray(Image.open(io.BytesIO(made.png)).convert("RGB"), dtype=int)

    def test_what_is_behind_is_hidden(self) -> None:
        front, behind = box(40, 10, 40), box(20, 10, 20).moved(0, 30, 10)
        self.picture(("front", front, "#ff0000"), ("behind", behind, "#0000ff"))
        self.assertIn("front", self.seen)
        self.assertNotIn("behind", self.seen)

    def test_two_bodies_side_by_side_take_their_share_and_a_line_parts_them(self) -> None:
        left, right = box(20, 10, 40).moved(-10, 0, 0), box(20, 10, 40).moved(10, 0, 0)
        shades = self.picture(("left", left, "#ff0000"), ("right", right, "#0000ff"))
        middle = shades[100]
        red = np.flatnonzero(middle[:, 0] > middle[:, 2] + 60)
        blue = np.flatnonzero(middle[:, 2] > middle[:, 0] + 60)
        self.assertLess(red.max(), blue.min())
        self.assertAlmostEqual(len(red) / len(blue), 1.0, delta=0.1)
        dark = middle.max(axis=1)
        seam, inside = dark[red.max() - 3 : blue.min() + 4].min(), np.median(dark[red])
        self.assertLess(seam, 0.7 * inside)

    def test_a_part_on_the_back_is_looked_at_from_the_back(self) -> None:
        wall, knob = box(60, 10, 60), box(10, 8, 10).moved(0, 9.1, 25)
        moving = [Seen(Form(knob.mesh), np.zeros(3))]
        still = [Seen(Form(wall.mesh), np.zeros(3))]
        look = best_look(moving, still, np.zeros((0, 3)), None)
        self.assertGreater(look.eye[1], 0)
        front = [Seen(Form(box(10, 8, 10).moved(0, -9.1, 25).mesh), np.zeros(3))]
        np.testing.assert_allclose(best_look(front, still, np.zeros((0, 3)), None).eye, FRONT)


class Photographs(unittest.TestCase):
    """Pictures that makers add."""

    def test_they_are_made_small_and_jpeg(self) -> None:
        kept = Image.open(io.BytesIO(as_kept(a_photo(3000, 1500))))
        self.assertEqual((kept.format, kept.size), ("JPEG", (LONGEST_PX, LONGEST_PX // 2)))

    def test_what_cameras_write_beside_is_left_out_and_the_picture_turned_upright(self) -> None:
        out = io.BytesIO()
        exif = Image.Exif()
        exif[0x0112] = 6  # turned by a quarter (Exif 2.3, orientation)
        exif[0x010F] = "Somebody's camera"
        Image.new("RGB", (60, 40), "white").save(out, "JPEG", exif=exif)
        kept = Image.open(io.BytesIO(as_kept(out.getvalue())))
        self.assertEqual(kept.size, (40, 60))
        self.assertEqual(dict(kept.getexif()), {})

    def test_what_is_none_or_far_too_large_is_refused(self) -> None:
        with self.assertRaisesRegex(HinokiError, "no photograph"):
            as_kept(b"GIF89a nothing")
        with self.assertRaisesRegex(HinokiError, "no photograph"):
            as_kept(a_photo()[:200])
        with self.assertRaises(TooLarge):
            as_kept(said_to_be(30_000, 30_000))


class Nothing(unittest.TestCase):
    def test_an_empty_project_has_no_sheet(self) -> None:
        data = stl_of(box(10, 10, 10))
        plan = Plan()
        self.assertEqual(assembly_of(plan, built(data, plan), Cache(), "Nothing").sheets, ())

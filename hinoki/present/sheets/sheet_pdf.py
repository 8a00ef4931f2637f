"""Assembly sheets as PDF (reportlab), on A4 or Letter: a title page with lists, then six steps a page. The same bytes for the
same sheet."""

import io
from collections.abc import Sequence
from functools import lru_cache
from importlib import resources

from fontTools.ttLib import TTFont as FontFile
from reportlab import rl_config
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader, simpleSplit
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from hinoki.present.sheets.sheet import Balloon, FaceSketch, Illustration, Panel, Sheet

INK, SOFT, CEDAR, LINE = HexColor("#2b2620"), HexColor("#6d6258"), HexColor("#9a4a2b"), HexColor("#c8b795")
VERMILION, PAPER = HexColor("#b3321f"), HexColor("#ffffff")
PLAIN, STRONG = "HankenGrotesk", "HankenGrotesk-SemiBold"
MARGIN = 13 * mm
GUTTER = 6 * mm
rl_config.useA85 = 0  # pictures as bytes: as letters they would be a quarter larger, and written in Python
COLUMNS, ROWS = 2, 3
WITHOUT = {"□": "square ", "→": "to", "≥": "at least ", "≤": "at most ", "Ω": "ohm"}
"""signs that the font does not have"""


def write_pdf(*sheets: Sheet) -> bytes:
    """The sheets as one PDF, one after the other; the first gives the title and the paper."""
    _fonts()
    out = io.BytesIO()
    sheet = sheets[0]
    size = A4 if sheet.paper == "A4" else LETTER
    page = Canvas(out, pagesize=size, invariant=1, pageCompression=1)
    page.setTitle(_said(f"{sheet.title}: assembly"))
    page.setCreator("Hinoki")
    number = 0
    for each in sheets:
        pages = _Pages(page, each, size[0], size[1], number)
        pages.front()
        pages.lists()
        pages.steps()
        number = pages.number
    page.save()
    return out.getvalue()


@lru_cache(maxsize=1)
def _fonts() -> None:
    for name, weight in ((PLAIN, 400), (STRONG, 600)):
        pdfmetrics.registerFont(TTFont(name, io.BytesIO(font_file(weight))))


def font_file(weight: int) -> bytes:
    """The font of a weight as PDF needs it, the same bytes whenever it is made."""
    path = resources.files("hinoki.data") / "fonts" / f"hanken-grotesk-latin-{weight}-normal.woff"
    font = FontFile(io.BytesIO(path.read_bytes()), recalcTimestamp=False)
    font.flavor = None
    plain = io.BytesIO()
    font.save(plain)
    return plain.getvalue()


def _said(text: str) -> str:
    for sign, words in WITHOUT.items():
        text = text.replace(sign, words)
    return text


class _Pages:
    """Draws page after page."""

    def __init__(self, page: Canvas, sheet: Sheet, width: float, height: float, number: int = 0) -> None:
        self.page, self.sheet, self.width, self.height = page, sheet, width, height
        self.number = number
        self._begin()

    def _begin(self) -> None:
        """The frame of a page, with its title block below."""
        if self.number:
            self.page.showPage()
        self.number += 1
        page = self.page
        page.setStrokeColor(INK)
        page.setLineWidth(0.8)
        page.rect(MARGIN - 4 * mm, MARGIN - 4 * mm, self.width - 2 * MARGIN + 8 * mm, self.height - 2 * MARGIN + 8 * mm)
        page.line(MARGIN - 4 * mm, MARGIN + 4 * mm, self.width - MARGIN + 4 * mm, MARGIN + 4 * mm)
        self._text(self.sheet.title, MARGIN, MARGIN - 1.2 * mm, STRONG, 8)
        self._text(self.sheet.under, self.width / 2 - 20 * mm, MARGIN - 1.2 * mm, PLAIN, 8, SOFT)
        self._text(f"Page {self.number}", self.width - MARGIN - 14 * mm, MARGIN - 1.2 * mm, PLAIN, 8, SOFT)

    def _text(self, text: str, x: float, y: float, font: str = PLAIN, size: float = 9, colour: HexColor = INK) -> None:
        self.page.setFillColor(colour)
        self.page.setFont(font, size)
        self.page.drawString(x, y, _said(text))

    def _wrapped(  # noqa: PLR0913 - a text's place and look
        self,
        text: str,
        x: float,
        y: float,
        wide: float,
        font: str = PLAIN,
        size: float = 8.5,
        colour: HexColor = INK,
        most: int = 9,
    ) -> float:
        """Text in lines of a width, from a baseline down; gives the next one. What does not fit ends in dots."""
        lines = simpleSplit(_said(text), font, size, wide)
        if len(lines) > most:
            lines = [*lines[: most - 1], lines[most - 1].rstrip(" .") + " …"]
        for line in lines:
            self.page.setFillColor(colour)
            self.page.setFont(font, size)
            self.page.drawString(x, y, line)
            y -= size * 1.28
        return y

    def front(self) -> None:
        """Title, the whole model with balloons, facts, groups and what is wrong."""
        sheet, left = self.sheet, MARGIN
        y = self.height - MARGIN - 8 * mm
        y = self._wrapped(sheet.title, left, y, self.width - 2 * MARGIN, STRONG, 22, INK, 2) - 1 * mm
        self._text(sheet.under, left, y, PLAIN, 11, CEDAR)
        y -= 6.5 * mm
        y = self._wrapped(" · ".join(sheet.facts), left, y, self.width - 2 * MARGIN, PLAIN, 9.5, SOFT)
        for warn in sheet.warns[:4]:
            y = self._wrapped(warn, left, y - 1 * mm, self.width - 2 * MARGIN, STRONG, 9, VERMILION, 3)
        below = MARGIN + 10 * mm + 11 * len(sheet.groups[:8])
        wide = self.width - 2 * MARGIN
        self._illustration(sheet.whole, left, below + 4 * mm, wide, y - below - 8 * mm)
        y = below
        for group in sheet.groups[:8]:
            self._text(group, left, y, PLAIN, 9)
            y -= 11

    def lists(self) -> None:
        """Hardware and tools, then the cut list with pictures."""
        self._begin()
        sheet, half = self.sheet, (self.width - 2 * MARGIN - GUTTER) / 2
        top = self.height - MARGIN - 4 * mm
        self._text("Hardware", MARGIN, top, STRONG, 12)
        y = top - 6 * mm
        for count, name in sheet.hardware or [("", "none")]:
            self._text(count, MARGIN, y, STRONG, 9)
            y = self._wrapped(name, MARGIN + 12 * mm, y, half - 12 * mm, PLAIN, 9, INK, 2) - 0.6 * mm
        right = MARGIN + half + GUTTER
        self._text("Tools", right, top, STRONG, 12)
        z = top - 6 * mm
        for tool in sheet.tools:
            z = self._wrapped(f"– {tool}", right, z, half, PLAIN, 9, INK, 2) - 0.6 * mm
        y = min(y, z) - 6 * mm
        self._text("Cut list", MARGIN, y, STRONG, 12)
        y -= 3 * mm
        cell_wide, cell_high = (self.width - 2 * MARGIN) / 4, 39 * mm
        for k, row in enumerate(sheet.pieces):
            if k % 4 == 0 and k:
                y -= cell_high
            if y - cell_high < MARGIN + 6 * mm:
                self._begin()
                y = self.height - MARGIN - 2 * mm
            x = MARGIN + (k % 4) * cell_wide
            self._illustration(row.picture, x, y - 25 * mm, cell_wide - 4 * mm, 23 * mm)
            self._number(row.balloon, x + 4 * mm, y - 4 * mm)
            at = self._wrapped(row.name, x, y - 28 * mm, cell_wide - 3 * mm, STRONG, 8, INK, 2)
            self._wrapped(f"{row.size}, {row.mass}", x, at, cell_wide - 3 * mm, PLAIN, 7.5, SOFT, 2)

    def steps(self) -> None:
        """The panels, six a page."""
        wide = (self.width - 2 * MARGIN - GUTTER) / COLUMNS
        high = (self.height - 2 * MARGIN - 8 * mm) / ROWS
        for k, panel in enumerate(self.sheet.panels):
            place = k % (COLUMNS * ROWS)
            if place == 0:
                self._begin()
            x = MARGIN + (place % COLUMNS) * (wide + GUTTER)
            y = self.height - MARGIN - (place // COLUMNS) * high
            self._panel(panel, x, y, wide, high - 3 * mm)

    def _panel(self, panel: Panel, x: float, top: float, wide: float, high: float) -> None:
        page = self.page
        page.setStrokeColor(LINE)
        page.setLineWidth(0.6)
        page.line(x, top, x + wide, top)
        self._text(str(panel.number), x, top - 7.2 * mm, STRONG, 20, CEDAR)
        indent = 12 * mm
        y = self._wrapped(panel.title, x + indent, top - 4.6 * mm, wide - indent - 22 * mm, STRONG, 9.5, INK, 2)
        if panel.group:
            page.setFillColor(CEDAR)
            page.setFont(PLAIN, 8)
            page.drawRightString(x + wide, top - 4.6 * mm, f"for {panel.group}")
        y = self._wrapped(panel.how, x + indent, y, wide - indent, PLAIN, 8.5, INK, 3)
        side = 24 * mm if panel.faces or panel.photo else 0.0
        more: list[tuple[str, str, HexColor]] = [(PLAIN, f"Needs {need}", CEDAR) for need in panel.needs]
        more += [(PLAIN, text, INK) for text in panel.says]
        more += [(STRONG, text, VERMILION) for text in panel.warns]
        if panel.note:
            more.append((STRONG, panel.note, INK))
        lines = sum(min(3, len(simpleSplit(_said(t), f, 7.8, wide))) for f, t, _ in more)
        foot = top - high + 3 * mm + lines * 7.8 * 1.28
        self._illustration(panel.picture, x, foot + 1 * mm, wide - side, y - foot - 1 * mm)
        at = y
        for sketch in panel.faces:
            at = self._face(sketch, x + wide - side + 2 * mm, at, side - 2 * mm)
        if panel.photo:
            image = ImageReader(io.BytesIO(panel.photo))
            page.drawImage(image, x + wide - side + 2 * mm, at - 22 * mm, side - 2 * mm, 20 * mm, preserveAspectRatio=True)
        y = foot - 2.6 * mm
        for font, text, colour in more:
            y = self._wrapped(text, x, y, wide, font, 7.8, colour, 3)

    def _illustration(self, illustration: Illustration, x: float, y: float, wide: float, high: float) -> None:
        """A picture as large as the room allows, with its strokes and balloons."""
        if wide <= 0 or high <= 0:
            return
        scale = min(wide / illustration.size[0], high / illustration.size[1])
        w, h = illustration.size[0] * scale, illustration.size[1] * scale
        left, low = x + (wide - w) / 2, y + (high - h) / 2
        self.page.drawImage(ImageReader(io.BytesIO(illustration.png)), left, low, w, h)

        def place(at: tuple[float, float]) -> tuple[float, float]:
            return left + at[0] * w, low + (1 - at[1]) * h

        for kind, points in illustration.strokes:
            self._stroke(kind, [place(p) for p in points])
        for balloon, (bx, by) in zip(illustration.balloons, spots(illustration.balloons, w / h), strict=True):
            self._balloon(balloon, place(balloon.at), place((bx, by)))

    def _stroke(self, kind: str, points: Sequence[tuple[float, float]]) -> None:
        page = self.page
        page.setStrokeColor(CEDAR)
        page.setLineWidth(0.5 if kind == "guide" else 1.6)
        page.setDash(*((2, 2) if kind == "guide" else ()))
        path = page.beginPath()
        path.moveTo(*points[0])
        for point in points[1:]:
            path.lineTo(*point)
        page.drawPath(path)
        page.setDash()
        if kind == "arrow":
            (x0, y0), (x1, y1) = points[-2], points[-1]
            long = max(1e-9, ((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5)
            dx, dy = (x1 - x0) / long, (y1 - y0) / long
            head = page.beginPath()
            head.moveTo(x1 + 3 * dx, y1 + 3 * dy)
            head.lineTo(x1 - 4 * dx - 3.2 * dy, y1 - 4 * dy + 3.2 * dx)
            head.lineTo(x1 - 4 * dx + 3.2 * dy, y1 - 4 * dy - 3.2 * dx)
            head.close()
            page.setFillColor(CEDAR)
            page.drawPath(head, stroke=0, fill=1)

    def _balloon(self, balloon: Balloon, at: tuple[float, float], spot: tuple[float, float]) -> None:
        page = self.page
        page.setStrokeColor(INK)
        page.setLineWidth(0.5)
        page.line(*at, *spot)
        page.setFillColor(INK)
        page.circle(*at, 0.9, stroke=0, fill=1)
        self._number(balloon.text, *spot, strong=balloon.strong)

    def _number(self, text: str, x: float, y: float, strong: bool = True) -> None:
        page = self.page
        size = 7.5
        half = max(2.7 * mm, page.stringWidth(text, STRONG, size) / 2 + 1.2 * mm)
        page.setStrokeColor(INK)
        page.setLineWidth(0.7 if strong else 0.4)
        page.setFillColor(PAPER)
        page.roundRect(x - half, y - 2.7 * mm, 2 * half, 5.4 * mm, 2.7 * mm, stroke=1, fill=1)
        page.setFillColor(INK if strong else SOFT)
        page.setFont(STRONG, size)
        page.drawCentredString(x, y - 0.9 * mm, _said(text))

    def _face(self, sketch: FaceSketch, x: float, top: float, wide: float) -> float:
        """A mating face with the poles of its magnets; gives where it ends below."""
        rings = [ring for polygon in sketch.outline for ring in polygon]
        xs, ys = [p[0] for r in rings for p in r], [p[1] for r in rings for p in r]
        if not xs:
            return top
        page = self.page
        scale = min(wide / max(1e-6, max(xs) - min(xs)), 24 * mm / max(1e-6, max(ys) - min(ys)))
        low = top - (max(ys) - min(ys)) * scale

        def place(p: tuple[float, float]) -> tuple[float, float]:
            return x + (p[0] - min(xs)) * scale, low + (p[1] - min(ys)) * scale

        page.setStrokeColor(INK)
        page.setLineWidth(0.6)
        for ring in rings:
            path = page.beginPath()
            path.moveTo(*place(ring[0]))
            for point in ring[1:]:
                path.lineTo(*place(point))
            path.close()
            page.drawPath(path)
        for px, py, radius, pole in sketch.poles:
            cx, cy = place((px, py))
            page.circle(cx, cy, max(1.6 * mm, radius * scale))
            page.setFillColor(INK)
            page.setFont(STRONG, 6.5)
            page.drawCentredString(cx, cy - 0.8 * mm, pole)
        return self._wrapped(sketch.says, x, low - 3.2 * mm, wide, PLAIN, 6.2, SOFT, 4) - float(mm)


def spots(balloons: Sequence[Balloon], aspect: float) -> list[tuple[float, float]]:
    """Where balloons stand beside a picture (0 to 1): those of the left half in a column at the left edge, the others at the
    right, in the order of what they point to, apart from each other."""
    out: dict[int, tuple[float, float]] = {}
    for side in (0, 1):
        own = [k for k, b in enumerate(balloons) if (b.at[0] >= 0.5) == bool(side)]
        own.sort(key=lambda k: balloons[k].at[1])
        gap = min(0.09 * max(1.0, aspect), 0.96 / max(1, len(own)))
        last = -1.0
        heights = []
        for k in own:
            last = max(balloons[k].at[1], last + gap)
            heights.append(last)
        over = max(0.0, (heights[-1] if heights else 0.0) - 0.97)
        for k, height in zip(own, heights, strict=True):
            out[k] = (0.03 if side == 0 else 0.97, max(0.03, height - over))
    return [out[k] for k in range(len(balloons))]

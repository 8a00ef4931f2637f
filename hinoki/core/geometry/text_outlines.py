"""Lettering: text as flat outlines, from the open font that ships with Hinoki (SIL Open Font Licence)."""

from functools import cache
from importlib.resources import files
from typing import TYPE_CHECKING

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.geometry.polygons import as_multi

if TYPE_CHECKING:
    from fontTools.ttLib import TTFont

FONT = "hanken-grotesk-latin-600-normal.woff"
STEM = 0.166
"""width of this font's upright strokes as a share of the height of its capitals' line, measured on the letter I"""
CURVE_STEPS = 6


def lettered(text: str, height_mm: float) -> MultiPolygon:
    """The outlines of `text`, its capitals `height_mm` high, centred about the origin. Raises ValueError for letters the font
    does not have."""
    font = _font()
    glyphs, names = font.getGlyphSet(), font.getBestCmap()
    scale = height_mm / font["OS/2"].sCapHeight
    shapes: list[shapely.Geometry] = []
    at = 0.0
    for letter in text:
        if ord(letter) not in names:
            raise ValueError(f"there is no letter {letter!r} in the font")
        glyph = glyphs[names[ord(letter)]]
        shapes.append(shapely.transform(_outline(names[ord(letter)]), lambda p, at=at: (p + np.array([at, 0.0])) * scale))
        at += glyph.width
    joined = as_multi(shapely.union_all(shapes))
    if joined.is_empty:
        return joined
    x0, y0, x1, y1 = joined.bounds
    middle = np.array([(x0 + x1) / 2, (y0 + y1) / 2])
    return as_multi(shapely.transform(joined, lambda p: p - middle))


def written(text: str, height_mm: float) -> MultiPolygon:
    """The outlines of a maker's text, as `lettered` gives them. Raises ValueError with a sentence for none, and for letters the
    font lacks."""
    if not text.strip():
        raise ValueError("There are no letters. Write something.")
    try:
        return lettered(text.strip(), height_mm)
    except ValueError as error:
        raise ValueError(f"“{text}” cannot be written: {error}. Use other letters.") from error


@cache
def _font() -> "TTFont":
    from fontTools.ttLib import TTFont

    with files("hinoki").joinpath(f"data/fonts/{FONT}").open("rb") as file:
        return TTFont(file, lazy=False)


@cache
def _outline(name: str) -> MultiPolygon:
    """A glyph in the font's own units, by the even-odd rule over its contours."""
    from fontTools.pens.recordingPen import DecomposingRecordingPen

    pen = DecomposingRecordingPen(_font().getGlyphSet())
    _font().getGlyphSet()[name].draw(pen)
    rings: list[list[tuple[float, float]]] = []
    for what, points in pen.value:
        if what == "moveTo":
            rings.append([points[0]])
        elif what == "lineTo":
            rings[-1].append(points[0])
        elif what == "curveTo":
            rings[-1] += _bezier([rings[-1][-1], *points])
        elif what == "qCurveTo" and points[-1] is None:  # all of the contour is curves, without a point of its own to begin at
            first, last = points[0], points[-2]
            start = (first[0] + last[0]) / 2, (first[1] + last[1]) / 2
            rings.append([start, *_quadratics(start, (*points[:-1], start))])
        elif what == "qCurveTo":
            rings[-1] += _quadratics(rings[-1][-1], points)
    shape: shapely.Geometry = MultiPolygon()
    for ring in rings:
        if len(ring) >= 3:
            shape = shapely.symmetric_difference(shape, shapely.make_valid(Polygon(ring)))
    return as_multi(shape)


def _quadratics(start: tuple[float, float], points: tuple[tuple[float, float], ...]) -> list[tuple[float, float]]:
    """Points of a run of quadratic curves, whose on-curve points between two controls are implied midway."""
    out: list[tuple[float, float]] = []
    controls, end = points[:-1], points[-1]
    for k, control in enumerate(controls):
        after = controls[k + 1] if k + 1 < len(controls) else None
        to = end if after is None else ((control[0] + after[0]) / 2, (control[1] + after[1]) / 2)
        out += _bezier([start, control, to])
        start = to
    return out or [end]


def _bezier(points: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Points along a Bézier curve (de Casteljau), the first left out."""
    out = []
    for step in range(1, CURVE_STEPS + 1):
        share, now = step / CURVE_STEPS, np.array(points)
        while len(now) > 1:
            now = now[:-1] * (1 - share) + now[1:] * share
        out.append((float(now[0][0]), float(now[0][1])))
    return out

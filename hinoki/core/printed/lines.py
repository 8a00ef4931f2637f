"""The lines of a print, layer by layer: walls really offset, skins and infill really hatched; their length and their time."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import MultiLineString, MultiPolygon

from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.printed.speeds import length_of, seconds
from hinoki.core.progress import Tell, quiet
from hinoki.core.workshop.printers import Printer

ARC = 4
HATCH_DEG = (45.0, 135.0)
LEAST_LINE_MM = 0.3
"""shorter lines of a hatching are not drawn"""
CRUMB_MM2 = 1e-4


@dataclass(frozen=True)
class Lines:
    """Lengths in mm of all lines of walls, skins and infill, the seconds they take, and the number of layers."""

    walls_mm: float
    skins_mm: float
    infill_mm: float
    seconds: float
    layers: int
    section_mm2: float
    """of one line: its width by the height of a layer"""

    @property
    def volume_mm3(self) -> float:
        """Of all lines."""
        return (self.walls_mm + self.skins_mm + self.infill_mm) * self.section_mm2


def lines_of(lying: Solid, printer: Printer, settings: PrintSettings, tell: Tell = quiet) -> Lines:
    """Every layer of a body as it lies on the bed; without support and brim."""
    layer, width = settings.layer_mm(printer), printer.line_mm
    height = float(lying.bounds[1][2])
    count = max(1, math.ceil(height / layer - 1e-6))
    sections = [as_multi(shapely.simplify(lying.slice(min((k + 0.5) * layer, height - 1e-4)), 0.01)) for k in range(count)]
    cores = [as_multi(s.buffer(-settings.walls * width, quad_segs=ARC), CRUMB_MM2) for s in sections]
    lengths, time = np.zeros(3), 0.0
    for k, section in enumerate(sections):
        if k % 20 == 0:
            tell(k / count, f"Lines of layer {k + 1} of {count}")
        shut = _covered(cores, k, settings.skins)
        skin = as_multi(shapely.difference(cores[k], shut), CRUMB_MM2)
        fill = as_multi(shapely.intersection(cores[k], shut), CRUMB_MM2)
        share = settings.infill_percent / 100
        parts = (
            _walls(section, settings.walls, width),
            _hatched(skin, width, HATCH_DEG[k % 2]),
            _hatched(fill, width / share, HATCH_DEG[k % 2]) if share > 0 else iter(()),
        )
        drawn = [list(lines) for lines in parts]
        took = [sum(seconds(line, printer.speed_mm_s, printer.acceleration_mm_s2) for line in lines) for lines in drawn]
        long = np.array([sum(map(length_of, lines)) for lines in drawn])
        if settings.walls:
            # where walls are no whole number of lines thick, lines are wider, narrower or fewer: they fill all there is
            wanted = (section.area - cores[k].area) / width
            took[0] *= min(1.0, wanted / long[0]) if long[0] > 0 else 0.0
            took[0] += max(0.0, wanted - long[0]) / printer.speed_mm_s
            long[0] = wanted
        lengths += long
        time += sum(took)
    walls, skins, infill = (float(v) for v in lengths)
    return Lines(walls, skins, infill, time, count, layer * width)


def _covered(cores: Sequence[MultiPolygon], k: int, skins: int) -> shapely.Geometry:
    """What the next layers below and above all cover."""
    if k < skins or k >= len(cores) - skins:
        return MultiPolygon()
    covered: shapely.Geometry = cores[k]
    for other in (*cores[k - skins : k], *cores[k + 1 : k + skins + 1]):
        covered = shapely.intersection(covered, other)
    return covered


def _walls(section: MultiPolygon, walls: int, width: float) -> Iterator[np.ndarray]:
    """The middles of the lines side by side along all outlines, (n, 2) each, closed."""
    for k in range(walls):
        inner = as_multi(section.buffer(-(k + 0.5) * width, quad_segs=ARC), CRUMB_MM2)
        for part in inner.geoms:
            for ring in (part.exterior, *part.interiors):
                yield shapely.get_coordinates(ring)


def _hatched(area: MultiPolygon, spacing: float, degrees: float) -> Iterator[np.ndarray]:
    """Parallel lines over an area, (2, 2) each."""
    if area.is_empty:
        return
    turned = affinity.rotate(area, -degrees, origin=(0, 0))
    x0, y0, x1, y1 = turned.bounds
    heights = np.arange(math.ceil(y0 / spacing), math.floor(y1 / spacing) + 1) * spacing
    rows = shapely.linestrings([[(x0 - 1, y), (x1 + 1, y)] for y in heights]) if len(heights) else []
    cut = shapely.intersection(MultiLineString(list(rows)), turned)
    for line in shapely.get_parts(cut):
        if line.length >= LEAST_LINE_MM:
            yield shapely.get_coordinates(line)

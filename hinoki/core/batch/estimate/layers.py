"""A piece in layers: its sections at sampled heights, and what of them are walls, skins and infill."""

import math
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid

MOST_SAMPLES = 100
"""sections that are looked at; between them everything is taken to change evenly"""
SLIM_MM = 0.01
ALIKE_MM = 1e-4
ARC = 4
LEANS_MM = 1.5
"""bare strips narrower than this are those of a wall that leans, not of a step"""
LEAST_CHORD_MM = 0.3
ROUNDED = 0.02
"""of the volume, by which sections may miss it by the steps between them"""


@dataclass(frozen=True)
class Layered:
    """Volumes in mm³ of what is printed of a piece, and its layers' areas in mm² over height in mm."""

    walls_mm3: float
    skins_mm3: float
    infill_mm3: float
    height_mm: float
    heights: Points
    areas: Points
    outline_mm: float
    """length of the first layer's outlines, for a brim"""
    rings: tuple[Points, ...] = ()
    """all outlines (n, 2), closed, of the sections looked at"""
    chord_mm: float = 1.0
    """how long a line across infill is on average"""
    skin_chord_mm: float = 1.0
    """how long a line across skins is on average"""

    @property
    def volume_mm3(self) -> float:
        """Of the filament in the piece."""
        return self.walls_mm3 + self.skins_mm3 + self.infill_mm3


def layered(solid: Solid, matrix: Points, layer_mm: float, wall_mm: float, skin_mm: float, infill: float) -> Layered:
    """A piece as it lies (`matrix` (3, 4)), with walls of `wall_mm` in all, skins of `skin_mm` and an infill share.

    Walls are what lies within `wall_mm` of an outline. Of the rest, what is not covered by the next section above or below
    gets a skin there; the remainder is infill. The mean chord of a figure is π A / P (Crofton; for lines in all directions).
    """
    lying = solid.placed(matrix)
    height = float(lying.size[2])
    count = int(np.clip(np.ceil(height / layer_mm), 2, MOST_SAMPLES))
    edges = np.linspace(0.0, height, count + 1)
    middles = (edges[:-1] + edges[1:]) / 2
    thick = height / count
    sections = [as_multi(shapely.simplify(lying.slice(float(z)), SLIM_MM), 1e-6) for z in middles]
    cores = [_core(s, wall_mm) for s in sections]
    areas = np.array([s.area for s in sections])
    inner = np.array([c.area for c in cores])
    walls = float(((areas - inner) * thick).sum())
    exposed = lines = 0.0
    nothing = MultiPolygon()
    for k, core in enumerate(cores):
        if core.is_empty:
            continue
        for other in (cores[k - 1] if k else nothing, cores[k + 1] if k + 1 < count else nothing):
            bare = _uncovered(core, other)
            if bare.area == 0 or skin_mm == 0:
                continue
            exposed += bare.area * skin_mm
            lines += bare.area * skin_mm / _chord(bare, skin_mm / thick)
    core_volume = float(inner.sum() * thick)
    between = lying.volume_mm3 - float(areas.sum()) * thick
    if abs(between) < ROUNDED * lying.volume_mm3:
        between = 0.0
    skins = max(0.0, min(exposed, core_volume) + between)  # flat things that lie between two of the sections
    rings = [ring for s in sections for p in s.geoms for ring in (p.exterior, *p.interiors)]
    outlines = tuple(shapely.get_coordinates(ring) for ring in rings)
    around = sum(c.length for c in cores)
    chord = math.pi * float(inner.sum()) / around if around > 0 else 1.0
    fill = infill * max(0.0, core_volume - skins)
    skin_chord = exposed / lines if lines > 0 else chord
    return Layered(walls, skins, fill, height, middles, areas, float(sections[0].length), outlines, chord, skin_chord)


def _uncovered(core: MultiPolygon, other: MultiPolygon) -> shapely.Geometry:
    """What of a section the next one does not cover; of upright walls, whose sections are alike, nothing."""
    if other.is_empty:
        return core
    if shapely.equals_exact(core, other, ALIKE_MM):
        return MultiPolygon()
    return shapely.difference(core, other)


def _chord(bare: shapely.Geometry, skins: float) -> float:
    """How long lines across a skin are: what one section leaves bare of the next is the whole of it where a step is, but where
    a wall leans only a strip as wide as one of `skins` sections that are under the same skin."""
    mean = math.pi * float(bare.area) / float(bare.length)
    leans = 2 * bare.area / bare.length < LEANS_MM * max(1.0, 1 / skins)
    return max(LEAST_CHORD_MM, mean * skins if leans else mean)


def _core(section: MultiPolygon, wall_mm: float) -> MultiPolygon:
    return as_multi(section.buffer(-wall_mm, quad_segs=ARC, join_style="mitre"), 1e-6) if wall_mm > 0 else section

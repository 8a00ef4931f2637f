"""A piece in layers: its sections at sampled heights, and what of them are walls, skins and infill."""

from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid

MOST_SAMPLES = 100
"""sections that are looked at; between them everything is taken to change evenly"""
SLIM_MM = 0.03
ALIKE_MM = 1e-4
ARC = 4


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

    @property
    def volume_mm3(self) -> float:
        """Of the filament in the piece."""
        return self.walls_mm3 + self.skins_mm3 + self.infill_mm3


def layered(solid: Solid, matrix: Points, layer_mm: float, wall_mm: float, skin_mm: float, infill: float) -> Layered:
    """A piece as it lies (`matrix` (3, 4)), with walls of `wall_mm` in all, skins of `skin_mm` and an infill share.

    Walls are what lies within `wall_mm` of an outline. Of the rest, what is not covered by the next section above or below
    gets a skin there; the remainder is infill.
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
    exposed = 0.0
    nothing = MultiPolygon()
    for k, core in enumerate(cores):
        if core.is_empty:
            continue
        for other in (cores[k - 1] if k else nothing, cores[k + 1] if k + 1 < count else nothing):
            open_ = _uncovered(core, other)
            if open_ == 0:
                continue
            exposed += min(open_ * skin_mm, open_ * thick * _layers_within(skin_mm, thick))
    core_volume = float(inner.sum() * thick)
    skins = min(exposed, core_volume)
    return Layered(walls, skins, infill * (core_volume - skins), height, middles, areas, float(sections[0].length))


def _uncovered(core: MultiPolygon, other: MultiPolygon) -> float:
    """Area of a section that the next one does not cover; of upright walls, whose sections are alike, none."""
    if other.is_empty:
        return float(core.area)
    if shapely.equals_exact(core, other, ALIKE_MM):
        return 0.0
    return float(shapely.difference(core, other).area)


def _layers_within(skin_mm: float, thick_mm: float) -> float:
    """How many sampled layers a skin may reach through."""
    return max(1.0, skin_mm / thick_mm)


def _core(section: MultiPolygon, wall_mm: float) -> MultiPolygon:
    return as_multi(section.buffer(-wall_mm, quad_segs=ARC, join_style="mitre"), 1e-6) if wall_mm > 0 else section

"""What is laid on a bed: an outline seen from above, and what must not lie together with it."""

from dataclasses import dataclass

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.polygons import as_multi

ROUGH_MM = 0.1
"""outlines for the bed may be off by this much: they are drawn outwards by half of it, and simpler"""


@dataclass(frozen=True)
class Item:
    """One thing to print: its name, its outline about the middle of its box (holes stay open), its height, the group of
    printer and material it belongs to, and how long it takes alone, in minutes; `height_minutes` of these go by its height and
    are shared by all that lie on one bed."""

    name: str
    outline: MultiPolygon
    height_mm: float
    group: str = ""
    minutes: float = 0.0
    height_minutes: float = 0.0

    @property
    def area_mm2(self) -> float:
        """Of its outline."""
        return float(self.outline.area)

    @property
    def longest_mm(self) -> float:
        """Of the smallest upright box around it."""
        x0, y0, x1, y1 = self.outline.bounds
        return float(max(x1 - x0, y1 - y0))


@dataclass(frozen=True)
class Placement:
    """Where an item lies: on which bed of its group, turned by so many degrees about its middle, and where that is."""

    item: str
    bed: int
    turn_deg: float
    x_mm: float
    y_mm: float
    pinned: bool = False

    def outline(self, item: Item) -> MultiPolygon:
        """The item's outline as it lies."""
        return as_multi(affinity.translate(turned(item.outline, self.turn_deg), self.x_mm, self.y_mm))


def turned(outline: MultiPolygon, degrees: float) -> MultiPolygon:
    """An outline turned about the origin, and set about the middle of its box again."""
    spun = affinity.rotate(outline, degrees, origin=(0, 0)) if degrees else outline
    return centred(spun)


def centred(outline: shapely.Geometry) -> MultiPolygon:
    """An outline about the middle of its box."""
    x0, y0, x1, y1 = outline.bounds
    return as_multi(affinity.translate(outline, -(x0 + x1) / 2, -(y0 + y1) / 2))


def rectangle(name: str, x: float, y: float, height: float = 10.0, **more: object) -> Item:
    """A rectangular item."""
    ring = np.array([[-x, -y], [x, -y], [x, y], [-x, y]]) / 2
    return Item(name, MultiPolygon([shapely.Polygon(ring)]), height, **more)  # type: ignore[arg-type]


def rings(shape: MultiPolygon, simpler_mm: float = 0.0) -> list[list[list[tuple[float, float]]]]:
    """A shape as data: for every part its outline and then its holes, simpler by as much as is said."""
    thin = as_multi(shapely.simplify(shape, simpler_mm)) if simpler_mm else shape
    return [
        [[(round(float(x), 2), round(float(y), 2)) for x, y in ring.coords] for ring in (part.exterior, *part.interiors)]
        for part in thin.geoms
    ]

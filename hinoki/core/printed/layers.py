"""A body in layers: each section offset inwards by half a line and out again, so that what no line fits into disappears."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.offsets.narrow import layer_at, reach, what_prints
from hinoki.core.progress import Tell

MOST_LAYERS = 1500
"""of taller bodies as many layers are looked at, evenly; each stands for those next to it"""


@dataclass(frozen=True)
class Layer:
    """One layer between two heights, mm: its section as drawn, what of it prints, and what is lost."""

    low: float
    high: float
    drawn: MultiPolygon
    prints: MultiPolygon
    lost: MultiPolygon

    @property
    def thick(self) -> float:
        """Its height, or that of all layers that it stands for."""
        return self.high - self.low


@dataclass(frozen=True)
class Printed:
    """All layers of a body, from the bed up; `every` says that each of the print's layers was looked at."""

    layers: Sequence[Layer]
    layer_mm: float
    line_mm: float
    every: bool

    @property
    def drawn_mm3(self) -> float:
        """Volume of all sections."""
        return float(sum(one.drawn.area * one.thick for one in self.layers))

    @property
    def lost_mm3(self) -> float:
        """Volume of what is lost."""
        return float(sum(one.lost.area * one.thick for one in self.layers))

    @property
    def lost_share(self) -> float:
        """Of the volume."""
        return self.lost_mm3 / self.drawn_mm3 if self.drawn_mm3 > 0 else 0.0

    @property
    def reach_mm(self) -> float:
        """How far the farthest lost point lies from what prints of its layer; what hangs on nothing counts by its own."""
        return max((reach(p, one.prints) for one in self.layers for p in one.lost.geoms), default=0.0)

    @property
    def worst(self) -> Points | None:
        """A point (3,) of the largest thing that is lost in one layer; None where nothing is."""
        every = [(p.area, p, one) for one in self.layers for p in one.lost.geoms]
        if not every:
            return None
        _, part, one = max(every, key=lambda each: each[0])
        inside = part.representative_point()
        return np.array([inside.x, inside.y, (one.low + one.high) / 2])


def printed(lying: Solid, layer_mm: float, line_mm: float, tell: Tell) -> Printed:
    """A body as it lies on the bed (its lowest point at Z 0), in layers of `layer_mm` with lines of `line_mm`."""
    height = float(lying.bounds[1][2])
    count = max(1, int(np.ceil(height / layer_mm - 1e-6)))
    shown = min(count, MOST_LAYERS)
    edges = np.linspace(0, count, shown + 1).round() * layer_mm
    edges[-1] = max(edges[-1], height)
    found = []
    for k, (low, high) in enumerate(pairwise(edges)):
        if k % 20 == 0:
            tell(k / shown, f"Layer {k + 1} of {shown}")
        middle = min((float(low) + float(high)) / 2, height - 1e-4)
        drawn = layer_at(lying, middle)
        prints, lost = what_prints(drawn, line_mm)
        found.append(Layer(float(low), float(high), drawn, prints, lost))
    return Printed(found, layer_mm, line_mm, shown == count)

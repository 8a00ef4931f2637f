"""Layers as a surface to look at: every outline drawn up by its layer."""

from collections.abc import Sequence

import numpy as np
import shapely
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.mesh import Mesh, stacked
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid

MOST_TRIANGLES = 1_500_000
COARSER = (0.01, 0.03, 0.08)
"""outlines are simplified by so much, one after the other, until there are few enough triangles"""


def drawn_up(layers: Sequence[tuple[float, float, MultiPolygon]]) -> Mesh:
    """Outlines between two heights each, mm, as bodies that lie on each other: for looking at only."""
    for slim in COARSER:
        simple = [(low, high, as_multi(shapely.simplify(shape, slim), 1e-6)) for low, high, shape in layers]
        if 4 * sum(shapely.get_num_coordinates(shape) for _, _, shape in simple) <= MOST_TRIANGLES:
            break
    meshes = [Solid.drawn(shape, low, high).mesh for low, high, shape in simple if not shape.is_empty]
    return stacked(meshes) if meshes else Mesh(np.zeros((0, 3)), np.zeros((0, 3), dtype=np.int64))

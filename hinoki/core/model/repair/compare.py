"""Before and after a repair: counts, volume, and the largest deviation between the surfaces."""

import numpy as np
from pydantic import BaseModel

from hinoki.core.geometry.lumps import lumps_of
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.model.health.edges import open_loops

SAMPLES = 20_000


class SurfaceFacts(BaseModel):
    """Counts of a surface."""

    triangles: int
    vertices: int
    lumps: int
    holes: int
    open_edges: int
    crowded_edges: int
    turned_edges: int
    closed: bool
    volume_mm3: float


class Comparison(BaseModel):
    """A surface before and after, and the largest distance between the two, in mm."""

    before: SurfaceFacts
    after: SurfaceFacts
    deviation_mm: float


def facts_of(mesh: Mesh) -> SurfaceFacts:
    """The counts of a surface."""
    edges = mesh.edges
    return SurfaceFacts(
        triangles=len(mesh.faces),
        vertices=len(mesh.vertices),
        lumps=lumps_of(mesh)[0],
        holes=len(open_loops(mesh)) if edges.open else 0,
        open_edges=edges.open,
        crowded_edges=edges.crowded,
        turned_edges=edges.turned,
        closed=edges.closed,
        volume_mm3=round(mesh.volume_mm3, 3),
    )


def compared(before: Mesh, after: Mesh) -> Comparison:
    """Facts of both, and the deviation: the larger of both one-sided distances, at up to SAMPLES vertices of each."""
    return Comparison(
        before=facts_of(before), after=facts_of(after), deviation_mm=round(max(_away(before, after), _away(after, before)), 4)
    )


def _away(mesh: Mesh, two: Mesh) -> float:
    import igl

    step = max(1, len(mesh.vertices) // SAMPLES)
    points = np.ascontiguousarray(mesh.vertices[::step])
    tree = igl.AABB()
    tree.init(two.vertices, two.faces)
    squared, _, _ = tree.squared_distance(two.vertices, two.faces, points)
    return float(np.sqrt(max(0.0, float(squared.max()))))

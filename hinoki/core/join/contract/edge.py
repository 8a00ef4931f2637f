"""The edge of the upper piece of a face, where a hinge stands: where it is straight, which way is out, how high it is."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import LineString, MultiPolygon

from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.join.contract.terms import SIDEWAYS, Place, Standing

ABOVE_MM = 0.3
"""how far above the face piece B's outline is taken"""
NEAR_MM = 40.0
"""an edge further than this from a place is not meant"""
BESIDE_MM = 1.0
"""how far inside its edge the height of piece B is looked at"""
WIDEST_SEAM_MM = 4.0
BEYOND_MM = (1.0, 2.5, 4.0)
"""how far out of piece B piece A is looked for"""
SUNK_MM = 0.5
"""piece A reaches so far above the face at least where piece B lies in it"""
HAIR_MM = 0.02
STEP_MM = 1.0
AT = (-0.5, -0.25, 0.0, 0.25, 0.5)


@dataclass(frozen=True)
class Edge:
    """A stretch of the outline of piece B: its middle, unit vectors along it and out of B, in plane coordinates.

    `seam_mm` is how far out the middle of the gap to piece A lies, `high_mm` how high the surface is there, `bent_mm` how far
    the outline bends away from its straight line.
    """

    at: Points
    along: Points
    out: Points
    seam_mm: float
    high_mm: float
    bent_mm: float
    sunk: bool


def edge_at(standing: Standing, place: Place, length_mm: float) -> Edge | None:
    """The edge nearest to a place on the face, over a length; None where there is none."""
    if standing.sections is None:
        return None
    base = standing.sections.section("b", ABOVE_MM + standing.apart_mm / 2)
    found = _stretch(base, _rings(base), place, length_mm)
    if found is None:
        return None
    at, along, out, bent = found
    steps = [at + share * length_mm * along for share in AT]
    tops_a = [max(standing.top("a", _place(p + beside * out)) for beside in BEYOND_MM) for p in steps]
    sunk = float(np.median(tops_a)) > SUNK_MM
    if not sunk:
        return Edge(at, along, out, 0.0, 0.0, bent, False)
    high = max(standing.top("b", _place(p - BESIDE_MM * out)) for p in steps)
    if not np.isfinite(high):
        return None
    level = max(0.1, high - min(0.5, high / 2))
    return Edge(at, along, out, _seam(standing, level, at, along, out, length_mm), high, bent, True)


def _seam(standing: Standing, level: float, at: Points, along: Points, out: Points, length_mm: float) -> float:
    """How far out of `at` the middle of the gap lies at a level: between the farthest of B and the nearest of A."""
    assert standing.sections is not None
    strip = shapely.Polygon(
        [
            at + s * along * length_mm / 2 + d * out
            for s, d in ((-1, -WIDEST_SEAM_MM), (1, -WIDEST_SEAM_MM), (1, WIDEST_SEAM_MM), (-1, WIDEST_SEAM_MM))
        ]
    )
    inner = shapely.get_coordinates(shapely.intersection(standing.sections.section("b", level), strip))
    outer = shapely.get_coordinates(shapely.intersection(standing.sections.section("a", -level), strip))
    far = float(((inner - at) @ out).max()) if len(inner) else 0.0
    beyond = (outer - at) @ out if len(outer) else np.zeros(0)
    near = beyond[beyond > far - 1e-6]
    return (far + float(near.min())) / 2 if len(near) else far


def strips(standing: Standing, length_mm: float, bent_mm: float) -> MultiPolygon:
    """Where along piece B's outline a length lies straight within `bent_mm`, as strips a hair wide."""
    if standing.sections is None:
        return MultiPolygon()
    base = standing.sections.section("b", ABOVE_MM + standing.apart_mm / 2)
    rings = _rings(base)
    found: list[shapely.Geometry] = []
    for ring in rings:
        run: list[Points] = []
        steps = max(8, int(ring.length / STEP_MM))
        for k in range(2 * steps + 1):  # round twice, so that a run over the ring's first point is whole
            point = ring.interpolate((k % steps) / steps, normalized=True)
            stretch = _stretch(base, rings, (point.x, point.y), length_mm)
            if stretch is not None and stretch[3] <= bent_mm and _opens(stretch[2], standing):
                run.append(np.array([point.x, point.y]))
                if k < 2 * steps and len(run) < steps:
                    continue
            if len(run) > 1:
                found.append(LineString(run).buffer(HAIR_MM, cap_style="flat"))
            run = []
    joined = as_multi(shapely.union_all(found), 1e-6) if found else MultiPolygon()
    return joined


def _opens(out: Points, standing: Standing) -> bool:
    """Whether piece B can swing out at an edge: where it comes off along the face, at the edge that it leaves last."""
    return standing.sideways is None or float(out @ np.array(standing.sideways)) > SIDEWAYS


def _rings(shape: MultiPolygon) -> list[LineString]:
    return [LineString(shapely.simplify(part.exterior, 0.02).coords) for part in shape.geoms]


def _stretch(
    base: MultiPolygon, rings: Sequence[LineString], place: Place, length_mm: float
) -> tuple[Points, Points, Points, float] | None:
    """The middle of the stretch nearest to a place, set out to its farthest point; along, out; and how far it bends."""
    point = shapely.Point(place)
    ring = min(rings, key=lambda r: r.distance(point), default=None)
    if ring is None or ring.distance(point) > NEAR_MM or ring.length < 2 * length_mm:
        return None
    where = ring.project(point)

    def spot(d: float) -> Points:
        p = ring.interpolate(d % ring.length)
        return np.array([p.x, p.y])

    shares = np.linspace(-0.5, 0.5, 9)
    points = np.array([spot(where + share * length_mm) for share in shares])
    along = points[-1] - points[0]
    chord = float(np.linalg.norm(along))
    if chord < 1e-6:
        return None
    along = along / chord
    out = np.array([along[1], -along[0]])
    middle = points[4]
    if shapely.contains_xy(base, *(middle + 0.1 * out)):
        out = -out
    off = (points - middle) @ out
    # a stretch round a corner is shorter than its length along the outline: that counts as bent, too
    bent = max(float(np.ptp(off)), length_mm - chord)
    return middle + float(off.max()) * out, along, out, bent


def _place(point: Points) -> Place:
    return float(point[0]), float(point[1])

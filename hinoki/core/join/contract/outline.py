"""Places on the outline of a mating face: where they are, which way is inwards, how straight the outline is there."""

from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import LinearRing, MultiPolygon

from hinoki.core.geometry.mesh import Points
from hinoki.core.join.contract.terms import Place


@dataclass(frozen=True)
class Spot:
    """A point on an outline: `at`, unit `along` the outline and `inward` into the material, each (2,); how far the outline
    leaves its straight line over the width asked for; how much clear space there is outside."""

    at: Points
    along: Points
    inward: Points
    bend_mm: float
    clear: float


def rings_of(shape: MultiPolygon) -> list[LinearRing]:
    """All outlines, outer ones first for each part, each with the material on its left."""
    out = []
    for part in shape.geoms:
        turned = shapely.geometry.polygon.orient(part)
        out += [turned.exterior, *turned.interiors]
    return out


def spot_at(shape: MultiPolygon, place: Place, half_width: float, deep: float) -> Spot:
    """The spot nearest to `place`, looked at over `half_width` to either side."""
    point = shapely.Point(place)
    ring = min(rings_of(shape), key=lambda r: r.distance(point))
    return spot_on(ring, ring.project(point), half_width, shape, deep)


def spot_on(ring: LinearRing, where: float, half_width: float, shape: MultiPolygon, deep: float) -> Spot:
    """The spot `where` (mm along `ring`, which has the material on its left)."""
    looked = spots_on(ring, np.array([where]), half_width)
    at, inward = looked.at[0], looked.inward[0]
    return Spot(at, looked.along[0], inward, float(looked.bend_mm[0]), _clear(shape, at, inward, deep))


@dataclass(frozen=True)
class Spots:
    """Points on an outline: `at`, unit `along` and `inward`, each (n, 2); `bend_mm` (n,) as of a Spot."""

    at: Points
    along: Points
    inward: Points
    bend_mm: Points


def spots_on(ring: LinearRing, where: Points, half_width: float) -> Spots:
    """The spots at `where` (n,), mm along `ring`, which has the material on its left."""
    long = ring.length
    half = min(half_width, long / 8)
    marks = (where[:, None] + half * np.array([-1.0, -0.5, 0.0, 0.5, 1.0])) % long
    points = shapely.get_coordinates(shapely.line_interpolate_point(ring, marks.ravel())).reshape(len(where), 5, 2)
    along = points[:, -1] - points[:, 0]
    length = np.linalg.norm(along, axis=1, keepdims=True)
    along = np.where(length > 1e-9, along / np.maximum(length, 1e-9), [1.0, 0.0])
    inward = np.column_stack([-along[:, 1], along[:, 0]])
    off = np.einsum("nij,nj->ni", points - points[:, 2:3], inward)
    return Spots(points[:, 2], along, inward, np.ptp(off, axis=1))


def _clear(shape: MultiPolygon, at: Points, inward: Points, most: float) -> float:
    """Half the way from the outline to the next part of the face outside it, at most `most`."""
    ray = shapely.LineString([at - 0.05 * inward, at - 2 * most * inward])
    hit = shapely.intersection(ray, shape)
    return most if hit.is_empty else min(most, float(hit.distance(shapely.Point(at))) / 2)

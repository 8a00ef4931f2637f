"""Partings from what is picked in the view: planes through points, faces and edge loops, and loops around a feature."""

import math
from dataclasses import dataclass
from typing import Any, Literal

import igl
import numpy as np
from pydantic import BaseModel, Field
from shapely.geometry import Point, Polygon

from hinoki.core.errors import BadPlan
from hinoki.core.frames import plane_frame
from hinoki.core.health.edges import directed_edges
from hinoki.core.mesh import Faces, Mesh, Points
from hinoki.core.partings import DetachParting, Parting
from hinoki.core.partings.base import Spot, spot
from hinoki.core.partings.flat import plane_fields
from hinoki.core.progress import Tell
from hinoki.core.sections import FramedSolid
from hinoki.core.solid import Solid

FEATURE_DEG = 30.0
"""faces that meet at a greater angle meet in an edge"""
DIRECTIONS = 48
MOST_TRIANGLES, THINNED_MM = 10_000, 0.12
"""larger models are thinned before their sections are followed"""
MOST_EDGES = 12_000
WALK_STEPS = 40
WIDENS = 2.0
"""a feature ends where its section is so many times the one before"""
ALIKE = 1.25
REACH = 12.0
"""how far around the pick the feature is looked for, in times the wall under it"""
SQUARE = math.cos(math.radians(2.0))
MOST_STARTS = 4
MOST_TRIED = 24
MOST_SHARE = 0.4
"""a feature is no more of the model than this"""
INWARD_MM = 0.05


class Picked(BaseModel, frozen=True):
    """What was picked: for a plane its kind and the points, for a detached feature one point on it."""

    what: Literal["points", "face", "loop", "feature"]
    at_mm: tuple[Spot, ...] = Field(min_length=1, max_length=3)
    offset_mm: float = Field(0.0, ge=-1e4, le=1e4, description="from a picked face, outwards")


class PickedPlane(BaseModel):
    """The parting that was picked, without a name of its own, and what is to be said."""

    parting: Parting
    said: list[str] = []


class EdgeLines(BaseModel):
    """Sharp edges of the model, the longest ones: six numbers each, start and end."""

    lines: list[tuple[float, float, float, float, float, float]]


def sharp_edges(mesh: Mesh) -> list[tuple[float, float, float, float, float, float]]:
    """The longest MOST_EDGES edges where faces meet at more than FEATURE_DEG."""
    a, b = _edges(mesh)
    length = np.linalg.norm(mesh.vertices[a] - mesh.vertices[b], axis=1)
    longest = np.argsort(-length, kind="stable")[:MOST_EDGES]
    rows = np.round(np.hstack([mesh.vertices[a[longest]], mesh.vertices[b[longest]]]), 3).tolist()
    return [(r[0], r[1], r[2], r[3], r[4], r[5]) for r in rows]


def picked_parting(picked: Picked, solid: Solid, mesh: Mesh, tell: Tell) -> PickedPlane:
    """The parting for what was picked on the prepared model. Raises BadPlan where that makes no plane."""
    points = np.array(picked.at_mm)
    if picked.what == "points":
        return _flat(*_three(points))
    if picked.what == "face":
        return _flat(*_of_face(mesh, points[0], picked.offset_mm))
    if picked.what == "loop":
        middle, normal, off = _of_loop(mesh, points[0])
        said = [f"The edge loop is off its plane by up to {off:.2f} mm."] if off > 0.05 else []
        return _flat(middle, normal, said)
    detach = narrowest_loop(solid, mesh, points[0], tell)
    return PickedPlane(parting=detach)


def _flat(point: Points, normal: Points, said: list[str] | None = None) -> PickedPlane:
    fields: dict[str, Any] = {"kind": "flat", "id": "p1", **plane_fields(point, normal)}
    return PickedPlane.model_validate({"parting": fields, "said": said or []})


def _three(points: Points) -> tuple[Points, Points]:
    if len(points) != 3:
        raise BadPlan("A plane through points needs three of them.", "at_mm")
    normal = np.cross(points[1] - points[0], points[2] - points[0])
    longest = max(float(np.linalg.norm(points[a] - points[b])) for a, b in ((0, 1), (0, 2), (1, 2)))
    if np.linalg.norm(normal) < 1e-3 * longest**2 or longest < 1e-3:
        raise BadPlan("The three points lie on one line, which gives no plane. Pick the third one beside it.", "at_mm")
    return points.mean(axis=0), normal


def _on_surface(mesh: Mesh, at: Points) -> tuple[int, Points]:
    """The face nearest to a point, and the point on it."""
    _, face, there = igl.point_mesh_squared_distance(np.ascontiguousarray(at[None]), mesh.vertices, mesh.faces)[:3]
    return int(np.atleast_1d(face)[0]), np.asarray(there).reshape(3)


def _of_face(mesh: Mesh, at: Points, offset: float) -> tuple[Points, Points]:
    face, _ = _on_surface(mesh, at)
    normal = mesh.face_normals[face]
    return mesh.vertices[mesh.faces[face]].mean(axis=0) + normal * offset, normal


def _of_loop(mesh: Mesh, at: Points) -> tuple[Points, Points, float]:
    """A point and the normal of the plane through the edge loop nearest to `at`, and how far the loop is off it."""
    a, b = _edges(mesh)
    if len(a) == 0:
        raise BadPlan("The model has no sharp edges, so there is no edge loop to pick. Pick three points instead.", "at_mm")
    start, way = mesh.vertices[a], mesh.vertices[b] - mesh.vertices[a]
    share = np.clip(np.einsum("ij,ij->i", at - start, way) / np.maximum((way**2).sum(axis=1), 1e-12), 0, 1)
    nearest = int(np.argmin(np.linalg.norm(start + share[:, None] * way - at, axis=1)))
    ring = _ring(mesh, a, b, nearest)
    if ring is None:
        raise BadPlan("The edge nearest to the pick closes to no loop. Pick another one, or three points.", "at_mm")
    points = mesh.vertices[ring]
    middle = points.mean(axis=0)
    _, lengths, axes = np.linalg.svd(points - middle)
    if lengths[1] < 1e-6 * lengths[0]:
        raise BadPlan("The edge loop lies on one line, which gives no plane. Pick another one.", "at_mm")
    return middle, axes[2], float(np.abs((points - middle) @ axes[2]).max())


def _edges(mesh: Mesh) -> tuple[Faces, Faces]:
    """Low and high vertex of every edge where faces meet at more than FEATURE_DEG."""
    numbers, low, high = mesh.edge_table
    _, _, face = directed_edges(mesh.faces)
    order = np.argsort(numbers, kind="stable")
    numbers, face = numbers[order], face[order]
    pair = np.flatnonzero(numbers[1:] == numbers[:-1])
    normals = mesh.face_normals
    facing = np.einsum("ij,ij->i", normals[face[pair]], normals[face[pair + 1]])
    sharp = numbers[pair[facing < math.cos(math.radians(FEATURE_DEG))]]
    return low[sharp], high[sharp]


def _ring(mesh: Mesh, a: Faces, b: Faces, first: int) -> Faces | None:
    """The closed chain of edges through edge `first`, straight on where edges branch; none where it ends."""
    beside: dict[int, list[int]] = {}
    for one, two in zip(a.tolist(), b.tolist(), strict=True):
        beside.setdefault(one, []).append(two)
        beside.setdefault(two, []).append(one)
    ring = [int(a[first]), int(b[first])]
    plane: Points | None = None
    for _ in range(len(a)):
        here, before = ring[-1], ring[-2]
        onward = [v for v in beside[here] if v != before]
        if not onward:
            return None
        if ring[0] in onward and len(ring) > 2:
            return np.array(ring)
        way = mesh.vertices[here] - mesh.vertices[before]
        best = min(onward, key=lambda v: _bend(way, mesh.vertices[v] - mesh.vertices[here], plane))
        turn = np.cross(way, mesh.vertices[best] - mesh.vertices[here])
        if plane is None and np.linalg.norm(turn) > 1e-6 * float(way @ way):
            plane = turn / np.linalg.norm(turn)
        if best in ring:
            return np.array(ring[ring.index(best) :])
        ring.append(best)
    return None


def _bend(way: Points, onward: Points, plane: Points | None) -> float:
    """How much going onward leaves the loop's plane, or bends where there is no plane yet."""
    length = float(np.linalg.norm(onward)) or 1.0
    if plane is not None:
        return abs(float(plane @ onward)) / length
    return -float(way @ onward) / (length * (float(np.linalg.norm(way)) or 1.0))


@dataclass(frozen=True)
class _Place:
    """A section along a feature: its area, its middle, and the way on from there."""

    area: float
    middle: Points
    heading: Points


def narrowest_loop(solid: Solid, mesh: Mesh, at: Points, tell: Tell) -> DetachParting:
    """The narrowest place of the feature that was picked from which only that feature comes off.

    Sections through the pick are small across the feature and large along it, so the smallest ones tell which way it runs;
    from there sections are followed both ways. Narrow places are those with wider ones on either side, and the last one
    before the feature widens into the body. Raises BadPlan where the feature is held elsewhere too.
    """
    start = _inside(solid, mesh, at)
    tell(0.05, "Looking along the feature")
    thin = solid.simplified(THINNED_MM) if solid.triangles > MOST_TRIANGLES else solid
    # what lies far from the pick only costs time; all of it is looked at where the near part tells nothing
    reach = max(2 * REACH * float(np.linalg.norm(start - at)), 0.1 * float(solid.size.max()))
    near = thin.common(Solid.box((start - reach).tolist(), (start + reach).tolist()))
    found = _first_that_comes_off(solid, start, _narrow_places(near, start, tell), tell)
    if found is None and reach < float(solid.size.max()):
        found = _first_that_comes_off(solid, start, _narrow_places(thin, start, tell), tell)
    if found is None:
        raise BadPlan(
            "No loop was found around the picked feature from which it alone comes off: it is joined in more than one "
            "place, or it is the larger part. Pick nearer to its end, or use a flat parting.",
            "at_mm",
        )
    return found


def _narrow_places(thin: Solid, start: Points, tell: Tell) -> list[_Place]:
    starts = _smallest_at(thin, start)
    narrow: list[_Place] = []
    for k, place in enumerate(starts):
        tell(0.2 + 0.5 * k / len(starts), "Following the feature")
        back, back_widens = _followed(thin, place, -1.0)
        on, on_widens = _followed(thin, place, 1.0)
        row = [*reversed(back), place, *on]
        areas = [p.area for p in row]
        lowest = [n for n in range(1, len(row) - 1) if areas[n] <= min(areas[n - 1], areas[n + 1]) * 1.0001]
        narrow += [_narrowest_between(thin, row[n - 1], row[n], row[n + 1]) for n in lowest]
        narrow += [row[0]] if back_widens else []
        narrow += [row[-1]] if on_widens else []
    return narrow


def _inside(solid: Solid, mesh: Mesh, at: Points) -> Points:
    """The middle of the wall under a point of the surface."""
    face, there = _on_surface(mesh, at)
    inwards = -mesh.face_normals[face]
    hits = solid.ray(there + inwards * INWARD_MM, there + inwards * float(np.linalg.norm(solid.size)))
    return np.asarray((there + hits[0]) / 2 if len(hits) else there + inwards * INWARD_MM)


def _followed(solid: Solid, start: _Place, way: float) -> tuple[list[_Place], bool]:
    """The sections along a feature one way, and whether they end because it widens into the body."""
    here, heading, before = start.middle, start.heading * way, start.area
    out: list[_Place] = []
    for _ in range(WALK_STEPS):
        found = _section_near(solid, here + heading * math.sqrt(before) / 5, heading)
        if found is None:
            return out, False
        area, middle = found
        if area > WIDENS * before:
            return out, True
        before = area
        moved = middle - here
        length = float(np.linalg.norm(moved))
        if length > 1e-9:
            heading = 0.5 * heading + 0.5 * moved / length
            heading = heading / np.linalg.norm(heading)
        here = middle
        out.append(_Place(area, middle, heading * way))
    return out, False


def _narrowest_between(solid: Solid, before: _Place, place: _Place, after: _Place) -> _Place:
    """The narrowest of sections between two places, along the line from one to the other."""
    ways = [*np.linspace(before.middle, place.middle, 6)[1:], *np.linspace(place.middle, after.middle, 6)[1:-1]]
    for at in ways:
        hit = _section_near(solid, at, place.heading)
        if hit is not None and hit[0] < place.area:
            place = _Place(*hit, place.heading)
    return place


def _first_that_comes_off(solid: Solid, inside: Points, narrow: list[_Place], tell: Tell) -> DetachParting | None:
    """The narrowest place where only a feature comes off the body itself; of those as narrow the one that takes most."""
    ordered = sorted(narrow, key=lambda p: round(p.area, 6))[:MOST_TRIED]
    best: tuple[float, float, DetachParting] | None = None
    for k, place in enumerate(ordered):
        tell(0.7 + 0.3 * k / len(ordered), "Trying the narrowest places")
        if best is not None and place.area > best[0] * 1.02:
            break
        normal = place.heading if (inside - place.middle) @ place.heading >= 0 else -place.heading
        longest = int(np.argmax(np.abs(normal)))
        if abs(normal[longest]) > SQUARE:
            normal = np.eye(3)[longest] * np.sign(normal[longest])
        parting = DetachParting(id="p1", through_mm=spot(np.round(place.middle, 2)), normal=spot(np.round(normal, 4)))
        up = parting.cut(solid, parting.members_for())
        if len(up.cuts) != 2:
            continue
        share = up.cuts[1].solid.volume_mm3 / solid.volume_mm3
        if share < MOST_SHARE and (best is None or share > best[1]):
            best = (best[0] if best else place.area), share, parting
    return best[2] if best is not None else None


def _smallest_at(solid: Solid, at: Points) -> list[_Place]:
    """The sections through a point that are smallest, in ways that really differ, the smallest first."""
    k = np.arange(DIRECTIONS) + 0.5
    z, turn = 1 - k / DIRECTIONS, k * math.pi * (1 + 5**0.5)
    half = np.sqrt(1 - z * z)
    tried = np.column_stack([half * np.cos(turn), half * np.sin(turn), z])
    found = [_Place(*hit, d) for d in tried if (hit := _section_near(solid, at, d, must_hold=True)) is not None]
    found.sort(key=lambda p: p.area)
    chosen: list[_Place] = []
    for place in found:
        if place.area > ALIKE * found[0].area or len(chosen) == MOST_STARTS:
            break
        if all(abs(float(place.heading @ other.heading)) < math.cos(math.radians(25)) for other in chosen):
            chosen.append(_refined(solid, at, place))
    return chosen


def _refined(solid: Solid, at: Points, place: _Place) -> _Place:
    """The smallest section in ways near to one."""
    angles = np.arange(8) * math.pi / 4
    for spread in (0.15, 0.05, 0.02):
        around = plane_frame(at, place.heading)
        for way in place.heading + spread * (np.cos(angles)[:, None] * around.u + np.sin(angles)[:, None] * around.v):
            direction = way / np.linalg.norm(way)
            hit = _section_near(solid, at, direction, must_hold=True)
            if hit is not None and hit[0] < place.area:
                place = _Place(*hit, direction)
    return place


def _section_near(solid: Solid, at: Points, direction: Points, must_hold: bool = False) -> tuple[float, Points] | None:
    """Area and middle of the outline of a section that holds `at`, or is nearest to it."""
    frame = plane_frame(at, direction)
    section = FramedSolid(solid, frame).section(0.0)
    here = Point(0.0, 0.0)
    parts = [p for p in section.geoms if not must_hold or Polygon(p.exterior).contains(here)]
    if not parts:
        return None
    part = min(parts, key=lambda p: (Polygon(p.exterior).distance(here), p.area))
    if Polygon(part.exterior).distance(here) > 2 * math.sqrt(part.area):
        return None
    x, y = part.centroid.coords[0]
    return float(part.area), frame.world(np.array([[x, y]]))[0]

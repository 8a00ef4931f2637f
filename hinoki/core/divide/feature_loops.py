"""Features: the narrowest loop around a delicate part that was picked, from which it alone comes off."""

import math
from dataclasses import dataclass

import numpy as np
from shapely.geometry import Point, Polygon

from hinoki.core.divide.partings import DetachParting
from hinoki.core.divide.partings.base import spot
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.geometry.sections import FramedSolid
from hinoki.core.geometry.solid import Solid
from hinoki.core.progress import Tell

DIRECTIONS = 48
MOST_TRIANGLES, THINNED_MM = 10_000, 0.12
"""larger models are thinned before their sections are followed"""
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


def on_surface(mesh: Mesh, at: Points) -> tuple[int, Points]:
    """The face nearest to a point, and the point on it."""
    import igl

    _, face, there = igl.point_mesh_squared_distance(np.ascontiguousarray(at[None]), mesh.vertices, mesh.faces)[:3]
    return int(np.atleast_1d(face)[0]), np.asarray(there).reshape(3)


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
    face, there = on_surface(mesh, at)
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

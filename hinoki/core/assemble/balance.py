"""Balance: where the assembled model's centre of mass lies, how far it may be tipped, what ballast gives, how it hangs."""

import math
import tomllib
from collections.abc import Sequence
from dataclasses import dataclass
from importlib import resources

import numpy as np
import shapely

from hinoki.core.assemble.scene.weights import Weight, combined
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.assembly_settings import Ballast

ON_FLOOR_MM = 0.3
"""what lies no higher above the lowest point stands on the floor"""
SAFE_TIP_DEG = 10.0
"""a model that falls when tipped by less is easily knocked over (common practice)"""
DIRECTIONS = 16
LAYERS = 120


@dataclass(frozen=True)
class Standing:
    """How a body stands: the outline of its foot (n, 2), its centre of mass (3,) above the floor, and for each of DIRECTIONS
    (degrees, counter-clockwise from X) the angle by which it may be tipped that way before it falls."""

    foot: Points
    centre: Points
    floor_mm: float
    tips: tuple[tuple[float, float], ...]

    @property
    def least(self) -> tuple[float, float]:
        """The direction in which it falls most easily, and that angle; 0 where it falls by itself."""
        direction, angle = min(self.tips, key=lambda t: t[1])
        return direction, max(0.0, angle)

    @property
    def high_mm(self) -> float:
        """Of the centre of mass above the floor."""
        return float(self.centre[2] - self.floor_mm)

    def least_base_mm(self, degrees: float = SAFE_TIP_DEG) -> float:
        """The least diameter of a round base under the centre of mass from which it may be tipped by an angle: 2·h·tan α."""
        return 2 * self.high_mm * math.tan(math.radians(degrees))


def standing(solids: Sequence[Solid], centre: Points) -> Standing:
    """How solids with a centre of mass (3,) stand on what of them is lowest. A body tips over the line that bounds its foot in
    a direction: by atan(d/h), d from the centre to that line, h its height (statics)."""
    floor = min(float(s.bounds[0][2]) for s in solids)
    low = np.concatenate([s.mesh.vertices[s.mesh.vertices[:, 2] < floor + ON_FLOOR_MM, :2] for s in solids])
    hull = shapely.MultiPoint(low).convex_hull
    foot = np.asarray(hull.exterior.coords)[:-1] if hull.geom_type == "Polygon" else shapely.get_coordinates(hull)
    high = max(1e-9, float(centre[2] - floor))
    angles = [360.0 * k / DIRECTIONS for k in range(DIRECTIONS)]
    if hull.geom_type == "Polygon":  # over its edges it tips most easily
        out = shapely.geometry.polygon.orient(shapely.Polygon(foot))
        foot = np.asarray(out.exterior.coords)[:-1]
        edges = np.roll(foot, -1, axis=0) - foot
        turned = np.degrees(np.arctan2(-edges[:, 0], edges[:, 1])) % 360
        nearest = min(turned.tolist(), key=lambda a: _reach(foot, centre, a))
        angles = sorted({*angles, round(nearest, 2)})
    tips = tuple((a, math.degrees(math.atan2(_reach(foot, centre, a), high))) for a in angles)
    return Standing(foot, centre, floor, tips)


def _reach(foot: Points, centre: Points, degrees: float) -> float:
    """How far the foot reaches beyond the centre in a direction."""
    way = np.array([math.cos(math.radians(degrees)), math.sin(math.radians(degrees))])
    return float(((foot - centre[:2]) @ way).max())


@dataclass(frozen=True)
class Stuff:
    """A filling: what it is called, and grams a cubic centimetre as it lies."""

    id: str
    name: str
    solid_g_cm3: float
    packing: float

    @property
    def bulk_g_cm3(self) -> float:
        """As poured."""
        return self.solid_g_cm3 * self.packing


def fillings() -> dict[str, Stuff]:
    """The fillings that ship with Hinoki, by id."""
    rows = tomllib.loads((resources.files("hinoki") / "data/fillings.toml").read_text())["filling"]
    return {r["id"]: Stuff(**r) for r in rows}


@dataclass(frozen=True)
class Hollow:
    """The hollow of a model, layer by layer: heights of the layers' middles, their thickness, areas and centres (n, 2)."""

    heights: Points
    thick_mm: float
    areas: Points
    centres: Points
    open_below: bool

    @property
    def volume_mm3(self) -> float:
        """Of all of it."""
        return float(self.areas.sum() * self.thick_mm)

    def filled(self, ballast: Ballast, floor_mm: float) -> Weight:
        """The filling up to its height above the floor."""
        stuff = fillings()[ballast.filling]
        low = self.heights - self.thick_mm / 2
        share = np.clip((floor_mm + ballast.up_to_mm - low) / self.thick_mm, 0.0, 1.0)
        volumes = self.areas * self.thick_mm * share
        total = float(volumes.sum())
        if total <= 0:
            return Weight(0.0, np.zeros(3))
        middle = (self.centres * volumes[:, None]).sum(axis=0) / total
        heights = low + self.thick_mm * share / 2
        return Weight(total / 1000 * stuff.bulk_g_cm3, np.array([*middle, float((heights * volumes).sum() / total)]))


def hollow_of(whole: Solid) -> Hollow:
    """The hollow of a model: in level sections what lies within the outer outlines and is not material."""
    low, high = float(whole.bounds[0][2]), float(whole.bounds[1][2])
    thick = (high - low) / LAYERS
    heights = np.linspace(low + thick / 2, high - thick / 2, LAYERS)
    areas, centres = np.zeros(LAYERS), np.zeros((LAYERS, 2))
    for k, z in enumerate(heights):
        section = whole.slice(float(z))
        outer = shapely.union_all([shapely.Polygon(p.exterior) for p in section.geoms])
        inside = shapely.difference(outer, section.buffer(1e-6))
        if inside.area > 1e-6:
            areas[k] = inside.area
            centres[k] = inside.centroid.x, inside.centroid.y
    return Hollow(heights, thick, areas, centres, bool(areas[0] > 0))


@dataclass(frozen=True)
class Hanging:
    """How a body hangs: the turn (3, 3) it takes from how it stands in the model, by how much it leans from upright, and the
    share of its weight on each point."""

    turn: Points
    leans_deg: float
    shares: tuple[float, ...]


def hung(centre: Points, points: Sequence[Points]) -> Hanging | None:
    """How a body hangs from one point, or from two on strings of one length that hang straight down.

    From one point its centre comes to lie below it. From two it first turns about the line through them until the centre lies
    in the upright plane through that line, which leans as it does in the model; each point carries what the lever rule says.
    None without points.
    """
    if not points:
        return None
    if len(points) == 1:
        down = centre - points[0]
        if np.linalg.norm(down) < 1e-9:
            return Hanging(np.eye(3), 0.0, (1.0,))
        turn = _turning(down / np.linalg.norm(down), np.array([0.0, 0.0, -1.0]))
        return Hanging(turn, _leans(turn), (1.0,))
    a, b = points[0], points[1]
    line = b - a
    long = float(np.linalg.norm(line))
    along = line / long
    off = (centre - a) - along * float((centre - a) @ along)
    down = np.array([0.0, 0.0, -1.0]) - along * float(-along[2])
    turn = np.eye(3)
    if np.linalg.norm(off) > 1e-9 and np.linalg.norm(down) > 1e-9:
        turn = _turning(off / np.linalg.norm(off), down / np.linalg.norm(down))
    level = float(np.hypot(*(turn @ line)[:2]))
    at = float(np.dot((turn @ (centre - a))[:2], (turn @ line)[:2])) / max(level**2, 1e-12)
    share = min(1.0, max(0.0, at))
    return Hanging(turn, _leans(turn), (1 - share, share))


def _turning(start: Points, end: Points) -> Points:
    """The least turn (3, 3) that brings one unit vector to another."""
    axis = np.cross(start, end)
    sine, cosine = float(np.linalg.norm(axis)), float(start @ end)
    if sine < 1e-12:
        if cosine > 0:
            return np.eye(3)
        side = np.cross(start, [1.0, 0.0, 0.0] if abs(start[0]) < 0.9 else [0.0, 1.0, 0.0])
        side = side / np.linalg.norm(side)
        return np.asarray(2 * np.outer(side, side) - np.eye(3))
    x, y, z = axis / sine
    cross = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    return np.asarray(np.eye(3) + sine * cross + (1 - cosine) * (cross @ cross))


def _leans(turn: Points) -> float:
    return math.degrees(math.acos(float(np.clip((turn @ np.array([0.0, 0.0, 1.0]))[2], -1.0, 1.0))))


def hang_points(whole: Solid, centre: Points) -> list[tuple[str, list[Points]]]:
    """Where a model may be hung so that it hangs upright: one point above its centre of mass, and two at one height on either
    side of it, as far apart as the model allows there."""
    found: list[tuple[str, list[Points]]] = []
    high = float(whole.bounds[1][2])
    above = whole.ray(np.array([centre[0], centre[1], high + 1.0]), np.array([centre[0], centre[1], centre[2]]))
    if len(above):
        found.append(("one point above its centre of mass", [above[0]]))
    best: tuple[float, list[Points]] | None = None
    low, top = whole.bounds
    for side in (np.array([1.0, 0.0]), np.array([0.0, 1.0])):
        far = 0.5 * float((top[:2] - low[:2]) @ side)
        for share in (0.9, 0.75, 0.6, 0.45, 0.3):
            ends = []
            for sign in (-1, 1):
                x, y = centre[:2] + sign * share * far * side
                hits = whole.ray(np.array([x, y, high + 1.0]), np.array([x, y, centre[2]]))
                if len(hits):
                    ends.append(hits[0])
            if len(ends) == 2 and abs(ends[0][2] - ends[1][2]) < 0.05 * (top[2] - low[2]):
                if best is None or share * far > best[0]:
                    best = share * far, ends
                break
    if best is not None:
        found.append(("two points, as far apart as it has room", best[1]))
    return found


def whole_weight(weights: Sequence[Weight], ballast: Weight | None = None) -> Weight:
    """Of the model with its filling."""
    return combined([*weights, *([ballast] if ballast else [])])

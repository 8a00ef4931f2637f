"""Fingers: a thin wall stands into the other piece in pieces as thick as itself, in notches of a wall or slots of a panel."""

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.findings import Params
from hinoki.core.forms import Form
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import usual_wall
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.base import JointBase, scaled, thinned
from hinoki.core.join.contract.strength import ACROSS_LAYERS, Bears, Strength, Stuff, section_modulus_mm3
from hinoki.core.join.contract.terms import (
    JUST_INSIDE_MM,
    OPENING_MM,
    ROOT_MM,
    Direction,
    FaceRef,
    Place,
    Problem,
    Sections,
    SideName,
    Standing,
    Taken,
    Tool,
    Tools,
    direction_of,
)
from hinoki.core.join.contract.wall_runs import WallBox, as_area, even_places, touching, wall_at, wall_runs
from hinoki.core.workshop.fits import Fit

MOST_THROUGH_MM = 12.0
"""what is thicker is no thin wall, and behind the face no panel to be gone through"""
DEEP_WALLS = 2.0
"""how deep fingers go where they do not go through, in times the wall"""
WIDE_WALLS, LEAST_WIDE_MM = 3.0, 6.0
"""a finger is about three times as wide as thick (common practice: one to three times), and wide enough to hold"""
MOST_FINGERS = 20
PANEL_SHARE = 0.3
"""of a finger's section: where there is so much more beside it, the other piece is a panel there and no wall"""
LEVELS = (0.02, 0.25, 0.5, 0.75, 1.0)
"""where a wall that leans is followed, in times the depth"""
BESIDE_MM = 0.3
"""what the box of a finger is wider than the wall, so that none of that is left"""
PARALLEL = 0.9999
STRAIGHT_MM = 0.05
FLOOR_AT = (0.0, 0.5, 1.0)
"""shares of the least floor at which it is looked for"""
HALF_A_WALL = 0.5
A_HAIR = 0.99
SPANS = 0.2
"""what is too thin counts from such a share of the square of two lines"""


@dataclass(frozen=True)
class _Finger:
    """One finger: its section at the face, the outline of all it takes of the other piece, how deep; whether that piece is a
    panel there, and gone through; the way across the wall (2,)."""

    section: Polygon
    outline: Polygon
    deep_mm: float
    panel: bool
    through: bool
    inward: Points


class FingerJoint(JointBase, frozen=True):
    """Fingers on side `on`, as thick as its wall and `width_mm` wide along it, that replace what the other piece has there."""

    words: ClassVar[Mapping[str, str]] = {
        "joint-finger-wall": "meets less than half of its wall in the other piece. Move it, or make it shorter.",
        "joint-under-line": (
            "leaves only {wall_mm:.2f} mm of the other piece at its {what}; two printed lines are {least_mm:g} mm. Let it go "
            "through, or move it."
        ),
        "joint-finger-close": (
            "is {between_mm:.1f} mm from the next one, or from the end of the wall; {least_mm:g} mm are wanted. Make them "
            "narrower, or fewer."
        ),
    }

    form: ClassVar[Form] = Form(
        "Fingers",
        "Finger joint: fingers, or tabs in slots",
        ("count", "width_mm", "depth_mm", "on"),
        when="Thin walls that meet at a corner or end to end, from 1.2 mm. Their ends are seen from outside.",
        beside_fit=("count", "depth_mm", "on"),
    )

    kind: Literal["finger"] = "finger"
    on: SideName = Field("a", title="Stand on")
    count: int = Field(3, ge=1, le=40, title="Count")
    width_mm: Measure = Field(6.0, title="Width", description="along the wall, mm")
    depth_mm: Annotated[float, Field(ge=0.5, le=50, allow_inf_nan=False)] | None = Field(
        None, title="Depth", description="mm; none: through a panel, or twice the wall's thickness into a wall"
    )

    @classmethod
    def sizes(cls, joint_id: str, face: FaceRef, fit: Fit, standing: Standing) -> Iterator[Self]:
        """Fingers over half of the wall's length, wide ones first, on the piece whose wall ends at a panel."""
        runs = wall_runs(standing.shape)
        wall, long = (float(np.median(runs[0].thick_mm)) if runs else np.inf), sum(run.length_mm for run in runs)
        if wall > MOST_THROUGH_MM:
            return
        sides: tuple[SideName, ...] = tuple(s for s in ("a", "b") if meets_panel(standing, s)) or ("a",)
        for wide in (max(LEAST_WIDE_MM, WIDE_WALLS * wall, long / (2 * MOST_FINGERS)), LEAST_WIDE_MM, 2 * wall):
            for on in sides:
                width = round(2 * wide) / 2
                count = int(min(MOST_FINGERS, max(1, long // (2 * width))))
                if width >= 4 * standing.line_mm:
                    yield cls(id=joint_id, face=face, fit=fit, on=on, count=count, width_mm=width)

    @property
    def wanted(self) -> int:
        """The count, or as many as were placed by hand."""
        return self.count if self.places is None else len(self.places)

    @property
    def stands_on(self) -> SideName | None:
        """The side chosen."""
        return self.on

    @property
    def female(self) -> SideName:
        """The side with the notches."""
        return "b" if self.on == "a" else "a"

    @property
    def apart_mm(self) -> float:
        """Two side by side do not touch."""
        return self.width_mm

    def reach_mm(self, side: SideName) -> float:
        """Its depth on the side of the notches."""
        return (self.depth_mm or MOST_THROUGH_MM) if side == self.female else 0.0

    def cut_depth_mm(self, standing: Standing, places: Sequence[Place]) -> float:
        """Of the deepest; what goes through has no gap at its end."""
        fingers = [finger for place in places if (finger := self._finger(standing, place))]
        return max((f.deep_mm + (0.0 if f.through else standing.end_gap_mm) for f in fingers), default=0.0)

    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """The section of a finger at the face."""
        finger = self._finger(standing, place)
        return finger.section if finger else MultiPolygon()

    def _finger(self, standing: Standing, place: Place) -> _Finger | None:
        """The finger at a place; None where no wall is near."""
        wall = wall_at(standing.shape, place)
        if wall is None:
            return None
        box, thick = wall
        section = touching(shapely.intersection(standing.shape, box(self.width_mm / 2, 2 * thick)), shapely.Point(box.at))
        if section is None:
            return None
        through = standing.through(self.female, (float(box.at[0]), float(box.at[1])), None)
        usual = self.depth_mm or DEEP_WALLS * thick
        outline = self._taken(standing, section, box, thick, min(usual, through))
        panel = outline is None  # a wall is notched, never gone through from edge to edge
        goes = panel and through <= MOST_THROUGH_MM and (self.depth_mm is None or self.depth_mm >= through)
        deep = through if goes else usual
        return _Finger(section, section if outline is None else outline, deep, panel, goes, box.inward)

    def _taken(self, standing: Standing, section: Polygon, box: WallBox, thick: float, deep: float) -> Polygon | None:
        """All that a wall of the other piece has over the depth, as a box; None where the other piece is a panel."""
        y = box.across(section)
        if standing.sections is None:
            return box(self.width_mm / 2, *y)
        there, union = section, [section]
        for k, share in enumerate(LEVELS):
            band = box(self.width_mm / 2, y[0] - thick - share * deep, y[1] + thick + share * deep)
            cut = shapely.intersection(standing.sections.section(self.female, share * deep), band)
            now = touching(cut, there.buffer(deep / 4 if k else BESIDE_MM))
            if now is None:
                break
            if now.difference(there.buffer(BESIDE_MM + (deep / 4 if k else 0.0))).area > PANEL_SHARE * section.area:
                return None
            there = now
            union.append(now)
        low, high = box.across(shapely.union_all(union))
        return box(self.width_mm / 2, low - BESIDE_MM, high + BESIDE_MM)

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """A finger on one side and its notch in the other, for each place."""
        each: list[Tool] = []
        for index, place in enumerate(places):
            finger = self._finger(standing, place)
            if finger is not None:
                each += self._one(index, finger, standing)
        return Tools(each)

    def _one(self, index: int, finger: _Finger, standing: Standing) -> list[Tool]:
        gap, deep = standing.clearance_mm, finger.deep_mm
        grown = as_multi(finger.outline.buffer(gap, join_style="mitre"), 1e-6)
        end = deep + (1.0 if finger.through else standing.end_gap_mm)
        return [
            Tool(
                self.on,
                index,
                add=self._drawn(as_multi(finger.outline), -ROOT_MM, deep, standing),
                clipped=True,
                probe=self._drawn(as_multi(finger.outline), JUST_INSIDE_MM, deep, standing),
            ),
            Tool(self.female, index, cut=self._drawn(grown, -OPENING_MM, end, standing)),
        ]

    def _drawn(self, area: MultiPolygon, low: float, high: float, standing: Standing) -> Solid:
        """An area of the face drawn from a height to another, counted into the piece with the notches."""
        levels = (low, high) if self.female == "b" else (-high, -low)
        return Solid.drawn(area, *levels).placed(standing.frame.to_world)

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """Shear of the fingers at the face, between their layers: F = τ · A."""
        area = sum(float(self.footprint(standing, place).area) for place in places)
        return Strength(ACROSS_LAYERS * stuff.shear_mpa * area, "fingers in shear, τ·A")

    def bears(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Bears | None:
        """Bending of the fingers at the face, between their layers: M = σ · Z of each."""
        modulus = sum(section_modulus_mm3(as_multi(self.footprint(standing, place))) for place in places)
        return Bears(ACROSS_LAYERS * stuff.tension_mpa * modulus, "fingers in bending, σ·Z")

    def motions(self, standing: Standing) -> tuple[Direction, ...]:
        """Straight in; where all of them stand in notches of one straight wall, across that, too."""
        straight = direction_of(-standing.frame.n)
        places = self.places or [tuple(map(float, run.middles[len(run.middles) // 2])) for run in wall_runs(standing.shape)]
        fingers = [finger for place in places if (finger := self._finger(standing, place))]  # type: ignore[arg-type]
        if not fingers or any(f.panel or abs(float(f.inward @ fingers[0].inward)) < PARALLEL for f in fingers):
            return (straight,)
        across_it = np.concatenate([run.middles for run in wall_runs(standing.shape)]) @ fingers[0].inward
        if np.ptp(across_it) > STRAIGHT_MM:
            return (straight,)
        x, y = fingers[0].inward
        across = x * standing.frame.u + y * standing.frame.v
        return (straight, direction_of(across), direction_of(-across))

    def room(self, standing: Standing, sections: Sections, taken: Taken) -> shapely.Geometry:
        """The middles of walls, a hair wide, where a finger keeps off the ends of the wall and off what others take."""
        beside = self.width_mm / 2 + max(standing.least_wall_mm, 2 * standing.line_mm)
        shadows = [s.buffer(beside) for s in taken(self.female, self.reach_mm(self.female))]
        shadows.append(shapely.buffer(standing.kept, beside))
        lines: list[Points] = []
        for run in wall_runs(standing.shape):
            points = shapely.points(run.middles)
            good = run.off_ends_mm() >= beside
            # seams that run along the wall, as at a corner of a box, leave it its fingers; those that cross it do not
            along = shapely.linestrings(run.middles[:, None] + beside * np.array([[-1.0], [1.0]]) * run.along[:, None])
            good &= ~np.asarray(shapely.intersects(standing.crossed, along))
            for shadow in shadows:
                good &= ~np.asarray(shapely.intersects(shadow, points))
            middle = run.middles[len(run.middles) // 2]
            through = standing.through(self.female, (float(middle[0]), float(middle[1])), None)
            most = min(self.depth_mm or DEEP_WALLS * float(np.median(run.thick_mm)), A_HAIR * through)
            for share in LEVELS[1:]:
                deep = share * most
                behind = sections.section(self.female, deep)
                good &= np.asarray(shapely.distance(behind, points) <= run.thick_mm / 2 + deep)
            edges = np.flatnonzero(np.diff(np.concatenate([[0], good.astype(int), [0]])))
            lines += [run.middles[a:b] for a, b in zip(edges[::2], edges[1::2], strict=True)]
        return as_area(lines)

    def spread(self, room: MultiPolygon, apart_mm: float) -> list[Place]:
        """Evenly along the walls."""
        return even_places(room, self.wanted, apart_mm)

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """Fingers without a wall to stand in, slots that leave too little of the panel, fingers too close to each other."""
        found: list[Problem] = []
        least = 2 * standing.line_mm
        fingers = [(place, finger) for place in places if (finger := self._finger(standing, place))]
        for place, finger in fingers:
            behind = sections.section(self.female, HALF_A_WALL * finger.deep_mm)
            if shapely.intersection(behind, finger.outline).area < HALF_A_WALL * finger.section.area:
                found.append(Problem("joint-finger-wall", {}, "must-fix", place))
            elif finger.panel:
                found += self._thin(place, finger, behind, standing)
            elif (floor := self._floor_mm(finger, sections, standing)) < A_HAIR * least:
                params: Params = {"what": "floor", "wall_mm": floor, "least_mm": least}
                found.append(Problem("joint-under-line", params, "must-fix", place))
        for k, (place, finger) in enumerate(fingers):
            others = [other.section.distance(finger.section) for _, other in fingers[:k]]
            if others and min(others) - 2 * standing.clearance_mm < A_HAIR * least:
                params = {"between_mm": max(0.0, min(others) - 2 * standing.clearance_mm), "least_mm": least}
                found.append(Problem("joint-finger-close", params, "must-fix", place))
        return found

    def _floor_mm(self, finger: _Finger, sections: Sections, standing: Standing) -> float:
        """How much of its wall a notch leaves under it, up to two printed lines; the wall may lean."""
        least, low = 2 * standing.line_mm, finger.deep_mm + standing.end_gap_mm
        around = finger.outline.buffer(least)
        for share in FLOOR_AT:
            behind = sections.section(self.female, low + share * least)
            if shapely.intersection(behind, around).area < HALF_A_WALL * finger.section.area:
                return share * least
        return least

    def _thin(self, place: Place, finger: _Finger, behind: MultiPolygon, standing: Standing) -> Iterator[Problem]:
        """What a slot leaves of a panel beside it, and under it."""
        least, gap = 2 * standing.line_mm, standing.clearance_mm
        if not finger.through:
            left = standing.through(self.female, place, None) - finger.deep_mm - standing.end_gap_mm
            if left < A_HAIR * least:
                yield Problem(
                    "joint-under-line", {"what": "floor", "wall_mm": max(0.0, left), "least_mm": least}, "must-fix", place
                )
        slot = finger.section.buffer(gap, join_style="mitre")
        near = as_multi(shapely.difference(shapely.intersection(behind, slot.buffer(2 * least)), slot), 1e-3)
        kept = near.buffer(-A_HAIR * least / 2).buffer(A_HAIR * least / 2 + 1e-6)
        # what is cut off from the panel round the slot is thin only where the panel ends
        ends = shapely.intersection(shapely.difference(near, kept), slot.buffer(least / 2))
        thin = [p for p in as_multi(ends, 1e-3).geoms if p.area > SPANS * least**2]
        if thin:
            wide = max(float(p.area / max(p.length / 2, 1e-6)) for p in thin)
            yield Problem("joint-under-line", {"what": "side", "wall_mm": wide, "least_mm": least}, "must-fix", place)

    def thinner(self, by_mm: float) -> Self | None:
        """Narrower."""
        return thinned(self, by_mm, ("width_mm",))

    def smaller(self) -> Self | None:
        """Four fifths of its width, in steps of 0.1 mm."""
        return scaled(self, ("width_mm",), 2.0)

    def label(self) -> str:
        """Such as “5 fingers 8 wide”."""
        deep = f", {self.depth_mm:g} deep" if self.depth_mm is not None else ""
        return f"{self.wanted} {'finger' if self.wanted == 1 else 'fingers'} {self.width_mm:g} wide{deep}"


def meets_panel(standing: Standing, on: SideName) -> bool:
    """Whether the wall of the piece on a side ends at a panel of the other piece that it could go through."""
    if (usual_wall(standing.shape) or math.inf) > MOST_THROUGH_MM:  # the walls of a full face are far apart, and many
        return False
    runs = wall_runs(standing.shape)
    if not runs:
        return False
    middle = runs[0].middles[len(runs[0].middles) // 2]
    one = FingerJoint(id="j1", face=FaceRef(parting="", member=0, a="", b=""), on=on, count=1)
    finger = one._finger(standing, (float(middle[0]), float(middle[1])))
    return finger is not None and finger.panel and finger.through

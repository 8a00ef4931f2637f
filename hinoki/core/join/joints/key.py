"""Butterfly key: a loose double dovetail let into both pieces from a surface the seam runs over."""

from collections.abc import Callable, Mapping, Sequence
from typing import ClassVar, Literal, Self

import numpy as np
import shapely
from pydantic import Field, model_validator
from shapely.geometry import LinearRing, MultiPolygon

from hinoki.core.forms import Form
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.base import SHARES, JointBase, Small, Spares, scaled
from hinoki.core.join.contract.outline import Spot, Spots, rings_of, spot_at, spots_on
from hinoki.core.join.contract.point_spacing import spread
from hinoki.core.join.contract.strength import Strength, Stuff
from hinoki.core.join.contract.terms import (
    JUST_INSIDE_MM,
    SIDES,
    Direction,
    Loose,
    Place,
    Problem,
    Sections,
    SideName,
    Standing,
    Taken,
    Tool,
    Tools,
)

LEAD_MM = 0.3
"""chamfer of a key's lower edge, which goes in first"""


class KeyJoint(JointBase, frozen=True):
    """Keys `length_mm` long across the seam, `end_mm` wide at their ends and `waist_mm` in the middle."""

    words: ClassVar[Mapping[str, str]] = {
        "joint-key-bend": (
            "lies where the surface bends by {bend_mm:.1f} mm over its width: part of it stands out or lies too deep. Use a "
            "narrower one, or another place."
        ),
        "joint-key-slope": "has flanks of 1 : {one_to:.1f}; from 1 : 5 to 1 : 8 hold well.",
        "joint-under-line": "has a waist under two printed lines. Make it wider.",
    }

    form: ClassVar[Form] = Form(
        "Keys",
        "Butterfly keys, loose",
        ("count", "surface", "length_mm", "end_mm", "waist_mm", "thickness_mm", "below_mm", "spares"),
        when="Draw the pieces together from a hidden side, such as the underside.",
        words={"surface": {"under": "the underside", "inside": "the inside", "outside": "the outside"}},
        beside_fit=("count", "surface", "spares"),
    )

    takes_glue: ClassVar[bool] = False
    pulls: ClassVar[bool] = True

    kind: Literal["key"] = "key"
    count: int = Field(2, ge=1, le=40, title="Count")
    length_mm: Measure = Field(10.0, title="Length", description="across the seam, mm")
    end_mm: Measure = Field(6.0, title="Ends", description="width, mm")
    waist_mm: Measure = Field(4.0, title="Waist", description="width, mm")
    thickness_mm: Measure = Field(3.0, title="Thickness", description="mm")
    below_mm: Small = Field(0.0, title="Below the surface", description="mm")
    surface: Literal["under", "inside", "outside"] = Field("under", title="Let in from", description="where places are sought")

    spares: Spares | None = Field(None, title="Spares", description="printed beyond those needed; none: by their size")

    @model_validator(mode="after")
    def _has_a_waist(self) -> "KeyJoint":
        if self.waist_mm > self.end_mm - 0.2:
            raise ValueError("the waist of a butterfly key must be narrower than its ends, by 0.2 mm at least")
        return self

    @property
    def wanted(self) -> int:
        """The count, or as many as were placed by hand."""
        return self.count if self.places is None else len(self.places)

    @property
    def spares_wanted(self) -> int | None:
        """As typed."""
        return self.spares

    @property
    def apart_mm(self) -> float:
        """Two keys side by side do not touch."""
        return self.end_mm

    @property
    def deep_mm(self) -> float:
        """From the surface to the key's lower side."""
        return self.below_mm + self.thickness_mm

    @property
    def slope(self) -> float:
        """How much each flank leans: 1 : 1/slope."""
        return (self.end_mm - self.waist_mm) / self.length_mm

    @property
    def area_mm2(self) -> float:
        """Two trapezoids."""
        return (self.end_mm + self.waist_mm) / 2 * self.length_mm

    def reach_mm(self, side: SideName) -> float:
        """Half of it on either side."""
        return self.length_mm / 2

    def half_at(self, y: float, grown: float) -> float:
        """Half its width at `y` from the seam, its flanks moved outwards by `grown`."""
        return self.waist_mm / 2 + self.slope * abs(y) + grown * float(np.hypot(self.slope, 1.0))

    def ring(self, grown: float, side: SideName | None = None, seam: float = 0.0) -> Points:
        """Its outline (n, 2) along and across the seam, grown; of one side only, from `seam` on, where that is named."""
        end = self.length_mm / 2 + grown
        wide, waist = self.half_at(end, grown), self.half_at(seam, grown)
        if side is None:
            waist = self.half_at(0.0, grown)
            return np.array([[waist, 0.0], [wide, end], [-wide, end], [-waist, 0.0], [-wide, -end], [wide, -end]])
        if side == "b":
            return np.array([[waist, seam], [wide, end], [-wide, end], [-waist, seam]])
        return np.array([[-waist, -seam], [-wide, -end], [wide, -end], [waist, -seam]])

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """Tension of the waists, along the layers of a key that printed flat: F = n · σ · waist · thickness."""
        return Strength(len(places) * stuff.tension_mpa * self.waist_mm * self.thickness_mm, "waists in tension, σ·A")

    def thinner(self, by_mm: float) -> Self | None:
        """Its outline drawn inwards, and its underside up."""
        lean = (self.end_mm - self.waist_mm) / self.length_mm
        waist, long = self.waist_mm - 2 * by_mm * float(np.hypot(lean, 1.0)), self.length_mm - 2 * by_mm
        thick = self.thickness_mm - by_mm
        if min(waist, long, thick) < 0.8:
            return None
        sizes = {"waist_mm": waist, "end_mm": waist + lean * long, "length_mm": long, "thickness_mm": thick}
        return self.model_copy(update={name: round(size, 6) for name, size in sizes.items()})

    def spot(self, standing: Standing, place: Place) -> Spot:
        """Where on the outline a key sits: the point nearest to `place`."""
        return spot_at(standing.shape, place, self.end_mm / 2, self.deep_mm + 2.0)

    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """What its waist takes of the face."""
        spot = self.spot(standing, place)
        half = self.waist_mm / 2
        corners = [(-half, 0.0), (half, 0.0), (half, self.deep_mm), (-half, self.deep_mm)]
        return shapely.Polygon([spot.at + x * spot.along + z * spot.inward for x, z in corners])

    def room(self, standing: Standing, sections: Sections, taken: Taken) -> shapely.Geometry:
        """The stretches of the outline, on the surface asked for, where a key keeps its walls; a hair wide."""
        half = self.half_at(self.length_mm / 2, standing.clearance_mm) + standing.least_wall_mm
        floor = self.deep_mm + standing.clearance_mm + standing.least_wall_mm
        reach = self.length_mm / 2 + standing.least_wall_mm
        shadows = [s for side in SIDES for s in taken(side, reach)]
        around = [sections.section(side, share * reach) for side in SIDES for share in SHARES]
        corners = [(-half, self.deep_mm / 2), (half, self.deep_mm / 2), (half, floor), (-half, floor)]

        def fit(spots: Spots) -> "np.ndarray":
            """Which of some spots keep their walls, (n,)."""
            blocks = shapely.polygons(np.stack([spots.at + x * spots.along + z * spots.inward for x, z in corners], axis=1))
            within = np.logical_and.reduce([shapely.covers(s, blocks) for s in (standing.shape, *around)])
            for shadow in shadows:
                within &= ~shapely.intersects(shadow, blocks)
            return np.asarray(within)

        for shape in (standing.shape, *around, *shadows):
            shapely.prepare(shape)
        good: list[shapely.Geometry] = []
        for ring, looks_right in self._stretches(standing):
            steps = max(8, min(400, int(ring.length / 1.5)))
            spots = spots_on(ring, np.arange(steps + 1) / steps * ring.length, self.end_mm / 2)
            there = looks_right(spots) & (spots.bend_mm <= self.thickness_mm / 3)
            there[there] = fit(Spots(spots.at[there], spots.along[there], spots.inward[there], spots.bend_mm[there]))
            for k in np.flatnonzero(there):
                beside = k > 0 and there[k - 1]
                good.append(shapely.LineString(spots.at[k - 1 : k + 1]) if beside else shapely.Point(spots.at[k]))
        return shapely.union_all(good).buffer(0.05) if good else MultiPolygon()

    def _stretches(self, standing: Standing) -> list[tuple[LinearRing, Callable[[Spots], "np.ndarray"]]]:
        """The outlines to look along, each with which of its spots are as they must be."""

        def any_will_do(spots: Spots) -> "np.ndarray":
            return np.ones(len(spots.at), dtype=bool)

        rings = rings_of(standing.shape)
        inner = [r for r in rings if not r.is_ccw]
        if self.surface == "inside":
            return [(r, any_will_do) for r in inner]
        if self.surface == "outside":
            return [(r, any_will_do) for r in rings if r.is_ccw]
        down = np.array([-standing.frame.u[2], -standing.frame.v[2]])
        if np.linalg.norm(down) < 0.3:  # a level face has no underside: the inside is hidden better
            return [(r, any_will_do) for r in (inner or rings)]
        return [(r, lambda spots: -spots.inward @ down > 0.9 * np.linalg.norm(down)) for r in rings]

    def spread(self, room: MultiPolygon, apart_mm: float) -> list[Place]:
        """As far from each other along the outline as can be, the first two not at the very ends."""
        return spread(room, self.wanted, apart_mm)

    def matrix(self, frame: Frame, spot: Spot) -> Points:
        """The (3, 4) matrix from (along the seam, across it, inwards) to the world."""
        inward = spot.inward[0] * frame.u + spot.inward[1] * frame.v
        return np.column_stack([np.cross(frame.n, inward), frame.n, inward, frame.world(spot.at[None, :])[0]])

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """A pocket in both pieces and a loose key, for each place."""
        each: list[Tool] = []
        loose: list[Loose] = []
        gap, wall = standing.clearance_mm, standing.least_wall_mm
        floor, low = self.deep_mm + gap, self.below_mm + self.thickness_mm / 2
        for index, place in enumerate(places):
            spot = self.spot(standing, place)
            matrix = self.matrix(standing.frame, spot)
            pocket = Solid.drawn_ring(self.ring(gap), -spot.clear, floor).placed(matrix)
            for side in ("a", "b"):
                bore = self.ring(gap, side, JUST_INSIDE_MM)
                each.append(
                    Tool(
                        side,
                        index,
                        cut=pocket,
                        bore=Solid.drawn_ring(bore, low, floor).placed(matrix),
                        around=Solid.drawn_ring(self.ring(gap + wall, side, JUST_INSIDE_MM), low, floor).placed(matrix),
                        beyond=Solid.drawn_ring(bore, floor, floor + wall).placed(matrix),
                    )
                )
            top = Solid.drawn_ring(self.ring(0.0), self.below_mm, self.deep_mm - LEAD_MM)
            tip = Solid.frustum(self.ring(0.0), self.ring(-LEAD_MM), self.deep_mm - LEAD_MM, self.deep_mm)
            # its lower, chamfered side lies up while it prints
            upright = Frame(matrix[:, 3], matrix[:, 0], matrix[:, 1], matrix[:, 2])
            loose.append(Loose(top.plus([tip]).placed(matrix), upright.to_frame))
        return Tools(each, loose)

    def motions(self, standing: Standing) -> tuple[Direction, ...] | None:
        """Keys go in when the pieces are together, so these can meet any way."""
        return None

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """Keys that are wider than the straight of the seam, slopes that do not hold, a waist too thin to print."""
        found = []
        for place in places:
            bend = self.spot(standing, place).bend_mm
            if bend > self.thickness_mm / 3:
                found.append(Problem("joint-key-bend", {"bend_mm": bend}, at=place))
        if not 1 / 10 <= self.slope <= 1 / 3:
            found.append(Problem("joint-key-slope", {"one_to": 1 / self.slope}, "note"))
        if self.waist_mm < 2 * standing.line_mm:
            found.append(Problem("joint-under-line", {}, "must-fix"))
        return found

    def smaller(self) -> Self | None:
        """Four fifths of its measures, in steps of 0.1 mm."""
        return scaled(self, ("length_mm", "end_mm", "waist_mm", "thickness_mm"), 1.0)

    def label(self) -> str:
        """Such as “2 butterfly keys 10 × 6/4 × 3”."""
        many = f"{self.wanted} butterfly keys" if self.wanted != 1 else "butterfly key"
        return f"{many} {self._measures}"

    def loose_name(self) -> str | None:
        """Such as “butterfly key 10 × 6/4 × 3”."""
        return f"butterfly key {self._measures}"

    @property
    def _measures(self) -> str:
        return f"{self.length_mm:g} × {self.end_mm:g}/{self.waist_mm:g} × {self.thickness_mm:g}"

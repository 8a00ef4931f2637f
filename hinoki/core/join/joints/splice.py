"""Splice plates: loose plates that follow the inner side of a shell and bridge the seam, glued to both pieces."""

import itertools
import math
from collections.abc import Iterator, Mapping, Sequence
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import MultiPolygon

from hinoki.core.findings import Params
from hinoki.core.forms import Form
from hinoki.core.geometry.enclosed import enclosed
from hinoki.core.geometry.frames import Frame, inverted
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.sections import usual_wall
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.base import JointBase, Spares, scaled
from hinoki.core.join.contract.hidden_side import hidden_lines
from hinoki.core.join.contract.inner_plate import BEYOND_MM, LEANS_DEG, InnerPlate, inner_plate
from hinoki.core.join.contract.outline import Spots, rings_of, spot_at, spots_on
from hinoki.core.join.contract.point_spacing import spread
from hinoki.core.join.contract.strength import GLUE_MPA, Strength, Stuff
from hinoki.core.join.contract.terms import (
    SIDES,
    Direction,
    FaceRef,
    Loose,
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
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.hardware import GLUE_POINT, Hardware

SIZES_MM = ((30.0, 20.0), (24.0, 16.0), (16.0, 12.0), (12.0, 8.0))
"""length across the seam and width along it, large ones first"""
THINNEST_MM, THICKEST_MM = 1.6, 3.0
"""a plate is as thick as the wall, but no thinner and no thicker"""
REACH_MM = 80.0
"""a seam is held by a plate this far along it (common practice, as for other elements)"""
MOST_PLATES = 12
PAST_EARS_MM = 16.0
"""an ear or a collar at a seam that crosses reaches no farther, as a rule, the 45° at its end included"""
STUD_WALLS, LEAST_STUD_MM = 1.5, 3.0
"""diameter of a stud in times the plate's thickness"""
STUD_ROOT_MM = 0.3
FLAT_MM = 0.3
"""a plate bent by less lies flat on the bed"""
WHOLE = 0.75
"""share of its volume that a plate has at least where it follows the wall all over"""
STEEP = math.tan(math.radians(60.0))
"""how much a wall may lean to the normal of its face: a plate lies square to the wall, whichever way that leans"""
STEP_MM, ROUNDED_MM = 2.0, 0.05
BAND_STEPS = 15
LEAST_STEPS = 24
WALLED = 0.55
"""of the outline of what an open wall has within it"""
JUST_OFF_MM = 0.2


class SpliceJoint(JointBase, frozen=True):
    """`count` plates on the hidden side of the wall, `length_mm` across the seam and `width_mm` along it."""

    words: ClassVar[Mapping[str, str]] = {
        "joint-splice-bent": (
            "finds no surface it can follow all over: the wall leans by more than {deg:g}°, ends, or another stands too near. "
            "Move it, or make it smaller."
        ),
        "joint-under-line": (
            "is {thickness_mm:g} mm thick; the printer draws lines of {line_mm:g} mm and needs two. Make it thicker."
        ),
    }

    form: ClassVar[Form] = Form(
        "Splice plates",
        "Splice plates, loose, inside",
        ("count", "length_mm", "width_mm", "thickness_mm", "stop_mm", "studs", "spares"),
        when="Thin shells that can be reached from inside; nothing is cut, nothing shows.",
        beside_fit=("count", "spares"),
    )

    pulls: ClassVar[bool] = True

    kind: Literal["splice"] = "splice"
    count: int = Field(2, ge=1, le=40, title="Count")
    length_mm: Measure = Field(20.0, title="Length", description="across the seam, mm")
    width_mm: Measure = Field(14.0, title="Width", description="along the seam, mm")
    thickness_mm: Measure = Field(2.0, title="Thickness", description="mm")
    stop_mm: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] = Field(
        0.0, title="Off other seams", description="where collars or ears of theirs stand inside, mm"
    )
    studs: bool = Field(False, title="Studs", description="on both pieces, that place it: for plates that are hard to hold")
    spares: Spares | None = Field(None, title="Spares", description="printed beyond those needed; none: by their size")

    @classmethod
    def sizes(cls, joint_id: str, face: FaceRef, fit: Fit, standing: Standing) -> Iterator[Self]:
        """As thick as the wall, one for every 80 mm of it, large ones first; then farther off seams that cross."""
        wall = usual_wall(standing.shape) or THICKEST_MM
        inner = _inner(standing)
        count = int(np.clip(np.ceil(sum(part.length for part in inner) / REACH_MM), 2, MOST_PLATES))
        thick = max(THINNEST_MM, round(2 * min(THICKEST_MM, wall)) / 2)
        for off, (long, wide) in itertools.product((0.0, PAST_EARS_MM), SIZES_MM if inner else ()):
            sizes = {"length_mm": long, "width_mm": wide, "thickness_mm": thick, "stop_mm": off}
            yield cls.model_validate({"id": joint_id, "face": face, "fit": fit, "count": count, **sizes})

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
        """Two beside each other do not touch."""
        return self.width_mm

    @property
    def within_face(self) -> bool:
        """It lies beside the face."""
        return False

    @property
    def stud_mm(self) -> float:
        """Diameter of a stud."""
        return min(max(LEAST_STUD_MM, STUD_WALLS * self.thickness_mm), self.width_mm / 2)

    def reach_mm(self, side: SideName) -> float:
        """It goes into neither piece."""
        return 0.0

    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """What a plate covers of the plane of the face: a band along the wall, beside it in the hollow."""
        ring = min(rings_of(standing.shape), key=lambda r: r.distance(shapely.Point(place)))
        at, half = ring.project(shapely.Point(place)), self.width_mm / 2
        marks = np.linspace(at - half, at + half, BAND_STEPS) % ring.length
        spots, gap = spots_on(ring, marks, STEP_MM / 4), standing.clearance_mm
        out = spots.at - (gap + self.thickness_mm) * spots.inward
        corners = np.stack([spots.at[:-1], spots.at[1:], out[1:], out[:-1]], axis=1)
        band = shapely.union_all([shapely.convex_hull(shapely.multipoints(quad)) for quad in corners])
        return shapely.difference(band, standing.shape.buffer(gap))

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """A loose plate for each place; with studs two pins for each, which the pieces gain."""
        each: list[Tool] = []
        loose: list[Loose] = []
        for index, place in enumerate(places):
            plate = self._plate(standing, place)
            if plate is None:
                continue
            solid, way = plate.solid, plate.matrix[:, 2]
            if self.studs:
                studs = self._studs(standing, plate)
                each += [Tool(side, index, add=stud) for side, stud in studs.items()]
                solid = solid.minus([self._stud(plate, sign, standing.clearance_mm) for sign in (-1, 1)])
            x, y, z, at = plate.matrix.T
            lies = Frame(at, x, y, z) if plate.bend_mm <= FLAT_MM else Frame(at, z, x, y)
            loose.append(Loose(solid, lies.to_frame, direction_of(way)))
        return Tools(each, loose)

    def _plate(self, standing: Standing, place: Place) -> InnerPlate | None:
        """The plate at a place; None where the pieces are not known, or no hollow is there."""
        if standing.sections is None:
            return None
        spot = spot_at(standing.shape, place, self.width_mm / 2, self.thickness_mm)
        at, frame = standing.frame.world(spot.at[None])[0], standing.frame
        along = spot.along[0] * frame.u + spot.along[1] * frame.v
        pieces = [standing.sections.solid(side) for side in SIDES]
        size = (self.width_mm, self.length_mm, self.thickness_mm)
        return inner_plate(pieces, at, along, frame.n, size, standing.clearance_mm)

    def _stud(self, plate: InnerPlate, sign: int, grown: float) -> Solid:
        """A stud on one side of the seam, grown; through the plate."""
        reach = self.thickness_mm + 2.0
        return (
            Solid.cylinder(self.stud_mm / 2 + grown, -STUD_ROOT_MM, reach, around=grown > 0)
            .moved(0.0, sign * self.length_mm / 4, self._floor(plate, sign))
            .placed(plate.matrix)
        )

    def _floor(self, plate: InnerPlate, sign: int) -> float:
        """How high the plate's lower side lies where a stud stands."""
        flat = plate.solid.placed(inverted(plate.matrix))
        hits = flat.ray(np.array([0.01, sign * self.length_mm / 4, -1e3]), np.array([0.01, sign * self.length_mm / 4, 1e3]))
        return float(hits[0][2]) if len(hits) else 0.0

    def _studs(self, standing: Standing, plate: InnerPlate) -> dict[SideName, Solid]:
        """The studs of both pieces: no higher than the plate's upper side, and down to the wall."""
        studs: dict[SideName, Solid] = {}
        for side, sign in (("a", -1), ("b", 1)):
            low = self._floor(plate, sign)
            body = Solid.cylinder(
                self.stud_mm / 2, low - standing.clearance_mm / plate.cos - STUD_ROOT_MM, low + self.thickness_mm * plate.cos
            )
            studs[side] = body.moved(0.0, sign * self.length_mm / 4, 0.0).placed(plate.matrix)  # type: ignore[index]
        return studs

    def room(self, standing: Standing, sections: Sections, taken: Taken) -> shapely.Geometry:
        """The stretches of the outline that look into a hollow, hair wide, where a plate has a wall to lie on."""
        gap, half = standing.clearance_mm, self.length_mm / 2
        inner = shapely.union_all(_inner(standing))
        if inner.is_empty:
            return MultiPolygon()
        shapely.prepare(inner)
        depths = [(side, share * half) for side in SIDES for share in (0.5, 1.0)]
        behind = [(sections.section(side, deep), deep) for side, deep in depths]
        good: list[shapely.Geometry] = []
        for ring in rings_of(standing.shape):
            steps = max(LEAST_STEPS, int(ring.length / STEP_MM))
            where = np.arange(steps + 1) / steps * ring.length
            spots = spots_on(ring, where, self.width_mm / 2)
            there = self._free(spots, standing) & self._followed(ring, where)
            there &= np.asarray(shapely.dwithin(inner, shapely.points(spots.at), 0.02))
            for section, deep in behind:
                there &= np.asarray(shapely.distance(section, shapely.points(spots.at)) <= STEEP * deep)
                over = spots.at - (STEEP * deep + gap + self.thickness_mm) * spots.inward
                there &= ~np.asarray(shapely.intersects_xy(section, over))
            there &= self._off_others(spots, standing)
            for k in np.flatnonzero(there):
                joined = k > 0 and there[k - 1]
                good.append(shapely.LineString(spots.at[k - 1 : k + 1]) if joined else shapely.Point(spots.at[k]))
        return shapely.union_all(good).buffer(0.05) if good else MultiPolygon()

    def _followed(self, ring: shapely.LinearRing, where: Points) -> "np.ndarray":
        """At which places along an outline it does not turn away by more than a plate can follow, as at a corner, (n,)."""
        middle = spots_on(ring, where, STEP_MM / 4).along
        there = np.ones(len(where), dtype=bool)
        # so far that a bend at the plate's very edge is seen whole
        far = self.width_mm / 2 + BEYOND_MM + STEP_MM / 4 + ROUNDED_MM
        for share in (-1.0, -0.75, -0.5, -0.25, 0.25, 0.5, 0.75, 1.0):
            beside = spots_on(ring, (where + share * far) % ring.length, STEP_MM / 4).along
            there &= np.einsum("ij,ij->i", middle, beside) >= math.cos(math.radians(LEANS_DEG))
        return there

    def _free(self, spots: Spots, standing: Standing) -> "np.ndarray":
        """Which of some spots have nothing opposite that is too near, (n,)."""
        near, far = JUST_OFF_MM, 2 * (standing.clearance_mm + self.thickness_mm)
        rays = np.stack([spots.at - near * spots.inward, spots.at - far * spots.inward], axis=1)
        return ~np.asarray(shapely.intersects(standing.shape, shapely.linestrings(rays)))

    def _off_others(self, spots: Spots, standing: Standing) -> "np.ndarray":
        """Which of some spots are far enough from hinges and from seams that cross, (n,)."""
        beside = self.width_mm / 2 + max(standing.least_wall_mm, self.stop_mm)
        others = shapely.union_all([standing.kept, standing.crossed])
        if others.is_empty:
            return np.ones(len(spots.at), dtype=bool)
        return ~np.asarray(shapely.dwithin(others, shapely.points(spots.at), beside))

    def spread(self, room: MultiPolygon, apart_mm: float) -> list[Place]:
        """As far from each other along the wall as can be."""
        return spread(room, self.wanted, apart_mm)

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """Shear of the glue under half of every plate, or tension of the plates where that is less: F = τ · A, σ · A."""
        glue = GLUE_MPA * self.width_mm * self.length_mm / 2
        plate = stuff.tension_mpa * self.width_mm * self.thickness_mm
        how = "glue under the plates in shear, τ·A" if glue <= plate else "plates in tension, σ·A"
        return Strength(len(places) * min(glue, plate), how)

    def motions(self, standing: Standing) -> tuple[Direction, ...] | None:
        """Plates are glued in when the pieces are together, or to the first of them."""
        return None

    def hardware(self, standing: Standing, places: Sequence[Place]) -> list[Hardware]:
        """Two places to glue for each."""
        return [Hardware(GLUE_POINT, 2 * len(places))] if places else []

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """Plates that find no wall to lie on, or too bent a one; too thin to print."""
        found: list[Problem] = []
        least = 2 * standing.line_mm
        if self.thickness_mm < least:
            params: Params = {"thickness_mm": self.thickness_mm, "line_mm": standing.line_mm}
            found.append(Problem("joint-under-line", params, "must-fix"))
        full = self.width_mm * self.length_mm * self.thickness_mm
        for place in places:
            plate = self._plate(standing, place)
            bent = plate is None or plate.cos < np.cos(np.radians(LEANS_DEG)) - 1e-6
            if plate is None or bent or plate.solid.volume_mm3 < WHOLE * full or len(plate.solid.lumps()) != 1:
                found.append(Problem("joint-splice-bent", {"deg": LEANS_DEG}, "must-fix", place))
        return found

    def smaller(self) -> Self | None:
        """Four fifths of its length and width, in steps of 0.1 mm."""
        return scaled(self, ("length_mm", "width_mm"), 6.0)

    def label(self) -> str:
        """Such as “3 splice plates 20 × 14 × 2”."""
        return f"{self.wanted} splice {'plate' if self.wanted == 1 else 'plates'} {self._measures}"

    @property
    def elements(self) -> str:
        """One of them."""
        return "splice plate"

    def loose_name(self) -> str | None:
        """Such as “splice plate 20 × 14 × 2”."""
        return f"splice plate {self._measures}"

    @property
    def _measures(self) -> str:
        return f"{self.length_mm:g} × {self.width_mm:g} × {self.thickness_mm:g}"


def _inner(standing: Standing) -> list[shapely.Geometry]:
    """The lines at which walls look into what they enclose; where their face goes round nothing, at which they are hidden."""
    room, mouths = enclosed(standing.shape, WALLED, several=True)
    if room.is_empty:
        return [*hidden_lines(standing)]
    lines = shapely.difference(room.boundary, mouths.buffer(0.01)) if not mouths.is_empty else room.boundary
    return [line for line in getattr(lines, "geoms", [lines]) if line.length > 0]

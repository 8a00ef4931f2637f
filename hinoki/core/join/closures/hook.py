"""Snap hooks: cantilevers on one piece that bend as they go into the other, and catch there behind an undercut."""

import itertools
import math
from collections.abc import Iterator, Mapping, Sequence
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
import shapely
from pydantic import Field, model_validator
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.findings import Params
from hinoki.core.forms import Form
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.base import scaled, thinned
from hinoki.core.join.contract.in_collar import COLLAR_WORDS, CollarJoint
from hinoki.core.join.contract.male_side import SidedJoint
from hinoki.core.join.contract.point_spacing import spread
from hinoki.core.join.contract.snap_fits import LEAST_CATCH_MM, OFTEN, Cantilever, Flex, along_n, bent_at, freed_at_once
from hinoki.core.join.contract.strength import ACROSS_LAYERS, Strength, Stuff
from hinoki.core.join.contract.terms import (
    JUST_INSIDE_MM,
    OPENING_MM,
    ROOT_MM,
    FaceRef,
    Place,
    Problem,
    Sections,
    SideName,
    Standing,
    Tool,
    Tools,
)
from hinoki.core.join.contract.wall_runs import towards
from hinoki.core.workshop.fits import Fit

Nose = Annotated[float, Field(ge=0.3, le=10, allow_inf_nan=False)]
LetsGo = Annotated[float, Field(ge=20, le=90, allow_inf_nan=False)]
TOO_SHORT = "a snap hook must be at least twice as long as it is thick, or it breaks before it bends"
LOCKS_DEG = 90.0
LAND_MM = 0.4
"""flat of a nose between its two slopes: a line wide"""
STEPS = 12
"""pieces in which a bent hook is drawn"""
SIZES = ((18.0, 1.8, 6.0), (14.0, 1.8, 6.0), (10.0, 1.8, 5.0))
"""length, thickness and width; thin enough to bend by a nose of 1 mm, thick enough for two lines at the end"""


class HookJoint(SidedJoint, CollarJoint, frozen=True):
    """Hooks on side `on` with a nose that stands out by `nose_mm`, `length_mm` from the face."""

    words: ClassVar[Mapping[str, str]] = {
        "joint-hook-catch": (
            "catches only {catch_mm:.2f} mm: its nose less the clearance. {least_mm:g} mm are wanted. Make the nose larger."
        ),
        "joint-hook-free": (
            "Pushed along the face, all of them come out at once. Let pins or a rim hold the place beside them, or let their "
            "noses look different ways."
        ),
        "joint-under-line": (
            "is {thickness_mm:g} mm thick at its end; the printer draws lines of {line_mm:g} mm and needs two. Make it thicker."
        ),
    }

    form: ClassVar[Form] = Form(
        "Snap hooks",
        "Snap hooks, part of a piece",
        (
            "count", "length_mm", "thick_mm", "wide_mm", "nose_mm", "tapered", "lead_deg", "lets_go_deg", "looks", "used",
            "collar_mm", "collar_runs", "on",
        ),
        when="Lids that click shut and come off again by hand, or, at 90°, never. Where the face has room.",
        words={
            "looks": {"edge": "to the nearest edge", "middle": "away from it", "along": "along it, in turn"},
            "used": {"few": "a few times", "often": "often"},
            **COLLAR_WORDS,
        },
        beside_fit=("count", "lets_go_deg", "looks", "used", "collar_mm", "collar_runs", "on"),
    )  # fmt: skip

    takes_glue: ClassVar[bool] = False
    pulls: ClassVar[bool] = True

    kind: Literal["hook"] = "hook"
    count: int = Field(2, ge=1, le=20, title="Count")
    length_mm: Measure = Field(14.0, title="Length", description="from the face to the nose, mm")
    thick_mm: Measure = Field(1.8, title="Thickness", description="at its root, mm")
    wide_mm: Measure = Field(6.0, title="Width", description="mm")
    nose_mm: Nose = Field(1.0, title="Nose", description="how far it stands out, mm")
    tapered: bool = Field(True, title="Tapered", description="half as thick at its end: it bends more evenly")
    lead_deg: Annotated[float, Field(ge=10, le=60, allow_inf_nan=False)] = Field(
        30.0, title="Leads in at", description="degrees to its length"
    )
    lets_go_deg: LetsGo = Field(45.0, title="Lets go at", description="degrees to its length; 90: never by pulling")
    looks: Literal["edge", "middle", "along"] = Field("edge", title="Noses look")
    used: Literal["few", "often"] = Field("few", title="Opened", description="often: less strain is permissible")

    @model_validator(mode="after")
    def _bends(self) -> "HookJoint":
        if self.length_mm < 2 * self.thick_mm:
            raise ValueError(TOO_SHORT)
        return self

    @classmethod
    def sizes(cls, joint_id: str, face: FaceRef, fit: Fit, standing: Standing) -> Iterator[Self]:
        """Long ones first: they are strained least; four, three or two of them, on either piece."""
        for long, thick, wide in SIZES:
            for on, count in itertools.product(("auto", "b"), (4, 3, 2)) if thick >= 4 * standing.line_mm else ():
                size = {"count": count, "length_mm": long, "thick_mm": thick, "wide_mm": wide}
                yield cls.model_validate({"id": joint_id, "face": face, "fit": fit, "on": on, **size})

    @property
    def wanted(self) -> int:
        """The count, or as many as were placed by hand."""
        return self.count if self.places is None else len(self.places)

    @property
    def elements(self) -> str:
        """One of them."""
        return "snap hook"

    @property
    def holds_shut(self) -> bool:
        """Opposite a hinge, where there is one."""
        return True

    @property
    def opens(self) -> bool:
        """Where they let go."""
        return self.lets_go_deg < LOCKS_DEG

    @property
    def beam(self) -> Cantilever:
        """What bends."""
        return Cantilever(self.length_mm, self.wide_mm, self.thick_mm, self.tapered)

    @property
    def end_mm(self) -> float:
        """Its thickness at its end."""
        return self.thick_mm / 2 if self.tapered else self.thick_mm

    @property
    def high_mm(self) -> float:
        """From the face to its tip."""
        back = 0.0 if self.lets_go_deg >= LOCKS_DEG else self.nose_mm / math.tan(math.radians(self.lets_go_deg))
        return self.length_mm + back + LAND_MM + self.nose_mm / math.tan(math.radians(self.lead_deg))

    @property
    def half_mm(self) -> float:
        """From its middle to the tip of its nose; it gives way behind it no further."""
        return self.thick_mm / 2 + self.nose_mm

    @property
    def radius_mm(self) -> float:
        """Of the circle around its pocket."""
        return math.hypot(self.half_mm, self.wide_mm / 2)

    @property
    def apart_mm(self) -> float:
        """Two at least do not touch."""
        return 2 * self.radius_mm

    @property
    def least_deep_mm(self) -> float:
        """As deep as two of its thicknesses, where it only stands."""
        return 2 * self.thick_mm

    def bent_mm(self, clearance_mm: float) -> float:
        """How far it is bent as it goes in: its nose less the clearance before it."""
        return max(0.0, self.nose_mm - clearance_mm)

    def flexes(self, standing: Standing) -> Flex | None:
        """Its root, along its length."""
        return self.strained(standing.clearance_mm)

    def strained(self, clearance_mm: float) -> Flex:
        """How far its root is strained as it goes in with a clearance."""
        strain = self.beam.strain(self.bent_mm(clearance_mm))
        return Flex(strain, OFTEN if self.used == "often" else 1.0, "along the normal")

    def eased(self, standing: Standing, share: float) -> Self | None:
        """With a smaller nose, in steps of 0.1 mm."""
        gap = standing.clearance_mm
        nose = math.floor(10 * (self.bent_mm(gap) * share + gap) + 1e-6) / 10
        return self.model_copy(update={"nose_mm": nose}) if nose - gap >= LEAST_CATCH_MM else None

    def reach_mm(self, side: SideName) -> float:
        """Its height on the side it goes into, nothing on the side it grows from."""
        return 0.0 if side == self.male else self.high_mm

    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """Its root."""
        look = self._look(standing, place, 0)
        half, wide = self.thick_mm / 2 * look, self.wide_mm / 2 * np.array([-look[1], look[0]])
        return Polygon([np.array(place) + x * half + y * wide for x, y in ((-1, -1), (1, -1), (1, 1), (-1, 1))])

    def eroded(self, standing: Standing, section: MultiPolygon) -> shapely.Geometry:
        """The section less the circle around its pocket, the clearance and the least wall."""
        away = self.radius_mm + standing.clearance_mm + standing.least_wall_mm
        return shapely.simplify(section, 0.005).buffer(-away - 0.005, quad_segs=8)

    def spread(self, room: MultiPolygon, apart_mm: float) -> list[Place]:
        """As far from each other as can be."""
        return spread(room, self.wanted, apart_mm)

    def _look(self, standing: Standing, place: Place, index: int) -> Points:
        """The way (2,) a nose looks."""
        box, _ = towards(place, standing.shape.boundary)
        if self.looks == "along":
            return np.asarray(box.along if index % 2 == 0 else -box.along)
        return np.asarray(box.inward if self.looks == "edge" else -box.inward)

    def _matrix(self, standing: Standing, place: Place, index: int) -> Points:
        """The matrix (3, 4) from (the way its nose looks, up out of its piece, across) to the world."""
        x, y = self._look(standing, place, index)
        look = x * standing.frame.u + y * standing.frame.v
        up = standing.frame.n if self.male == "a" else -standing.frame.n
        return np.column_stack([look, up, np.cross(look, up), standing.frame.world(np.array([place]))[0]])

    def outline(self, low: float, bent_mm: float = 0.0) -> Points:
        """Its outline (n, 2) from `low` above the face, bent back at its nose by so much; counter-clockwise."""
        front, nose = self.thick_mm / 2, self.half_mm
        lead = self.nose_mm / math.tan(math.radians(self.lead_deg))
        back = front - self.end_mm
        top, beam = self.high_mm, np.arange(STEPS + 1) / STEPS * self.length_mm
        rising = [(front, low), *((front, z) for z in beam[1:])]
        rising += [(nose, top - lead - LAND_MM), (nose, top - lead), (front, top)]
        falling = [(back, top), *((-front + (back + front) * z / self.length_mm, z) for z in beam[:0:-1]), (-front, low)]
        ring = np.array(rising + falling)
        shares = [bent_at(float(z) / self.length_mm) for z in ring[:, 1]]
        return np.asarray(ring - np.column_stack([bent_mm * np.array(shares), np.zeros(len(ring))]))

    def _pocket(self, standing: Standing) -> MultiPolygon:
        """The outline of its pocket: itself with its clearance, and the room in which it bends."""
        gap = standing.clearance_mm
        top = self.high_mm + standing.end_gap_mm
        straight, bent = (Polygon(self.outline(0.0, by)) for by in (0.0, self.bent_mm(gap)))
        grown = [shape.buffer(gap, join_style="mitre") for shape in (straight, bent)]
        behind = min(float(shape.bounds[0]) for shape in grown)
        front = self.thick_mm / 2 + gap
        room = shapely.box(behind, -OPENING_MM, front, top)
        return as_multi(shapely.union_all([room, shapely.intersection(grown[0], shapely.box(0.0, 0.0, 1e3, top))]))

    def _drawn(self, area: MultiPolygon, half: float, matrix: Points) -> Solid:
        return Solid.drawn(area, -half, half).placed(matrix)

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """A hook on one side and its pocket in the other, for each place."""
        gap, wall = standing.clearance_mm, standing.least_wall_mm
        pocket, half, top = self._pocket(standing), self.wide_mm / 2, self.high_mm + standing.end_gap_mm
        hook, probe, bent = (
            as_multi(Polygon(self.outline(low, by)))
            for low, by in ((-ROOT_MM, 0.0), (JUST_INSIDE_MM, 0.0), (-ROOT_MM, self.bent_mm(gap)))
        )
        within = shapely.box(-1e3, JUST_INSIDE_MM, 1e3, top)
        bore = as_multi(shapely.intersection(pocket, within))
        around = as_multi(shapely.intersection(pocket.buffer(wall), within))
        low, high = bore.bounds[0], bore.bounds[2]
        each: list[Tool] = []
        for index, place in enumerate(places):
            matrix = self._matrix(standing, place, index)
            each.append(
                Tool(
                    self.male,
                    index,
                    add=self._drawn(hook, half, matrix),
                    probe=self._drawn(probe, half, matrix),
                    bent=self._drawn(bent, half, matrix),
                )
            )
            each.append(
                Tool(
                    self.female,
                    index,
                    cut=self._drawn(pocket, half + gap, matrix),
                    bore=self._drawn(bore, half + gap, matrix),
                    around=self._drawn(around, half + gap + wall, matrix),
                    beyond=self._drawn(as_multi(shapely.box(low, top, high, top + wall)), half + gap, matrix),
                )
            )
        return Tools(each)

    def forces_n(self, clearance_mm: float, stuff: Stuff) -> tuple[float, float]:
        """What presses one hook in, and what lets it go: the force with which its slope bends it; never more than tears it off
        between layers."""
        across = self.beam.force_n(self.bent_mm(clearance_mm), stuff.modulus_mpa)
        return along_n(across, self.lead_deg), min(along_n(across, self.lets_go_deg), self._tears_n(stuff))

    def _tears_n(self, stuff: Stuff) -> float:
        """What tears one off at its end, between layers."""
        return ACROSS_LAYERS * stuff.tension_mpa * self.wide_mm * self.end_mm

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """What pulls them off: the force with which their slopes bend them; never more than tears them off between layers."""
        _, slope = self.forces_n(standing.clearance_mm, stuff)
        how = "hooks let go, P (μ + tan α) / (1 − μ tan α)" if slope < self._tears_n(stuff) else "hooks in tension, σ·A"
        return Strength(len(places) * slope, how)

    def catches(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> list[tuple[Place, float]]:
        """At each, what lets it go."""
        holds = self.strength(standing, places, stuff)
        return [(place, holds.newtons / len(places)) for place in places] if holds else []

    def closing(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """What presses them in: the slopes of their noses bend all of them at once."""
        one, _ = self.forces_n(standing.clearance_mm, stuff)
        return Strength(len(places) * one, "hooks go in, P (μ + tan α) / (1 − μ tan α)")

    def faults(self, clearance_mm: float, line_mm: float) -> list[Problem]:
        """What is wrong by its figures, wherever it stands: a nose that hardly catches, an end too thin to print."""
        found: list[Problem] = []
        catch = self.nose_mm - clearance_mm
        if catch < LEAST_CATCH_MM:
            params: Params = {"catch_mm": max(0.0, catch), "least_mm": LEAST_CATCH_MM}
            found.append(Problem("joint-hook-catch", params, "must-fix"))
        if self.end_mm < 2 * line_mm - 1e-6:
            params = {"thickness_mm": self.end_mm, "line_mm": line_mm}
            found.append(Problem("joint-under-line", params, "must-fix"))
        return found

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """Noses that hardly catch, ends too thin to print, and hooks that one push along the face frees."""
        found = self.faults(standing.clearance_mm, standing.line_mm)
        looks = [self._look(standing, place, k) for k, place in enumerate(places)]
        room = -self.thick_mm / 2 - float(self._pocket(standing).bounds[0])  # behind its root, which cannot bend away
        free = places and room >= self.bent_mm(standing.clearance_mm) - 1e-6
        if free and freed_at_once(np.array(places), np.array(looks)):
            found.append(Problem("joint-hook-free", {}, "note"))
        return found

    def thinner(self, by_mm: float) -> Self | None:
        """Thinner and narrower; its nose stands out as far."""
        return thinned(self, by_mm, ("thick_mm", "wide_mm"))

    def smaller(self) -> Self | None:
        """Four fifths of its length and width, in steps of 0.1 mm; as thick, so that it prints."""
        return scaled(self, ("length_mm", "wide_mm"), max(3.0, 3 * self.thick_mm))

    def label(self) -> str:
        """Such as “3 snap hooks 14 × 6 × 1.8”."""
        hooks = "snap hook" if self.wanted == 1 else "snap hooks"
        return f"{self.wanted} {hooks} {self.length_mm:g} × {self.wide_mm:g} × {self.thick_mm:g}"

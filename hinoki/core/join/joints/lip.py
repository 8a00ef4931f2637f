"""Lip: a rim along the outline of the face, half the wall thick, that goes into a rebate of the other piece.

Along an open wall, as that of a bowl cut in two, it stops before the ends and where the wall gets too thin.
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Annotated, ClassVar, Literal, Self

import shapely
from pydantic import Field
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.forms import Form
from hinoki.core.geometry.enclosed import enclosed, ends_somewhere
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import least_wall, usual_wall
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.strength import ACROSS_LAYERS, Bears, Strength, Stuff, section_modulus_mm3
from hinoki.core.join.contract.terms import (
    OPENING_MM,
    ROOT_MM,
    Direction,
    Place,
    Problem,
    Sections,
    SideName,
    Standing,
    Tool,
    Tools,
)
from hinoki.core.join.rims.open_walls import DEPTHS, Along, OpenRim
from hinoki.core.join.rims.snap_rim import SNAP_WORDS, STEP_MM, Cover, SnapRim, bead_slabs

THICKEST_MM = 4.0
"""half a wall, but not more: a full face gets a rebate this wide all round"""
ENDS_MM = 2.0
"""what a rim stays from the ends of an open wall, where it would be seen"""
FLOOR, NEAR_MM = 2.5, 0.1
"""a rim that is so many times as large further in, or just beyond its end, has met more than a wall"""
SHORT = 0.5
"""along less of its walls than this a rim holds little"""
SQUEEZED = 0.75
"""depth of the groove for a seal as a share of the seal's section: it is squeezed by a quarter (common practice)"""


class LipJoint(SnapRim, frozen=True):
    """A rim `height_mm` high on side `on`: along the inner or the outer outline, or in the middle of the wall.

    An inner one fills what the other piece has inside its line, an outer one what it has outside, so that both follow walls
    that curve or lean.
    """

    words: ClassVar[Mapping[str, str]] = {
        "joint-lip-side": "has no inner outline to follow and stands in the middle. Let it run so, or outside.",
        "joint-under-line": (
            "leaves the {what} only {wall_mm:.2f} mm thick somewhere; two printed lines are {least_mm:g} mm. Make it lower, "
            "or of another thickness."
        ),
        "joint-lip-floor": (
            "is {high_mm:g} mm high and would take along a floor or a deck that lies so near behind the face. Make it lower, "
            "or let it run outside."
        ),
        "joint-lip-short": (
            "runs along {share:.0%} of the wall only: it needs {need_mm:.1f} mm of wall, and elsewhere there is less, at the "
            "face or as deep as it goes. Make it thinner, or lower."
        ),
        **SNAP_WORDS,
        "joint-seal": "has no room for a seal of {seal_mm:g} mm beside it. Use a thinner one.",
    }

    form: ClassVar[Form] = Form(
        "Lip",
        "Lip, along the outline",
        ("runs", "thickness_mm", "land_mm", "height_mm", "tip_mm", "stop_mm", "snap_mm", "bumps", "seal_mm", "on"),
        when="Shells and boxes: walls find each other. In the middle of a wall it is a tongue along it.",
        words={
            "runs": {"inner": "the inner outline", "outer": "the outer outline", "middle": "the middle of the wall"},
        },
        only_if={
            "land_mm": {"runs": ("middle",)},
            "stop_mm": {"runs": ("inner", "outer")},
            "snap_mm": {"runs": ("inner", "outer")},
            "bumps": {"runs": ("inner", "outer")},
        },
        beside_fit=("runs", "snap_mm", "bumps", "seal_mm", "on"),
    )

    kind: Literal["lip"] = "lip"
    on: SideName = Field("a", title="Stands on")
    thickness_mm: Measure | None = Field(None, title="Thickness", description="mm; none: half the wall")
    land_mm: Measure | None = Field(
        None, title="Off both sides", description="what it leaves of the wall on either side, mm; none: by its thickness"
    )
    stop_mm: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] = Field(
        ENDS_MM, title="Off the ends", description="of an open wall, mm"
    )
    seal_mm: Annotated[float, Field(ge=0, le=3, allow_inf_nan=False)] = Field(
        0.0, title="Round seal", description="section of a seal laid around it, 1 to 3 mm; 0: none"
    )

    @property
    def wanted(self) -> int:
        """It follows the outline, so it needs no place."""
        return 0

    @property
    def stands_on(self) -> SideName | None:
        """The side chosen."""
        return self.on

    @property
    def female(self) -> SideName:
        """The side with the rebate."""
        return "b" if self.on == "a" else "a"

    @property
    def leaves_crumbs(self) -> bool:
        """Where its rebate leaves a wall that leans at a slant."""
        return True

    def reach_mm(self, side: SideName) -> float:
        """Its height on the side of the rebate."""
        return self.height_mm if side == self.female else 0.0

    def thick_mm(self, standing: Standing) -> float:
        """Its thickness: as typed, or half the wall."""
        if self.thickness_mm is not None:
            return self.thickness_mm
        wall = self._wall(standing.shape)
        return max(2 * standing.line_mm, min(THICKEST_MM, wall / 2) if wall else 1.0)

    @staticmethod
    def _wall(shape: MultiPolygon) -> float | None:
        """The thickness that counts: the least of closed walls, the usual one of those that end somewhere."""
        if ends_somewhere(shape):
            return usual_wall(shape)
        least = least_wall(shape)
        return least[0] if least else None

    def cover(self, standing: Standing, grown: float) -> MultiPolygon:
        """The flat area in which all that the other piece has becomes lip, moved outwards by `grown`; a hinge is left out."""
        return self.covers(standing)[0](grown)

    def covers(self, standing: Standing) -> tuple[Cover, Cover]:
        """The same for any `grown`, and where the other piece is cut away; what takes long is worked out once."""
        along = self._along(standing)

        def off_a_hinge(area: MultiPolygon, grown: float) -> MultiPolygon:
            if shapely.is_empty(standing.kept):
                return area
            beside = standing.line_mm + standing.clearance_mm - grown
            return as_multi(shapely.difference(area, shapely.buffer(standing.kept, beside, join_style="mitre")), 1e-3)

        def along_all(grown: float) -> MultiPolygon:
            return off_a_hinge(self._all_round(standing, grown), grown)

        def along_open(area: MultiPolygon) -> Cover:
            return lambda grown: off_a_hinge(as_multi(area.buffer(grown), 1e-3), grown)

        return (along_all, along_all) if along is None else (along_open(along.rim), along_open(along.rebate))

    def _along(self, standing: Standing) -> Along | None:
        """Where it runs along walls that end somewhere; None where it runs all round."""
        rim = OpenRim(self.runs, self.thick_mm(standing), self.height_mm, self.land_mm, self.stop_mm, self.female)
        return rim.along(standing)

    def motions(self, standing: Standing) -> tuple[Direction, ...] | None:
        """Straight; where it runs along one side of an open wall, in any way in which nothing meets."""
        return None if self.runs != "middle" and ends_somewhere(standing.shape) else super().motions(standing)

    def _all_round(self, standing: Standing, grown: float) -> MultiPolygon:
        shape = as_multi(shapely.simplify(standing.shape, 0.003))
        thick = self.thick_mm(standing)
        holes = [Polygon(ring) for part in shape.geoms for ring in part.interiors]
        if self.runs == "inner" and holes:
            return as_multi(shapely.union_all([hole.buffer(thick + grown) for hole in holes]))
        if self.runs == "outer":
            inside = shapely.union_all([Polygon(part.exterior) for part in shape.geoms]).buffer(-(thick + grown))
            x0, y0, x1, y1 = shape.bounds
            far = self.height_mm + 5.0
            return as_multi(shapely.difference(shapely.box(x0 - far, y0 - far, x1 + far, y1 + far), inside))
        wall = least_wall(shape)
        land = thick if wall is None or wall[0] >= 2 * THICKEST_MM else max(0.0, (wall[0] - thick) / 2)
        return as_multi(shape.buffer(-land + grown, join_style="mitre"))

    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """The rim on the face."""
        return as_multi(shapely.intersection(self.cover(standing, 0.0), standing.shape))

    def share(self, standing: Standing) -> float | None:
        """How much of walls that end somewhere it runs along, as a share of their length; None where it runs all round."""
        along = self._along(standing)
        return None if along is None else float(shapely.intersection(along.rim, standing.shape).length / standing.shape.length)

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """The rim on one side, the rebate in the other, and the groove for a seal beside the rim."""
        cover, around = self.covers(standing)
        area = cover(0.0)
        if area.is_empty:
            return Tools()
        gap, tip = standing.clearance_mm, self.chamfer_mm(standing)
        steps = max(1, round(tip / STEP_MM + 0.499)) if tip > 0 else 0
        each = tip / steps if steps else 0.0
        levels = [(-ROOT_MM, self.height_mm - tip, 0.0)]
        levels += [
            (self.height_mm - tip + k * each - 0.001, self.height_mm - tip + (k + 1) * each, -(k + 1) * each)
            for k in range(steps)
        ]
        rim = Solid.united([self._drawn(cover(off), low, high, standing) for low, high, off in levels])
        rebate = around(gap)
        deep = self.height_mm + standing.end_gap_mm
        probe = self._drawn(area, 0.3 * self.height_mm, self.height_mm - tip, standing)
        cut = self._drawn(rebate, -OPENING_MM, deep, standing)
        tools = [Tool(self.on, 0, add=rim, clipped=True, probe=probe), Tool(self.female, 0, cut=cut)]
        if self.bead_mm:
            middle = (self.height_mm - tip) / 2
            slabs = [(o, middle - h, middle + h) for o, h in bead_slabs(self.bead_mm)]
            male, female = self.beaded(standing, (cover, around))
            bead = [self._drawn(male(o), low, high, standing) for o, low, high in slabs]
            groove = [self._drawn(female(gap + o), low - gap, high + gap, standing) for o, low, high in slabs]
            tools[0] = replace(tools[0], add=rim.plus(bead), bent=rim)
            tools[1] = replace(tools[1], cut=cut.plus(groove))
        seal = self.seal_area(standing)
        if not seal.is_empty:
            tools.append(Tool(self.on, 1, cut=self._drawn(seal, -SQUEEZED * self.seal_mm, OPENING_MM, standing)))
        return Tools(tools)

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """Shear of the rim sideways; half of it stands against any one direction: F = τ · A / 2. Of one with a bead no more
        than pulls that out of its groove."""
        area = self.footprint(standing, (0.0, 0.0)).area / 2
        shear = Strength(ACROSS_LAYERS * stuff.shear_mpa * area, "rim in shear, τ·A/2")
        pulled = self.closing(standing, places, stuff)  # its two slopes are alike
        return (
            min(shear, replace(pulled, how="bead lets go, P (μ + tan α) / (1 − μ tan α)"), key=lambda s: s.newtons)
            if pulled
            else shear
        )

    def bears(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Bears | None:
        """Bending of the rim, between its layers: M = σ · Z of its ring."""
        ring = as_multi(self.footprint(standing, (0.0, 0.0)))
        return Bears(ACROSS_LAYERS * stuff.tension_mpa * section_modulus_mm3(ring), "rim in bending, σ·Z")

    def seal_area(self, standing: Standing) -> MultiPolygon:
        """Where the groove for the seal lies: beside the rim, on the land that stays flush."""
        if self.seal_mm <= 0:
            return MultiPolygon()
        cover, _ = self.covers(standing)
        band = shapely.difference(cover(self.seal_mm), cover(0.0))
        return as_multi(shapely.intersection(band, standing.shape), 1e-3)

    def _drawn(self, area: MultiPolygon, low: float, high: float, standing: Standing) -> Solid:
        """An area drawn out along the direction in which the lip stands."""
        if area.is_empty:
            return Solid.nothing()
        levels = (low, high) if self.on == "a" else (-high, -low)
        return Solid.drawn(area, *levels).placed(standing.frame.to_world)

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """A rim or a rebate that gets too thin anywhere over its height, a side of the wall that is not there, a seal
        without room."""
        found = []
        if self.runs == "inner" and enclosed(standing.shape).room.is_empty:
            found.append(Problem("joint-lip-side", {}, "note"))
        found += self.bead_problems(standing)
        share = self.share(standing)
        found += self._too_thin(standing, sections) if share is None else self._short(standing, share)
        found += self._takes_along(standing, sections)
        if self.seal_mm > 0:
            groove, area = self.seal_area(standing), self.cover(standing, 0.0)
            left = shapely.difference(standing.shape, shapely.union(area, groove))
            if groove.is_empty or shapely.is_empty(left) or not groove.buffer(-0.45 * self.seal_mm).length > 0:
                found.append(Problem("joint-seal", {"seal_mm": self.seal_mm}, "must-fix"))
        return found

    def _takes_along(self, standing: Standing, sections: Sections) -> list[Problem]:
        """A floor or a deck just behind the face, which would become rim: all that lies within its line does."""
        if self.runs != "inner":
            return []
        cover = self.cover(standing, 0.0)
        depths = [self.height_mm * share for share in DEPTHS] + [self.height_mm + NEAR_MM]
        areas = [float(shapely.intersection(sections.section(self.female, d), cover).area) for d in depths]
        if max(areas) <= FLOOR * areas[0] + standing.line_mm**2:
            return []
        return [Problem("joint-lip-floor", {"high_mm": self.height_mm}, "must-fix")]

    def _short(self, standing: Standing, share: float) -> list[Problem]:
        """What runs along open walls stops where they are too thin."""
        if share >= SHORT:
            return []
        need = self.thick_mm(standing) + standing.clearance_mm + (4 if self.runs == "middle" else 2) * standing.line_mm
        return [Problem("joint-lip-short", {"share": share, "need_mm": need}, "look-at" if share > 0 else "must-fix")]

    def _too_thin(self, standing: Standing, sections: Sections) -> list[Problem]:
        """A rim all round that leaves too little anywhere over its height."""
        found = []
        cover, around = self.covers(standing)
        area, rebate = cover(0.0), around(standing.clearance_mm + self.bead_mm)
        least = 2 * standing.line_mm
        walls: dict[str, float] = {}
        for share in DEPTHS:
            there = sections.section(self.female, share * self.height_mm)
            for name, shape in (
                ("rim", as_multi(shapely.intersection(there, area), 1e-3)),
                ("wall beside it", as_multi(shapely.difference(there, rebate), 1e-3)),
            ):
                wall = least_wall(shape) if not shape.is_empty else (0.0, None)
                if wall is not None:
                    walls[name] = min(walls.get(name, wall[0]), wall[0])
        for name, wall_mm in walls.items():
            if wall_mm < least - 1e-3:
                found.append(
                    Problem(
                        "joint-under-line",
                        {"what": name, "wall_mm": wall_mm, "least_mm": least},
                        "must-fix" if wall_mm < least / 2 else "look-at",
                    )
                )
        return found

    def smaller(self) -> Self | None:
        """A millimetre lower."""
        return self.model_copy(update={"height_mm": self.height_mm - 1}) if self.height_mm >= 2 else None

    def label(self) -> str:
        """Such as “inner lip, 3 high”."""
        thick = f"{self.thickness_mm:g} × " if self.thickness_mm is not None else ""
        bumps = f"{self.bumps} bump{'s' if self.bumps > 1 else ''}" if self.bumps else "ring snap"
        bead = f" with {bumps} {self.snap_mm:g}" if self.bead_mm else ""
        return f"{self.runs} lip {thick}{self.height_mm:g}{bead}" + (" with seal" if self.seal_mm else "")

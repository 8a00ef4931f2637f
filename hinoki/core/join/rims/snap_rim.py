"""A bead along a rim that clicks into a groove of the other piece: all round, a ring snap, or as a few friction bumps."""

import math
from abc import abstractmethod
from collections.abc import Callable, Sequence
from typing import Annotated, Protocol, Self

import shapely
from pydantic import Field
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.findings import Params
from hinoki.core.geometry.enclosed import ends_somewhere
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.sections import usual_wall
from hinoki.core.join.contract.base import JointBase, Small
from hinoki.core.join.contract.point_spacing import opposite_the_hinge
from hinoki.core.join.contract.snap_fits import BowedSide, Flex, PushedRing, Ring, along_n
from hinoki.core.join.contract.strength import Strength, Stuff
from hinoki.core.join.contract.terms import Place, Problem, Standing
from hinoki.core.join.rims.bumps import Bump, bumps_along, patches
from hinoki.core.join.rims.open_walls import Runs

Cover = Callable[[float], MultiPolygon]
"""an area in the plane of the face, moved outwards by so much"""

STEP_MM = 0.12
"""slopes and chamfers are made in steps no higher than a layer"""
BEAD_LAND_MM, LEAST_BEAD_MM = 0.4, 0.1
"""flat of a bead between its two slopes, a line wide; what catches less lets go by itself"""
ROUND = 0.99
"""area of an outline by that of a circle of its length: what is less is not round"""
SNAP_WORDS = {
    "joint-snap-catch": (
        "catches only {catch_mm:.2f} mm with its bead: that less the clearance. {least_mm:g} mm are wanted. Make it higher."
    ),
    "joint-snap-low": "has no room for its bead: that needs a rim {needs_mm:.1f} mm high. Make it higher.",
    "joint-snap-round": "is not round, so how far its bead strains it is not known. Try it on a fit ladder first.",
    "joint-snap-bumps": "has room for {there} of {wanted} bumps. Wish for fewer.",
}


class GivesWay(Protocol):
    """A rim that is bent as its bead goes in."""

    def strain(self, by_mm: float) -> float:
        """The largest, where it is bent by so much."""

    def force_n(self, by_mm: float, modulus_mpa: float) -> float:
        """What bends it by so much."""


class SnapRim(JointBase, frozen=True):
    """A rim along a wall that may have a bead, all along it or as bumps."""

    runs: Runs = Field("inner", title="Runs along", description="which side of the wall")
    height_mm: Measure = Field(3.0, title="Height", description="mm; about 1.5 times the wall")
    tip_mm: Small = Field(0.5, title="Chamfer", description="at its upper edge, mm")
    snap_mm: Annotated[float, Field(ge=0, le=2, allow_inf_nan=False)] = Field(
        0.0, title="Ring snap", description="bead round it that clicks into a groove, mm; 0: none"
    )
    bumps: int = Field(0, ge=0, le=12, title="As bumps", description="so many short ones, not one all round; 0: all round")

    @abstractmethod
    def thick_mm(self, standing: Standing) -> float:
        """Its thickness."""

    @abstractmethod
    def covers(self, standing: Standing) -> tuple[Cover, Cover]:
        """Where what the other piece has becomes rim, and where it is cut away."""

    def chamfer_mm(self, standing: Standing) -> float:
        """At its upper edge."""
        return min(self.tip_mm, 0.6 * self.height_mm, 0.6 * self.thick_mm(standing))

    @property
    def bead_mm(self) -> float:
        """How far its bead stands out; 0 for one in the middle of a wall, which cannot give way."""
        return 0.0 if self.runs == "middle" else self.snap_mm

    @property
    def opens(self) -> bool:
        """One with a bead is pulled off by hand."""
        return self.bead_mm > 0

    def bumps_at(self, standing: Standing) -> list[Bump]:
        """Where its bumps stand, opposite a hinge where there is one; nothing where its bead runs all round."""
        if not self.bead_mm or not self.bumps:
            return []
        edge = shapely.intersection(self.covers(standing)[0](0.0).boundary, standing.shape.buffer(-0.02))
        merged = shapely.line_merge(opposite_the_hinge(edge, standing))
        return bumps_along(shapely.simplify(merged, 0.02), self.bumps)

    def beaded(self, standing: Standing, covers: tuple[Cover, Cover]) -> tuple[Cover, Cover]:
        """Both covers as its bead has them: all of them, or only where bumps stand, the groove longer by the clearance."""
        if not self.bumps:
            return covers
        gap = standing.clearance_mm
        across, bumps = self.thick_mm(standing) + self.bead_mm + gap, self.bumps_at(standing)

        def within(cover: Cover, there: MultiPolygon) -> Cover:
            return lambda grown: as_multi(shapely.intersection(cover(grown), there), 1e-3)

        rim, rebate = covers
        return within(rim, patches(bumps, across)), within(rebate, patches(bumps, across, gap))

    def _gives_way(self, standing: Standing) -> Sequence[GivesWay] | None:
        """What of it bends as its bead goes in, each by itself; None where that is not known, nothing without a bead."""
        if not self.bead_mm:
            return []
        thick, radius = self.thick_mm(standing), _radius(standing.shape)
        wall = usual_wall(standing.shape) or thick
        if not self.bumps:
            rim = None if radius is None else radius - (wall - thick / 2 if self.runs == "inner" else thick / 2)
            return None if rim is None else [Ring(rim, thick)]
        bumps = self.bumps_at(standing)
        if radius is not None:  # what one bump pushes against is opposite
            return [PushedRing(radius - wall / 2, wall, max(2, len(bumps)))] if bumps else []
        return None if any(bump.cornerless for bump in bumps) else [BowedSide(bump.free_mm, wall) for bump in bumps]

    def _bent_mm(self, standing: Standing) -> float:
        return max(0.0, self.bead_mm - standing.clearance_mm)

    def flexes(self, standing: Standing) -> Flex | None:
        """Round it, as its bead passes the mouth of the rebate."""
        bent = self._gives_way(standing)
        return Flex(max(one.strain(self._bent_mm(standing)) for one in bent), 1.0, "round the face") if bent else None

    def eased(self, standing: Standing, share: float) -> Self | None:
        """With a lower bead, in steps of 0.05 mm."""
        gap = standing.clearance_mm
        bead = math.floor(20 * ((self.bead_mm - gap) * share + gap) + 1e-6) / 20
        return self.model_copy(update={"snap_mm": bead}) if bead - gap >= LEAST_BEAD_MM else None

    def closing(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """What presses the bead past the mouth, at 45°."""
        catches = self.catches(standing, places, stuff)
        return Strength(sum(n for _, n in catches), "bead goes in, P (μ + tan α) / (1 − μ tan α)") if catches else None

    def catches(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> list[tuple[Place, float]]:
        """At each of its bumps; a bead all round where its frame begins."""
        bent, by = self._gives_way(standing), self._bent_mm(standing)
        if not bent:
            return []
        at = [(float(bump.at[0]), float(bump.at[1])) for bump in self.bumps_at(standing)] or [(0.0, 0.0)]
        forces = [one.force_n(by, stuff.modulus_mpa) for one in bent]
        if isinstance(bent[0], PushedRing):
            forces = [forces[0] / bent[0].count] * len(at)
        return [(place, along_n(force, 45.0)) for place, force in zip(at, forces, strict=True)]

    def bead_problems(self, standing: Standing) -> list[Problem]:
        """A bead that hardly catches, has no room over the height, or whose strain is not known."""
        if not self.bead_mm:
            return []
        found, catch = [], self.bead_mm - standing.clearance_mm
        if catch < LEAST_BEAD_MM - 1e-6:
            params: Params = {"catch_mm": max(0.0, catch), "least_mm": LEAST_BEAD_MM}
            found.append(Problem("joint-snap-catch", params, "must-fix"))
        needs = 2 * (self.bead_mm + standing.clearance_mm) + BEAD_LAND_MM + self.chamfer_mm(standing)
        if needs > self.height_mm + 1e-6:
            found.append(Problem("joint-snap-low", {"needs_mm": needs}, "must-fix"))
        there = len(self.bumps_at(standing))
        if there < self.bumps:
            found.append(
                Problem("joint-snap-bumps", {"there": there, "wanted": self.bumps}, "must-fix" if not there else "look-at")
            )
        elif self._gives_way(standing) is None:
            found.append(Problem("joint-snap-round", {}, "note"))
        return found


def _radius(shape: MultiPolygon) -> float | None:
    """The outer radius of a face that is round; None for one that is not, or ends somewhere."""
    outer = shapely.union_all([Polygon(part.exterior) for part in shape.geoms])
    round_ = not ends_somewhere(shape) and 4 * math.pi * outer.area / outer.length**2 >= ROUND
    return math.sqrt(outer.area / math.pi) if round_ else None


def bead_slabs(stands_mm: float) -> list[tuple[float, float]]:
    """A bead with slopes of 45° as slabs no thicker than a layer: how far each stands out, and half its height."""
    steps = max(1, math.ceil(stands_mm / STEP_MM))
    each = stands_mm / steps
    return [((k + 1) * each, BEAD_LAND_MM / 2 + stands_mm - k * each) for k in range(steps)]

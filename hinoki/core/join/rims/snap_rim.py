"""A bead round a rim that clicks into a groove of the other piece: a ring snap."""

import math
from abc import abstractmethod
from collections.abc import Sequence
from typing import Annotated, Self

import shapely
from pydantic import Field
from shapely.geometry import Polygon

from hinoki.core.findings import Params
from hinoki.core.geometry.enclosed import ends_somewhere
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.join.contract.base import JointBase, Small
from hinoki.core.join.contract.snap_fits import Flex, Ring, along_n
from hinoki.core.join.contract.strength import Strength, Stuff
from hinoki.core.join.contract.terms import Place, Problem, Standing
from hinoki.core.join.rims.open_walls import Runs

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
}


class SnapRim(JointBase, frozen=True):
    """A rim along a wall that may have a bead."""

    runs: Runs = Field("inner", title="Runs along", description="which side of the wall")
    height_mm: Measure = Field(3.0, title="Height", description="mm; about 1.5 times the wall")
    tip_mm: Small = Field(0.5, title="Chamfer", description="at its upper edge, mm")
    snap_mm: Annotated[float, Field(ge=0, le=2, allow_inf_nan=False)] = Field(
        0.0, title="Ring snap", description="bead round it that clicks into a groove, mm; 0: none"
    )

    @abstractmethod
    def thick_mm(self, standing: Standing) -> float:
        """Its thickness."""

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

    def _ring(self, standing: Standing) -> Ring | None:
        """The rim with a bead as a ring that gives way all round; None without one, and where it is not round."""
        if not self.bead_mm or ends_somewhere(standing.shape):
            return None
        rim = as_multi(self.footprint(standing, (0.0, 0.0)))
        outer = shapely.union_all([Polygon(part.exterior) for part in rim.geoms])
        if rim.is_empty or 4 * math.pi * outer.area / outer.length**2 < ROUND:
            return None
        thick = self.thick_mm(standing)
        return Ring(math.sqrt(outer.area / math.pi) - thick / 2, thick)

    def flexes(self, standing: Standing) -> Flex | None:
        """Round it, as its bead passes the mouth of the rebate."""
        ring = self._ring(standing)
        return Flex(ring.strain(max(0.0, self.bead_mm - standing.clearance_mm)), 1.0, "round the face") if ring else None

    def eased(self, standing: Standing, share: float) -> Self | None:
        """With a lower bead, in steps of 0.05 mm."""
        gap = standing.clearance_mm
        bead = math.floor(20 * ((self.bead_mm - gap) * share + gap) + 1e-6) / 20
        return self.model_copy(update={"snap_mm": bead}) if bead - gap >= LEAST_BEAD_MM else None

    def closing(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """What presses the bead past the mouth, at 45°."""
        ring = self._ring(standing)
        if ring is None:
            return None
        force = ring.force_n(max(0.0, self.bead_mm - standing.clearance_mm), stuff.modulus_mpa)
        return Strength(along_n(force, 45.0), "bead goes in, P (μ + tan α) / (1 − μ tan α)")

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
        if self._ring(standing) is None:
            found.append(Problem("joint-snap-round", {}, "note"))
        return found


def bead_slabs(stands_mm: float) -> list[tuple[float, float]]:
    """A bead with slopes of 45° as slabs no thicker than a layer: how far each stands out, and half its height."""
    steps = max(1, math.ceil(stands_mm / STEP_MM))
    each = stands_mm / steps
    return [((k + 1) * each, BEAD_LAND_MM / 2 + stands_mm - k * each) for k in range(steps)]

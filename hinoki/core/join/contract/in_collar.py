"""What joints share that may stand in a collar inside the hollow of a thin shell: all along its wall, or as ears."""

from abc import abstractmethod
from typing import Annotated, Literal

import shapely
from pydantic import Field

from hinoki.core.join.contract.base import JointBase
from hinoki.core.join.contract.terms import NOWHERE, SIDES, CollarWish, Place, SideName, Standing
from hinoki.core.join.contract.wall_runs import towards

CollarRuns = Literal["along", "ears"]
Thick = Annotated[float, Field(ge=0, le=40, allow_inf_nan=False)]
EAR_MM = 1.0
"""what an ear is wider, beyond the least wall round what stands in it"""
COLLAR_WORDS = {"collar_runs": {"along": "all along the wall", "ears": "as ears, one at each"}}


class CollarJoint(JointBase, frozen=True):
    """A joint with places that may have a collar to stand in."""

    collar_mm: Thick = Field(
        0.0,
        title="Collar",
        description="ring inside the hollow of a thin shell, or a post in its corner, that they stand in, mm thick; 0: none",
    )
    collar_runs: CollarRuns = Field("along", title="Collar runs", description="ears are lighter, a ring is stiffer")

    @property
    @abstractmethod
    def radius_mm(self) -> float:
        """Of the circle around one of them."""

    @property
    def least_deep_mm(self) -> float:
        """How deep a collar is at least, on a side without a bore too."""
        return 0.0

    def collar(self, standing: Standing) -> CollarWish | None:
        """As thick as was typed, and deep enough for the bores and the least wall at their ends."""
        if self.collar_mm <= 0:
            return None
        deep: dict[SideName, float] = {}
        for side in SIDES:
            reach = self.reach_mm(side)
            bored = reach + standing.end_gap_mm + standing.least_wall_mm if reach > 0 else 0.0
            deep[side] = max(self.least_deep_mm, bored)
        ears = self.collar_runs == "ears"
        return CollarWish(self.collar_mm, deep, self.ear_mm(standing) if ears else None, squared=ears)

    @property
    def _shut_in_ears(self) -> bool:
        return self.holds_shut and self.collar_mm > 0 and self.collar_runs == "ears"

    @property
    def placed_after(self) -> int:
        """What holds a lid shut in ears is there before a rim, which leaves them out."""
        return 1 if self._shut_in_ears else super().placed_after

    def keeps(self, standing: Standing, place: Place) -> shapely.Geometry:
        """Of what holds a lid shut its ear, as far as the wall that bears it."""
        if not self._shut_in_ears:
            return NOWHERE
        outside = shapely.union_all([part.exterior for part in standing.shape.geoms])
        # square to the wall, so that what stops at it does not end in an edge
        box, long = towards(place, outside)
        half = self.ear_mm(standing)
        return box(half, -half, long + EAR_MM)

    def ear_mm(self, standing: Standing) -> float:
        """How far along the wall an ear reaches from the place of what stands in it."""
        return self.radius_mm + standing.clearance_mm + standing.least_wall_mm + EAR_MM

"""Flat parting: one plane, square to an axis or tilted."""

import math
from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from hinoki.core.frames import Frame, plane_frame
from hinoki.core.mesh import Points
from hinoki.core.partings.base import SKIN_MM, Cut, Member, PartingBase, axis_vector, sides_of
from hinoki.core.solid import Solid

Length = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
Tilt = Annotated[float, Field(ge=-89, le=89, allow_inf_nan=False)]
OTHER_AXES = {"x": ("y", "z"), "y": ("z", "x"), "z": ("x", "y")}


class FlatParting(PartingBase, frozen=True):
    """A plane square to `axis` at `at_mm`, tilted about the two other axes through `pivot_mm`."""

    kind: Literal["flat"] = "flat"
    axis: Literal["x", "y", "z"] = Field("z", title="Axis")
    at_mm: Length = Field(title="Position")
    tilt_deg: tuple[Tilt, Tilt] = Field((0.0, 0.0), title="Tilt", description="about the two other axes, in turn")
    pivot_mm: tuple[Length, Length] = Field((0.0, 0.0), title="Where the tilt turns, on the two other axes")

    @property
    def frame(self) -> Frame:
        """The plane's frame; its normal points along the axis when not tilted."""
        first, second = (axis_vector(a) for a in OTHER_AXES[self.axis])
        normal = _turned(_turned(axis_vector(self.axis), first, self.tilt_deg[0]), second, self.tilt_deg[1])
        point = axis_vector(self.axis) * self.at_mm + first * self.pivot_mm[0] + second * self.pivot_mm[1]
        return plane_frame(point, normal)

    def members(self, low: Points, high: Points) -> list[Member]:  # noqa: ARG002
        """The one plane."""
        return [Member(0, self.frame)]

    def cut(self, solid: Solid, members: Sequence[Member]) -> list[Cut]:
        """Above (`+`) and below (`-`)."""
        frame = members[0].frame
        low, high = sides_of(solid, frame)
        if low > -SKIN_MM or high < SKIN_MM:
            return [Cut("", solid, ())]
        above, below = solid.split(frame)
        if above.empty or below.empty:
            return [Cut("", solid, ())]
        return [Cut("-", below, ((0, -1),)), Cut("+", above, ((0, 1),))]

    def label(self) -> str:
        """Such as “Flat · Z 118.0”."""
        tilted = " tilted" if any(self.tilt_deg) else ""
        return f"Flat{tilted} · {self.axis.upper()} {self.at_mm:.1f}"


def _turned(vector: Points, about: Points, degrees: float) -> Points:
    """Rodrigues' rotation of `vector` about the unit vector `about`."""
    a = math.radians(degrees)
    return np.asarray(
        vector * math.cos(a) + np.cross(about, vector) * math.sin(a) + about * (about @ vector) * (1 - math.cos(a))
    )

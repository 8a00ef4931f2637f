"""Flat parting: one plane, square to an axis or tilted."""

import math
from collections.abc import Sequence
from typing import Annotated, Any, ClassVar, Literal, Self

import numpy as np
from pydantic import Field

from hinoki.core.divide.partings.base import (
    OTHER_AXES,
    SKIN_MM,
    Cut,
    CutUp,
    Length,
    Member,
    PartingBase,
    Reach,
    axis_vector,
    in_mirror,
    sides_of,
    uncut,
)
from hinoki.core.forms import AXIS_WORDS, Form
from hinoki.core.geometry.filmless_cut import split_at
from hinoki.core.geometry.frames import Frame, crossed, plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid

Axis = Literal["x", "y", "z"]
Tilt = Annotated[float, Field(ge=-89, le=89, allow_inf_nan=False)]


class OnPlane(PartingBase, frozen=True):
    """A plane square to `axis` at `at_mm`, tilted about the two other axes through `pivot_mm`."""

    axis: Axis = Field("z", title="Axis")
    at_mm: Length = Field(title="Position")
    tilt_deg: tuple[Tilt, Tilt] = Field((0.0, 0.0), title="Tilt", description="about the two other axes, in turn")
    pivot_mm: tuple[Length, Length] = Field((0.0, 0.0), title="Where the tilt turns, on the two other axes")

    @property
    def frame(self) -> Frame:
        """The plane's frame; its normal points along the axis when not tilted."""
        first, second = (axis_vector(a) for a in OTHER_AXES[self.axis])
        point = axis_vector(self.axis) * self.at_mm + first * self.pivot_mm[0] + second * self.pivot_mm[1]
        return plane_frame(point, tilted(self.axis, self.tilt_deg))

    def across(self) -> Points:
        """Its normal."""
        return self.frame.n

    def mirrored(self, axis: int, about_mm: float) -> Self:
        """The plane on the other side."""
        frame = self.frame
        there, normal = in_mirror(frame.origin, axis, about_mm), in_mirror(frame.n, axis, 0, direction=True)
        return self.model_copy(update=plane_fields(there, normal))

    def moved(self, shift: Points) -> Self:
        """The plane shifted."""
        frame = self.frame
        return self.model_copy(update=plane_fields(frame.origin + shift, frame.n))

    def place(self) -> str:
        """Such as “Z 118.0”."""
        return f"{self.axis.upper()} {self.at_mm:.1f}"


class FlatParting(OnPlane, frozen=True):
    """A plane through everything."""

    form: ClassVar[Form] = Form("Flat", "flat parting", ("axis", "at_mm", "tilt_deg"), words={"axis": AXIS_WORDS})

    kind: Literal["flat"] = "flat"

    @property
    def cuts_right_through(self) -> bool:
        """Yes."""
        return True

    def members(self, reach: Reach) -> list[Member]:  # noqa: ARG002
        """The one plane."""
        return [Member(0, self.frame)]

    def cut(self, solid: Solid, members: Sequence[Member]) -> CutUp:
        """Above (`+`) and below (`-`)."""
        frame = members[0].frame
        low, high = sides_of(solid, frame)
        if low > -SKIN_MM or high < SKIN_MM:
            return uncut(solid)
        above, below = split_at(solid, frame)
        if above.empty or below.empty:
            return uncut(solid)
        return CutUp((Cut("-", below, ((0, -1),)), Cut("+", above, ((0, 1),))))

    def label(self) -> str:
        """Such as “Flat · Z 118.0”."""
        return f"Flat{' tilted' if any(self.tilt_deg) else ''} · {self.place()}"


def tilted(axis: Axis, tilt_deg: tuple[float, float]) -> Points:
    """The unit vector of `axis`, turned about the two other axes, in turn."""
    first, second = (axis_vector(a) for a in OTHER_AXES[axis])
    return _turned(_turned(axis_vector(axis), first, tilt_deg[0]), second, tilt_deg[1])


def plane_fields(point: Points, normal: Points) -> dict[str, Any]:
    """The fields of a plane (see OnPlane) through `point` (3,) and square to `normal` (3,), whichever way that looks."""
    n = normal / np.linalg.norm(normal)
    # an axis that is a little longer wins only when it is clearly so: equal ones go to the later axis, Z first
    k = max(range(3), key=lambda i: (round(abs(float(n[i])), 6), i))
    n = n if n[k] > 0 else -n
    axis: Axis = ("x", "y", "z")[k]
    one, two = (int(np.argmax(axis_vector(a))) for a in OTHER_AXES[axis])
    # turning the axis about the first other axis leans it towards the second, and the other way round
    lean_two = math.asin(float(np.clip(-n[two], -1, 1)))
    lean_one = math.atan2(float(n[one]), float(n[k]))
    return {
        "axis": axis,
        "at_mm": round(float(point[k]), 6) + 0.0,
        "tilt_deg": (round(math.degrees(lean_two), 9) + 0.0, round(math.degrees(lean_one), 9) + 0.0),
        "pivot_mm": (round(float(point[one]), 6) + 0.0, round(float(point[two]), 6) + 0.0),
    }


def _turned(vector: Points, about: Points, degrees: float) -> Points:
    """Rodrigues' rotation of `vector` about the unit vector `about`."""
    a = math.radians(degrees)
    return np.asarray(
        vector * math.cos(a) + crossed(about, vector) * math.sin(a) + about * (about @ vector) * (1 - math.cos(a))
    )

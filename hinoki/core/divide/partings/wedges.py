"""Wedges: cuts around an axis, like a cake, with a hub that may be kept whole."""

import math
from collections.abc import Sequence
from itertools import pairwise
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from hinoki.core.divide.partings.base import (
    OTHER_AXES,
    Cut,
    CutUp,
    Length,
    Member,
    PartingBase,
    Reach,
    Turn,
    axis_vector,
    in_mirror,
    spot,
    uncut,
)
from hinoki.core.forms import AXIS_WORDS, Form
from hinoki.core.geometry.filmless_cut import split_at
from hinoki.core.geometry.frames import Frame, plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid

LEAST_DEG = 1.0
Angle = Annotated[float, Field(ge=0, lt=360, allow_inf_nan=False)]


class WedgesParting(PartingBase, frozen=True):
    """Equal wedges around an axis through `through_mm`, or wedges that begin at the angles given one by one."""

    form: ClassVar[Form] = Form(
        "Wedges",
        "wedges",
        ("axis", "through_mm", "count", "start_deg", "hub_mm"),
        words={"axis": AXIS_WORDS},
        only_if={"count": {"angles_deg": (None,)}, "start_deg": {"angles_deg": (None,)}},
    )

    kind: Literal["wedges"] = "wedges"
    axis: Literal["x", "y", "z"] = Field("z", title="Around")
    through_mm: tuple[Length, Length] = Field((0.0, 0.0), title="Axis at", description="on the two other axes")
    count: int = Field(4, ge=2, le=60, title="Wedges")
    start_deg: Turn = Field(0.0, title="First at")
    angles_deg: tuple[Angle, ...] | None = Field(None, min_length=2, max_length=60, title="Angles, one by one")
    hub_mm: Annotated[float, Field(ge=0, le=1e4, allow_inf_nan=False)] = Field(
        0.0, title="Hub", description="radius around the axis that is kept whole; 0 for none"
    )

    @model_validator(mode="after")
    def _apart(self) -> "WedgesParting":
        angles = self.angles
        gaps = [b - a for a, b in pairwise([*angles, angles[0] + 360])]
        if min(gaps) < LEAST_DEG:
            raise ValueError(f"two wedges begin within {LEAST_DEG:g}° of each other; move them apart")
        return self

    @property
    def angles(self) -> list[float]:
        """Where the wedges begin, in degrees, rising."""
        if self.angles_deg is not None:
            return sorted(self.angles_deg)
        return [self.start_deg + 360 * k / self.count for k in range(self.count)]

    def members(self, reach: Reach) -> list[Member]:
        """A plane through the axis for every wedge's beginning; it looks the way the angles rise."""
        first, second = (axis_vector(a) for a in OTHER_AXES[self.axis])
        middle = float(reach.middle["xyz".index(self.axis)])
        point = first * self.through_mm[0] + second * self.through_mm[1] + axis_vector(self.axis) * middle
        turns = [math.radians(a) for a in self.angles]
        normals = [-math.sin(t) * first + math.cos(t) * second for t in turns]
        # a row of zeros is tidied, so that square angles give square planes
        return [Member(k, plane_frame(point, np.where(np.abs(n) < 1e-12, 0.0, n))) for k, n in enumerate(normals)]

    def cut(self, solid: Solid, members: Sequence[Member]) -> CutUp:
        """The wedges that hold anything, named by their number, and the hub (`:h`)."""
        cuts: list[Cut] = []
        rest = solid
        if self.hub_mm > 0:
            inner, outer = solid.cut_by(self._hub(solid, members[0].frame))
            if not inner.empty:
                cuts.append(Cut(":h", inner, (), off=spot(axis_vector(self.axis))))
                rest = outer
        if not rest.empty:
            cuts += self._wedges(rest, members)
        return CutUp(tuple(cuts)) if len(cuts) > 1 else uncut(solid)

    def label(self) -> str:
        """Such as “Wedges · 4 around Z”."""
        hub = f", hub {self.hub_mm:.1f}" if self.hub_mm else ""
        return f"Wedges · {len(self.angles)} around {self.axis.upper()}{hub}"

    def mirrored(self, axis: int, about_mm: float) -> Self:
        """The wedges around the axis on the other side, their angles turned round where the mirror turns them."""
        first, second = (axis_vector(a) for a in OTHER_AXES[self.axis])
        there = in_mirror(first * self.through_mm[0] + second * self.through_mm[1], axis, about_mm)
        angles = self.angles_deg
        through = (round(float(there @ first), 6), round(float(there @ second), 6))
        if "xyz"[axis] == self.axis:
            return self  # the axis stands across the mirror: what goes round it stays as it is
        turn = 180.0 if first[axis] else 0.0
        if angles is not None:
            flipped = tuple(sorted((turn - a) % 360 for a in angles))
            return self.model_copy(update={"through_mm": through, "angles_deg": flipped})
        return self.model_copy(update={"through_mm": through, "start_deg": round(turn - self.start_deg, 9)})

    def moved(self, shift: Points) -> Self:
        """The wedges around a shifted axis."""
        first, second = (axis_vector(a) for a in OTHER_AXES[self.axis])
        through = (self.through_mm[0] + float(shift @ first), self.through_mm[1] + float(shift @ second))
        return self.model_copy(update={"through_mm": through})

    def across(self) -> Points:
        """One of the other axes."""
        return axis_vector(OTHER_AXES[self.axis][0])

    def one(self, rest: Solid, members: Sequence[Member], k: int) -> Cut | None:
        """Wedge number `k` alone; none where it holds nothing."""
        angles, after = self.angles, members[(k + 1) % len(members)]
        span = (angles[(k + 1) % len(angles)] - angles[k]) % 360
        wedge = _between(rest, members[k].frame, after.frame, span)
        return None if wedge.empty else Cut(f":{k}", wedge, _ends(members[k].number, after.number, span))

    def _wedges(self, rest: Solid, members: Sequence[Member]) -> list[Cut]:
        """The wedges one after another, each cut from what is left of its half turn, so that ever less is cut."""
        angles = self.angles
        upper, lower = split_at(rest, members[0].frame)
        cuts = []
        for k, member in enumerate(members):
            after = members[(k + 1) % len(members)]
            span = (angles[(k + 1) % len(angles)] - angles[k]) % 360
            start = angles[k] - angles[0]
            end = start + span
            if end < 180 - 1e-9:
                upper, wedge = split_at(upper, after.frame)
            elif abs(end - 180) <= 1e-9:
                wedge = upper
            elif start < 180 - 1e-9:  # across the half turn
                wedge, lower = _between(rest, member.frame, after.frame, span), split_at(lower, after.frame)[0]
            elif end < 360 - 1e-9:
                lower, wedge = split_at(lower, after.frame)
            else:
                wedge = lower
            if not wedge.empty:
                cuts.append(Cut(f":{k}", wedge, _ends(member.number, after.number, span)))
        return cuts

    def _hub(self, solid: Solid, frame: Frame) -> Solid:
        along = axis_vector(self.axis)
        reach = float(np.linalg.norm(solid.size)) + float(np.abs(solid.centre_of_box - frame.origin).max())
        return Solid.cylinder(self.hub_mm, -reach, reach).placed(plane_frame(frame.origin, along).to_world)


def _between(solid: Solid, start: Frame, end: Frame, span: float) -> Solid:
    """What lies from the half plane of `start` round to that of `end`, `span` degrees further."""
    if abs(span - 180) < 1e-9:
        return split_at(solid, start)[0]
    if span < 180:
        above, _ = split_at(solid, start)
        return split_at(above, end)[1]
    _, below = split_at(solid, start)
    left = split_at(below, end)[0]
    return solid.minus([left])


def _ends(start: int, end: int, span: float) -> tuple[tuple[int, int], ...]:
    """The planes a wedge ends at. Half a turn has one plane, which belongs to the lower number."""
    if abs(span - 180) < 1e-9:
        return ((start, 1),) if start < end else ((end, -1),)
    return ((start, 1), (end, -1))

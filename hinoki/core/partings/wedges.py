"""Wedges: cuts around an axis, like a cake, with a hub that may be kept whole."""

import math
from collections.abc import Sequence
from itertools import pairwise
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from hinoki.core.frames import Frame, plane_frame
from hinoki.core.mesh import Points
from hinoki.core.partings.base import Cut, Member, PartingBase, axis_vector
from hinoki.core.partings.flat import OTHER_AXES, Length
from hinoki.core.solid import Solid

LEAST_DEG = 1.0
Angle = Annotated[float, Field(ge=0, lt=360, allow_inf_nan=False)]


class WedgesParting(PartingBase, frozen=True):
    """Equal wedges around an axis through `through_mm`, or wedges that begin at the angles given one by one."""

    kind: Literal["wedges"] = "wedges"
    axis: Literal["x", "y", "z"] = Field("z", title="Around")
    through_mm: tuple[Length, Length] = Field((0.0, 0.0), title="Axis at", description="on the two other axes")
    count: int = Field(4, ge=2, le=60, title="Wedges")
    start_deg: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)] = Field(0.0, title="First at")
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

    def members(self, low: Points, high: Points) -> list[Member]:
        """A plane through the axis for every wedge's beginning; it looks the way the angles rise."""
        first, second = (axis_vector(a) for a in OTHER_AXES[self.axis])
        middle = float((low + high)["xyz".index(self.axis)] / 2)
        point = first * self.through_mm[0] + second * self.through_mm[1] + axis_vector(self.axis) * middle
        turns = [math.radians(a) for a in self.angles]
        normals = [-math.sin(t) * first + math.cos(t) * second for t in turns]
        # a row of zeros is tidied, so that square angles give square planes
        return [Member(k, plane_frame(point, np.where(np.abs(n) < 1e-12, 0.0, n))) for k, n in enumerate(normals)]

    def cut(self, solid: Solid, members: Sequence[Member]) -> list[Cut]:
        """The wedges that hold anything, named by their number, and the hub (`:h`)."""
        cuts = []
        rest = solid
        if self.hub_mm > 0:
            hub = self._hub(solid, members[0].frame)
            inner = solid.common(hub)
            if not inner.empty:
                cuts.append(Cut(":h", inner, ()))
                rest = solid.minus([hub])
        if not rest.empty:
            cuts += self._wedges(rest, members)
        return cuts if len(cuts) > 1 else [Cut("", solid, ())]

    def label(self) -> str:
        """Such as “Wedges · 4 around Z”."""
        hub = f", hub {self.hub_mm:g}" if self.hub_mm else ""
        return f"Wedges · {len(self.angles)} around {self.axis.upper()}{hub}"

    def _wedges(self, rest: Solid, members: Sequence[Member]) -> list[Cut]:
        angles = self.angles
        cuts = []
        for k, member in enumerate(members):
            after = members[(k + 1) % len(members)]
            span = (angles[(k + 1) % len(angles)] - angles[k]) % 360
            wedge = _between(rest, member.frame, after.frame, span)
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
        return solid.split(start)[0]
    if span < 180:
        above, _ = solid.split(start)
        return above.split(end)[1]
    _, below = solid.split(start)
    left = below.split(end)[0]
    return solid.minus([left])


def _ends(start: int, end: int, span: float) -> tuple[tuple[int, int], ...]:
    """The planes a wedge ends at. Half a turn has one plane, which belongs to the lower number."""
    if abs(span - 180) < 1e-9:
        return ((start, 1),) if start < end else ((end, -1),)
    return ((start, 1), (end, -1))

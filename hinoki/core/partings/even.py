"""Even spacing: a row of flat partings at equal distances."""

import math
from collections.abc import Sequence
from typing import Literal

import numpy as np
from pydantic import Field, model_validator

from hinoki.core.errors import BadPlan
from hinoki.core.frames import plane_frame
from hinoki.core.mesh import Points
from hinoki.core.partings.base import SKIN_MM, Cut, Member, PartingBase, axis_vector, sides_of
from hinoki.core.solid import Solid

MOST_PARTS = 200


class EvenParting(PartingBase, frozen=True):
    """Equal parts along an axis: a number of them, or as many as a greatest length needs."""

    kind: Literal["even"] = "even"
    axis: Literal["x", "y", "z"] = Field("z", title="Axis")
    parts: int | None = Field(None, ge=2, le=MOST_PARTS, title="Parts")
    greatest_mm: float | None = Field(
        None, gt=0, le=1e5, allow_inf_nan=False, title="At most", description="greatest length of a part"
    )

    @model_validator(mode="after")
    def _one_way(self) -> "EvenParting":
        if (self.parts is None) == (self.greatest_mm is None):
            raise ValueError("even spacing needs either a number of parts or a greatest length, not both and not neither")
        return self

    def members(self, low: Points, high: Points) -> list[Member]:
        """Planes that divide `low` … `high` along the axis into equal parts."""
        k = "xyz".index(self.axis)
        length = float(high[k] - low[k])
        count = self.parts or max(1, math.ceil(length / (self.greatest_mm or length) - 1e-9))
        if count > MOST_PARTS:
            raise BadPlan(
                f"Parts of {self.greatest_mm} mm along {self.axis.upper()} would make {count:,} of them; "
                f"{MOST_PARTS} is the most. Choose a greater length.",
                f"parting {self.id}, greatest_mm",
            )
        middle = (low + high) / 2
        planes = []
        for number in range(count - 1):
            point = np.where(np.arange(3) == k, low[k] + length * (number + 1) / count, middle)
            planes.append(Member(number, plane_frame(point, axis_vector(self.axis))))
        return planes

    def cut(self, solid: Solid, members: Sequence[Member]) -> list[Cut]:
        """The slabs from low to high, named by the number of planes below them."""
        rest, slab = solid, 0
        cuts: list[Cut] = []
        ends: list[tuple[int, int]] = []
        for member in members:
            low, high = sides_of(rest, member.frame)
            if low > -SKIN_MM:
                slab = member.number + 1
                continue
            if high < SKIN_MM:
                break
            above, below = rest.split(member.frame)
            if below.empty or above.empty:
                continue
            cuts.append(Cut(f":{member.number}", below, (*ends, (member.number, -1))))
            rest, ends, slab = above, [(member.number, 1)], member.number + 1
        if not cuts:
            return [Cut("", solid, ())]
        return [*cuts, Cut(f":{slab}", rest, tuple(ends))]

    def label(self) -> str:
        """Such as “Even · Z in 4”."""
        how = f"in {self.parts}" if self.parts else f"at most {self.greatest_mm:.1f}"
        return f"Even · {self.axis.upper()} {how}"

"""Even spacing: a row of flat partings at equal distances, along an axis or any direction."""

import math
from collections.abc import Sequence
from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from hinoki.core.divide.partings.base import (
    SKIN_MM,
    Cut,
    CutUp,
    Length,
    Member,
    PartingBase,
    Reach,
    in_mirror,
    sides_of,
    uncut,
)
from hinoki.core.divide.partings.flat import Axis, Tilt, plane_fields, tilted
from hinoki.core.errors import BadPlan
from hinoki.core.forms import AXIS_WORDS, Form
from hinoki.core.geometry.filmless_cut import split_at
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid

MOST_PARTS = 200


class EvenParting(PartingBase, frozen=True):
    """Equal parts along a direction: a number of them, or as many as a greatest length needs.

    Where the first or the last cut is set by hand, the cuts between are even.
    """

    form: ClassVar[Form] = Form(
        "Even spacing",
        "even spacing",
        ("axis", "parts", "greatest_mm", "tilt_deg", "first_mm", "last_mm"),
        words={"axis": AXIS_WORDS},
    )

    kind: Literal["even"] = "even"
    axis: Axis = Field("z", title="Axis")
    tilt_deg: tuple[Tilt, Tilt] = Field((0.0, 0.0), title="Tilt", description="about the two other axes, in turn")
    parts: int | None = Field(None, ge=2, le=MOST_PARTS, title="Parts")
    greatest_mm: float | None = Field(
        None, gt=0, le=1e5, allow_inf_nan=False, title="At most", description="greatest length of a part"
    )
    first_mm: Length | None = Field(None, title="First cut", description="set by hand, along the direction; empty for even")
    last_mm: Length | None = Field(None, title="Last cut", description="set by hand, along the direction; empty for even")

    @model_validator(mode="after")
    def _one_way(self) -> "EvenParting":
        if (self.parts is None) == (self.greatest_mm is None):
            raise ValueError("even spacing needs either a number of parts or a greatest length, not both and not neither")
        if self.first_mm is not None and self.last_mm is not None:
            if self.last_mm <= self.first_mm:
                raise ValueError("the last cut must lie beyond the first; exchange them or move one")
            if self.parts == 2:
                raise ValueError("two parts have one cut only; set the first or the last by hand, not both")
        return self

    @property
    def cuts_right_through(self) -> bool:
        """Yes."""
        return True

    @property
    def direction(self) -> Points:
        """The unit vector along which it counts."""
        return tilted(self.axis, self.tilt_deg)

    def members(self, reach: Reach) -> list[Member]:
        """Planes that divide what the pieces reach along the direction into equal parts."""
        along = self.direction
        low, high = reach.along(along)
        middle = reach.middle - along * float(reach.middle @ along)
        return [Member(k, plane_frame(middle + along * at, along)) for k, at in enumerate(self.places(low, high))]

    def places(self, low: float, high: float) -> list[float]:
        """Where it cuts between `low` and `high`. Raises BadPlan for too many parts, and for cuts set by hand outside."""
        for name, at in (("first", self.first_mm), ("last", self.last_mm)):
            if at is not None and not low < at < high:
                raise BadPlan(
                    f"The {name} cut of {self.id.upper()}, set by hand at {at:.1f} mm, misses what it is to divide, which "
                    f"reaches from {low:.1f} to {high:.1f} mm. Choose a place in between.",
                    f"parting {self.id}, {name}_mm",
                )
        start = low if self.first_mm is None else self.first_mm
        end = high if self.last_mm is None else self.last_mm
        ends = [at for at in (self.first_mm, self.last_mm) if at is not None]
        if self.parts is not None:
            spans = self.parts - len(ends)
        else:
            spans = max(1, math.ceil((end - start) / (self.greatest_mm or 1.0) - 1e-9))
        if spans + len(ends) > MOST_PARTS:
            raise BadPlan(
                f"Parts of {self.greatest_mm} mm along {self.axis.upper()} would make {spans + len(ends):,} of them; "
                f"{MOST_PARTS} is the most. Choose a greater length.",
                f"parting {self.id}, greatest_mm",
            )
        between = [start + (end - start) * k / spans for k in range(1, spans)]
        return sorted([*ends, *between])

    def cut(self, solid: Solid, members: Sequence[Member]) -> CutUp:
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
            above, below = split_at(rest, member.frame)
            if below.empty or above.empty:
                continue
            cuts.append(Cut(f":{member.number}", below, (*ends, (member.number, -1))))
            rest, ends, slab = above, [(member.number, 1)], member.number + 1
        if not cuts:
            return uncut(solid)
        return CutUp((*cuts, Cut(f":{slab}", rest, tuple(ends))))

    def label(self) -> str:
        """Such as “Even · Z in 4”."""
        how = f"in {self.parts}" if self.parts else f"at most {self.greatest_mm:.1f}"
        return f"Even{' tilted' if any(self.tilt_deg) else ''} · {self.axis.upper()} {how}"

    def mirrored(self, axis: int, about_mm: float) -> Self:
        """The row on the other side; a first cut set by hand becomes the last one where the direction turns round."""
        before = self.direction
        fields = plane_fields(np.zeros(3), in_mirror(before, axis, 0, direction=True))
        after = tilted(fields["axis"], fields["tilt_deg"])
        there = [
            None if at is None else float(in_mirror(before * at, axis, about_mm) @ after)
            for at in (self.first_mm, self.last_mm)
        ]
        if in_mirror(before, axis, 0, direction=True) @ after < 0:
            there.reverse()
        return self.model_copy(
            update={"axis": fields["axis"], "tilt_deg": fields["tilt_deg"], "first_mm": there[0], "last_mm": there[1]}
        )

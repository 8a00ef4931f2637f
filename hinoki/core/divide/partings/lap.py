"""Lap: a flat parting with a shoulder in it, so that the two halves overlap by a length."""

import math
from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field

from hinoki.core.divide.partings.base import CutUp, Length, Member, Reach, Turn, in_mirror, sides_of, spot, uncut
from hinoki.core.divide.partings.extruded_cutter import Line, cut_along
from hinoki.core.divide.partings.flat import OnPlane
from hinoki.core.forms import AXIS_WORDS, Form
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid


class LapParting(OnPlane, frozen=True):
    """Half of each side reaches past the plane, by half of the overlap, over the half of the other."""

    form: ClassVar[Form] = Form(
        "Lap",
        "lap",
        ("axis", "at_mm", "overlap_mm", "turn_deg", "shoulder_mm", "tilt_deg"),
        words={"axis": AXIS_WORDS},
    )

    kind: Literal["lap"] = "lap"
    overlap_mm: Annotated[float, Field(gt=0, le=1e4, allow_inf_nan=False)] = Field(
        20.0, title="Overlap", description="by which the halves reach past each other"
    )
    turn_deg: Turn = Field(0.0, title="Shoulder turned", description="about the plane's normal")
    shoulder_mm: Length | None = Field(None, title="Shoulder at", description="along its turn; empty for the middle")

    def members(self, reach: Reach) -> list[Member]:
        """The lower plane, the face of the shoulder and the upper plane, in the order the line runs."""
        return [Member(k, frame) for k, frame in enumerate(self._line(reach).planes())]

    def cut(self, solid: Solid, members: Sequence[Member]) -> CutUp:
        """Below (`-`) and above (`+`); the upper part comes off along the plane's normal."""
        low, high = sides_of(solid, self.frame)
        if low >= self.overlap_mm / 2 or high <= -self.overlap_mm / 2:
            return uncut(solid)
        shoulder = float(members[1].frame.origin @ self._along)
        line = self._drawn(Reach([solid]), shoulder).in_planes([m.frame for m in members])
        cuts = cut_along(solid, line, spot(self.frame.n))
        return CutUp(tuple(cuts)) if len(cuts) > 1 else uncut(solid)

    def label(self) -> str:
        """Such as “Lap · X 0.0 by 20.0”."""
        return f"Lap · {self.place()} by {self.overlap_mm:.1f}"

    def mirrored(self, axis: int, about_mm: float) -> Self:
        """The lap on the other side."""
        other = super().mirrored(axis, about_mm)
        along = in_mirror(self._along, axis, 0, direction=True)
        frame = other.frame
        turn = math.degrees(math.atan2(float(along @ frame.v), float(along @ frame.u)))
        flipped = float(in_mirror(self.frame.n, axis, 0, direction=True) @ frame.n) < 0
        # turned round, the upper half lies where the lower lay: the shoulder looks the other way
        turn = turn + 180 if flipped else turn
        at = self.shoulder_mm
        if at is not None:
            point = in_mirror(self._along * at, axis, about_mm)
            at = round(float(point @ (-along if flipped else along)), 6)
        return other.model_copy(update={"turn_deg": round(turn % 360, 6), "shoulder_mm": at})

    def moved(self, shift: Points) -> Self:
        """The lap shifted."""
        other = super().moved(shift)
        if self.shoulder_mm is None:
            return other
        return other.model_copy(update={"shoulder_mm": self.shoulder_mm + float(shift @ self._along)})

    @property
    def _along(self) -> Points:
        """The direction (3,) in the plane along which the lap steps down, from the lower half to the upper."""
        frame, turn = self.frame, math.radians(self.turn_deg)
        way = frame.u * math.cos(turn) + frame.v * math.sin(turn)
        return np.where(np.abs(way) < 1e-12, 0.0, way)

    def _line(self, reach: Reach) -> Line:
        low, high = reach.along(self._along)
        return self._drawn(reach, (low + high) / 2 if self.shoulder_mm is None else self.shoulder_mm)

    def _drawn(self, reach: Reach, shoulder: float) -> Line:
        """The stepped line, in a plane across the shoulder whose first direction is along the lap and second the normal."""
        along, up = self._along, self.frame.n
        side = Frame(np.zeros(3), along, up, np.cross(along, up))
        low, high = reach.along(along)
        far = max(high - shoulder, shoulder - low, 0.0) + float(np.linalg.norm(reach.high - reach.low)) + 10
        at, half = float(self.frame.origin @ up), self.overlap_mm / 2
        points = np.array(
            [[shoulder - far, at - half], [shoulder, at - half], [shoulder, at + half], [shoulder + far, at + half]]
        )
        return Line(side, points, ((0, 1), (1, 2), (2, 3)))

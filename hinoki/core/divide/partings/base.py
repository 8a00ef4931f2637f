"""What every kind of parting has and can do."""

from abc import abstractmethod
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Annotated, ClassVar, Self

import numpy as np
from pydantic import AfterValidator, BaseModel, Field

from hinoki.core.findings import Params, Severity
from hinoki.core.forms import Form
from hinoki.core.geometry.frames import AXES, Frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.sections import box_sides
from hinoki.core.geometry.solid import Solid

PieceKey = str
SKIN_MM = 1e-3
"""a side thinner than this is not cut off: the plane lies in the model's own face"""
Length = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
Turn = Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)]
Spot = tuple[Length, Length, Length]


def _unit(way: tuple[float, float, float]) -> tuple[float, float, float]:
    if sum(c * c for c in way) < 1e-6:
        raise ValueError("a direction needs a length; 0, 0, 0 points nowhere")
    return way


Direction = Annotated[tuple[Length, Length, Length], AfterValidator(_unit)]
OTHER_AXES = {"x": ("y", "z"), "y": ("z", "x"), "z": ("x", "y")}


@dataclass(frozen=True)
class Member:
    """One plane of a parting, by its number within the parting.

    `beside_mm`: pieces lie beside each other there at such a distance, half of it on either side of the plane; it parts nothing
    by itself. None for a plane that cuts.
    """

    number: int
    frame: Frame
    beside_mm: float | None = None


@dataclass(frozen=True)
class Cut:
    """One part a parting leaves of a piece: its side, its solid, and the member planes it now ends at.

    `ends` holds (member number, side): -1 where the part lies below the plane, 1 where it lies above.
    `whole`: lumps of it that do not touch still stay one piece. `off` (3,) is a direction in which it comes off the rest,
    where that is not told by a plane that keeps the two apart.
    """

    side: str
    solid: Solid
    ends: tuple[tuple[int, int], ...]
    whole: bool = False
    off: tuple[float, float, float] | None = None


@dataclass(frozen=True)
class Remark:
    """Something a parting says about how it cut a piece: a finding's severity, code and figures."""

    severity: Severity
    code: str
    params: Params = field(default_factory=dict)


@dataclass(frozen=True)
class CutUp:
    """What a parting makes of one piece: its parts (one with an empty side where nothing is cut) and remarks."""

    cuts: tuple[Cut, ...]
    remarks: tuple[Remark, ...] = ()


class Reach:
    """How far the pieces a parting is to cut reach."""

    def __init__(self, solids: Sequence[Solid]) -> None:
        self._solids = solids
        self.low = np.min([s.bounds[0] for s in solids], axis=0)
        self.high = np.max([s.bounds[1] for s in solids], axis=0)

    @property
    def middle(self) -> Points:
        """Middle of the box, (3,)."""
        return np.asarray((self.low + self.high) / 2)

    @cached_property
    def _hull(self) -> Points:
        return np.concatenate([s.hull.mesh.vertices for s in self._solids])

    def along(self, direction: Points) -> tuple[float, float]:
        """The lowest and highest point along a unit vector (3,), exactly."""
        axis = int(np.argmax(np.abs(direction)))
        if abs(direction[axis]) > 1 - 1e-12:
            ends = sorted((float(self.low[axis] * direction[axis]), float(self.high[axis] * direction[axis])))
            return ends[0], ends[1]
        heights = self._hull @ direction
        return float(heights.min()), float(heights.max())


class PartingBase(BaseModel, frozen=True):
    """A cut that divides pieces."""

    form: ClassVar[Form]
    """its name, and how its form is drawn"""
    words: ClassVar[Mapping[str, str]] = {}
    """what its remarks say, by code (`code/case` where they have a case); figures stand in braces, as in
    `hinoki.present.words.wording`"""

    id: str = Field(pattern=r"^p[1-9][0-9]{0,3}$", title="Name in keys")
    name: str = Field("", max_length=80, title="Name")
    on: bool = Field(True, title="Cuts")
    hidden: bool = Field(False, title="Not drawn in the view")
    only: tuple[PieceKey, ...] | None = Field(None, title="Only these pieces", max_length=2000)

    @property
    def cuts_right_through(self) -> bool:
        """Whether its planes cut everything they meet, so that the model's sections there are its own."""
        return False

    @property
    def takes_away(self) -> bool:
        """Whether some of the model is lost between the parts, such as the gap around a hatch."""
        return False

    @abstractmethod
    def members(self, reach: Reach) -> list[Member]:
        """The planes, in order, for pieces that reach so far."""

    @abstractmethod
    def cut(self, solid: Solid, members: Sequence[Member]) -> CutUp:
        """The parts of `solid`."""

    @abstractmethod
    def label(self) -> str:
        """How the cut list and the findings call it, such as “Flat · Z 118.0”."""

    @abstractmethod
    def mirrored(self, axis: int, about_mm: float) -> Self:
        """The same parting on the other side of the plane where coordinate `axis` is `about_mm`."""

    def moved(self, shift: Points) -> Self:  # noqa: ARG002
        """The same parting shifted by (3,) mm; as it is where it has no place of its own."""
        return self

    def across(self) -> Points | None:
        """The direction (3,) in which a copy of it is best put beside it; none where it has no place of its own."""
        return None

    @property
    def fingerprint(self) -> dict[str, object]:
        """All that decides how it cuts."""
        return self.model_dump(mode="json", exclude={"id", "name", "on", "only", "hidden"})


def uncut(solid: Solid, *remarks: Remark) -> CutUp:
    """Nothing was cut."""
    return CutUp((Cut("", solid, ()),), remarks)


def sides_of(solid: Solid, frame: Frame) -> tuple[float, float]:
    """Lowest and highest reach of a solid along the normal of `frame`, measured from its plane."""
    low, high = box_sides(solid, frame)
    if low >= 0 or high <= 0 or max(np.abs(frame.n)) > 1 - 1e-12:
        return low, high
    exact = frame.heights(solid.mesh.vertices)
    return float(exact.min()), float(exact.max())


def axis_vector(axis: str) -> Points:
    """Unit vector of an axis."""
    return AXES[axis]


def spot(point: Points) -> tuple[float, float, float]:
    """A point or direction for the plan: rounded to a nanometre, never −0."""
    x, y, z = (round(float(v), 6) + 0.0 for v in point)
    return x, y, z


def in_mirror(point: Points, axis: int, about_mm: float, direction: bool = False) -> Points:
    """A point, or a direction, (3,) seen in a mirror across coordinate `axis`."""
    out = np.array(point, dtype=np.float64)
    out[axis] = -out[axis] if direction else 2 * about_mm - out[axis]
    return out

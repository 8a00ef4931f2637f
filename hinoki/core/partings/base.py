"""What every kind of parting has and can do."""

from abc import abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.frames import AXES, Frame
from hinoki.core.mesh import Points
from hinoki.core.solid import Solid

PieceKey = str
SKIN_MM = 1e-3
"""a side thinner than this is not cut off: the plane lies in the model's own face"""


@dataclass(frozen=True)
class Member:
    """One plane of a parting, by its number within the parting."""

    number: int
    frame: Frame


@dataclass(frozen=True)
class Cut:
    """One part a parting leaves of a piece: its side, its solid, and the member planes it now ends at.

    `ends` holds (member number, side): -1 where the part lies below the plane, 1 where it lies above.
    """

    side: str
    solid: Solid
    ends: tuple[tuple[int, int], ...]


class PartingBase(BaseModel, frozen=True):
    """A cut that divides pieces."""

    id: str = Field(pattern=r"^p[1-9][0-9]{0,3}$", title="Name in keys")
    name: str = Field("", max_length=80, title="Name")
    on: bool = Field(True, title="Cuts")
    only: tuple[PieceKey, ...] | None = Field(None, title="Only these pieces", max_length=500)

    @abstractmethod
    def members(self, low: Points, high: Points) -> list[Member]:
        """The planes, in order, for pieces that reach from `low` to `high`."""

    @abstractmethod
    def cut(self, solid: Solid, members: Sequence[Member]) -> list[Cut]:
        """The parts of `solid`; a single part with an empty side where nothing is cut."""

    @abstractmethod
    def label(self) -> str:
        """How the cut list and the findings call it, such as “Flat · Z 118.0”."""


def sides_of(solid: Solid, frame: Frame) -> tuple[float, float]:
    """Lowest and highest reach of a solid along the normal of `frame`, measured from its plane."""
    low, high = solid.bounds
    corners = np.array(np.meshgrid(*zip(low, high, strict=True))).reshape(3, -1).T
    heights = frame.heights(corners)
    if heights.min() >= 0 or heights.max() <= 0 or max(np.abs(frame.n)) > 1 - 1e-12:
        return float(heights.min()), float(heights.max())
    exact = frame.heights(solid.mesh.vertices)
    return float(exact.min()), float(exact.max())


def axis_vector(axis: str) -> Points:
    """Unit vector of an axis."""
    return AXES[axis]

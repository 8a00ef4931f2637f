"""One model of the corpus, and what is asked of a division of it."""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal

from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid

Area = tuple[tuple[float, float, float], tuple[float, float, float]]
"""low and high corner of a box in the model, mm"""


@dataclass(frozen=True)
class Wants:
    """What a good maker would see to.

    `over_bound`: pieces at most, in times the least there can be for its size. `mirror`: the axis across which it is symmetric,
    so that a division of it is. `clear`: boxes through which no seam runs (a face, an inscription). `carries_n`: a force at
    its far end that its joints are to hold, besides its weight. `minutes`: the longest that planning may take.
    """

    over_bound: float = 2.0
    mirror: Literal["x", "y"] | None = None
    clear: tuple[Area, ...] = ()
    carries_n: float = 20.0
    minutes: float = 10.0


@dataclass(frozen=True)
class Entry:
    """A model: its family and name, what makes it, and what is wanted of it."""

    family: str
    name: str
    make: Callable[[], Solid | Mesh]
    wants: Wants = field(default_factory=Wants)

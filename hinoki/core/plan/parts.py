"""Parts of a project and their instances: each part is edited once, and stands in the project as often as it is placed.

The part that is worked on lies open in the plan; the others are kept beside it, like variants. Stations work on the open one.
"""

from collections.abc import Mapping
from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.rotations import degrees_about_axes, turned_about_axes
from hinoki.core.plan.contents import Contents

PART_ID = r"^q[1-9][0-9]{0,3}$"
FIRST = "q1"
"""the part a project begins with"""
MIRRORED = " mirrored"
"""how the key of what is printed mirrored ends"""
BESIDE_MM = 20.0
"""a part without a place of its own stands so far from those that are there"""
MOST_INSTANCES = 2000
"""of one part"""

Far = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
Turn = Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)]


class Instance(BaseModel, frozen=True):
    """One placed copy of a part: mirrored in its own YZ plane where asked, turned about X, then Y, then Z of the project
    through the part's origin (the middle of its underside), then moved."""

    at_mm: tuple[Far, Far, Far] = Field((0.0, 0.0, 0.0), title="At", description="where the middle of its underside is, mm")
    turn_deg: tuple[Turn, Turn, Turn] = Field((0.0, 0.0, 0.0), title="Turned", description="about X, then Y, then Z")
    mirrored: bool = Field(False, title="Mirrored", description="left and right changed before it is turned")

    @property
    def matrix(self) -> Points:
        """(3, 4) from the part's coordinates to the project's; its determinant is −1 where it is mirrored."""
        turn = turned_about_axes(self.turn_deg)
        flip = np.diag([-1.0 if self.mirrored else 1.0, 1.0, 1.0])
        return np.column_stack([turn @ flip, np.array(self.at_mm)])

    @classmethod
    def of(cls, matrix: Points) -> "Instance":
        """The instance that a rigid (3, 4) matrix places, to a millionth of a millimetre and degree."""
        linear = matrix[:, :3]
        mirrored = bool(np.linalg.det(linear) < 0)
        turn = linear @ np.diag([-1.0 if mirrored else 1.0, 1.0, 1.0])
        return cls(at_mm=_rounded(matrix[:, 3]), turn_deg=_rounded(degrees_about_axes(turn)), mirrored=mirrored)


Instances = Annotated[tuple[Instance, ...], Field(min_length=1, max_length=MOST_INSTANCES)]
PartName = Annotated[str, Field(max_length=80)]


class KeptPart(Contents, frozen=True):
    """A part that is not worked on now."""

    id: str = Field(pattern=PART_ID)
    name: PartName = Field("", description="none: that of its file")
    instances: Instances = Field((Instance(),), description="where it stands, once or more often")


def project_key(part_id: str, key: str) -> str:
    """What a piece, or a thing that is printed, is called in the whole project: that of the first part as in the part itself,
    those of others after the part's id, such as “q2 p1-”."""
    return key if part_id == FIRST else f"{part_id} {key}"


def own_keys(part_id: str, by_key: Mapping[str, int]) -> dict[str, int]:
    """Of something by keys of the whole project what belongs to a part, by the part's own keys."""
    if part_id == FIRST:
        return {key: value for key, value in by_key.items() if not _of_other(key)}
    begins = f"{part_id} "
    return {key.removeprefix(begins): value for key, value in by_key.items() if key.startswith(begins)}


def _of_other(key: str) -> bool:
    first = key.partition(" ")[0]
    return first[:1] == "q" and first[1:].isdigit()


def _rounded(values: Points) -> tuple[float, float, float]:
    x, y, z = (round(float(v), 6) + 0.0 for v in values)
    return x, y, z

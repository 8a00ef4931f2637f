"""More instances of a part, placed from those there are: in a row, over a field, in a ring, mirrored."""

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.errors import BadPlan
from hinoki.core.geometry.frames import composed
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.rotations import turned_about_axes
from hinoki.core.plan.parts import MOST_INSTANCES, Far, Instance, Turn

AXES = ("x", "y", "z")
Axis = Literal["x", "y", "z"]
Count = Annotated[int, Field(ge=1, le=MOST_INSTANCES)]


class Row(BaseModel, frozen=True):
    """So many in all along a line, each a step from the one before; over a field with a second step."""

    how: Literal["row"] = "row"
    count: Count = Field(2, title="In all")
    step_mm: tuple[Far, Far, Far] = Field((50.0, 0.0, 0.0), title="Step", description="from one to the next")
    rows: Count = Field(1, title="Rows")
    row_step_mm: tuple[Far, Far, Far] = Field((0.0, 50.0, 0.0), title="Step of rows", description="from one row to the next")

    def placed(self) -> list[Points]:
        """(3, 4) matrices in the project, the first of which moves nothing."""
        one, two = np.array(self.step_mm), np.array(self.row_step_mm)
        return [np.column_stack([np.eye(3), k * one + r * two]) for r in range(self.rows) for k in range(self.count)]


class RingOf(BaseModel, frozen=True):
    """So many in all about an axis, turned along with it; the whole way round, or a step apart."""

    how: Literal["ring"] = "ring"
    count: Count = Field(6, title="In all")
    axis: Axis = Field("z", title="About")
    through_mm: tuple[Far, Far, Far] = Field((0.0, 0.0, 0.0), title="Through", description="a point of the axis")
    step_deg: Turn | None = Field(None, title="Step", description="from one to the next; none: evenly the whole way round")
    turned: bool = Field(True, title="Turned along", description="else each looks as the first one does")

    def placed(self) -> list[Points]:
        """(3, 4) matrices in the project, the first of which moves nothing. They turn; see `moved`."""
        step = 360.0 / self.count if self.step_deg is None else self.step_deg
        at = np.array(self.through_mm)
        found = []
        for k in range(self.count):
            degrees = [0.0, 0.0, 0.0]
            degrees[AXES.index(self.axis)] = k * step
            turn = turned_about_axes(degrees)
            found.append(np.column_stack([turn, at - turn @ at]))
        return found


class Mirror(BaseModel, frozen=True):
    """A mirror image across a plane square to an axis."""

    how: Literal["mirror"] = "mirror"
    axis: Axis = Field("x", title="Across")
    at_mm: Far = Field(0.0, title="At")

    def placed(self) -> list[Points]:
        """(3, 4) matrices in the project, the first of which moves nothing."""
        flip, shift = np.eye(3), np.zeros(3)
        k = AXES.index(self.axis)
        flip[k, k], shift[k] = -1.0, 2 * self.at_mm
        return [np.column_stack([np.eye(3), np.zeros(3)]), np.column_stack([flip, shift])]


Arrangement = Annotated[Row | RingOf | Mirror, Field(discriminator="how")]


def arranged(instances: Sequence[Instance], which: int, how: Row | RingOf | Mirror) -> tuple[Instance, ...]:
    """The instances with more of the one numbered `which` (from 0); those there are stay. Raises BadPlan."""
    if not 0 <= which < len(instances):
        raise BadPlan(f"There is no instance {which + 1}; this part stands {len(instances)} times.", "instance")
    first = instances[which].matrix
    more = [Instance.of(_moved(matrix, first, how)) for matrix in how.placed()[1:]]
    if len(instances) + len(more) > MOST_INSTANCES:
        raise BadPlan(
            f"That would be {len(instances) + len(more)} of this part; a part stands at most {MOST_INSTANCES} times.", "count"
        )
    return (*instances, *more)


def _moved(matrix: Points, first: Points, how: Row | RingOf | Mirror) -> Points:
    there = composed(matrix, first)
    if isinstance(how, RingOf) and not how.turned:
        return np.column_stack([first[:, :3], there[:, 3]])
    return there

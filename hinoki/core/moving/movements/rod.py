"""Rod: stiff between two pins, each of which goes along with a movement; it pulls what it is to drive."""

from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from hinoki.core.forms import Form
from hinoki.core.moving.movements.base import MovementBase, MovementId, Point


class RodMovement(MovementBase, frozen=True):
    """From the pin at `a_mm` to that at `b_mm`, as they are at rest. It turns by the least that its pins want."""

    form: ClassVar[Form] = Form("Rod", "between two pins", ("a_mm", "begins_on", "b_mm", "ends_on"), picks=("a_mm", "b_mm"))

    kind: Literal["rod"] = "rod"
    a_mm: Point = Field((0.0, 0.0, 0.0), title="First pin", description="its middle, mm")
    begins_on: MovementId | None = Field(
        None, title="Goes along with", description="the movement of the first pin; none: it stays"
    )
    b_mm: Point = Field((50.0, 0.0, 0.0), title="Second pin", description="its middle, mm")
    ends_on: MovementId | None = Field(
        None, title="Goes along with", description="the movement of the second pin; none: it stays"
    )

    @model_validator(mode="after")
    def _has_a_length(self) -> Self:
        if self.long_mm < 0.01:
            raise ValueError("the two pins of a rod must be apart")
        return self

    @property
    def long_mm(self) -> float:
        """From pin to pin."""
        return float(np.linalg.norm(np.subtract(self.b_mm, self.a_mm)))

    @property
    def follows(self) -> tuple[str, ...]:
        """What its pins go along with."""
        return tuple(one for one in (self.begins_on, self.ends_on) if one)

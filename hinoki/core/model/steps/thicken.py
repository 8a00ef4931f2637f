"""Thicken: an open sheet, such as a mask drawn without thickness, becomes a wall. It is never filled into a block."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.shape import Body, Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.offsets.offset import walled
from hinoki.core.model.steps.base import Outcome, StepBase, StepRefused, Tell, number

CELLS_ACROSS = 260


class ThickenStep(StepBase, frozen=True):
    """Gives open surfaces a wall, half of it to either side; closed bodies stay as they are."""

    form: ClassVar[Form] = Form("Thicken", "a sheet without thickness", ("wall_mm",), group="Shape")

    needs_closed: ClassVar[bool] = False
    kind: Literal["thicken"] = "thicken"
    wall_mm: Annotated[float, Field(ge=0.3, le=100, allow_inf_nan=False)] = Field(3.0, title="Wall")

    def label(self) -> str:
        """Such as “Thicken, wall 3 mm”."""
        return f"Thicken, wall {number(self.wall_mm)} mm"

    def apply(self, shape: Shape, tell: Tell) -> Outcome:
        """Thicken every open body. Raises StepRefused where there is none."""
        bodies, made = [], []
        for body in shape.bodies:
            if body.solid is not None:
                bodies.append(body)
                continue
            solid = Solid.from_mesh(walled(body.mesh, self.wall_mm, self._cell(body), tell))
            made.append(solid)
            bodies.append(Body(body.name, solid=solid))
        if not made:
            raise StepRefused("Every surface is closed already: there is no open sheet to thicken.", self.id)
        volume = sum(solid.volume_mm3 for solid in made)
        what = "1 sheet" if len(made) == 1 else f"{len(made)} sheets"
        return Outcome(Shape(tuple(bodies)), [f"{what} of {volume / 1000:.1f} cm³, wall {number(self.wall_mm)} mm"])

    def _cell(self, body: Body) -> float:
        low, high = body.mesh.bounds
        room = np.maximum(high - low, self.wall_mm) + 2 * self.wall_mm
        return max(float(np.cbrt(np.prod(room))) / CELLS_ACROSS, self.wall_mm / 3)

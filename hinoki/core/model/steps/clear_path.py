"""Clear path: what another part passes through while it moves is carved out of this one, with room round it."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.shape import Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.offsets.grown import grown
from hinoki.core.model.steps.base import Outcome, StepBase, StepRefused, Tell, number
from hinoki.core.moving.movements.base import MovementId

CRUMB_MM3 = 1e-3
SMOOTH_MM = 0.01
"""what is carved in many small steps is smoothed by no more than this"""
MEASURED = 60
"""positions at which the room that came out is measured"""


class ClearPathStep(StepBase, frozen=True):
    """Carves the way of an instance of another part through the travel of a movement that drives it."""

    form: ClassVar[Form] = Form("Clear path", "for what moves past", ("by_mm",), group="Shape")
    lets_down: ClassVar[bool] = False

    kind: Literal["clear-path"] = "clear-path"
    part: str = Field("q2", pattern=r"^q[1-9][0-9]{0,3}$", title="Part", description="what moves past")
    instance: Annotated[int, Field(ge=1, le=100_000)] = Field(1, title="Which", description="of its instances")
    movement: MovementId = Field("v1", title="Moved by", description="what drives it")
    by_mm: Annotated[float, Field(ge=0.05, le=20, allow_inf_nan=False)] = Field(
        0.4, title="Room", description="round what moves, mm"
    )

    def label(self) -> str:
        """Such as “Clear path, 0.4 mm”."""
        return f"Clear path, {number(self.by_mm)} mm"

    def apply(self, shape: Shape, tell: Tell) -> Outcome:  # noqa: ARG002
        """Needs what moves (`apply_to`)."""
        raise StepRefused("A clear path needs the part that moves. Add it first.", self.id)

    def apply_to(self, shape: Shape, body: Solid, places: Sequence[Points], tell: Tell) -> Outcome:
        """Carve what a body passes through at (3, 4) `places` close to each other, in the shape's coordinates. Raises
        StepRefused where it comes nowhere near, or nothing would be left."""
        whole = shape.solid
        if whole is None:
            raise StepRefused("The surface is not closed, so nothing can be carved. Make it right first.", self.id)
        larger = Solid.from_mesh(grown(body.mesh, np.full(len(body.mesh.faces), self.by_mm)))
        low, high = whole.bounds
        room = Solid.box((low - self.by_mm).tolist(), (high + self.by_mm).tolist())
        near, tools = [], []
        for place in places:
            tool = larger.placed(place)
            if not tool.box_meets(whole):
                continue
            tool = tool.common(room)  # what is far from the part only takes time
            if not tool.empty:
                near.append(place)
                tools.append(tool)
        tell(0.3, f"Carving {len(near)} positions")
        after = shape.each(lambda solid: solid.minus(tools).without_crumbs(CRUMB_MM3).simplified(SMOOTH_MM))
        rest = after.solid
        if rest is None or rest.empty:
            raise StepRefused("The clear path leaves nothing of this part. Let the other one move less far.", self.id)
        taken = whole.volume_mm3 - rest.volume_mm3
        if not near or taken <= CRUMB_MM3:
            raise StepRefused("What moves past comes nowhere near this part; nothing was carved.", self.id)
        tell(0.7, "Measuring the room")
        looked = near[:: max(1, len(near) // MEASURED)]
        least = min(body.placed(place).gap(rest, 2 * self.by_mm + 1) for place in looked)
        return Outcome(
            after, [f"{taken / 1000:.2f} cm³ carved; {number(self.by_mm)} mm of room wanted, {least:.2f} mm measured"]
        )

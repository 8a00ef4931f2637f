"""Round bores again: coarse round holes become true ones of the drawn diameter."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.shape import Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.health.bores import LEAST_LOSS_MM, Bore, find_bores, meant_round
from hinoki.core.model.steps.base import Outcome, StepBase, StepRefused, Tell, number
from hinoki.core.progress import along

OVER_MM = 0.01


class RoundBoresStep(StepBase, frozen=True):
    """Widens every coarse round hole to the circle through its corners, plus what is typed."""

    form: ClassVar[Form] = Form("Round bores again", "true ones for coarse ones", ("wider_mm",), group="Shape")

    kind: Literal["round-bores"] = "round-bores"
    wider_mm: Annotated[float, Field(ge=0, le=5, allow_inf_nan=False)] = Field(
        0.0, title="Wider by", description="in all, on the diameter"
    )

    def label(self) -> str:
        """Such as “Round bores again”."""
        return "Round bores again" + (f", {number(self.wider_mm)} mm wider in all" if self.wider_mm else "")

    def apply(self, shape: Shape, tell: Tell) -> Outcome:
        """Cut a true bore along each coarse one."""
        found: list[Bore] = []
        for body in along(shape.bodies, tell, "Looking for coarse bores"):
            found += meant_round(find_bores(body.mesh, LEAST_LOSS_MM if not self.wider_mm else 0.005))
        if not found:
            raise StepRefused("There are no coarse round bores to make true.", self.id)
        tools = [true_bore(b, self.wider_mm) for b in found]
        text = ", ".join(sorted({f"ø{b.diameter_mm + self.wider_mm:.4g}" for b in found}))
        return Outcome(shape.each(lambda s: s.minus(tools)), [f"{len(found)} bores made true: {text}"])


def true_bore(bore: Bore, wider_mm: float = 0.0) -> Solid:
    """A cutter of the drawn diameter along a coarse bore; it ends where the bore ends."""
    way = bore.end - bore.start
    length = float(np.linalg.norm(way))
    frame = plane_frame(bore.start, way / length)
    return Solid.cylinder((bore.diameter_mm + wider_mm) / 2, -OVER_MM, length + OVER_MM, around=True).placed(frame.to_world)

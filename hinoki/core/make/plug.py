"""Plug: closes a hole; what goes in has the hole's outline, less the clearance."""

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import FIT_WORDS, Form
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.make.base import Made, MakerBase, NotMade, Or0, Size, length
from hinoki.core.make.openings import opening_at
from hinoki.core.make.trying import ROUND, tried
from hinoki.core.model.steps.base import Spot
from hinoki.core.progress import Tell
from hinoki.core.workshop.fits import Fit


class PlugMaker(MakerBase, frozen=True):
    """A full body in a hole, flush with the face about it or with a head on it."""

    form: ClassVar[Form] = Form(
        "Plug",
        "closes a hole",
        ("fit", "deep_mm", "lead_mm", "head_mm", "head_over_mm"),
        group="For an opening",
        words={"fit": FIT_WORDS},
        only_if={"head_over_mm": {"head_mm": "set"}},
    )
    fitted: ClassVar[bool] = True

    kind: Literal["plug"] = "plug"
    at_mm: Spot | None = Field(None, title="Hole", description="a point at its rim; none: the largest")
    fit: Fit = Field("snug", title="Fit")
    deep_mm: Size = Field(6.0, title="Deep")
    lead_mm: Or0 = Field(0.5, title="Lead-in", description="bevel at the end that goes in")
    head_mm: Or0 = Field(1.6, title="Head", description="thickness of what lies on the rim; 0: flush")
    head_over_mm: Size = Field(2.0, title="Overhang", description="how far the head reaches beyond the hole")

    @property
    def fits_by(self) -> Fit:
        """As chosen."""
        return self.fit

    def make(self, host: Solid | None, clearance_mm: float, tell: Tell) -> Made:
        """The plug where it belongs. Raises NotMade."""
        part = self.wanted_host(host)
        tell(0.1, "Looking for the hole")
        opening = opening_at(part, None if self.at_mm is None else np.array(self.at_mm))
        section = opening.free_to(self.deep_mm).buffer(-clearance_mm, ROUND)
        if section.is_empty or section.area < 1.0:
            raise NotMade(f"The hole is too narrow for a plug with {length(clearance_mm)} mm of clearance.")
        lead = min(self.lead_mm, 0.5 * self.deep_mm)
        pieces = [Solid.drawn(as_multi(section), -self.deep_mm + lead, 0.0)]
        steps = 4
        for k in range(steps if lead > 0 else 0):  # the bevel, in steps of its outline
            inner = section.buffer(-lead * (steps - k) / steps, ROUND)
            if not inner.is_empty:
                pieces.append(Solid.drawn(as_multi(inner), -self.deep_mm + lead * k / steps, -self.deep_mm + lead + 0.01))
        if self.head_mm > 0:
            head = opening.hole.buffer(self.head_over_mm, ROUND)
            pieces.append(Solid.drawn(as_multi(head), 0.0, self.head_mm))
            pieces.append(Solid.drawn(as_multi(section), -0.01, 0.5 * self.head_mm))
        plug = Solid.united(pieces).placed(opening.frame.to_world)
        tell(0.7, "Trying it")
        wide, high = opening.size_mm
        return Made(plug, (f"hole of {wide:.1f} × {high:.1f} mm", tried(plug, part, opening.frame, clearance_mm)))

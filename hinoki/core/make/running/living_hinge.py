"""Living hinge: two leaves printed flat as one with a thin web between them, which folds; strain and moment by formula."""

import math
from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.findings import Finding
from hinoki.core.forms import Form
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.snap_fits import OFTEN
from hinoki.core.make.base import Made, MakerBase, NotMade, Or0, Size, length
from hinoki.core.make.running.elastic import Web
from hinoki.core.make.screw_holes import HEAD, screw_hole
from hinoki.core.progress import Tell
from hinoki.core.workshop.materials import Material


class LivingHingeMaker(MakerBase, frozen=True):
    """Both leaves lie on the bed, the web between them at the very bottom: its lines run from leaf to leaf."""

    form: ClassVar[Form] = Form(
        "Living hinge",
        "two leaves and a web that folds",
        ("leaf_mm", "wide_mm", "thick_mm", "web_mm", "web_thick_mm", "folded_deg", "meets", "screws", "screw_mm"),
        group="What moves",
        only_if={"screw_mm": {"screws": ("1", "2", "3")}},
        words={
            "meets": {"undersides": "their undersides: the web inside", "tops": "their tops: the web outside"},
            "screws": {"0": "none", "1": "one", "2": "two", "3": "three"},
        },
    )

    kind: Literal["living-hinge"] = "living-hinge"
    leaf_mm: Size = Field(20.0, title="Leaves", description="how far each reaches from the web")
    wide_mm: Size = Field(40.0, title="Wide", description="along the fold")
    thick_mm: Size = Field(3.0, title="Leaves thick")
    web_mm: Size = Field(4.0, title="Web", description="between the leaves: the longer, the less it is strained")
    web_thick_mm: Annotated[float, Field(gt=0, ge=0.1, le=5, allow_inf_nan=False)] = Field(0.4, title="Web thick")
    folded_deg: Annotated[float, Field(ge=1, le=180, allow_inf_nan=False)] = Field(90.0, title="Folds by")
    meets: Literal["undersides", "tops"] = Field("undersides", title="Come together")
    screws: Literal["0", "1", "2", "3"] = Field("2", title="Screws", description="in each leaf")
    screw_mm: Or0 = Field(3.2, title="Screw holes", description="diameter")

    @property
    def web(self) -> Web:
        """What bends."""
        return Web(self.web_mm, self.web_thick_mm, self.wide_mm)

    @property
    def least_web_mm(self) -> float:
        """So that leaves do not meet as their tops come together: their ends turn about the middle of the web's arc and must
        not reach beyond it, T − t / 2 ≤ R = L / θ."""
        if self.meets == "undersides":
            return 0.0
        return math.radians(self.folded_deg) * (self.thick_mm - self.web_thick_mm / 2)

    def make(self, host: Solid | None, clearance_mm: float, tell: Tell) -> Made:  # noqa: ARG002
        """On Z 0, the fold along Y at X 0. Raises NotMade."""
        tell(0.2, "Making the hinge")
        if self.web_thick_mm >= self.thick_mm:
            raise NotMade("The web is as thick as the leaves. Make it thinner: it is what folds.")
        half, side = self.web_mm / 2, self.wide_mm / 2
        leaf = Solid.box((half, -side, 0.0), (half + self.leaf_mm, side, self.thick_mm))
        count = int(self.screws)
        if count and self.screw_mm > 0:
            across = HEAD * self.screw_mm
            if across + 2 > self.leaf_mm or count * (across + 2) > self.wide_mm:
                raise NotMade(f"The leaves have no room for {count} screws of {length(self.screw_mm)} mm. Make them larger.")
            step = self.wide_mm / count
            holes = [
                screw_hole(self.screw_mm, self.thick_mm).moved(half + self.leaf_mm / 2, -side + (k + 0.5) * step, 0.0)
                for k in range(count)
            ]
            leaf = leaf.minus(holes)
        turned = leaf.placed(_HALF_TURN)
        web = Solid.box((-half - 0.01, -side, 0.0), (half + 0.01, side, self.web_thick_mm))
        return Made(Solid.united([leaf, turned, web]), (f"web {length(self.web_mm)} × {length(self.web_thick_mm)} mm",))

    def behaves(self, material: Material) -> tuple[str, ...]:
        """Its strain folded, and the moment that takes."""
        strain, moment = self.web.strain(self.folded_deg), self.web.moment_nmm(self.folded_deg, material.modulus_mpa)
        bears = material.strain_percent
        return (
            f"strained by {100 * strain:.1f} % folded by {length(self.folded_deg)}°; {material.name} bears {bears:g} % once, "
            f"{OFTEN * bears:.2g} % often",
            f"{moment / 10:.3g} N·cm fold it",
        )

    def problems(self, material: Material) -> Sequence[Finding]:
        """A web that breaks, or leaves that meet before it is folded."""
        found = []
        strain, bears = 100 * self.web.strain(self.folded_deg), material.strain_percent
        if strain > OFTEN * bears:
            figures = {"strain_percent": strain, "bears_percent": bears, "often_percent": OFTEN * bears}
            needs = self.web_mm * strain / (OFTEN * bears)
            found.append(
                Finding(
                    severity="must-fix" if strain > bears else "look-at", code="web-strain", station="model",
                    params={**figures, "material": material.name, "needs_mm": needs},
                )
            )  # fmt: skip
        if self.web_mm < self.least_web_mm:
            figures = {"web_mm": self.web_mm, "least_mm": self.least_web_mm, "folded_deg": self.folded_deg}
            found.append(Finding(severity="must-fix", code="web-short", station="model", params={**figures}))
        return found


_HALF_TURN = np.diag([-1.0, -1.0, 1.0, 1.0])[:3]

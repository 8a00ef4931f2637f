"""Butt: the faces are only glued to each other; said so that every face says how it is joined."""

from collections.abc import Sequence
from typing import ClassVar, Literal

import shapely
from pydantic import Field
from shapely.geometry import MultiPolygon

from hinoki.core.forms import Form
from hinoki.core.join.contract.base import JointBase
from hinoki.core.join.contract.strength import GLUE_MPA, Strength, Stuff
from hinoki.core.join.contract.terms import Direction, Place, SideName, Standing, Tools
from hinoki.core.workshop.hardware import GLUE_POINT, Hardware


class ButtJoint(JointBase, frozen=True):
    """Nothing is cut or added."""

    form: ClassVar[Form] = Form(
        "Glue only", "Butt joint, glued", ("glue",), when="Where there is no room for anything else."
    )  # fmt: skip

    kind: Literal["butt"] = "butt"
    glue: str = Field("glue", max_length=60, title="With", description="what holds it")

    @property
    def wanted(self) -> int:
        """No places."""
        return 0

    def reach_mm(self, side: SideName) -> float:
        """Nothing goes in."""
        return 0.0

    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """Nothing is taken."""
        return MultiPolygon()

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """None."""
        return Tools()

    def hardware(self, standing: Standing, places: Sequence[Place]) -> list[Hardware]:
        """A place to glue."""
        return [Hardware(GLUE_POINT, 1)] if self.glue else []

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """The glued area in shear: F = τ · A."""
        return Strength(GLUE_MPA * standing.shape.area, "glued area in shear, τ·A") if self.glue else None

    def motions(self, standing: Standing) -> tuple[Direction, ...] | None:
        """Any way will do."""
        return None

    def label(self) -> str:
        """Such as “butt, glue”."""
        return f"butt, {self.glue}" if self.glue else "butt"

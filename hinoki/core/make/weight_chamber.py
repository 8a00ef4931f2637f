"""Weight chamber: a round can for a filling of so many grams, closed by a plug that screws in; and that plug."""

import math
from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.turning.screw_threads import minor_diameter_mm, threaded
from hinoki.core.make.base import Made, MakerBase, NotMade, Size, length
from hinoki.core.progress import Tell

G_PER_CM3 = {"lead": 6.9, "steel": 4.6, "sand": 1.6, "water": 1.0}
"""of fillings as poured: shot fills about six tenths of its room (close to the 0.64 of random packing, Scott 1960); lead 11.34,
steel 7.85 g/cm³ (handbook values); dry sand 1.6 (common practice)"""
Grams = Annotated[float, Field(ge=1, le=50_000, allow_inf_nan=False)]
PITCH_MM = 2.5
HEAD_MM = 4.0
SLOT_MM = 2.2
"""a coin goes in"""
END_GAP_MM = 0.5
LEAST_INSIDE_MM = 10.0
MOST_SLENDER = 20.0


class WeightMaker(MakerBase, frozen=True):
    """The can stands on its floor; the plug's head lies on its rim. Both are of the same figures."""

    form: ClassVar[Form] = Form(
        "Weight chamber",
        "a can for ballast, with a screw plug",
        ("piece", "grams", "filling", "own_g_per_cm3", "inside_mm", "wall_mm"),
        group="Below it",
        words={
            "piece": {"can": "the can", "plug": "its screw plug"},
            "filling": {"lead": "lead shot", "steel": "steel shot", "sand": "dry sand", "water": "water", "own": "another"},
        },
        only_if={"own_g_per_cm3": {"filling": ("own",)}},
    )

    own_figures: ClassVar[tuple[str, ...]] = (*MakerBase.own_figures, "piece")

    kind: Literal["weight"] = "weight"
    piece: Literal["can", "plug"] = Field("can", title="This is")
    grams: Annotated[float, Field(ge=1, le=50_000, allow_inf_nan=False)] = Field(
        200.0, title="Holds", description="g of filling"
    )
    filling: Literal["lead", "steel", "sand", "water", "own"] = Field("steel", title="Filling")
    own_g_per_cm3: Annotated[float, Field(ge=0.05, le=25, allow_inf_nan=False)] = Field(
        4.6, title="Its density", description="as poured, g/cm³"
    )
    inside_mm: Size = Field(36.0, title="Inside", description="diameter")
    wall_mm: Size = Field(2.0, title="Walls")

    def goes_with(self) -> Sequence[tuple[str, MakerBase, int]]:
        """A can comes with its plug."""
        return (("Screw plug", self.model_copy(update={"piece": "plug"}), 1),) if self.piece == "can" else ()

    @property
    def g_per_cm3(self) -> float:
        """Of the filling as poured."""
        return self.own_g_per_cm3 if self.filling == "own" else G_PER_CM3[self.filling]

    @property
    def room_mm3(self) -> float:
        """What the filling takes."""
        return 1000 * self.grams / self.g_per_cm3

    @property
    def major_mm(self) -> float:
        """Of the thread in its mouth, whose ridges leave the mouth as wide as the inside (ISO 724)."""
        return self.inside_mm + (self.inside_mm - minor_diameter_mm(self.inside_mm, PITCH_MM))

    @property
    def thread_mm(self) -> float:
        """How far the plug screws in: 0.4 of its diameter, so that it does not wobble (common practice)."""
        return max(8.0, round(0.4 * self.major_mm, 1))

    @property
    def high_mm(self) -> float:
        """Of the room below the plug."""
        return self.room_mm3 / (math.pi / 4 * self.inside_mm**2)

    def make(self, host: Solid | None, clearance_mm: float, tell: Tell) -> Made:  # noqa: ARG002
        """The can or the plug, about Z from Z 0. Raises NotMade."""
        tell(0.2, "Making the weight chamber")
        if self.inside_mm < LEAST_INSIDE_MM:
            raise NotMade(
                f"{length(self.inside_mm)} mm inside are too narrow for a thread; {LEAST_INSIDE_MM:g} mm is the least."
            )
        if self.high_mm > MOST_SLENDER * self.inside_mm:
            raise NotMade(f"The can would be {self.high_mm:.0f} mm high. Make its inside wider.")
        outer = self.major_mm / 2 + self.wall_mm
        return self._plug(outer, clearance_mm) if self.piece == "plug" else self._can(outer)

    def _can(self, outer: float) -> Made:
        rim = self.wall_mm + self.high_mm + self.thread_mm + END_GAP_MM
        mouth = rim - self.thread_mm - END_GAP_MM
        room = Solid.cylinder(self.inside_mm / 2, self.wall_mm, rim + 1.0, around=True)
        thread = threaded(self.major_mm, PITCH_MM, mouth, rim + 1.0, around=True)
        deep = (self.major_mm - self.inside_mm) / 2
        bevel = Solid.cone(self.inside_mm / 2, self.major_mm / 2 + 0.5, rim - deep - 0.5, rim + 0.01)
        can = Solid.cylinder(outer, 0.0, rim).minus([room, thread, bevel])
        return Made(can, (f"{length(self.room_mm3 / 1000)} cm³ for {self.grams:g} g at {self.g_per_cm3:g} g/cm³",))

    def _plug(self, outer: float, clearance_mm: float) -> Made:
        thread = threaded(self.major_mm, PITCH_MM, HEAD_MM - 0.01, HEAD_MM + self.thread_mm, grown_mm=-clearance_mm)
        tip = self.major_mm / 2 - clearance_mm
        deep = (self.major_mm - self.inside_mm) / 2
        end = HEAD_MM + self.thread_mm
        pointed = thread.common(
            Solid.united([Solid.cylinder(tip + 1, 0.0, end - deep), Solid.cone(tip + 1e-3, tip - deep, end - deep, end)])
        )
        slot = Solid.box((-0.7 * outer, -SLOT_MM / 2, -1.0), (0.7 * outer, SLOT_MM / 2, HEAD_MM / 2))
        return Made(
            Solid.cylinder(outer, 0.0, HEAD_MM).plus([pointed]).minus([slot]), (f"turned by a coin, {self.thread_mm:g} mm in",)
        )

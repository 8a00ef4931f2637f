"""Seat: a place cut into a part by another part, with clearance, so that it can be put in from where it comes."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import FIT_WORDS, Form
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.shape import Shape
from hinoki.core.geometry.slide_collision import Form as Surface
from hinoki.core.geometry.slide_collision import slide
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.offsets.grown import drawn_out, grown
from hinoki.core.model.steps.base import Outcome, StepBase, StepRefused, Tell, number
from hinoki.core.workshop.fits import Fit

Way = Literal["auto", "x+", "x-", "y+", "y-", "z+", "z-"]
WAYS: dict[str, tuple[float, float, float]] = {
    "x+": (1, 0, 0), "x-": (-1, 0, 0), "y+": (0, 1, 0), "y-": (0, -1, 0), "z+": (0, 0, 1), "z-": (0, 0, -1)
}  # fmt: skip
WAY_WORDS = {"auto": "the easiest way", "x+": "to the right", "x-": "to the left", "y+": "to the back", "y-": "to the front",
             "z+": "upwards", "z-": "downwards"}  # fmt: skip
INTO = 0.95
"""faces that look into the seat by more than this cosine (within 18°) are its floor"""
LEAD_STEPS = 4
CRUMB_MM3 = 1e-3
MEASURED_MM = 0.02
"""clearance that comes out smaller by more than this is told"""
NEAR_ENOUGH_MM3 = 1.0


class SeatStep(StepBase, frozen=True):
    """Cuts the seat of every instance of another part that reaches into this one.

    Whatever the other part passes through on its way out is cut away, too, so that it can be put in; that it can is tried.
    """

    form: ClassVar[Form] = Form(
        "Seat",
        "for another part",
        ("fit", "clearance_mm", "floor", "lead_mm", "way"),
        group="Shape",
        words={
            "fit": FIT_WORDS,
            "floor": {"rests": "it rests on it", "clear": "clear, as the sides"},
            "way": WAY_WORDS,
        },
    )
    lets_down: ClassVar[bool] = False

    kind: Literal["seat"] = "seat"
    part: str = Field("q2", pattern=r"^q[1-9][0-9]{0,3}$", title="Part", description="what goes in")
    fit: Fit = Field("sliding", title="Fit")
    clearance_mm: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] | None = Field(
        None, title="Clearance", description="on each side; none: that of the fit"
    )
    floor: Literal["rests", "clear"] = Field("rests", title="Floor", description="whether it rests on the seat's floor")
    lead_mm: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] = Field(
        0.5, title="Lead-in", description="bevel round the mouth; 0 for none"
    )
    way: Way = Field("auto", title="Comes out")

    def label(self) -> str:
        """Such as “Seat, sliding”."""
        own = "" if self.clearance_mm is None else f", {number(self.clearance_mm)} mm each side"
        return f"Seat, {self.fit}{own}"

    def apply(self, shape: Shape, tell: Tell) -> Outcome:  # noqa: ARG002
        """Needs the other part (`apply_to`)."""
        raise StepRefused("A seat needs the part that goes in. Add it first.", self.id)

    def apply_to(self, shape: Shape, others: Sequence[Solid], clearance_mm: float, tell: Tell) -> Outcome:
        """Cut the seats of bodies that stand in the shape's coordinates. Raises StepRefused."""
        whole = shape.solid
        if whole is None:
            raise StepRefused("The surface is not closed, so nothing can be seated in it. Make it right first.", self.id)
        meeting = [one for one in others if one.box_meets(whole) and not one.common(whole).empty]
        if not meeting:
            raise StepRefused(
                "The other part does not reach into this one where it stands. Move it so that they overlap.", self.id
            )
        wanted = clearance_mm if self.clearance_mm is None else self.clearance_mm
        tools, ways = [], []
        for k, one in enumerate(meeting):
            tell(k / len(meeting), f"Cutting seat {k + 1} of {len(meeting)}")
            way = self._way(one, whole)
            tools += seat_tools(one, whole, way, wanted, self.floor == "rests", self.lead_mm)
            ways.append(way)
        after = shape.each(lambda solid: solid.minus(tools).without_crumbs(CRUMB_MM3))
        rest = after.solid
        if rest is None or rest.empty:
            raise StepRefused("The seats leave nothing of this part. Move the other one out of it.", self.id)
        self._refuse_blocked(meeting, ways, rest)
        lifts = [max(wanted, MEASURED_MM) * way for way in ways]  # off the floor, where it rests
        within = 2 * wanted + 1
        least = min(one.moved(*lift).gap(rest, within) for one, lift in zip(meeting, lifts, strict=True))
        taken = (whole.volume_mm3 - rest.volume_mm3) / 1000
        seats = "1 seat" if len(meeting) == 1 else f"{len(meeting)} seats"
        told = "as wanted" if least >= wanted - MEASURED_MM else f"only {least:.2f} mm at the narrowest"
        return Outcome(after, [f"{seats}, {taken:.2f} cm³ cut away; {number(wanted)} mm on each side, measured: {told}"])

    def _way(self, one: Solid, whole: Solid) -> Points:
        """The unit vector (3,) along which a body comes out."""
        if self.way != "auto":
            return np.array(WAYS[self.way], dtype=np.float64)
        within = one.common(whole).hull  # rough, and quickly drawn out: which way is told by how deep it lies where
        inside = whole.common(within).volume_mm3
        plain = [np.array(v, dtype=np.float64) for v in WAYS.values()]
        away = one.centre_of_mass - whole.centre_of_mass
        if np.linalg.norm(away) > 1.0:
            plain.append(away / np.linalg.norm(away))
        top = float(np.linalg.norm(whole.size) + np.linalg.norm(one.size))
        costs = []
        for way in plain:
            swept = drawn_out(within, way, float(one.centre_of_box @ way) + top)
            costs.append(whole.common(swept).volume_mm3 - inside)
        best = min(costs)
        return plain[next(k for k, cost in enumerate(costs) if cost <= best + NEAR_ENOUGH_MM3)]

    def _refuse_blocked(self, bodies: Sequence[Solid], ways: Sequence[Points], rest: Solid) -> None:
        still = Surface(rest.mesh)
        for k, (one, way) in enumerate(zip(bodies, ways, strict=True)):
            stopped = slide(Surface(one.mesh), still, way)
            if not stopped.free:
                raise StepRefused(
                    f"Body {k + 1} cannot be put into its seat: after {stopped.after_mm:.1f} mm it meets this part. "
                    "Choose another way out, or a wider fit.",
                    self.id,
                )


def seat_tools(one: Solid, whole: Solid, way: Points, clearance_mm: float, rests: bool, lead_mm: float) -> list[Solid]:
    """What is cut away for a body that comes out along the unit vector `way` (3,): the body itself with clearance (none where
    it `rests` on the floor), all it passes through, and a bevel round the mouth, 45° in steps."""
    top = float((whole.mesh.vertices @ way).max()) + 1.0
    pocket = _pocket(one, way, clearance_mm, rests, top)
    tools = [pocket]
    if lead_mm <= 0:
        return tools
    low, high = pocket.bounds[0] - lead_mm - 1, pocket.bounds[1] + lead_mm + 1
    near = whole.common(Solid.box(low.tolist(), high.tolist()))
    for k in range(1, LEAD_STEPS + 1):
        deep = lead_mm * k / LEAD_STEPS
        wider = _pocket(one, way, clearance_mm + lead_mm - deep + lead_mm / LEAD_STEPS, True, top)
        tools.append(wider.common(near.minus([near.moved(*(-deep * way))])))
    return [tool for tool in tools if not tool.empty]


def _pocket(one: Solid, way: Points, clearance_mm: float, rests: bool, top: float) -> Solid:
    mesh = one.mesh
    floor = mesh.face_normals @ way < -INTO
    by = np.where(floor & rests, 0.0, clearance_mm)
    larger = Solid.from_mesh(grown(mesh, by)) if clearance_mm > 0 else one
    return drawn_out(larger, way, top)

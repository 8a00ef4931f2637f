"""On a face: one side of a joint, once or in a pattern, on a flat face that is picked; nothing needs to be cut there."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.forms import Form
from hinoki.core.geometry.shape import Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import FaceRef, LooseOnes, Place, Standing
from hinoki.core.join.faced.half_findings import half_findings
from hinoki.core.join.faced.half_joint import (
    OWN,
    FlatFace,
    Half,
    HalfOf,
    face_on,
    half_of,
    own_tools,
    places_on,
    shaped,
    standing_on,
)
from hinoki.core.join.faced.pattern import MOST_PLACES, PATTERN_FIELDS, PATTERN_ONLY_IF, PATTERN_WORDS, Pattern
from hinoki.core.join.joints import PinJoint
from hinoki.core.model.steps.base import Facing, FittedStep, Outcome, Spot, StepRefused, Tell, number
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.hardware import Hardware, added_up

NOWHERE_CUT = FaceRef(parting="", member=0, a="", b="")
"""the face of a joint that stands on none between two pieces"""


class OnFaceStep(FittedStep, Pattern, frozen=True):
    """A half joint on a flat face: holes for inserts, screws and magnets, pins and their bores, grooves and tails."""

    form: ClassVar[Form] = Form(
        "On a face",
        "holes, pins, magnets, threads, tails, keys",
        (*PATTERN_FIELDS, "other_mm"),
        group="Shape",
        words={
            **PATTERN_WORDS,
            "half": {"takes": "what takes it: hole, socket, groove", "stands": "what stands out, or the screw's head"},
        },
        only_if=PATTERN_ONLY_IF,
    )
    lets_down: ClassVar[bool] = False

    kind: Literal["on-face"] = "on-face"
    at_mm: Spot = Field((0.0, 0.0, 0.0), title="On the face at", description="a point of the face")
    facing: Facing = Field((0.0, 0.0, 1.0), title="The face looks")
    joint: HalfOf = Field(default_factory=lambda: PinJoint(id="j1", face=NOWHERE_CUT))
    half: Half = Field("takes", title="This part has")
    other_mm: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False)] = Field(
        3.0, title="Holds", description="thickness of what is screwed on; 0: its screws are counted where their heads are"
    )

    def label(self) -> str:
        """Such as “6 screws M3 into inserts, in a ring of 60 mm”."""
        return f"{self._joint(len(self.flat)).label()}{self._how()}"

    def _how(self) -> str:
        many = {
            "one": "",
            "row": f", {number(self.step_mm)} mm apart",
            "ring": f", in a ring of {number(self.ring_mm)} mm",
            "grid": f", {self.count} × {self.rows}",
        }
        return many[self.pattern]

    def _joint(self, count: int) -> HalfOf:
        return half_of(self.joint, self.half).model_copy(update={"places": ((0.0, 0.0),) * min(count, 100)})

    @property
    def fits_by(self) -> Fit:
        """That of the joint."""
        return self.joint.fit

    def apply_with(self, shape: Shape, clearance_mm: float, least_wall_mm: float, line_mm: float, tell: Tell) -> Outcome:
        """Shape the body the face belongs to. Raises StepRefused where there is no flat face, or nothing fits on it."""
        body, face, places = self.on_shape(shape)
        tell(0.2, self.label())
        stands = self.standing(body, face, clearance_mm, least_wall_mm, line_mm)
        if len(places) > MOST_PLACES:
            raise StepRefused(f"That would be {len(places)} of them; {MOST_PLACES} is the most on one face.", self.id)
        joint = half_of(self.joint, self.half)
        tools = own_tools(joint, stands, places)
        if not tools.each:
            raise StepRefused("None of them meets the face. Move them onto it.", self.id)
        after = shaped(body, tools.each, stands)
        said = [f"{len(places)} on the face"]
        if self.chord_mm is not None:
            said.append(f"{number(self.chord_mm)} mm from one to the next")
        found = half_findings(joint, stands, places, tools, body)
        return Outcome(
            Shape(tuple(b.changed(after) if b.solid is body else b for b in shape.bodies)),
            said,
            found,
            self._bought(joint, stands, places),
            [LooseOnes(joint.loose_name() or "", one.solid.placed(one.printed)) for one in tools.loose],
        )

    def standing(self, body: Solid, face: FlatFace, clearance_mm: float, least_wall_mm: float, line_mm: float) -> Standing:
        """Where it stands on a body."""
        own = self.joint.clearance_mm
        return standing_on(body, face, clearance_mm if own is None else own, least_wall_mm, line_mm, self._held_mm())

    def _held_mm(self) -> float:
        """How thick what is held is, with the head of its screw: that lies on it."""
        joint = self.joint
        if joint.kind != "screw":
            return self.other_mm
        return self.other_mm + joint.sunk_mm + (0.0 if joint.head == "countersunk" else joint.headed.high_mm)

    def _bought(self, joint: HalfOf, stands: Standing, places: list[Place]) -> list[Hardware]:
        found = joint.hardware_on(OWN, stands, places)
        if joint.kind == "screw" and self.half == "takes" and self.other_mm > 0:  # what they hold is no part of the project
            found += joint.hardware_on("b", stands, places)
        return added_up(found)

    def on_shape(self, shape: Shape) -> tuple[Solid, FlatFace, list[Place]]:
        """The body of a shape that has the face, the face, and the places on it. Raises StepRefused."""
        at, facing = np.array(self.at_mm), np.array(self.facing)
        body, face = face_on(shape, at, facing, self.id)
        return body, face, places_on(face, self)

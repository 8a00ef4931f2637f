"""Bearing seat: a pocket for a ball bearing in a flat face, with a shoulder that only its outer ring rests on."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field
from shapely.geometry import Point

from hinoki.core.forms import FIT_WORDS, Form
from hinoki.core.geometry.frames import composed, shifted
from hinoki.core.geometry.shape import Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.terms import Place, Tool
from hinoki.core.join.faced.half_findings import face_findings
from hinoki.core.join.faced.half_joint import FlatFace, face_on, not_within, overlapping, places_on
from hinoki.core.join.faced.pattern import MOST_PLACES, PATTERN_FIELDS, PATTERN_ONLY_IF, PATTERN_WORDS, Pattern
from hinoki.core.model.steps.base import Facing, FittedStep, Outcome, Spot, StepRefused, Tell, number
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.hardware import Hardware

JUST_MM = 0.02
SHOULDER_SHARE = 0.11
"""of what a bearing's outside is wider than its bore, how far the shoulder reaches under its outer ring: within the abutments
that catalogues give for the common series (608: 19.2 to 20 of 22 mm; 6200: 24.8 to 25.8 of 30 mm; from memory)"""
CLEAR_MM = 0.6
"""under the inner ring of a bearing in a closed pocket, so that it runs free (common practice)"""


class BearingSeatStep(FittedStep, Pattern, frozen=True):
    """Seats for ball bearings from the table, or of typed sizes, once or in a pattern on a flat face."""

    form: ClassVar[Form] = Form(
        "Bearing seat",
        "for a ball bearing",
        (
            "outside_mm", "bore_mm", "wide_mm", "fit", "behind", "sunk_mm", "bevel_mm", *PATTERN_FIELDS,
        ),
        group="Shape",
        words={
            **PATTERN_WORDS,
            "fit": FIT_WORDS,
            "behind": {
                "shoulder": "a shoulder, open for the axle", "closed": "a shoulder, closed", "open": "open all through",
            },
        },
        only_if=PATTERN_ONLY_IF,
    )  # fmt: skip
    lets_down: ClassVar[bool] = False

    kind: Literal["bearing-seat"] = "bearing-seat"
    at_mm: Spot = Field((0.0, 0.0, 0.0), title="On the face at", description="a point of the face")
    facing: Facing = Field((0.0, 0.0, 1.0), title="The face looks")
    outside_mm: Annotated[float, Field(gt=0, ge=2, le=200, allow_inf_nan=False)] = Field(22.0, title="Outside")
    bore_mm: Annotated[float, Field(gt=0, ge=1, le=190, allow_inf_nan=False)] = Field(8.0, title="Its bore")
    wide_mm: Annotated[float, Field(gt=0, ge=0.5, le=100, allow_inf_nan=False)] = Field(7.0, title="Its width")
    fit: Fit = Field("press", title="Fit", description="of its outer ring")
    behind: Literal["shoulder", "closed", "open"] = Field("shoulder", title="Behind it")
    sunk_mm: Annotated[float, Field(ge=-20, le=200, allow_inf_nan=False)] = Field(
        0.0, title="Sunk", description="how far its face lies under the surface; less than 0: it stands out"
    )
    bevel_mm: Annotated[float, Field(ge=0, le=5, allow_inf_nan=False)] = Field(0.4, title="Bevel", description="at the mouth")

    @property
    def fits_by(self) -> Fit:
        """As chosen."""
        return self.fit

    @property
    def deep_mm(self) -> float:
        """Of the pocket."""
        return self.wide_mm + self.sunk_mm

    @property
    def opening_mm(self) -> float:
        """Diameter within the shoulder: it carries the outer ring, and touches nothing else."""
        return self.outside_mm - 2 * max(0.4, SHOULDER_SHARE * (self.outside_mm - self.bore_mm))

    def label(self) -> str:
        """Such as “Bearing seat 8 × 22 × 7”."""
        count = len(self.flat)
        size = f"{number(self.bore_mm)} × {number(self.outside_mm)} × {number(self.wide_mm)}"
        return f"Bearing seat {size}" if count == 1 else f"{count} bearing seats {size}"

    def apply_with(self, shape: Shape, clearance_mm: float, least_wall_mm: float, line_mm: float, tell: Tell) -> Outcome:  # noqa: ARG002
        """Cut the seats into the body the face belongs to. Raises StepRefused."""
        if self.bore_mm >= self.outside_mm - 2:
            raise StepRefused("A bearing is wider outside than its bore by 2 mm at least. Look at both figures.", self.id)
        if self.deep_mm <= 0:
            raise StepRefused("The bearing stands out of the face by its whole width. Sink it.", self.id)
        body, face = face_on(shape, np.array(self.at_mm), np.array(self.facing), self.id)
        places = places_on(face, self)
        if len(places) > MOST_PLACES:
            raise StepRefused(f"That would be {len(places)} of them; {MOST_PLACES} is the most on one face.", self.id)
        tell(0.2, self.label())
        radius = self.outside_mm / 2 + clearance_mm
        through = float(np.linalg.norm(body.size)) + self.deep_mm
        tools = [self._tool(k, place, face, radius, (least_wall_mm, through)) for k, place in enumerate(places)]
        marks = [Point(place).buffer(radius) for place in places]
        wrong = not_within(face.shape, marks), overlapping(marks)
        found = face_findings("Bearing seat", face.frame, places, wrong, tools, body, least_wall_mm)
        after = body.minus([tool.cut for tool in tools if tool.cut is not None])
        said = [f"pocket ø{number(2 * radius)} × {number(self.deep_mm)}"]
        if self.behind != "open":
            said.append(f"the shoulder leaves ø{number(self.opening_mm)} open: only the outer ring rests on it")
        name = f"ball bearing {number(self.bore_mm)} × {number(self.outside_mm)} × {number(self.wide_mm)}"
        bodies = tuple(b.changed(after) if b.solid is body else b for b in shape.bodies)
        return Outcome(Shape(bodies), said, found, [Hardware(name, len(places))])

    def _tool(self, index: int, place: Place, face: FlatFace, radius: float, limits: tuple[float, float]) -> Tool:
        """The pocket, its bevel, and what is open behind it; `limits`: the least wall, and a length through everything."""
        wall, through = limits
        deep, opening = self.deep_mm, self.opening_mm / 2
        cuts = [Solid.cylinder(radius, -deep, 1.0, around=True)]
        if self.bevel_mm > 0:
            cuts.append(Solid.cone(radius, radius + self.bevel_mm + JUST_MM, -self.bevel_mm, JUST_MM))
        behind = {"shoulder": through, "closed": deep + CLEAR_MM, "open": through}[self.behind]
        cuts.append(Solid.cylinder(radius if self.behind == "open" else opening, -behind, -deep + JUST_MM, around=True))
        pocket = [Solid.cylinder(radius, -deep, -JUST_MM, around=True)]
        if self.behind == "closed":
            pocket.append(Solid.cylinder(opening, -behind, -deep + JUST_MM, around=True))
        matrix = composed(face.frame.to_world, shifted(place[0], place[1], 0.0))
        floor = deep + CLEAR_MM if self.behind == "closed" else deep
        return Tool(
            "a",
            index,
            cut=Solid.united(cuts).placed(matrix),
            bore=Solid.united(pocket).placed(matrix),
            around=Solid.cylinder(radius + wall, -deep, -JUST_MM).placed(matrix),
            beyond=None if self.behind == "open" else _floor(radius, opening, floor, wall, self.behind).placed(matrix),
        )


def _floor(radius: float, opening: float, deep: float, wall: float, behind: str) -> Solid:
    """What must be left behind a bearing: a ring under its outer ring, or a floor."""
    ring = Solid.cylinder(radius, -deep - wall, -deep)
    return ring if behind == "closed" else ring.minus([Solid.cylinder(opening, -deep - wall - 1, -deep + 1, around=True)])

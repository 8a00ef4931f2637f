"""Letters: sunk into a surface or raised from it where one picks, following it however it is curved."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hinoki.core.findings import Finding
from hinoki.core.forms import Form
from hinoki.core.geometry.frames import plane_frame
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.rotations import turned_about_axes
from hinoki.core.geometry.shape import Shape
from hinoki.core.geometry.solid import Solid
from hinoki.core.geometry.text_outlines import STEM, written
from hinoki.core.model.steps.base import Facing, Outcome, Spot, StepBase, StepRefused, Tell, number

Length = Annotated[float, Field(gt=0, ge=0.1, le=500, allow_inf_nan=False)]
Turn = Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)]
NOTHING_MM3 = 1e-3
LOST_SHARE = 0.9
"""so much of the letters at least must come out, or the surface ends, or turns away, under them"""


class LettersStep(StepBase, frozen=True):
    """Text seen square to the surface where it is picked: as deep, or as high, everywhere along the way it looks."""

    form: ClassVar[Form] = Form(
        "Letters",
        "sunk or raised",
        ("text", "how", "letters_mm", "deep_mm", "at_mm", "turn_deg"),
        group="Shape",
        words={"how": {"raised": "raised", "sunk": "sunk"}},
        picks=("at_mm",),
    )
    lets_down: ClassVar[bool] = False

    kind: Literal["letters"] = "letters"
    text: str = Field("1", title="Letters", max_length=80)
    how: Literal["raised", "sunk"] = Field("sunk", title="Letters are")
    letters_mm: Length = Field(8.0, title="Capitals", description="their height")
    deep_mm: Length = Field(0.8, title="By", description="how deep or high")
    at_mm: Spot = Field((0.0, 0.0, 0.0), title="At", description="the middle of the text, on the surface")
    facing: Facing = Field((0.0, 0.0, 1.0), title="The surface looks")
    turn_deg: Turn = Field(0.0, title="Turned", description="in the surface")

    def label(self) -> str:
        """Such as “Letters “No. 7”, sunk 0.8”."""
        return f"Letters “{self.text.strip()}”, {self.how} {number(self.deep_mm)}"

    def apply(self, shape: Shape, tell: Tell) -> Outcome:
        """Sink or raise them. Raises StepRefused for letters the font lacks, and where there is no surface."""
        try:
            flat = written(self.text, self.letters_mm)
        except ValueError as error:
            raise StepRefused(str(error), self.id) from error
        tell(0.2, self.label())
        out = np.array(self.facing) / np.linalg.norm(self.facing)
        x0, y0, x1, y1 = flat.bounds
        reach = float(np.hypot(x1 - x0, y1 - y0)) / 2 + 2 * self.deep_mm  # a surface may fall away so far under them
        letters = Solid.drawn(flat, -reach, reach).placed(self._stand(out))
        after = shape.each(lambda body: self._shaped(body, letters, out))
        changed = abs(after.volume_mm3 - shape.volume_mm3)
        if changed < NOTHING_MM3:
            raise StepRefused("There is no surface under these letters. Pick their place on it.", self.id)
        found = []
        if changed < LOST_SHARE * flat.area * self.deep_mm:
            found.append(Finding(severity="look-at", code="letters-lost", station="model", params={"text": self.text.strip()}))
        return Outcome(after, [f"{changed:.0f} mm³, strokes {number(STEM * self.letters_mm)} mm wide"], found)

    def _stand(self, out: Points) -> Points:
        """(3, 4): the text upright in the surface, turned as wished."""
        turn = np.column_stack([turned_about_axes((0.0, 0.0, self.turn_deg)), np.zeros(3)])
        frame = plane_frame(np.array(self.at_mm), out).to_world
        return np.column_stack([frame[:, :3] @ turn[:, :3], frame[:, 3]])

    def _shaped(self, body: Solid, letters: Solid, out: Points) -> Solid:
        """What of the letters lies within `deep_mm` of the surface along the way it looks, taken or added."""
        if not body.box_meets(letters):
            return body
        far = (self.deep_mm * out).tolist()
        if self.how == "sunk":
            under = body.moved(*(-c for c in far))
            return body.minus([letters.common(body).minus([under])])
        over = letters.common(body.moved(*far)).minus([body])
        rooted = letters.common(body.moved(*(0.98 * c for c in far))).minus([body.moved(*(-0.05 * c for c in far))])
        return body.plus([over, rooted])

"""Plate with letters: a sign, letters raised or sunk, with holes for screws."""

from typing import ClassVar, Literal

from pydantic import Field
from shapely.geometry import box

from hinoki.core.forms import Form
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.geometry.text_outlines import STEM, written
from hinoki.core.make.base import Made, MakerBase, NotMade, Or0, Size, length
from hinoki.core.make.screw_holes import HEAD
from hinoki.core.make.trying import ROUND
from hinoki.core.progress import Tell


class PlateMaker(MakerBase, frozen=True):
    """A flat plate as large as its letters want, or as large as is said."""

    form: ClassVar[Form] = Form(
        "Plate with letters",
        "a sign",
        ("text", "letters_mm", "how", "deep_mm", "thick_mm", "margin_mm", "wide_mm", "high_mm", "corner_mm", "screw_mm"),
        group="On a face",
        words={"how": {"raised": "raised", "sunk": "sunk", "through": "cut through"}},
        only_if={"deep_mm": {"how": ("raised", "sunk")}},
    )

    kind: Literal["plate"] = "plate"
    text: str = Field("1", title="Letters", max_length=80)
    letters_mm: Size = Field(10.0, title="Capitals", description="their height")
    how: Literal["raised", "sunk", "through"] = Field("raised", title="Letters are")
    deep_mm: Size = Field(0.8, title="By", description="how high or deep")
    thick_mm: Size = Field(2.4, title="Plate thick")
    margin_mm: Or0 = Field(5.0, title="Margin", description="round the letters, where no size is said")
    wide_mm: Or0 = Field(0.0, title="Wide", description="0: as the letters want")
    high_mm: Or0 = Field(0.0, title="High", description="0: as the letters want")
    corner_mm: Or0 = Field(3.0, title="Corners", description="radius")
    screw_mm: Or0 = Field(0.0, title="Screw holes", description="diameter, left and right; 0 for none")

    def make(self, host: Solid | None, clearance_mm: float, tell: Tell) -> Made:  # noqa: ARG002
        """About Z, letters on top and read from Y below. Raises NotMade."""
        tell(0.2, "Making the plate")
        try:
            letters = written(self.text, self.letters_mm)
        except ValueError as error:
            raise NotMade(str(error)) from error
        x0, y0, x1, y1 = letters.bounds
        ears = 0.0 if self.screw_mm <= 0 else HEAD * self.screw_mm + 4.0
        wide = self.wide_mm or x1 - x0 + 2 * (self.margin_mm + ears)
        high = self.high_mm or max(y1 - y0 + 2 * self.margin_mm, ears)
        if x1 - x0 + 2 * ears > wide or y1 - y0 > high:
            raise NotMade(
                f"The letters take {x1 - x0 + 2 * ears:.1f} × {y1 - y0:.1f} mm, the plate has {wide:.1f} × {high:.1f} mm. "
                "Make it larger, or the letters lower."
            )
        if self.how == "sunk" and self.deep_mm >= self.thick_mm:
            raise NotMade("The letters are sunk deeper than the plate is thick. Cut them through instead.")
        corner = min(self.corner_mm, 0.49 * min(wide, high))
        flat = box(-wide / 2 + corner, -high / 2 + corner, wide / 2 - corner, high / 2 - corner)
        plate = Solid.drawn(as_multi(flat.buffer(corner, ROUND) if corner > 0 else flat), 0.0, self.thick_mm)
        if self.how == "raised":
            plate = plate.plus([Solid.drawn(letters, self.thick_mm - 0.01, self.thick_mm + self.deep_mm)])
        else:
            floor = -1.0 if self.how == "through" else self.thick_mm - self.deep_mm
            plate = plate.minus([Solid.drawn(letters, floor, self.thick_mm + 1.0)])
        if ears > 0:
            hole = Solid.cylinder(self.screw_mm / 2, -1.0, self.thick_mm + self.deep_mm + 1.0, around=True)
            plate = plate.minus([hole.moved(s * (wide - ears) / 2, 0.0, 0.0) for s in (-1, 1)])
        lumps = len(plate.lumps())
        loose = [f"{lumps - 1} islands of letters fall out"] if lumps > 1 else []
        return Made(plate, (f"{wide:.1f} × {high:.1f} mm, strokes {length(STEM * self.letters_mm)} mm wide", *loose))

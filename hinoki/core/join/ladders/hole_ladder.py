"""Hole ladders: one plate with stepped bores, to find out which of them lets the real thing in."""

import math
from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.forms import SHAPE_WORDS, Form
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import round_sides
from hinoki.core.geometry.solid import Solid
from hinoki.core.geometry.text_outlines import lettered
from hinoki.core.join.joints import MagnetJoint, ScrewJoint

FLOOR_MM = 1.2
"""what is left under a blind hole"""
MOST_DEEP_MM = 4.0
"""as deep as a hole's trial needs to be: whether a thing goes in shows at its mouth"""
NUMBER_MM, NUMBER_DEEP_MM = 5.0, 0.5
LEAST_STEP_MM = 9.0
"""from hole to hole, so that there is room for a number"""

Thing = Literal["magnet", "insert", "bearing", "tool", "other"]
HoleShape = Literal["round", "square", "hexagon"]


class Hole(BaseModel, frozen=True):
    """A hole for something that is there already: the thing's own size, and how deep it is to go in."""

    form: ClassVar[Form] = Form(
        "Hole",
        "Hole for something that is there",
        ("thing", "shape", "size_mm", "width_mm", "deep_mm"),
        words={
            "thing": {"magnet": "magnet", "insert": "insert", "bearing": "bearing", "tool": "tool", "other": "something else"},
            "shape": {**SHAPE_WORDS, "hexagon": "Six-sided"},
        },
        only_if={"width_mm": {"shape": ("square",)}},
    )

    kind: Literal["hole"] = "hole"
    thing: Thing = Field("bearing", title="For a")
    shape: HoleShape = Field("round", title="Shape")
    size_mm: Measure = Field(22.0, title="Size", description="of the thing: diameter, or across flats, mm")
    width_mm: Measure | None = Field(None, title="Other width", description="of a four-sided thing, mm; none: as its size")
    deep_mm: Annotated[float, Field(gt=0, le=100, allow_inf_nan=False)] = Field(7.0, title="Depth", description="mm")

    def label(self) -> str:
        """Such as “hole for a bearing ø22, 7 deep”."""
        size = f"ø{self.size_mm:g}" if self.shape == "round" else f"{self.size_mm:g}"
        if self.width_mm and self.shape == "square":
            size += f" × {self.width_mm:g}"
        what = {"other": "a thing", "insert": "an insert"}.get(self.thing, f"a {self.thing}")
        return f"hole for {what} {size}, {self.deep_mm:g} deep"

    @property
    def tried_mm(self) -> float:
        """How deep the plate's holes are."""
        return min(self.deep_mm, MOST_DEEP_MM)

    def ring(self, grown_mm: float) -> Points:
        """The hole's outline (n, 2), larger than the thing by `grown_mm` on each side; drawn around a circle."""
        half = self.size_mm / 2 + grown_mm
        if self.shape == "square":
            other = (self.width_mm or self.size_mm) / 2 + grown_mm
            return np.array([[-half, -other], [half, -other], [half, other], [-half, other]])
        n = 6 if self.shape == "hexagon" else round_sides(half)
        turn = 2 * np.pi * (np.arange(n) + 0.5) / n
        return half / math.cos(math.pi / n) * np.column_stack([np.cos(turn), np.sin(turn)])


def hole_of(joint: object) -> Hole | None:
    """The hole that a ladder of a joint with something bought tries; None for joints that fit themselves."""
    if isinstance(joint, MagnetJoint):
        square = joint.shape == "block"
        return Hole(
            thing="magnet", shape="square" if square else "round", size_mm=joint.diameter_mm,
            width_mm=joint.width_mm if square else None, deep_mm=joint.thick_mm,
        )  # fmt: skip
    if isinstance(joint, ScrewJoint) and joint.insert:
        return Hole(thing="insert", size_mm=joint.insert.bore_mm, deep_mm=joint.insert.length_mm)
    return None


def plate(hole: Hole, steps: Sequence[float], wall_mm: float) -> Solid:
    """A plate with one hole for each clearance, from left to right, their numbers before them; a tool's go right through."""
    rings = [hole.ring(step) for step in steps]
    wide = max(float(np.ptp(r[:, 0])) for r in rings)
    tall = max(float(np.ptp(r[:, 1])) for r in rings)
    apart = max(wide + wall_mm, LEAST_STEP_MM)
    margin = wall_mm + 1.0
    through = hole.thing == "tool"
    thick = hole.tried_mm + (0.0 if through else FLOOR_MM)
    x0, x1 = -apart / 2 - margin + wall_mm / 2, apart * (len(steps) - 0.5) + margin - wall_mm / 2
    y0, y1 = -tall / 2 - margin - NUMBER_MM - 1.0, tall / 2 + margin
    cuts = []
    for k, ring in enumerate(rings):
        at = apart * k
        low = -1.0 if through else FLOOR_MM
        cuts.append(Solid.drawn_ring(ring, low, thick + 1.0).moved(at, 0, 0))
        number = lettered(str(k + 1), NUMBER_MM)
        cuts.append(Solid.drawn(number, thick - NUMBER_DEEP_MM, thick + 1).moved(at, -tall / 2 - margin - NUMBER_MM / 2, 0))
    return Solid.box([x0, y0, 0], [x1, y1, thick]).minus(cuts)

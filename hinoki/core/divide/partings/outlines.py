"""Closed outlines of hatches: rectangle, circle, free. Each gives rings that lie a distance further in, corner for corner."""

from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, Field, model_validator
from shapely.geometry import Polygon

from hinoki.core.divide.partings.base import Length
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import round_sides

FLAT_MM = 3.0
"""a shorter straight side is no face that a joint could stand on"""
Size = Annotated[float, Field(gt=0, le=1e4, allow_inf_nan=False)]
CORNER_STEPS = 12


class Rectangle(BaseModel, frozen=True):
    """A rectangle about its middle, its corners rounded or sharp."""

    shape: Literal["rectangle"] = "rectangle"
    width_mm: Size = Field(30.0, title="Width")
    height_mm: Size = Field(20.0, title="Height")
    corner_mm: Annotated[float, Field(ge=0, le=1e4, allow_inf_nan=False)] = Field(2.0, title="Corner radius")

    @model_validator(mode="after")
    def _round_enough(self) -> "Rectangle":
        if self.corner_mm * 2 >= min(self.width_mm, self.height_mm):
            raise ValueError("the corner radius must be less than half of the width and of the height; choose a smaller one")
        return self

    def ring(self, inset_mm: float) -> Points | None:
        """The outline (n, 2), counter-clockwise, drawn in by `inset_mm` on every side; none where nothing is left."""
        w, h = self.width_mm / 2 - inset_mm, self.height_mm / 2 - inset_mm
        if min(w, h) <= 0:
            return None
        if self.corner_mm == 0:
            return np.array([[w, -h], [w, h], [-w, h], [-w, -h]])
        # drawn in further than the corner's radius, the corner is as good as sharp
        r = min(max(self.corner_mm - inset_mm, 1e-3), 0.999 * min(w, h))
        quarter = np.linspace(0, np.pi / 2, CORNER_STEPS + 1)
        middles = [(w - r, -h + r, -np.pi / 2), (w - r, h - r, 0.0), (-w + r, h - r, np.pi / 2), (-w + r, -h + r, np.pi)]
        return np.vstack([[x, y] + r * np.column_stack([np.cos(quarter + a), np.sin(quarter + a)]) for x, y, a in middles])

    def sides(self) -> list[tuple[int, Points, Points]]:
        """Its straight sides: number, start and end (2,), counter-clockwise."""
        w, h, c = self.width_mm / 2, self.height_mm / 2, self.corner_mm
        ends = [((w, c - h), (w, h - c)), ((w - c, h), (c - w, h)), ((-w, h - c), (-w, c - h)), ((c - w, -h), (w - c, -h))]
        return _long([(np.array(start), np.array(end)) for start, end in ends])

    def label(self) -> str:
        """Such as “30.0 × 20.0”."""
        return f"{self.width_mm:.1f} × {self.height_mm:.1f}"


class Circle(BaseModel, frozen=True):
    """A circle about its middle."""

    shape: Literal["circle"] = "circle"
    diameter_mm: Size = Field(30.0, title="Diameter")

    def ring(self, inset_mm: float) -> Points | None:
        """The outline (n, 2), counter-clockwise, drawn in by `inset_mm`; none where nothing is left."""
        radius = self.diameter_mm / 2 - inset_mm
        if radius <= 0:
            return None
        n = round_sides(self.diameter_mm / 2)
        turn = 2 * np.pi * np.arange(n) / n
        return radius * np.column_stack([np.cos(turn), np.sin(turn)])

    def sides(self) -> list[tuple[int, Points, Points]]:
        """None is straight."""
        return []

    def label(self) -> str:
        """Such as “⌀ 30.0”."""
        return f"⌀ {self.diameter_mm:.1f}"


class FreePoint(BaseModel, frozen=True):
    """A corner of a free outline, from its middle."""

    x_mm: Length = Field(title="Right")
    y_mm: Length = Field(title="Up")


class Free(BaseModel, frozen=True):
    """Any outline by its corners."""

    shape: Literal["free"] = "free"
    corners: tuple[FreePoint, ...] = Field(min_length=3, max_length=400, title="Corners")

    @model_validator(mode="after")
    def _an_area(self) -> "Free":
        outline = Polygon([(p.x_mm, p.y_mm) for p in self.corners])
        if not outline.is_valid:
            raise ValueError("the outline crosses itself; move its corners so that it does not")
        if outline.area < 0.01:
            raise ValueError("the outline holds no area; move its corners apart")
        return self

    def ring(self, inset_mm: float) -> Points | None:
        """The outline (n, 2), counter-clockwise, drawn in by `inset_mm`; none where corners would pass each other."""
        flat = np.array([[p.x_mm, p.y_mm] for p in self.corners])
        if not Polygon(flat).exterior.is_ccw:
            flat = flat[::-1]
        before = flat - np.roll(flat, 1, axis=0)
        after = np.roll(flat, -1, axis=0) - flat
        if inset_mm == 0:
            return flat
        one, two = (d / np.linalg.norm(d, axis=1)[:, None] for d in (before, after))
        inward_one, inward_two = (np.column_stack([-d[:, 1], d[:, 0]]) for d in (one, two))
        middle = inward_one + inward_two
        # the corner moves along the bisector so far that both sides are drawn in by the inset
        moved = flat + inset_mm * middle * (2 / np.maximum((middle**2).sum(axis=1), 1e-3))[:, None]
        shape = Polygon(moved)
        turned = ((np.roll(moved, -1, axis=0) - moved) * after).sum(axis=1) <= 0
        return None if turned.any() or not shape.is_valid else moved

    def sides(self) -> list[tuple[int, Points, Points]]:
        """Its straight sides: number, start and end (2,), counter-clockwise."""
        flat = self.ring(0.0)
        assert flat is not None
        return _long(list(zip(flat, np.roll(flat, -1, axis=0), strict=True)))

    def label(self) -> str:
        """Such as “free, 6 corners”."""
        return f"free, {len(self.corners)} corners"


def _long(sides: list[tuple[Points, Points]]) -> list[tuple[int, Points, Points]]:
    return [(k, start, end) for k, (start, end) in enumerate(sides) if float(np.linalg.norm(end - start)) >= FLAT_MM]


HatchOutline = Annotated[Rectangle | Circle | Free, Field(discriminator="shape")]

"""Printers: what fits them, and how a piece is turned on the bed so that it does."""

import tomllib
from importlib.resources import files
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import BaseModel, Field

from hinoki.core.mesh import Points

Side = Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False)]
SLACK_MM = 1e-4
"""rounding of coordinates that does not count as being over"""


class Printer(BaseModel, frozen=True):
    """A printer's room: a rectangular bed and a height, in millimetres."""

    id: str = Field("typed", max_length=60)
    name: str = Field("Typed bed", max_length=80)
    process: Literal["filament", "resin"] = "filament"
    bed_mm: tuple[Side, Side]
    height_mm: Side
    margin_mm: float = Field(0.0, ge=0, le=200, title="Margin kept free")

    @property
    def room_mm(self) -> Points:
        """Usable X, Y, Z, (3,)."""
        twice = 2 * self.margin_mm
        return np.array([self.bed_mm[0] - twice, self.bed_mm[1] - twice, self.height_mm])


def presets() -> list[Printer]:
    """The generic printers that ship with Hinoki."""
    table = tomllib.loads(files("hinoki").joinpath("data/printers.toml").read_text())
    return [Printer.model_validate(row) for row in table["printer"]]


def box_fits(size: Points, room: Points) -> bool:
    """Whether a box of `size` (3,) fits `room` (3,) some way up, edges along the bed."""
    return bool((np.sort(size) <= np.sort(room) + SLACK_MM).all())


def over_by(size: Points, room: Points) -> Points:
    """How much each axis is over, (3,), zero where it fits."""
    return np.maximum(size - room, 0.0)


def turn_on_bed(footprint: Points, room: Points) -> float | None:
    """Angle in degrees about Z at which the convex `footprint` (n, 2) fits the bed, or None where none does.

    Tries no turn, a quarter turn, then the edges of the hull (rotating calipers) and the angles in 1° steps between,
    since a piece may fit across the diagonal although its smallest rectangle does not.
    """
    hull = _hull(footprint)
    edges = np.roll(hull, -1, axis=0) - hull
    calipers = np.degrees(np.arctan2(edges[:, 1], edges[:, 0])) % 90
    angles = np.concatenate([[0.0, 90.0], -calipers, 90 - calipers, np.arange(1.0, 180.0)])
    turn = np.radians(angles)
    x = np.cos(turn)[:, None] * hull[:, 0] - np.sin(turn)[:, None] * hull[:, 1]
    y = np.sin(turn)[:, None] * hull[:, 0] + np.cos(turn)[:, None] * hull[:, 1]
    good = (np.ptp(x, axis=1) <= room[0] + SLACK_MM) & (np.ptp(y, axis=1) <= room[1] + SLACK_MM)
    return float(angles[int(np.argmax(good))]) if good.any() else None


def _hull(points: Points) -> Points:
    shape = shapely.convex_hull(shapely.multipoints(points))
    return np.asarray(shapely.get_coordinates(shape))[:-1] if shape.geom_type == "Polygon" else np.asarray(points)

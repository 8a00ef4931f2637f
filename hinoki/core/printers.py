"""Printers: what fits them, and how a piece is turned on the bed so that it does."""

import tomllib
from importlib.resources import files
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, Field
from scipy.spatial import ConvexHull

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
    """Angle in degrees about Z at which the points of `footprint` (n, 2) fit the bed, or None where none does.

    Tries no turn and a quarter turn, then the edges of the hull (rotating calipers) and the angles in 1° steps between,
    since a piece may fit across the diagonal although its smallest rectangle does not.
    """
    width, depth = np.ptp(footprint, axis=0)
    if width <= room[0] + SLACK_MM and depth <= room[1] + SLACK_MM:
        return 0.0
    if depth <= room[0] + SLACK_MM and width <= room[1] + SLACK_MM:
        return 90.0
    hull = footprint[ConvexHull(footprint).vertices]
    edges = np.roll(hull, -1, axis=0) - hull
    calipers = np.degrees(np.arctan2(edges[:, 1], edges[:, 0])) % 90
    angles = np.concatenate([-calipers, 90 - calipers, np.arange(1.0, 180.0)])
    turn = np.radians(angles)
    x = np.cos(turn)[:, None] * hull[:, 0] - np.sin(turn)[:, None] * hull[:, 1]
    y = np.sin(turn)[:, None] * hull[:, 0] + np.cos(turn)[:, None] * hull[:, 1]
    good = (np.ptp(x, axis=1) <= room[0] + SLACK_MM) & (np.ptp(y, axis=1) <= room[1] + SLACK_MM)
    return float(angles[int(np.argmax(good))]) if good.any() else None

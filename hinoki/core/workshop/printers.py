"""Printers: what they are, what fits them, and how a piece is turned on the bed so that it does."""

import tomllib
from importlib.resources import files
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import BaseModel, Field

from hinoki.core.geometry.mesh import Points

Side = Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False)]
SLACK_MM = 1e-4
"""rounding of coordinates that does not count as being over"""
COARSE = np.radians(np.arange(0.0, 180.0, 6.0))
"""turns at which it is looked first whether a footprint is over by far"""
CLOSE = np.radians(np.arange(-3.0, 4.0))
"""whole degrees about one of these, up to halfway to the next"""


Positive = Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False)]
Layer = Annotated[float, Field(gt=0, ge=0.01, le=5, allow_inf_nan=False)]


class KeptFree(BaseModel, frozen=True):
    """A corner of the bed where nothing may lie: a clip, a purge bin, a camera's foot."""

    corner: Literal["front left", "front right", "back left", "back right"]
    size_mm: tuple[Side, Side] = Field(title="Size", description="along X and along Y, from the corner of the bed")


class Printer(BaseModel, frozen=True):
    """A printer: its room, what it can draw, how fast, and what it costs. Lengths in millimetres."""

    id: str = Field("typed", max_length=60)
    name: str = Field("Typed bed", min_length=1, max_length=80, title="Name")
    process: Literal["filament", "resin"] = Field("filament", title="Kind")
    bed_shape: Literal["rectangular", "round"] = Field("rectangular", title="Bed")
    bed_mm: tuple[Side, Side] = Field(title="Bed size", description="width and depth; a round bed's diameter twice")
    height_mm: Side = Field(title="Height")
    margin_mm: float = Field(0.0, ge=0, le=200, title="Margin kept free")
    kept_free: tuple[KeptFree, ...] = Field((), max_length=8, title="Corners kept free")
    machines: int = Field(1, ge=1, le=100, title="How many", description="machines of this kind that print side by side")
    nozzle_mm: Layer = Field(0.4, title="Nozzle", description="for resin: the size of a pixel")
    line_mm: Layer = Field(0.45, title="Line width", description="thinner details are lost")
    least_wall_mm: Layer = Field(0.9, title="Least wall", description="thinner walls are pointed out")
    layers_mm: tuple[Layer, Layer, Layer] = Field((0.12, 0.2, 0.28), title="Layers", description="fine, usual, coarse")
    speed_mm_s: Annotated[float, Field(gt=0, le=2000, allow_inf_nan=False)] = Field(60.0, title="Speed", description="mm/s")
    acceleration_mm_s2: Annotated[float, Field(ge=50, le=100_000, allow_inf_nan=False)] = Field(
        1500.0,
        title="Acceleration",
        description="mm/s²; common practice: 500 to 2 000; stiff machines 5 000 and more",
    )
    overhang_deg: Annotated[float, Field(ge=10, le=80, allow_inf_nan=False)] = Field(
        45.0, title="Overhang limit", description="from the vertical"
    )
    layer_time_s: Annotated[float, Field(ge=0, le=600, allow_inf_nan=False)] = Field(
        4.0, title="Time a layer", description="fixed seconds a layer; for resin: exposure and lift"
    )
    watts: Annotated[float, Field(ge=0, le=20_000, allow_inf_nan=False)] = Field(120.0, title="Power", description="W")
    hourly_cost: Annotated[float, Field(ge=0, le=10_000, allow_inf_nan=False)] = Field(
        0.0, title="Cost an hour", description="wear and upkeep, without power and material"
    )

    @property
    def room_mm(self) -> Points:
        """Usable X, Y, Z, (3,); of a round bed the diameter twice."""
        twice = 2 * self.margin_mm
        return np.array([self.bed_mm[0] - twice, self.bed_mm[1] - twice, self.height_mm])

    def smaller(self, factor: float) -> "Printer":
        """A printer with less room, by a factor."""
        return self.model_copy(
            update={
                "bed_mm": (self.bed_mm[0] / factor, self.bed_mm[1] / factor),
                "height_mm": self.height_mm / factor,
                "margin_mm": self.margin_mm / factor,
            }
        )

    def turn(self, footprint: Points) -> float | None:
        """Angle in degrees at which the points of `footprint` (n, 2) fit the bed, or None where none does."""
        if self.bed_shape == "round":
            return 0.0 if circle_around(footprint)[1] * 2 <= self.room_mm[0] + SLACK_MM else None
        return turn_on_bed(footprint, self.room_mm)

    def takes(self, footprint: Points) -> bool:
        """Whether the points of `footprint` (n, 2) fit the bed at some angle: `turn` without the angle, in less time."""
        if self.bed_shape == "round":
            return self.turn(footprint) is not None
        room = self.room_mm
        rough = _spare(footprint, room, COARSE)
        doubt = _most_change(footprint) * COARSE[1] / 2
        if (rough >= -SLACK_MM).any():
            return True
        near = COARSE[rough + doubt >= -SLACK_MM]
        if not len(near):
            return False
        close = _spare(footprint, room, (near[:, None] + CLOSE).ravel())
        if (close >= -SLACK_MM).any():
            return True
        return bool((close + doubt / 6 >= -SLACK_MM).any()) and _best_turn(footprint, room) is not None

    def holds(self, size: Points) -> bool:
        """Whether a box of `size` (3,) fits some way up."""
        if self.bed_shape == "rectangular":
            return box_fits(size, self.room_mm)
        room = self.room_mm
        return any(
            float(np.hypot(*np.delete(size, up))) <= room[0] + SLACK_MM and size[up] <= room[2] + SLACK_MM for up in range(3)
        )


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
    doubt = _most_change(footprint) * COARSE[1] / 2
    return _best_turn(footprint, room) if (_spare(footprint, room, COARSE) + doubt >= -SLACK_MM).any() else None


def _best_turn(footprint: Points, room: Points) -> float | None:
    """The angle with the most room to spare: of the hull's edges (rotating calipers) and of every whole degree."""
    from scipy.spatial import ConvexHull

    hull = footprint[ConvexHull(footprint).vertices]
    edges = np.roll(hull, -1, axis=0) - hull
    calipers = np.degrees(np.arctan2(edges[:, 1], edges[:, 0])) % 90
    angles = np.concatenate([-calipers, 90 - calipers, np.arange(1.0, 180.0)])
    turn = np.radians(angles)
    x, y = np.column_stack([np.cos(turn), -np.sin(turn)]), np.column_stack([np.sin(turn), np.cos(turn)])
    spare = np.minimum(room[0] - _widths(hull, edges, x), room[1] - _widths(hull, edges, y))
    best = int(np.argmax(spare))
    return float(angles[best]) if spare[best] >= -SLACK_MM else None


def _widths(hull: Points, edges: Points, ways: Points) -> Points:
    """How wide a hull (n, 2), counter-clockwise, is along unit vectors (m, 2): (m,).

    The corner that reaches furthest is found by the angles of the edges' normals (rotating calipers; Shamos 1978).
    """
    normals = np.arctan2(-edges[:, 0], edges[:, 1])
    first = int(np.argmin(normals))
    normals, corners = np.roll(normals, -first), np.roll(hull, -first, axis=0)

    def furthest(way: Points) -> Points:
        at = np.searchsorted(normals, np.arctan2(way[:, 1], way[:, 0])) % len(corners)
        return np.asarray(np.einsum("ij,ij->i", corners[at], way))

    return furthest(ways) + furthest(-ways)


def _spare(footprint: Points, room: Points, turns: Points) -> Points:
    """The room to spare in mm of a footprint (n, 2) turned by angles in radians (m,): (m,)."""
    across = np.column_stack([np.cos(turns), -np.sin(turns)])
    along = across[:, ::-1] * (-1, 1)
    widths = np.ptp(np.vstack([across, along]) @ footprint.T, axis=1)
    return np.asarray(np.minimum(room[0] - widths[: len(turns)], room[1] - widths[len(turns) :]))


def _most_change(footprint: Points) -> float:
    """By how many mm the width of a footprint (n, 2) changes at most for each radian: its diameter, or a little more."""
    return float(np.hypot(*np.ptp(footprint, axis=0)))


def circle_around(footprint: Points) -> tuple[Points, float]:
    """Centre (2,) and radius of the smallest circle around points (n, 2)."""
    circle = shapely.minimum_bounding_circle(shapely.multipoints(footprint))
    centre = shapely.centroid(circle)
    return np.array([centre.x, centre.y]), float(shapely.minimum_bounding_radius(shapely.multipoints(footprint)))

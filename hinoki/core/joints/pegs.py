"""What pins and dowels share: their measures, the shape of a peg and of the bore around it."""

from functools import lru_cache
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from hinoki.core.frames import Frame
from hinoki.core.joints.base import JointBase, Peg, Place, SideName
from hinoki.core.mesh import Points
from hinoki.core.solid import Solid, round_sides

END_GAP_MM = 0.3
"""a bore is this much deeper than the peg is long, so that the faces meet first"""
OPENING_MM = 0.5
"""how far a bore's tool stands out of its mouth; there is nothing of the piece there"""
ROOT_MM = 0.05
"""how far a pin reaches into the piece it stands on, so that the two grow together"""
JUST_INSIDE_MM = 0.01

Measure = Annotated[float, Field(ge=0.5, le=200, allow_inf_nan=False)]


class PegJoint(JointBase, frozen=True):
    """Pegs that go straight in along the normal of the face."""

    count: int = Field(2, ge=1, le=40, title="Count")
    diameter_mm: Measure = Field(5.0, title="Diameter", description="across flats for a square one, mm")
    length_mm: Measure = Field(5.0, title="Length", description="mm")
    shape: Literal["round", "square"] = Field("round", title="Shape")

    @property
    def wanted(self) -> int:
        """The count, or as many as were placed by hand."""
        return self.count if self.places is None else len(self.places)

    @property
    def half_mm(self) -> float:
        """Half the diameter."""
        return self.diameter_mm / 2

    @property
    def radius_mm(self) -> float:
        """Radius of the circle around the peg's section."""
        return self.half_mm * (np.sqrt(2) if self.shape == "square" else 1.0)

    @property
    def chamfer_mm(self) -> float:
        """Chamfer at a tip: it leads the peg in."""
        return min(1.0, 0.15 * self.diameter_mm, 0.3 * self.length_mm)

    def bar(self, half: float, low: float, high: float, around: bool = False) -> Solid:
        """A straight bar of the peg's section in frame coordinates."""
        return _bar(self.shape, half, low, high, around)

    def tipped(self, low: float, high: float, both: bool) -> Solid:
        """A peg from `low` to `high` with a chamfer at its upper end, or at both."""
        return _tipped(self.shape, self.half_mm, self.chamfer_mm, low, high, both)

    def bored(self, side: SideName, index: int, frame: Frame, place: Place, clearance: float, wall: float) -> Peg:
        """The bore for a peg of reach `reach_mm(side)` on a side, with its guards."""
        depth = self.reach_mm(side) + END_GAP_MM
        half = self.half_mm + clearance
        matrix = placed_at(frame if side == "b" else frame.flipped(), place if side == "b" else (place[0], -place[1]))
        return Peg(
            side,
            index,
            cut=self.bar(half, -OPENING_MM, depth, around=True).placed(matrix),
            bore=self.bar(half, JUST_INSIDE_MM, depth, around=True).placed(matrix),
            around=self.bar(half + wall, JUST_INSIDE_MM, depth).placed(matrix),
            beyond=self.bar(half, depth, depth + wall).placed(matrix),
        )


def placed_at(frame: Frame, place: Place) -> np.ndarray:
    """The matrix that takes frame coordinates, moved to `place`, into the world."""
    matrix = frame.to_world.copy()
    matrix[:, 3] = frame.world(np.array([place]))[0]
    return matrix


# many pegs of a plan are alike, so their shapes are made once
@lru_cache(maxsize=512)
def _bar(shape: str, half: float, low: float, high: float, around: bool) -> Solid:
    if shape == "square":
        return Solid.box([-half, -half, low], [half, half, high])
    return Solid.cylinder(half, low, high, around)


@lru_cache(maxsize=512)
def _tipped(shape: str, half: float, chamfer: float, low: float, high: float, both: bool) -> Solid:
    """A peg is convex, so the hull of its rings is enough."""
    n = 4 if shape == "square" else round_sides(half)
    rings = [_ring(shape, half, n, high - chamfer), _ring(shape, half - chamfer, n, high)]
    rings += (
        [_ring(shape, half - chamfer, n, low), _ring(shape, half, n, low + chamfer)] if both else [_ring(shape, half, n, low)]
    )
    return Solid.hull_of(np.concatenate(rings))


def _ring(shape: str, half: float, n: int, z: float) -> Points:
    """Corners (n, 3) of a peg's section at a level; a round one is drawn inside its circle."""
    turn = 2 * np.pi * (np.arange(n) + (0.5 if shape == "square" else 0.0)) / n
    reach = half * np.sqrt(2) if shape == "square" else half
    return np.column_stack([reach * np.cos(turn), reach * np.sin(turn), np.full(n, z)])

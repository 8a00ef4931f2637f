"""What pins and dowels share: their measures, the shape of a peg and of the bore around it."""

import math
from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import ClassVar, Literal, Self

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import MultiPolygon

from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import round_sides
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.base import Small, thinned
from hinoki.core.join.contract.in_collar import COLLAR_WORDS, CollarJoint
from hinoki.core.join.contract.point_spacing import spread
from hinoki.core.join.contract.strength import ACROSS_LAYERS, Bears, Strength, Stuff, section_modulus_mm3
from hinoki.core.join.contract.terms import JUST_INSIDE_MM, OPENING_MM, Place, SideName, Standing, Tool

PegShape = Literal["round", "square", "flat"]
PEG_SIZES_MM = (10.0, 8.0, 6.0, 5.0, 4.0, 3.0, 2.5, 2.0, 1.5)
THINNED_MM = 0.005
FLAT_AT = 0.7
"""how far the flat of a flatted peg lies from its axis, as a share of the radius"""


FAR_OUT_MM = 3.0
"""how far in from the edge of the room for it a peg that stands far out is"""
PEG_WORDS = {
    "shape": {"round": "Round", "square": "Square", "flat": "Round with a flat"},
    "stand": {"within": "Over the face", "outwards": "Far out"},
    **COLLAR_WORDS,
}


@lru_cache(maxsize=256)
def _simpler(section: MultiPolygon) -> shapely.Geometry:
    """A section with fewer corners; pegs of all sizes ask for it of the same few."""
    return shapely.simplify(section, THINNED_MM)


class PegJoint(CollarJoint, frozen=True):
    """Pegs that go straight in along the normal of the face."""

    words: ClassVar[Mapping[str, str]] = {
        "joint-under-line": (
            "is {diameter_mm:g} mm thick; the printer draws lines of {line_mm:g} mm and needs two. Make it thicker."
        ),
        "joint-ribs": "has no crush ribs: they need a round pin with a clearance. Set the ribs to 0.",
    }

    count: int = Field(2, ge=1, le=40, title="Count")
    diameter_mm: Measure = Field(5.0, title="Diameter", description="across flats for a square one, mm")
    length_mm: Measure = Field(5.0, title="Length", description="mm")
    shape: PegShape = Field("round", title="Shape", description="square ones and ones with a flat do not turn")
    one_way: bool = Field(False, title="Only one way", description="places such that the pieces cannot be put together turned")
    stand: Literal["within", "outwards"] = Field(
        "within", title="Stand", description="several of them, where Hinoki places them: far out they bear more bending"
    )
    tip_mm: Small | None = Field(None, title="Tip", description="chamfer that leads it in, mm; none: by its size")

    @property
    def wanted(self) -> int:
        """The count, or as many as were placed by hand."""
        return self.count if self.places is None else len(self.places)

    def thinner(self, by_mm: float) -> Self | None:
        """Of a smaller diameter."""
        return thinned(self, by_mm, ("diameter_mm",))

    @property
    def turns_never(self) -> bool:
        """As wished."""
        return self.one_way

    @property
    def half_mm(self) -> float:
        """Half the diameter."""
        return self.diameter_mm / 2

    @property
    def radius_mm(self) -> float:
        """Radius of the circle around the peg's section."""
        return self.half_mm * (np.sqrt(2) if self.shape == "square" else 1.0)

    @property
    def apart_mm(self) -> float:
        """Two pegs at least do not touch."""
        return 2 * self.radius_mm

    @property
    def chamfer_mm(self) -> float:
        """Chamfer at a tip: it leads the peg in."""
        most = min(0.4 * self.diameter_mm, 0.9 * self.length_mm)
        return min(1.0, 0.15 * self.diameter_mm, 0.3 * self.length_mm) if self.tip_mm is None else min(self.tip_mm, most)

    @property
    def least_deep_mm(self) -> float:
        """As deep as they are thick."""
        return self.diameter_mm

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """Shear of the pegs at the face, between their layers: F = n · τ · A."""
        area = shapely.Polygon(section_ring(self.shape, self.half_mm, 0.0)).area
        return Strength(len(places) * ACROSS_LAYERS * stuff.shear_mpa * area, "pegs in shear, τ·A")

    def bears(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Bears | None:
        """Bending of the pegs at the face, between their layers: M = n · σ · Z, Z of a round one π d³/32."""
        modulus = section_modulus_mm3(MultiPolygon([shapely.Polygon(section_ring(self.shape, self.half_mm, 0.0))]))
        return Bears(len(places) * ACROSS_LAYERS * stuff.tension_mpa * modulus, "pegs in bending, σ·Z")

    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """The peg's section at `place`."""
        return shapely.Polygon(section_ring(self.shape, self.half_mm, 0.0) + np.array(place))

    def eroded(self, standing: Standing, section: MultiPolygon) -> shapely.Geometry:
        """The section less the peg's radius, its clearance and the least wall."""
        # fewer corners first, and as much narrower as that may be off: sections of fine models have thousands
        away = self.radius_mm + standing.clearance_mm + standing.least_wall_mm + THINNED_MM
        return _simpler(section).buffer(-away, quad_segs=8)

    def spread(self, room: MultiPolygon, apart_mm: float) -> list[Place]:
        """One at the centre of the largest circle, several as far from each other as can be."""
        return spread(room, self.wanted, apart_mm, FAR_OUT_MM if self.stand == "outwards" else math.inf)

    def smaller(self) -> Self | None:
        """The next smaller whole measure, as much shorter."""
        less = [d for d in PEG_SIZES_MM if d < self.diameter_mm - 1e-6]
        if not less:
            return None
        length = max(1.0, round(2 * self.length_mm * less[0] / self.diameter_mm) / 2)
        return self.model_copy(update={"diameter_mm": less[0], "length_mm": min(self.length_mm, length)})

    def bar(self, grown: float, low: float, high: float, around: bool = False) -> Solid:
        """A straight bar of the peg's section, `grown` on all sides, in frame coordinates."""
        return _bar(self.shape, self.half_mm, grown, low, high, around)

    def tipped(self, low: float, high: float, both: bool) -> Solid:
        """A peg from `low` to `high` with a chamfer at its upper end, or at both."""
        return tipped_bar(self.shape, self.half_mm, self.chamfer_mm, low, high, both)

    def bored(self, side: SideName, index: int, standing: Standing, place: Place) -> Tool:
        """The bore for a peg of reach `reach_mm(side)` on a side, with its guards."""
        depth = self.reach_mm(side) + standing.end_gap_mm
        grown, wall, frame = standing.clearance_mm, standing.least_wall_mm, standing.frame
        matrix = into(frame, side, place)
        return Tool(
            side,
            index,
            cut=self.bar(grown, -OPENING_MM, depth, around=True).placed(matrix),
            bore=self.bar(grown, JUST_INSIDE_MM, depth, around=True).placed(matrix),
            around=self.bar(grown + wall, JUST_INSIDE_MM, depth).placed(matrix),
            beyond=self.bar(grown, depth, depth + wall).placed(matrix),
        )


def placed_at(frame: Frame, place: Place) -> np.ndarray:
    """The matrix that takes frame coordinates, moved to `place`, into the world."""
    matrix = frame.to_world.copy()
    matrix[:, 3] = frame.world(np.array([place]))[0]
    return matrix


def into(frame: Frame, side: SideName, place: Place) -> Points:
    """The matrix whose Z goes from `place` on a face into the piece on `side`: out of the other one, and across the face."""
    return placed_at(frame, place) if side == "b" else placed_at(frame.flipped(), (place[0], -place[1]))


def section_ring(shape: PegShape, half: float, grown: float, around: bool = False) -> Points:
    """Corners (n, 2) of a peg's section grown by `grown`; a round one is drawn inside its circle, or `around` it.

    The flat of a flatted one looks along −u and is symmetric about u, so that seen from either piece it is the same.
    """
    reach = half + grown
    if shape == "square":
        return reach * np.array([[-1.0, -1.0], [1.0, -1.0], [1.0, 1.0], [-1.0, 1.0]])
    n = round_sides(reach)
    turn = 2 * np.pi * np.arange(n) / n
    ring = (reach / np.cos(np.pi / n) if around else reach) * np.column_stack([np.cos(turn), np.sin(turn)])
    if around:
        ring = ring @ _turn(np.pi / n)
    if shape == "flat":
        level = FLAT_AT * half + grown
        kept = shapely.intersection(shapely.Polygon(ring), shapely.box(-level, -2 * reach, 2 * reach, 2 * reach))
        ring = shapely.get_coordinates(shapely.normalize(kept).exterior)[:-1][::-1]
    return ring


def _turn(angle: float) -> Points:
    return np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])


# many pegs of a plan are alike, so their shapes are made once
@lru_cache(maxsize=512)
def _bar(shape: PegShape, half: float, grown: float, low: float, high: float, around: bool) -> Solid:
    if shape == "square":
        reach = half + grown
        return Solid.box([-reach, -reach, low], [reach, reach, high])
    if shape == "round":
        return Solid.cylinder(half + grown, low, high, around)
    return Solid.drawn_ring(section_ring(shape, half, grown, around), low, high)


@lru_cache(maxsize=512)
def tipped_bar(shape: PegShape, half: float, chamfer: float, low: float, high: float, both: bool) -> Solid:
    """A peg is convex, so the hull of its rings is enough."""

    def ring(grown: float, z: float) -> Points:
        flat = section_ring(shape, half, grown)
        return np.column_stack([flat, np.full(len(flat), z)])

    rings = [ring(0.0, high - chamfer), ring(-chamfer, high)]
    rings += [ring(-chamfer, low), ring(0.0, low + chamfer)] if both else [ring(0.0, low)]
    return Solid.hull_of(np.concatenate(rings))

"""What joints share that go together by turning: a plug, or a ring round a hollow, about one axis, and its socket."""

from abc import abstractmethod
from typing import Annotated, ClassVar, Literal

import shapely
from pydantic import Field
from shapely.geometry import MultiPolygon, Polygon

from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.in_collar import Thick
from hinoki.core.join.contract.male_side import SidedJoint
from hinoki.core.join.contract.point_spacing import spread
from hinoki.core.join.contract.terms import JUST_INSIDE_MM, SIDES, CollarWish, Place, SideName, Standing, Tool
from hinoki.core.workshop.fits import Fit

CENTRED_MM = 0.05
"""how far from the middle of a hollow a ring may stand"""


def hollow_middles(shape: MultiPolygon) -> list[shapely.Point]:
    """The middles of the hollows in a face."""
    return [Polygon(ring).centroid for part in shape.geoms for ring in part.interiors]


class TurnedJoint(SidedJoint, frozen=True):
    """A plug of `length_mm` about the normal of the face; a ring with `bore_mm` through it where that is set."""

    takes_glue: ClassVar[bool] = False
    pulls: ClassVar[bool] = True

    fit: Fit = Field("sliding", title="Fit")
    diameter_mm: Measure = Field(20.0, title="Diameter", description="all round it, mm")
    length_mm: Measure = Field(10.0, title="Length", description="how far it goes in, mm")
    hand: Literal["right", "left"] = Field("right", title="Hand")
    bore_mm: Annotated[float, Field(ge=0, le=400, allow_inf_nan=False)] = Field(
        0.0, title="Bore", description="hollow through its middle, mm; 0: none"
    )
    collar_mm: Thick = Field(0.0, title="Collar", description="ring inside the hollow that it stands in, mm thick; 0: none")

    @property
    @abstractmethod
    def minor_mm(self) -> float:
        """Diameter of its core."""

    @property
    def wanted(self) -> int:
        """One: two on one face could not be turned."""
        return 1 if self.places is None else min(1, len(self.places))

    def collar(self, standing: Standing) -> CollarWish | None:
        """As thick as was typed, and deep enough for the socket and its end."""
        if self.collar_mm <= 0:
            return None
        end = standing.end_gap_mm + standing.least_wall_mm
        return CollarWish(self.collar_mm, {side: max(self.reach_mm(side) + end, 0.5 * self.length_mm) for side in SIDES})

    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """Its section, without the bore."""
        whole = shapely.Point(place).buffer(self.diameter_mm / 2)
        return shapely.difference(whole, shapely.Point(place).buffer(self.bore_mm / 2)) if self.bore_mm else whole

    def _needed(self, standing: Standing, place: Place) -> shapely.Geometry:
        """What must be material around its place."""
        least = shapely.Point(place).buffer(self.diameter_mm / 2 + standing.clearance_mm + standing.least_wall_mm, quad_segs=32)
        return shapely.difference(least, shapely.Point(place).buffer(self.minor_mm / 2)) if self.bore_mm else least

    def eroded(self, standing: Standing, section: MultiPolygon) -> shapely.Geometry:
        """Where its axis may stand; a ring only in the middle of a hollow."""
        if not self.bore_mm:
            return section.buffer(-(self.diameter_mm / 2 + standing.clearance_mm + standing.least_wall_mm))
        # the hollow of the face may end further in: then the ring's groove goes on in full material
        middles, near = hollow_middles(standing.shape), section.buffer(CENTRED_MM)
        good = [m for m in middles if shapely.covers(near, self._needed(standing, (m.x, m.y)))]
        return as_multi(shapely.union_all([m.buffer(CENTRED_MM) for m in good])) if good else MultiPolygon()

    def spread(self, room: MultiPolygon, apart_mm: float) -> list[Place]:
        """In the middle of the widest room."""
        return spread(room, 1, apart_mm)

    def ring_mm(self, standing: Standing) -> float:
        """Thickness of a ring between its bore and its core."""
        return self.minor_mm / 2 - standing.clearance_mm - self.bore_mm / 2

    def socketed(self, side: SideName, index: int, standing: Standing, cut: Solid, matrix: Points) -> Tool:
        """What a side loses, of a cut along Z whose axis is that of the joint; round a hollow only what lies about that."""
        gap, wall, deep = standing.clearance_mm, standing.least_wall_mm, self.length_mm + standing.end_gap_mm
        outer, inner = self.diameter_mm / 2, self.minor_mm / 2
        bore = Solid.cylinder(outer, JUST_INSIDE_MM, deep, around=True)
        around = Solid.cylinder(outer + wall, JUST_INSIDE_MM, deep)
        beyond = Solid.cylinder(outer, deep, deep + wall)
        if self.bore_mm:
            core = Solid.cylinder(max(0.5, self.bore_mm / 2 - gap), -1, deep + wall + 1)
            open_ = Solid.cylinder(inner, -1, deep + wall + 1)
            cut, bore, around = cut.minus([core]), bore.minus([open_]), around.minus([open_])
            # a ring goes on into a wall that is there anyway: outside the groove it must be whole
            beyond = around.minus([Solid.cylinder(outer, -1, deep + 1)])
        return Tool(
            side,
            index,
            cut=cut.placed(matrix),
            bore=bore.placed(matrix),
            around=around.placed(matrix),
            beyond=beyond.placed(matrix),
        )

    def bored(self, plug: Solid) -> Solid:
        """A plug along Z with its bore through it."""
        return plug.minus([Solid.cylinder(self.bore_mm / 2, -1, self.length_mm + 1, around=True)]) if self.bore_mm else plug

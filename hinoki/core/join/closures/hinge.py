"""Hinge: knuckles of both pieces, in turn, around a loose pin, or around one that is printed in place."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
import shapely
from pydantic import Field, model_validator
from shapely.geometry import LineString, MultiPolygon

from hinoki.core.findings import Params
from hinoki.core.forms import Form
from hinoki.core.geometry.frames import Frame
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import round_sides
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.base import JointBase
from hinoki.core.join.contract.edge import Edge, edge_at, strips
from hinoki.core.join.contract.strength import ACROSS_LAYERS, Strength, Stuff
from hinoki.core.join.contract.terms import (
    Bought,
    Direction,
    Place,
    Problem,
    Sections,
    SideName,
    Standing,
    Taken,
    Tool,
    Tools,
    direction_of,
)
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.hardware import Hardware

FOOT = 0.5
"""radius of a knuckle's foot, as a share of the knuckle's"""
SKEW = math.sqrt(0.5)
LEAST_LINES = 2.0
BENT = 0.35
"""how far an edge may bend away over the length of a hinge, as a share of the knuckles' radius"""


@dataclass(frozen=True)
class Axis:
    """Where a hinge turns: a frame with `u` out of piece B across the seam, `v` along the face's normal and `n` along the axis.

    `sunk`: piece B lies in piece A, as a door does; else on it, as a lid does.
    """

    frame: Frame
    sunk: bool

    def turned(self, degrees: float) -> Points:
        """The matrix (3, 4) that opens piece B by an angle."""
        angle = math.radians(degrees)
        n, at = self.frame.n, self.frame.origin
        cross = np.array([[0, -n[2], n[1]], [n[2], 0, -n[0]], [-n[1], n[0], 0]])
        turn = np.eye(3) - math.sin(angle) * cross + (1 - math.cos(angle)) * (cross @ cross)
        return np.column_stack([turn, at - turn @ at])


class HingeJoint(JointBase, frozen=True):
    """A barrel of `length_mm` along an edge of piece B, of an odd number of knuckles; the outer ones are of piece A."""

    words: ClassVar[Mapping[str, str]] = {
        "hinge-thin": "has {wall_mm:g} mm round its pin; two printed lines are {least_mm:.1f} mm.",
        "hinge-no-edge": "has no edge of the second piece near it. Move it to the outline, or choose another face.",
        "hinge-bent": (
            "stands at an edge that bends away by {bent_mm:.1f} mm over {length_mm:g} mm: some knuckles would hang in the "
            "air. Make it shorter, or move it along the edge."
        ),
    }

    form: ClassVar[Form] = Form(
        "Hinge",
        "Hinge, at an edge",
        ("length_mm", "knuckles", "pin", "pin_mm", "of", "wall_mm", "gap_mm", "off_mm", "opens_deg"),
        when="Doors and lids. It stands at the edge of the upper piece, the pin passes over the surface.",
        words={"pin": {"loose": "loose, put in afterwards", "in place": "printed in place"}},
        only_if={"of": {"pin": ("loose",)}},
        beside_fit=("of", "off_mm", "opens_deg"),
    )

    takes_glue: ClassVar[bool] = False

    kind: Literal["hinge"] = "hinge"
    fit: Fit = Field("sliding", title="Fit")
    length_mm: Measure = Field(20.0, title="Length", description="of the barrel, mm")
    knuckles: int = Field(3, ge=3, le=15, title="Knuckles", description="an odd number")
    pin_mm: Annotated[float, Field(ge=0.8, le=20, allow_inf_nan=False)] = Field(2.0, title="Pin", description="diameter, mm")
    pin: Literal["loose", "in place"] = Field("loose", title="Pin is", description="in place: printed with both pieces")
    of: str = Field("steel", max_length=40, title="Pin of")
    wall_mm: Annotated[float, Field(ge=0.4, le=10, allow_inf_nan=False)] = Field(
        1.6, title="Wall", description="round the pin, mm"
    )
    gap_mm: Annotated[float, Field(ge=0.1, le=3, allow_inf_nan=False)] = Field(
        0.4, title="Gap", description="between the knuckles, and all round a pin printed in place, mm"
    )
    off_mm: Annotated[float, Field(ge=-20, le=20, allow_inf_nan=False)] | None = Field(
        None, title="Axis off the surface", description="mm; none: so far that the pin passes over it"
    )
    opens_deg: Annotated[float, Field(ge=5, le=270, allow_inf_nan=False)] = Field(
        110.0, title="Opens by", description="degrees"
    )

    @model_validator(mode="after")
    def _has_knuckles(self) -> "HingeJoint":
        if self.knuckles % 2 == 0:
            raise ValueError("a hinge has an odd number of knuckles: the outer ones are of one piece")
        if self.length_mm / self.knuckles < 2 * self.gap_mm + 1:
            raise ValueError(f"{self.knuckles} knuckles do not go into {self.length_mm:g} mm; take fewer, or a longer hinge")
        return self

    @property
    def wanted(self) -> int:
        """One."""
        return 1 if self.places is None else min(1, len(self.places))

    @property
    def within_face(self) -> bool:
        """It stands at the edge of the face."""
        return False

    @property
    def leaves_crumbs(self) -> bool:
        """Beside the room for the other piece's knuckles."""
        return True

    @property
    def opens(self) -> bool:
        """Doors are."""
        return True

    @property
    def prints_together(self) -> bool:
        """Whether both pieces come off the bed as one."""
        return self.pin == "in place"

    def tried_at(self, clearance_mm: float) -> Self:
        """What prints in place has the clearance for its gap."""
        return self.model_copy(update={"gap_mm": max(0.1, clearance_mm)}) if self.prints_together else self

    def _play(self, standing: Standing) -> float:
        """Between the pin and its bore."""
        return self.gap_mm if self.prints_together else standing.clearance_mm

    def motions(self, standing: Standing) -> tuple[Direction, ...] | None:
        """Onto the face; at the side of a hatch the way the hatch goes in."""
        if standing.sideways is not None and standing.off is not None:
            return (direction_of(-standing.off),)
        return super().motions(standing)

    def radius_mm(self, standing: Standing) -> float:
        """Of a knuckle."""
        return self.pin_mm / 2 + self._play(standing) + self.wall_mm

    def reach_mm(self, side: SideName) -> float:
        """As deep as a foot goes."""
        return self.pin_mm / 2 + self.wall_mm

    def edge(self, standing: Standing, place: Place) -> Edge | None:
        """The stretch of piece B's outline it stands at; None where there is none."""
        return edge_at(standing, place, self.length_mm)

    def axis(self, standing: Standing, place: Place) -> Axis | None:
        """Where it turns."""
        edge = self.edge(standing, place)
        if edge is None:
            return None
        off = self.pin_mm / 2 + self._play(standing) if self.off_mm is None else self.off_mm
        out, up = (0.0, edge.high_mm + off) if edge.sunk else (off, 0.0)
        flat = edge.at + (edge.seam_mm + out) * edge.out
        origin = standing.frame.world(flat[None], up)[0]
        u = edge.out[0] * standing.frame.u + edge.out[1] * standing.frame.v
        return Axis(Frame(origin, u, standing.frame.n, np.cross(u, standing.frame.n)), edge.sunk)

    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """The barrel, seen along the normal."""
        return self._beside_seam(standing, place, 0.0, self.radius_mm(standing))

    @property
    def placed_after(self) -> int:
        """It stands where the edge lets it; all others leave it its room."""
        return 0

    def keeps(self, standing: Standing, place: Place) -> shapely.Geometry:
        """Its knuckles with their feet and the room around them."""
        radius = self.radius_mm(standing)
        inward = SKEW * (radius + self._off(standing)) + FOOT * radius + self.gap_mm
        return self._beside_seam(standing, place, self.gap_mm, inward)

    def _beside_seam(self, standing: Standing, place: Place, longer: float, wide: float) -> shapely.Geometry:
        """A strip as long as the barrel and `longer` at both ends, and `wide` on both sides of the seam."""
        edge = self.edge(standing, place)
        if edge is None:
            return MultiPolygon()
        half, middle = self.length_mm / 2 + longer, edge.at + edge.seam_mm * edge.out
        line = LineString([middle - half * edge.along, middle + half * edge.along])
        return line.buffer(wide, cap_style="flat")

    def room(self, standing: Standing, sections: Sections, taken: Taken) -> shapely.Geometry:
        """Hair-wide strips along the outline of piece B where it is straight enough."""
        return strips(standing, self.length_mm, BENT * self.radius_mm(standing))

    def spread(self, room: MultiPolygon, apart_mm: float) -> list[Place]:
        """The middle of the longest strip; of equal ones the upper."""
        if room.is_empty or not self.wanted:
            return []
        best = max(room.geoms, key=lambda s: (round(s.length, 0), round(s.centroid.y, 1), round(s.centroid.x, 1)))
        return [(round(best.centroid.x, 2) + 0.0, round(best.centroid.y, 2) + 0.0)]

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """Its own knuckles for each side, and room for the other's, with the bore of the pin."""
        each: list[Tool] = []
        for index, place in enumerate(places):
            axis = self.axis(standing, place)
            if axis is not None:
                each += self._side("a", index, standing, axis) + self._side("b", index, standing, axis)
        return Tools(each)

    def _side(self, side: SideName, index: int, standing: Standing, axis: Axis) -> list[Tool]:
        gap, play, pin, half = self.gap_mm, self._play(standing), self.pin_mm / 2, self.length_mm / 2
        matrix = axis.frame.to_world
        other: SideName = "b" if side == "a" else "a"
        added = [self._knuckle(standing, axis, side, low, high, 0.0) for low, high in self._spans(side)]
        cut = [self._knuckle(standing, axis, other, low - gap, high + gap, gap) for low, high in self._spans(other)]
        probe = None
        if not self.prints_together:
            cut.append(Solid.cylinder(pin + play, -half - gap, half + self.length_mm, around=True))
            probe = Solid.cylinder(pin, -half, half)
        elif side == "b":
            added.append(Solid.cylinder(pin, -half, half))
            probe = Solid.cylinder(pin, -half, half)
        else:
            cut.append(Solid.cylinder(pin + play, -half - gap, half + gap, around=True))
        return [
            Tool(
                side, index, add=Solid.united(added).placed(matrix), cut=Solid.united(cut).placed(matrix),
                probe=probe.placed(matrix) if probe else None,
            )
        ]  # fmt: skip

    def _off(self, standing: Standing) -> float:
        """How far the axis lies out of the surface, for the knuckles' feet."""
        return self.pin_mm / 2 + self._play(standing) if self.off_mm is None else max(0.0, self.off_mm)

    def _spans(self, side: SideName) -> list[tuple[float, float]]:
        """Where along the axis the knuckles of a side begin and end."""
        long, gap = self.length_mm / self.knuckles, self.gap_mm
        first = 0 if side == "a" else 1
        last = self.knuckles - 1
        return [
            (
                -self.length_mm / 2 + k * long + (gap / 2 if k else 0.0),
                -self.length_mm / 2 + (k + 1) * long - (gap / 2 if k < last else 0.0),
            )
            for k in range(first, self.knuckles, 2)
        ]

    def _knuckle(self, standing: Standing, axis: Axis, side: SideName, low: float, high: float, grown: float) -> Solid:
        """A cylinder about the axis and a foot that runs into its piece at 45°, along Z in the axis' frame."""
        radius = self.radius_mm(standing)
        off = self._off(standing)
        x, y = {(True, "a"): (1, -1), (True, "b"): (-1, -1), (False, "a"): (-1, -1), (False, "b"): (-1, 1)}[axis.sunk, side]
        foot = SKEW * (radius + off) * np.array([x, y])
        rings = np.concatenate([_circle(radius + grown, grown > 0), foot + _circle(FOOT * radius + grown, grown > 0)])
        outline = np.asarray(shapely.MultiPoint(rings).convex_hull.exterior.coords)[:-1]
        return Solid.drawn_ring(outline, low, high)

    def hardware(self, standing: Standing, places: Sequence[Place]) -> list[Hardware]:
        """The pin, cut to length."""
        if self.prints_together or not places:
            return []
        return [Hardware(f"hinge pin ø{self.pin_mm:g}, {self.of}", len(places), round(self.length_mm, 1))]

    def bought(self, standing: Standing, places: Sequence[Place]) -> list[Bought]:
        """The pin."""
        if self.prints_together:
            return []
        body = Solid.cylinder(self.pin_mm / 2, -self.length_mm / 2, self.length_mm / 2)
        axes = [axis for place in places if (axis := self.axis(standing, place))]
        return [Bought(f"pin {self.pin_mm:g} × {self.length_mm:g}", "steel", body, a.frame.to_world, "a") for a in axes]

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """Tension in the walls of piece B's knuckles, across the layers: F = 2 · wall · length · σ."""
        long = sum(high - low for low, high in self._spans("b"))
        return Strength(
            len(places) * ACROSS_LAYERS * stuff.tension_mpa * 2 * self.wall_mm * long, "knuckles in tension, σ·2·w·l"
        )

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """Walls that do not print, an edge that bends away."""
        found = []
        if self.wall_mm < LEAST_LINES * standing.line_mm:
            found.append(Problem("hinge-thin", {"wall_mm": self.wall_mm, "least_mm": LEAST_LINES * standing.line_mm}))
        for place in places:
            edge = self.edge(standing, place)
            if edge is None:
                found.append(Problem("hinge-no-edge", {}, "must-fix", place))
            elif edge.bent_mm > BENT * self.radius_mm(standing):
                params: Params = {"bent_mm": edge.bent_mm, "length_mm": self.length_mm}
                found.append(Problem("hinge-bent", params, "look-at", place))
        return found

    def label(self) -> str:
        """Such as “hinge 20 long, pin ø2”."""
        return f"hinge {self.length_mm:g} long, pin ø{self.pin_mm:g}{', in place' if self.prints_together else ''}"


def _circle(radius: float, around: bool) -> Points:
    n = round_sides(radius)
    turn = 2 * np.pi * np.arange(n) / n
    return (radius / math.cos(math.pi / n) if around else radius) * np.column_stack([np.cos(turn), np.sin(turn)])

"""Bayonet: a plug, or a ring round a hollow, with lugs that go into slots of the other piece and lock by a turn."""

import math
from collections.abc import Mapping, Sequence
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
import shapely
from pydantic import Field, model_validator

from hinoki.core.findings import Params
from hinoki.core.forms import Form
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.base import scaled
from hinoki.core.join.contract.pegs import into
from hinoki.core.join.contract.snap_fits import OFTEN, Flex, PushedRing, along_n
from hinoki.core.join.contract.strength import Strength, Stuff
from hinoki.core.join.contract.terms import (
    OPENING_MM,
    ROOT_MM,
    Place,
    Problem,
    Sections,
    SideName,
    Standing,
    Tool,
    Tools,
    Turn,
)
from hinoki.core.join.turning.bayonet_body import LEAST_LEDGE_MM, Lug
from hinoki.core.join.turning.turned_joint import TurnedJoint

WIDE = 0.85
"""width of a lug as a share of the turn: it is all under its ledge"""
BETWEEN_DEG = 8.0
"""what is left between the channel of a lug and the slot of the next"""
NARROWEST_DEG = 10.0


class BayonetJoint(TurnedJoint, frozen=True):
    """Lugs on a plug of `length_mm` about the normal of the face, that catch after a turn by `turn_deg`."""

    words: ClassVar[Mapping[str, str]] = {
        "bayonet-ledge": (
            "leaves {ledge_mm:.1f} mm for its lugs to catch behind; {least_mm:g} mm is the least. Make it {long_mm:.1f} mm "
            "long."
        ),
        "bayonet-catch": (
            "has lugs that catch by {catch_mm:.2f} mm only, less the clearance; two printed lines are {least_mm:g} mm. Make "
            "them stand out further."
        ),
        "bayonet-thin-ring": (
            "leaves {ring_mm:.2f} mm between its bore and its lugs; {least_mm:g} mm is the least. Make the bore smaller."
        ),
        "bayonet-click": (
            "is no ring, so how far its clicks strain it is not known. Give it a bore, or try it on a fit ladder first."
        ),
    }

    form: ClassVar[Form] = Form(
        "Bayonet",
        "Bayonet, pushed in and turned",
        (
            "diameter_mm", "lug_mm", "lugs", "turn_deg", "length_mm", "click_mm", "bore_mm", "hand", "collar_mm", "on",
        ),
        when="Caps and lanterns that come off by a short turn and hold against any pull. Printed upright.",
        words={"hand": {"right": "locks clockwise", "left": "locks anticlockwise"}},
        beside_fit=("lugs", "turn_deg", "click_mm", "collar_mm", "on"),
    )  # fmt: skip

    kind: Literal["bayonet"] = "bayonet"
    diameter_mm: Measure = Field(24.0, title="Diameter", description="over the lugs, mm")
    length_mm: Measure = Field(8.0, title="Length", description="how far it goes in, its lugs at the end, mm")
    lug_mm: Annotated[float, Field(ge=0.8, le=10, allow_inf_nan=False)] = Field(
        2.0, title="Lugs stand out", description="mm, at 45°"
    )
    lugs: int = Field(3, ge=2, le=6, title="Lugs")
    turn_deg: Annotated[float, Field(ge=20, le=120, allow_inf_nan=False)] = Field(
        45.0, title="Turn", description="from the slot to where it locks, degrees"
    )
    click_mm: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = Field(
        0.2, title="Click", description="how far ridges on its lugs press before they drop in, mm; 0: none"
    )

    @model_validator(mode="after")
    def _has_room_round_it(self) -> "BayonetJoint":
        most = math.floor(360 / self.lugs - BETWEEN_DEG - NARROWEST_DEG)
        if self.turn_deg > most:
            raise ValueError(f"{self.lugs} lugs leave no room to turn by {self.turn_deg:g}°; {most}° is the most")
        if self.minor_mm < self.diameter_mm / 3:
            raise ValueError(
                f"lugs of {self.lug_mm:g} mm leave no core in a bayonet of {self.diameter_mm:g} mm; "
                f"{math.floor(10 * self.diameter_mm / 3) / 10:g} mm is the most"
            )
        return self

    @property
    def minor_mm(self) -> float:
        """Diameter between its lugs."""
        return self.diameter_mm - 2 * self.lug_mm

    @property
    def wide_deg(self) -> float:
        """Angle over which a lug is wide."""
        return min(WIDE * self.turn_deg, 360 / self.lugs - BETWEEN_DEG - self.turn_deg)

    def ledge_mm(self, standing: Standing) -> float:
        """What lugs catch behind, at its thinnest."""
        return self.lug(standing).ledge_mm(standing.clearance_mm)

    def reach_mm(self, side: SideName) -> float:
        """Its length on the side of the socket."""
        return self.length_mm if side == self.female else 0.0

    @property
    def turn(self) -> Turn:
        """Back to its slots, before it comes off."""
        return Turn(self.turn_deg / 360, 0.0, self.length_mm, 1 if self.hand == "right" else -1)

    def lug(self, standing: Standing) -> Lug:
        """One of its lugs, smaller by the clearance."""
        gap = standing.clearance_mm
        ridge = self.click_mm + gap if self.click_mm else 0.0
        return Lug(self.minor_mm / 2 - gap, self.lug_mm, self.length_mm, math.radians(self.wide_deg), ridge)

    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """Its core with its lugs as they stand when it is locked, without the bore."""
        half, out = math.radians(self.wide_deg) / 2, self.diameter_mm / 2
        core = shapely.Point(place).buffer(self.minor_mm / 2)
        # seen from inside the other piece the face is turned over
        turn = 1 if self.female == "b" else -1
        lugs = [_sector(place, out, turn * angle, half) for angle in self._angles()]
        whole = shapely.union_all([core, *lugs])
        return shapely.difference(whole, shapely.Point(place).buffer(self.bore_mm / 2)) if self.bore_mm else whole

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """The plug with its lugs on one side, the socket with slots and channels in the other."""
        each: list[Tool] = []
        for index, place in enumerate(places[:1]):
            matrix = into(standing.frame, self.female, place)
            each += [self._plug(index, standing, matrix), self._socket(index, standing, matrix)]
        return Tools(each)

    def _angles(self) -> list[float]:
        """Where its lugs stand once it is locked, about the way it goes in."""
        return [2 * math.pi * k / self.lugs for k in range(self.lugs)]

    def _slots(self) -> list[float]:
        """Where they stand as they go in."""
        back = -math.radians(self.turn_deg) * self.turn.hand
        return [angle + back for angle in self._angles()]

    def _plug(self, index: int, standing: Standing, matrix: Points) -> Tool:
        lug, high = self.lug(standing), self.length_mm

        def plug(low: float) -> Solid:
            core = self.bored(Solid.cylinder(lug.core_mm, low, high))
            return core.plus([lug.body(angle) for angle in self._angles()])

        smooth, ridges = plug(-ROOT_MM), [lug.ridge(angle) for angle in self._angles()] if lug.ridge_mm else []
        return Tool(
            self.male,
            index,
            add=smooth.plus(ridges).placed(matrix),
            probe=plug(0.02).placed(matrix),
            bent=smooth.placed(matrix) if ridges else None,
        )

    def _socket(self, index: int, standing: Standing, matrix: Points) -> Tool:
        lug, gap, deep = self.lug(standing), standing.clearance_mm, self.length_mm + standing.end_gap_mm
        cut = [Solid.cylinder(self.minor_mm / 2, -OPENING_MM, deep, around=True)]
        for locked, open_ in zip(self._angles(), self._slots(), strict=True):
            cut += [lug.channel(locked, open_, gap), lug.slot(open_, gap, -OPENING_MM)]
            if lug.ridge_mm:
                cut += [lug.ridge(locked, gap), lug.ridge(open_, gap, -OPENING_MM)]
        return self.socketed(self.female, index, standing, Solid.united(cut), matrix)

    def _ring(self, standing: Standing) -> PushedRing | None:
        """The ring that gives way as its ridges pass; None for a full plug, and without ridges."""
        thick = self.ring_mm(standing)
        if not (self.click_mm and self.bore_mm and thick > 0):
            return None
        return PushedRing(self.bore_mm / 2 + thick / 2, thick, self.lugs)

    def flexes(self, standing: Standing) -> Flex | None:
        """Round it, as its ridges pass the floor of their channel."""
        ring = self._ring(standing)
        return Flex(ring.strain(self.click_mm), OFTEN, "round the face") if ring else None

    def eased(self, standing: Standing, share: float) -> Self | None:
        """With lower ridges, in steps of 0.05 mm."""
        click = math.floor(20 * self.click_mm * share + 1e-6) / 20
        return self.model_copy(update={"click_mm": click}) if click > 0 else None

    def closing(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """What turns it past its clicks, at its lugs: their ridges slope by 45°."""
        ring = self._ring(standing)
        if ring is None:
            return None
        force = along_n(ring.force_n(self.click_mm, stuff.modulus_mpa), 45.0)
        return Strength(force, "lugs click past, P (μ + tan α) / (1 − μ tan α)")

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """Shear of its lugs at their roots, or of what they catch behind: F = τ · n · w · h."""
        area = self.lugs * self.lug(standing).shear_mm2(standing.clearance_mm)
        return Strength(len(places[:1]) * stuff.shear_mpa * area, "lugs in shear, τ·n·w·h")

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """A ledge too thin, lugs that hardly catch, a ring too thin, clicks of which little is known."""
        found = []
        ledge = self.ledge_mm(standing)
        if ledge < LEAST_LEDGE_MM - 1e-6:
            long = math.ceil(10 * (self.length_mm + LEAST_LEDGE_MM - ledge) - 1e-6) / 10
            params: Params = {"ledge_mm": max(0.0, ledge), "least_mm": LEAST_LEDGE_MM, "long_mm": long}
            found.append(Problem("bayonet-ledge", params, "must-fix"))
        catch, least = self.lug_mm - standing.clearance_mm, 2 * standing.line_mm
        if catch < least - 1e-6:
            found.append(Problem("bayonet-catch", {"catch_mm": max(0.0, catch), "least_mm": least}, "look-at"))
        ring = self.ring_mm(standing)
        if self.bore_mm and ring < standing.least_wall_mm - 1e-6:
            params = {"ring_mm": max(0.0, ring), "least_mm": standing.least_wall_mm}
            found.append(Problem("bayonet-thin-ring", params, "must-fix"))
        if self.click_mm and not self.bore_mm:
            found.append(Problem("bayonet-click", {}, "note"))
        return found

    def smaller(self) -> Self | None:
        """Four fifths of its diameter; a ring has none, since its bore is given."""
        return None if self.bore_mm else scaled(self, ("diameter_mm",), max(10.0, 3 * self.lug_mm))

    def label(self) -> str:
        """Such as “bayonet ø24, 3 lugs, 8 long”."""
        left = ", locks anticlockwise" if self.hand == "left" else ""
        return f"bayonet ø{self.diameter_mm:g}, {self.lugs} lugs, {self.length_mm:g} long{left}"


def _sector(place: Place, radius: float, middle: float, half: float) -> shapely.Geometry:
    """A slice of a disc to either side of an angle."""
    turn = np.linspace(middle - half, middle + half, 16)
    rim = np.array(place) + radius * np.column_stack([np.cos(turn), np.sin(turn)])
    return shapely.Polygon([place, *rim])

"""Magnets: bought discs, rings or blocks in pockets on both sides of the face."""

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
import shapely
from pydantic import Field, model_validator
from shapely.geometry import MultiPolygon

from hinoki.core.forms import Form
from hinoki.core.geometry.frames import composed, shifted
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.in_collar import COLLAR_WORDS, CollarJoint
from hinoki.core.join.contract.pegs import into
from hinoki.core.join.contract.point_spacing import spread
from hinoki.core.join.contract.strength import Strength, Stuff
from hinoki.core.join.contract.terms import (
    JUST_INSIDE_MM,
    OPENING_MM,
    SIDES,
    Bought,
    Direction,
    Place,
    Problem,
    Sections,
    SideName,
    Standing,
    Tool,
    Tools,
)
from hinoki.core.symmetry.rotational_symmetry import turns_of
from hinoki.core.workshop.hardware import GLUE_POINT, Hardware, Magnet, MagnetShape, magnets

Pole = Literal["n", "s"]
SPACE_MM = 0.2
"""a pocket is deeper than its magnet by this, so that it never stands proud"""
LEAST_SKIN_MM = 0.4
"""two layers"""
MOST_TRIED = 10
"""of so many magnets all patterns of poles are tried"""


class MagnetJoint(CollarJoint, frozen=True):
    """Pairs of equal magnets that look at each other across the face."""

    words: ClassVar[Mapping[str, str]] = {
        "magnet-closed": (
            "lies behind a skin of {skin_mm:g} mm: its pocket is closed and it cannot be put in. Let it be laid in while "
            "printing pauses, or leave no skin."
        ),
        "magnet-skin": "has a skin of {skin_mm:g} mm before it; two layers are about {least_mm:g} mm. Make it thicker.",
    }

    form: ClassVar[Form] = Form(
        "Magnets",
        "Magnets, bought",
        (
            "count", "shape", "diameter_mm", "width_mm", "hole_mm", "thick_mm", "skin_mm", "held", "one_way", "jig",
            "collar_mm", "collar_runs",
        ),
        when="Doors and lids that come off again. Check each against the last before gluing.",
        words={
            "shape": {"disc": "Disc", "ring": "Ring", "block": "Block"},
            "held": {"glue": "glue", "press": "pressing it in", "laid in": "laying it in, printing paused"},
            **COLLAR_WORDS,
        },
        only_if={"width_mm": {"shape": ("block",)}, "hole_mm": {"shape": ("ring",)}},
        beside_fit=("count", "one_way", "jig", "skin_mm", "held", "collar_mm", "collar_runs"),
    )  # fmt: skip

    takes_glue: ClassVar[bool] = False
    pulls: ClassVar[bool] = True

    kind: Literal["magnet"] = "magnet"
    count: int = Field(2, ge=1, le=40, title="Count")
    shape: MagnetShape = Field("disc", title="Shape")
    diameter_mm: Measure = Field(6.0, title="Diameter", description="a block's length, mm")
    width_mm: Measure = Field(5.0, title="Width", description="of a block, along the face's height, mm")
    hole_mm: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] = Field(0.0, title="Hole", description="of a ring, mm")
    thick_mm: Annotated[float, Field(ge=0.5, le=50, allow_inf_nan=False)] = Field(3.0, title="Thickness", description="mm")
    skin_mm: Annotated[float, Field(ge=0, le=3, allow_inf_nan=False)] = Field(
        0.0, title="Skin", description="plastic left before it, whole layers, mm; 0: open"
    )
    held: Literal["glue", "press", "laid in"] = Field("glue", title="Held by", description="laid in: while printing pauses")
    one_way: bool = Field(False, title="Only one way", description="poles such that the pieces repel each other when turned")
    jig: bool = Field(False, title="Pole jig", description="print a handle that puts them in the right way round")
    poles: tuple[Pole, ...] | None = Field(
        None, max_length=100, title="Poles", description="which pole of the first piece's magnets looks out; none: by Hinoki"
    )

    @model_validator(mode="after")
    def _is_a_ring(self) -> "MagnetJoint":
        if self.shape == "ring" and self.hole_mm > self.diameter_mm - 1:
            raise ValueError("the hole of a ring magnet must be smaller than the ring, by 1 mm at least")
        return self

    @property
    def wanted(self) -> int:
        """The count, or as many as were placed by hand."""
        return self.count if self.places is None else len(self.places)

    @property
    def magnet(self) -> Magnet:
        """What is bought; of the remanence the table gives for one of its measures, or the usual one."""
        block, ring = self.shape == "block", self.shape == "ring"
        own = Magnet(
            self.shape, self.diameter_mm, self.thick_mm, self.width_mm if block else 0.0, self.hole_mm if ring else 0.0
        )
        return next((m for m in magnets() if m.name == own.name), own)

    @property
    def radius_mm(self) -> float:
        """Of the circle around its section."""
        return float(np.hypot(self.diameter_mm, self.width_mm)) / 2 if self.shape == "block" else self.diameter_mm / 2

    @property
    def apart_mm(self) -> float:
        """Two at least do not touch."""
        return 2 * self.radius_mm

    @property
    def opens(self) -> bool:
        """They are pulled apart by hand."""
        return True

    @property
    def holds_shut(self) -> bool:
        """A lid on a hinge is held by magnets."""
        return True

    def catches(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> list[tuple[Place, float]]:
        """The pull of each pair."""
        return [(place, self.pull_n()) for place in places]

    @property
    def upright(self) -> bool:
        """What is laid in from above needs its pocket open upwards."""
        return self.held == "laid in"

    def reach_mm(self, side: SideName) -> float:
        """Into both pieces."""
        return self.skin_mm + self.thick_mm

    def _space(self, standing: Standing) -> float:
        return max(SPACE_MM, 2 * standing.clearance_mm)

    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """The magnet's section."""
        x, y = place
        if self.shape == "block":
            return shapely.box(x - self.diameter_mm / 2, y - self.width_mm / 2, x + self.diameter_mm / 2, y + self.width_mm / 2)
        return shapely.Point(place).buffer(self.diameter_mm / 2)

    def eroded(self, standing: Standing, section: MultiPolygon) -> shapely.Geometry:
        """The section less the magnet, its clearance and the least wall."""
        return section.buffer(-(self.radius_mm + standing.clearance_mm + standing.least_wall_mm))

    def spread(self, room: MultiPolygon, apart_mm: float) -> list[Place]:
        """One at the centre of the largest circle, several as far from each other as can be."""
        return spread(room, self.wanted, apart_mm)

    def bar(self, grown: float, low: float, high: float, around: bool = False) -> Solid:
        """The magnet's section grown on all sides, along Z."""
        if self.shape == "block":
            x, y = self.diameter_mm / 2 + grown, self.width_mm / 2 + grown
            return Solid.box([-x, -y, low], [x, y, high])
        return Solid.cylinder(self.diameter_mm / 2 + grown, low, high, around)

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """A pocket on both sides for each place; closed towards the face where a skin is left."""
        each: list[Tool] = []
        for index, place in enumerate(places):
            for side in SIDES:
                each += self.pocket(side, index, standing, place)
        return Tools(each)

    def pocket(self, side: SideName, index: int, standing: Standing, place: Place) -> list[Tool]:
        """The pocket in the piece on `side` at a place, and the magnet in it."""
        gap, wall, space = standing.clearance_mm, standing.least_wall_mm, self._space(standing)
        matrix = into(standing.frame, side, place)
        deep = self.skin_mm + self.thick_mm + space
        mouth = self.skin_mm if self.skin_mm > 0 else -OPENING_MM
        inside = self.skin_mm + space / 2
        body = self.bar(0.0, inside, inside + self.thick_mm)
        return [
            Tool(
                side,
                index,
                cut=self.bar(gap, mouth, deep, around=True).placed(matrix),
                bore=self.bar(gap, max(mouth, JUST_INSIDE_MM), deep, around=True).placed(matrix),
                around=self.bar(gap + wall, max(mouth, JUST_INSIDE_MM), deep).placed(matrix),
                beyond=self.bar(gap, deep, deep + wall).placed(matrix),
            ),
            # the magnet itself, to be measured in the pocket of this side
            Tool("a" if side == "b" else "b", index, probe=body.placed(matrix)),
        ]

    def halves(self, matrix: Points, outwards: Pole, side: SideName, standing: Standing) -> list[Bought]:
        """A magnet whose pole `outwards` looks out of its piece, as its two halves; `matrix` leads from its place into it."""
        low = self.skin_mm + self._space(standing) / 2
        name, half = self.magnet.name, self.thick_mm / 2
        inwards: Pole = "s" if outwards == "n" else "n"
        body = self.bar(0.0, 0.0, half)
        return [
            Bought(f"{name}, half", pole, body, composed(matrix, shifted(0.0, 0.0, at)), side)
            for pole, at in ((outwards, low), (inwards, low + half))
        ]

    def bought(self, standing: Standing, places: Sequence[Place]) -> list[Bought]:
        """Both magnets of every pair."""
        found: list[Bought] = []
        for place, pole in zip(places, self.poles_at(standing, places), strict=True):
            for side, own in zip(SIDES, (pole, turned_poles([pole])[0]), strict=True):
                found += self.halves(into(standing.frame, side, place), own, side, standing)
        return found

    def poles_at(self, standing: Standing, places: Sequence[Place]) -> list[Pole]:
        """Which pole of the magnets in piece A looks at piece B, for each place: as typed; else, where only one way is wished,
        the first pattern that no turn of the face brings onto itself; else north everywhere."""
        if self.poles is not None:
            return [self.poles[k % len(self.poles)] if self.poles else "n" for k in range(len(places))]
        if not self.one_way or not 1 < len(places) <= MOST_TRIED:
            return ["n"] * len(places)
        feet = [self.footprint(standing, p) for p in places]
        for pattern in itertools.product(("n", "s"), repeat=len(places) - 1):
            poles: list[Pole] = ["n", *pattern]  # type: ignore[list-item]
            if not turns_of(standing.shape, feet, standing.clearance_mm, poles):
                return poles
        return ["n"] * len(places)

    def motions(self, standing: Standing) -> tuple[Direction, ...] | None:
        """They lie flush, so any way will do."""
        return None

    def hardware(self, standing: Standing, places: Sequence[Place]) -> list[Hardware]:
        """Two for each place, and a drop of glue for each where they are glued."""
        if not places:
            return []
        glue = [Hardware(GLUE_POINT, 2 * len(places))] if self.held == "glue" else []
        return [Hardware(self.magnet.name, 2 * len(places)), *glue]

    def hardware_on(self, side: SideName, standing: Standing, places: Sequence[Place]) -> list[Hardware]:
        """Half of them."""
        return [replace(item, count=item.count // 2) for item in self.hardware(standing, places)]

    def hardware_of_copies(self, standing: Standing, places: Sequence[Place], copies: tuple[int, int]) -> list[Hardware]:
        """Half of the magnets lie in each piece, and in every copy of it."""
        return [replace(item, count=item.count // 2 * sum(copies)) for item in self.hardware(standing, places)]

    def pull_n(self) -> float:
        """What one pair pulls across its skins and the space in front of the magnets."""
        return self.magnet.pull_n(2 * self.skin_mm + SPACE_MM)

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """The pull of all pairs across their gap."""
        return Strength(len(places) * self.pull_n(), "magnets' pull, B²·A/2µ0")

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """A closed pocket that cannot be filled; a skin thinner than a layer can be."""
        found = []
        if self.skin_mm > 0 and self.held != "laid in":
            found.append(Problem("magnet-closed", {"skin_mm": self.skin_mm}, "must-fix"))
        if 0 < self.skin_mm < LEAST_SKIN_MM:
            found.append(Problem("magnet-skin", {"skin_mm": self.skin_mm, "least_mm": LEAST_SKIN_MM}))
        return found

    def smaller(self) -> Self | None:
        """The next smaller disc on sale; for rings and blocks there is none."""
        if self.shape != "disc":
            return None
        less = [m for m in magnets() if m.shape == "disc" and m.diameter_mm < self.diameter_mm - 1e-6]
        if not less:
            return None
        best = max(less, key=lambda m: (m.diameter_mm, m.thick_mm <= self.thick_mm, m.thick_mm))
        return self.model_copy(update={"diameter_mm": best.diameter_mm, "thick_mm": best.thick_mm})

    def label(self) -> str:
        """Such as “2 magnets 10 × 3”."""
        size = self.magnet.name.removeprefix("magnet ").removeprefix("disc ")
        return f"{self.wanted} {'magnet' if self.wanted == 1 else 'magnets'} {size}"


def turned_poles(poles: Sequence[Pole]) -> list[Pole]:
    """The poles of the magnets in piece B that look at piece A: each the other one, so that all pairs pull."""
    return ["s" if p == "n" else "n" for p in poles]

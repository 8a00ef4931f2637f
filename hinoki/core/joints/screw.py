"""Screw: a bought screw through one piece into an insert, a nut or a pilot bore in the other."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal, Self, get_args

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import MultiPolygon

from hinoki.core.frames import Frame
from hinoki.core.hardware import Hardware
from hinoki.core.joints.base import (
    JUST_INSIDE_MM,
    OPENING_MM,
    Bought,
    Direction,
    JointBase,
    Place,
    Problem,
    Sections,
    SideName,
    Standing,
    Tool,
    Tools,
)
from hinoki.core.joints.pegs import into
from hinoki.core.joints.spreading import spread
from hinoki.core.joints.strength import ACROSS_LAYERS, Strength, Stuff
from hinoki.core.screws import (
    PILOT,
    WOOD_HEAD,
    Head,
    Insert,
    clearance_hole_mm,
    head_of,
    inserts_of,
    lengths_of,
    nut_of,
)
from hinoki.core.solid import Solid

Size = Literal["M2", "M2.5", "M3", "M4", "M5", "M6", "M8"]
SIZES: tuple[Size, ...] = get_args(Size)
TIP_MM = 1.0
"""free bore beyond a screw's end"""
LEAST_GRIP_MM = 2.0
"""material under a head: less of it breaks out (common practice)"""
WOOD_BITE = 3.0
"""how many diameters a wood screw goes into its pilot bore"""
OUT_MM = 60.0
"""how far the way for the head is kept open outside"""


@dataclass(frozen=True)
class Driven:
    """One screw where it stands: how thick the piece under its head is there, what of it is gripped, how deep the screw goes
    into the other piece, and its length on sale (None where none is long enough)."""

    thick_mm: float
    grip_mm: float
    bite_mm: float
    length_mm: float | None


class ScrewJoint(JointBase, frozen=True):
    """Screws along the normal of the face, their heads in one piece and their thread in the other."""

    kind: Literal["screw"] = "screw"
    count: int = Field(2, ge=1, le=40, title="Count")
    size: Size = Field("M3", title="Size", description="nominal diameter; of a wood screw, too")
    head: Literal["cap", "countersunk"] = Field("cap", title="Head", description="cap: ISO 4762; countersunk: ISO 7046, 90°")
    into: Literal["insert", "nut", "pilot"] = Field("insert", title="Into")
    sunk_mm: Annotated[float, Field(ge=0, le=200, allow_inf_nan=False)] = Field(
        0.3, title="Sunk", description="how far the head lies below the surface, mm"
    )
    on: Literal["a", "b"] = Field("b", title="Heads in", description="the piece the heads are in")

    @property
    def size_mm(self) -> float:
        """Its nominal diameter."""
        return float(self.size[1:])

    @property
    def wanted(self) -> int:
        """The count, or as many as were placed by hand."""
        return self.count if self.places is None else len(self.places)

    @property
    def other(self) -> SideName:
        """The piece the thread goes into."""
        return "a" if self.on == "b" else "b"

    @property
    def stands_on(self) -> SideName | None:
        """The piece with the heads."""
        return self.on

    @property
    def hole_mm(self) -> float:
        """Clearance hole."""
        return clearance_hole_mm(self.size_mm)

    @property
    def headed(self) -> Head:
        """Its head; that of a wood screw is twice its diameter, countersunk or round."""
        if self.into == "pilot":
            return Head(WOOD_HEAD * self.size_mm, 0.6 * self.size_mm)
        return head_of(self.size_mm, self.head == "countersunk")

    @property
    def insert(self) -> Insert | None:
        """The shorter insert on sale; None where there is none of its size."""
        found = inserts_of(self.size_mm)
        return found[0] if found and self.into == "insert" else None

    @property
    def bored_mm(self) -> float:
        """Diameter of the bore its thread goes into."""
        if self.insert:
            return self.insert.bore_mm
        return PILOT * self.size_mm if self.into == "pilot" else self.hole_mm

    @property
    def least_bite_mm(self) -> float:
        """How far it must reach into the other piece."""
        if self.insert:
            return self.insert.length_mm
        return WOOD_BITE * self.size_mm if self.into == "pilot" else nut_of(self.size_mm)[1] + 0.5

    @property
    def radius_mm(self) -> float:
        """Of what is widest of it at the face."""
        wide = nut_of(self.size_mm)[0] / math.cos(math.pi / 6) if self.into == "nut" else self.bored_mm
        return max(self.hole_mm, wide) / 2

    @property
    def apart_mm(self) -> float:
        """Heads beside each other do not touch."""
        return max(2 * self.radius_mm, self.headed.diameter_mm + 1.0)

    def reach_mm(self, side: SideName) -> float:
        """Into the piece with the thread; through the other one."""
        return self.least_bite_mm + TIP_MM if side == self.other else LEAST_GRIP_MM

    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """The clearance hole."""
        return shapely.Point(place).buffer(self.hole_mm / 2)

    def eroded(self, standing: Standing, section: MultiPolygon) -> shapely.Geometry:
        """The section less the widest of it, its clearance and the least wall, or the boss its insert needs."""
        boss = self.insert.boss_mm / 2 if self.insert else 0.0
        return section.buffer(-(standing.clearance_mm + max(self.radius_mm + standing.least_wall_mm, boss)))

    def spread(self, room: MultiPolygon, apart_mm: float) -> list[Place]:
        """One at the centre of the largest circle, several as far from each other as can be."""
        return spread(room, self.wanted, apart_mm)

    def driven(self, standing: Standing, place: Place) -> Driven:
        """Its grip and length at a place: head sunk as typed where the piece is thin; in a thick one as long as is on sale."""
        thick = standing.through(self.on, place)
        on_sale = lengths_of(self.size_mm)
        grip = thick - self.sunk_mm - (0.0 if self.head == "countersunk" else self.headed.high_mm)
        longest = on_sale[-1] - self.least_bite_mm
        grip = min(grip, longest)
        long_enough = [x for x in on_sale if x >= grip + self.least_bite_mm - 1e-6]
        length = long_enough[0] if long_enough else None
        bite = (length or grip + self.least_bite_mm) - grip
        return Driven(thick, grip, bite, length)

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """The clearance hole and the way for the head on one side, the bore for the thread in the other."""
        each: list[Tool] = []
        for index, place in enumerate(places):
            at = self.driven(standing, place)
            each.append(self._headed(index, standing, place, at))
            each.append(self._threaded(index, standing, place, at))
        return Tools(each)

    def _headed(self, index: int, standing: Standing, place: Place, at: Driven) -> Tool:
        hole, head, gap = self.hole_mm / 2, self.headed.diameter_mm / 2, standing.clearance_mm
        grip, out = max(at.grip_mm, 0.1), max(at.thick_mm, at.grip_mm) + OUT_MM
        shank = Solid.cylinder(hole, -OPENING_MM, grip + 0.1, around=True)
        if self.head == "countersunk":
            below = max(0.0, grip - (head + gap - hole))
            seat = [Solid.cone(hole, head + gap, below, grip), Solid.cylinder(head + gap, grip - 1e-3, out, around=True)]
        else:
            seat = [Solid.cylinder(head + gap, grip, out, around=True)]
        wall = standing.least_wall_mm
        # around the shank up to the seat the piece must be whole; the way for the head leaves it on purpose
        high = max(JUST_INSIDE_MM + 0.1, grip - (head - hole if self.head == "countersunk" else 0.0))
        matrix = into(standing.frame, self.on, place)
        return Tool(
            self.on,
            index,
            cut=Solid.united([shank, *seat]).placed(matrix),
            bore=Solid.cylinder(hole, JUST_INSIDE_MM, high, around=True).placed(matrix),
            around=Solid.cylinder(hole + wall, JUST_INSIDE_MM, high).placed(matrix),
            beyond=Solid.cylinder(hole + wall, max(JUST_INSIDE_MM, high - 0.05), high).placed(matrix),
        )

    def _threaded(self, index: int, standing: Standing, place: Place, at: Driven) -> Tool:
        gap, wall, deep = standing.clearance_mm, standing.least_wall_mm, at.bite_mm + TIP_MM
        radius = self.bored_mm / 2
        cut = [Solid.cylinder(radius, -OPENING_MM, deep, around=True)]
        wide = radius
        if self.insert:  # a screw longer than its insert goes on in a bore of its own width
            cut = [
                Solid.cylinder(radius, -OPENING_MM, self.insert.length_mm + TIP_MM, around=True),
                Solid.cylinder(self.hole_mm / 2, 0, deep, around=True),
            ]
            wide = max(radius, self.insert.boss_mm / 2 - wall)
        if self.into == "nut":
            flats, high = nut_of(self.size_mm)
            wide = (flats / 2 + gap) / math.cos(math.pi / 6)
            turn = np.pi / 3 * np.arange(6)
            cut.append(Solid.drawn_ring(wide * np.column_stack([np.cos(turn), np.sin(turn)]), -OPENING_MM, high + 0.2))
        matrix = into(standing.frame, self.other, place)
        return Tool(
            self.other,
            index,
            cut=Solid.united(cut).placed(matrix),
            bore=Solid.cylinder(radius, JUST_INSIDE_MM, deep, around=True).placed(matrix),
            around=Solid.cylinder(wide + wall, JUST_INSIDE_MM, min(deep, self.least_bite_mm)).placed(matrix),
            beyond=Solid.cylinder(radius, deep, deep + wall).placed(matrix),
        )

    def hardware(self, standing: Standing, places: Sequence[Place]) -> list[Hardware]:
        """The screws, by the length each of them has, with their inserts or nuts."""
        name = {"cap": "cap screw (ISO 4762) M", "countersunk": "countersunk screw (ISO 7046) M"}[self.head]
        name = "wood screw ø" if self.into == "pilot" else name
        lengths = [self.driven(standing, p).length_mm for p in places]
        found = [Hardware(f"{name}{self.size_mm:g} × {length:g}", 1) for length in lengths if length is not None]
        if self.insert:
            found += [Hardware(f"insert M{self.size_mm:g} × {self.insert.length_mm:g}", len(places))] if places else []
        elif self.into == "nut" and places:
            found.append(Hardware(f"nut (ISO 4032) M{self.size_mm:g}", len(places)))
        return found

    def bought(self, standing: Standing, places: Sequence[Place]) -> list[Bought]:
        """The screws, and what they go into."""
        found: list[Bought] = []
        for place in places:
            at = self.driven(standing, place)
            grip, head = max(at.grip_mm, 0.1), self.headed
            shank = Solid.cylinder(self.size_mm / 2, -at.bite_mm, grip)
            if self.head == "countersunk":
                top = Solid.cone(self.size_mm / 2, head.diameter_mm / 2, grip - (head.diameter_mm - self.size_mm) / 2, grip)
            else:
                top = Solid.cylinder(head.diameter_mm / 2, grip, grip + head.high_mm)
            name = f"screw {self.size} {self.head} {grip:.2f} {at.bite_mm:.2f}"
            found.append(Bought(name, "steel", shank.plus([top]), into(standing.frame, self.on, place), self.on))
        return found

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """Shear of the plastic round the inserts or wood screws, half of whose cylinder holds; the plastic under the nuts."""
        if self.into == "nut":
            flats, _ = nut_of(self.size_mm)
            area = math.sqrt(3) / 2 * flats**2 - math.pi / 4 * self.hole_mm**2
            return Strength(len(places) * stuff.tension_mpa * area, "nuts bearing, σ·A")
        bites = [self.insert.length_mm if self.insert else self.driven(standing, p).bite_mm for p in places]
        area = math.pi * (self.bored_mm if self.insert else self.size_mm) * sum(bites) / 2
        return Strength(ACROSS_LAYERS * stuff.shear_mpa * area, "thread in shear, τ·π·d·L/2")

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """Too little under the head, an insert that is not on sale."""
        found = []
        for place in places:
            at = self.driven(standing, place)
            if at.grip_mm < LEAST_GRIP_MM - 1e-6:
                found.append(
                    Problem(
                        "screw-head-deep",
                        f"has {max(at.grip_mm, 0):.1f} mm under its head; the piece is {at.thick_mm:.1f} mm thick there and "
                        f"{LEAST_GRIP_MM:g} mm is the least. Sink it less, use a smaller one, or turn it round.",
                        "must-fix",
                        place,
                    )
                )
            elif at.grip_mm + 1e-6 < at.thick_mm - self.sunk_mm - self.headed.high_mm:
                found.append(
                    Problem(
                        "screw-long-way",
                        f"lies {at.thick_mm - at.grip_mm - self.headed.high_mm:.0f} mm below the surface, since no longer one "
                        "is on sale: a long driver is needed.",
                        "note",
                        place,
                    )
                )
        if self.into == "insert" and self.insert is None:
            found.append(
                Problem(
                    "screw-no-insert",
                    f"has no insert: none of M{self.size_mm:g} is common. Use a nut, or M5 at most.",
                    "must-fix",
                )
            )
        return found

    def smaller(self) -> Self | None:
        """The next smaller size."""
        at = SIZES.index(self.size)
        return self.model_copy(update={"size": SIZES[at - 1]}) if at else None

    def motions(self, frame: Frame) -> tuple[Direction, ...] | None:
        """Screws go in afterwards, so any way will do."""
        return None

    def label(self) -> str:
        """Such as “2 screws M3 into inserts”."""
        into = {"insert": "inserts", "nut": "nuts", "pilot": "plastic"}[self.into]
        name = f"ø{self.size_mm:g}" if self.into == "pilot" else f"M{self.size_mm:g}"
        return f"{self.wanted} {'screw' if self.wanted == 1 else 'screws'} {name} into {into}"

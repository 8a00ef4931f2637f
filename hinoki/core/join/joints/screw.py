"""Screw: a bought screw through one piece into an insert, a nut or a pilot bore in the other; its tools are in screw_tools."""

import math
from collections.abc import Mapping, Sequence
from typing import Annotated, ClassVar, Literal, Self, get_args

import shapely
from pydantic import Field
from shapely.geometry import MultiPolygon

from hinoki.core.forms import Form
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.base import JointBase
from hinoki.core.join.contract.in_collar import Thick
from hinoki.core.join.contract.point_spacing import spread
from hinoki.core.join.contract.strength import ACROSS_LAYERS, Strength, Stuff
from hinoki.core.join.contract.terms import (
    Bought,
    CollarWish,
    Direction,
    Place,
    Problem,
    Sections,
    SideName,
    Standing,
    Tool,
    Tools,
)
from hinoki.core.join.joints.screw_tools import TIP_MM, Driven, headed, screw_matrix, threaded
from hinoki.core.workshop.hardware import Hardware
from hinoki.core.workshop.screw_tables import (
    PILOT,
    WOOD_HEAD,
    Head,
    Insert,
    Size,
    clearance_hole_mm,
    head_of,
    inserts_of,
    lengths_of,
    nut_of,
)

SIZES: tuple[Size, ...] = get_args(Size)
LEAST_GRIP_MM = 2.0
"""material under a head: less of it breaks out (common practice)"""
SEEN_MM = 0.4
"""so deep a piece with heads is looked at for room, the least wall beyond: it may be a thin plate"""
WOOD_BITE = 3.0
"""how many diameters a wood screw goes into its pilot bore"""
BOSS_DEEP_MM = 4.0
"""how high a boss stands under a head"""
BOSS_MM = 1.0
"""how much wider a boss is than what stands in it needs"""
SPLITS = 1.75
"""least boss of an insert as a share of its bore (common practice: 5.6 mm round a bore of 3.2 mm)"""


class ScrewJoint(JointBase, frozen=True):
    """Screws along the normal of the face, their heads in one piece and their thread in the other."""

    words: ClassVar[Mapping[str, str]] = {
        "screw-head-deep": (
            "has {grip_mm:.1f} mm under its head; the piece is {thick_mm:.1f} mm thick there and {least_mm:g} mm is the "
            "least. Sink it less, use a smaller one, or turn it round."
        ),
        "screw-long-way": "lies {below_mm:.0f} mm below the surface, since no longer one is on sale: a long driver is needed.",
        "screw-no-insert": "has no insert: none of M{size_mm:g} is common. Use a nut, or M5 at most.",
    }

    form: ClassVar[Form] = Form(
        "Screws",
        "Screws, bought",
        (
            "count", "size", "head", "into", "nut_from", "nut_deep_mm", "slot_deg", "insert_bore_mm", "insert_long_mm",
            "sunk_mm", "tilt_deg", "tilt_to_deg", "boss_mm", "on",
        ),
        when="Holds hard and comes apart again. The heads are seen, so put them where nobody looks.",
        words={
            "head": {"cap": "cap, ISO 4762", "countersunk": "countersunk, ISO 7046"},
            "into": {"insert": "a heat-set insert", "nut": "a nut", "pilot": "the plastic: a wood screw"},
            "nut_from": {"face": "the face", "side": "the side, by a slot"},
        },
        only_if={
            "nut_from": {"into": ("nut",)},
            "nut_deep_mm": {"into": ("nut",), "nut_from": ("side",)},
            "slot_deg": {"into": ("nut",), "nut_from": ("side",)},
            "insert_bore_mm": {"into": ("insert",)},
            "insert_long_mm": {"into": ("insert",)},
            "tilt_to_deg": {"tilt_deg": "set"},
        },
        beside_fit=(
            "count", "sunk_mm", "tilt_deg", "tilt_to_deg", "boss_mm", "head", "nut_from", "nut_deep_mm", "slot_deg", "into",
            "on",
        ),
    )  # fmt: skip

    takes_glue: ClassVar[bool] = False
    pulls: ClassVar[bool] = True

    kind: Literal["screw"] = "screw"
    count: int = Field(2, ge=1, le=40, title="Count")
    size: Size = Field("M3", title="Size", description="nominal diameter; of a wood screw, too")
    head: Literal["cap", "countersunk"] = Field("cap", title="Head", description="cap: ISO 4762; countersunk: ISO 7046, 90°")
    into: Literal["insert", "nut", "pilot"] = Field("insert", title="Into")
    sunk_mm: Annotated[float, Field(ge=0, le=200, allow_inf_nan=False)] = Field(
        0.3, title="Sunk", description="how far the head lies below the surface, mm"
    )
    on: Literal["a", "b"] = Field("b", title="Heads in", description="the piece the heads are in")
    nut_from: Literal["face", "side"] = Field("face", title="Nut comes in from", description="a slot leads to it from the side")
    nut_deep_mm: Annotated[float, Field(ge=0.8, le=50, allow_inf_nan=False)] = Field(
        3.0, title="Nut below the face", description="plastic it bears on, for one from the side, mm"
    )
    slot_deg: Annotated[float, Field(ge=-180, le=180, allow_inf_nan=False)] | None = Field(
        None, title="Slot towards", description="direction in the face, degrees; none: the shortest way out"
    )
    tilt_deg: Annotated[float, Field(ge=0, le=45, allow_inf_nan=False)] = Field(
        0.0, title="Leans by", description="from the normal of the face, degrees"
    )
    tilt_to_deg: Annotated[float, Field(ge=-180, le=180, allow_inf_nan=False)] = Field(
        0.0, title="Leans towards", description="direction in the face that the head leans to, degrees"
    )
    insert_bore_mm: Measure | None = Field(None, title="Own insert, bore", description="mm; none: the insert on sale")
    insert_long_mm: Measure | None = Field(None, title="Own insert, length", description="mm")
    boss_mm: Thick = Field(0.0, title="Boss", description="where a wall is thin: inside the hollow, mm thick; 0: none")

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
        """The own one where it is typed, else the shorter one on sale; None where there is none of its size."""
        if self.into == "insert" and self.insert_bore_mm and self.insert_long_mm:
            return Insert(self.insert_long_mm, self.insert_bore_mm, SPLITS * self.insert_bore_mm)
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
        if self.into == "pilot":
            return WOOD_BITE * self.size_mm
        return (self.nut_deep_mm if self.nut_from == "side" else 0.0) + nut_of(self.size_mm)[1] + 0.5

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
        return self.least_bite_mm + TIP_MM if side == self.other else SEEN_MM

    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """The clearance hole."""
        return shapely.Point(place).buffer(self.hole_mm / 2)

    def eroded(self, standing: Standing, section: MultiPolygon) -> shapely.Geometry:
        """The section less what must be material around it."""
        return section.buffer(-self.around_mm(standing))

    def around_mm(self, standing: Standing) -> float:
        """How much must be material around its place: what is widest of it, its clearance and the least wall, or the boss its
        insert needs, and how far it leans away."""
        boss = self.insert.boss_mm / 2 if self.insert else 0.0
        drift = math.sin(math.radians(self.tilt_deg)) * (self.least_bite_mm + TIP_MM)
        return standing.clearance_mm + drift + max(self.radius_mm + standing.least_wall_mm, boss)

    def collar(self, standing: Standing) -> CollarWish | None:
        """A boss round every place, as thick as was typed."""
        if self.boss_mm <= 0:
            return None
        wall = standing.least_wall_mm
        deep: dict[SideName, float] = {self.other: self.least_bite_mm + TIP_MM + wall, self.on: BOSS_DEEP_MM}
        boss = self.insert.boss_mm / 2 if self.insert else 0.0
        wide = max(self.radius_mm + wall, boss, self.headed.diameter_mm / 2) + standing.clearance_mm + BOSS_MM
        return CollarWish(self.boss_mm, deep, wide)

    def spread(self, room: MultiPolygon, apart_mm: float) -> list[Place]:
        """One at the centre of the largest circle, several as far from each other as can be."""
        return spread(room, self.wanted, apart_mm)

    def axis(self, standing: Standing, place: Place) -> Points:
        """The direction (3,) from the thread to the head, in the world."""
        frame, lean, to = standing.frame, math.radians(self.tilt_deg), math.radians(self.tilt_to_deg)
        up = frame.n if self.on == "b" else -frame.n
        return math.cos(lean) * up + math.sin(lean) * (math.cos(to) * frame.u + math.sin(to) * frame.v)

    def driven(self, standing: Standing, place: Place) -> Driven:
        """Its grip and length at a place: head sunk as typed where the piece is thin; in a thick one as long as is on sale."""
        thick = standing.through(self.on, place, self.axis(standing, place))
        on_sale = lengths_of(self.size_mm)
        grip = thick - self.sunk_mm - (0.0 if self.head == "countersunk" else self.headed.high_mm)
        longest = on_sale[-1] - self.least_bite_mm
        # a boss ends in a cone: the head lies where it is whole
        grip = min(grip, longest, BOSS_DEEP_MM if self.boss_mm > 0 else longest)
        long_enough = [x for x in on_sale if x >= grip + self.least_bite_mm - 1e-6]
        length = long_enough[0] if long_enough else None
        bite = (length or grip + self.least_bite_mm) - grip
        return Driven(thick, grip, bite, length)

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """The clearance hole and the way for the head on one side, the bore for the thread in the other."""
        each: list[Tool] = []
        for index, place in enumerate(places):
            at = self.driven(standing, place)
            each.append(headed(self, index, standing, place, at))
            each.append(threaded(self, index, standing, place, at))
        return Tools(each)

    def hardware(self, standing: Standing, places: Sequence[Place]) -> list[Hardware]:
        """The screws, by the length each of them has, with their inserts or nuts."""
        return [*self._screws(standing, places), *self._takers(places)]

    def hardware_on(self, side: SideName, standing: Standing, places: Sequence[Place]) -> list[Hardware]:
        """The screws where their heads are, inserts or nuts where their threads are."""
        return self._screws(standing, places) if side == self.on else self._takers(places)

    def _screws(self, standing: Standing, places: Sequence[Place]) -> list[Hardware]:
        name = {"cap": "cap screw (ISO 4762) M", "countersunk": "countersunk screw (ISO 7046) M"}[self.head]
        name = "wood screw ø" if self.into == "pilot" else name
        lengths = [self.driven(standing, p).length_mm for p in places]
        return [Hardware(f"{name}{self.size_mm:g} × {length:g}", 1) for length in lengths if length is not None]

    def _takers(self, places: Sequence[Place]) -> list[Hardware]:
        if self.insert:
            own = f", ø{self.insert.bore_mm:g}" if self.insert_bore_mm and self.insert_long_mm else ""
            name = f"insert M{self.size_mm:g} × {self.insert.length_mm:g}{own}"
            return [Hardware(name, len(places))] if places else []
        return [Hardware(f"nut (ISO 4032) M{self.size_mm:g}", len(places))] if self.into == "nut" and places else []

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
            found.append(Bought(name, "steel", shank.plus([top]), screw_matrix(self, standing, self.on, place), self.on))
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
                        {"grip_mm": max(at.grip_mm, 0.0), "thick_mm": at.thick_mm, "least_mm": LEAST_GRIP_MM},
                        "must-fix",
                        place,
                        self.on,
                    )
                )
            elif at.grip_mm + 1e-6 < at.thick_mm - self.sunk_mm - self.headed.high_mm:
                found.append(
                    Problem(
                        "screw-long-way",
                        {"below_mm": at.thick_mm - at.grip_mm - self.headed.high_mm},
                        "note",
                        place,
                        self.on,
                    )
                )
        if self.into == "insert" and self.insert is None:
            found.append(Problem("screw-no-insert", {"size_mm": self.size_mm}, "must-fix", side=self.other))
        return found

    def smaller(self) -> Self | None:
        """The next smaller size."""
        at = SIZES.index(self.size)
        return self.model_copy(update={"size": SIZES[at - 1]}) if at else None

    def motions(self, standing: Standing) -> tuple[Direction, ...] | None:
        """Screws go in afterwards, so any way will do."""
        return None

    def label(self) -> str:
        """Such as “2 screws M3 into inserts”."""
        into = {"insert": "inserts", "nut": "nuts", "pilot": "plastic"}[self.into]
        name = f"ø{self.size_mm:g}" if self.into == "pilot" else f"M{self.size_mm:g}"
        lean = f", leaning {self.tilt_deg:g}°" if self.tilt_deg else ""
        return f"{self.wanted} {'screw' if self.wanted == 1 else 'screws'} {name} into {into}{lean}"

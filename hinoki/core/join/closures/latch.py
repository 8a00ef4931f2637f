"""Turning latch: a loose bolt through one piece; two lugs go into slots of the other and lock behind a ledge by a turn."""

import math
from collections.abc import Iterator, Mapping, Sequence
from typing import Annotated, ClassVar, Literal, Self

import shapely
from pydantic import Field, model_validator
from shapely.geometry import MultiPolygon

from hinoki.core.findings import Params
from hinoki.core.forms import Form
from hinoki.core.geometry.frames import inverted
from hinoki.core.geometry.measures import Measure
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.contract.base import JointBase, Spares
from hinoki.core.join.contract.pegs import into
from hinoki.core.join.contract.point_spacing import spread
from hinoki.core.join.contract.strength import ACROSS_LAYERS, Strength, Stuff
from hinoki.core.join.contract.terms import (
    JUST_INSIDE_MM,
    OPENING_MM,
    Direction,
    FaceRef,
    Loose,
    Place,
    Problem,
    Sections,
    SideName,
    Standing,
    Tool,
    Tools,
    Turn,
    direction_of,
)
from hinoki.core.join.turning.bayonet_body import LEAST_LEDGE_MM, Lug, lug_high_mm
from hinoki.core.join.turning.latch_bolt import bolt, knob, slotted
from hinoki.core.workshop.fits import Fit

LUGS = 2
WIDE_DEG = 55.0
"""angle over which a lug is wide: two of them, and the quarter of a turn between slot and stop, leave ledges between"""
LEAST_GRIP_MM = 1.2
"""what its head bears on is at least as thick"""
SEEN_MM = 0.4
"""so deep a piece that a head bears on is looked at for room, the least wall beyond: it may be a thin plate"""
OUT_MM = 60.0
"""how far the way for the head is kept open outside"""
RIM_MM = 2.0
"""what its head is wider than its bore, at either side"""
SIZES_MM = ((20.0, 2.5), (16.0, 2.5), (14.0, 2.0), (12.0, 2.0), (10.0, 1.5))
"""diameters that are tried and how far their lugs stand out, large ones first"""


class LatchJoint(JointBase, frozen=True):
    """Bolts of `diameter_mm` along the normal of the face, `length_mm` deep in one piece, their heads in the other, `on`."""

    words: ClassVar[Mapping[str, str]] = {
        "latch-ledge": (
            "leaves {ledge_mm:.1f} mm for its lugs to catch behind; {least_mm:g} mm is the least. Make it {long_mm:.1f} mm "
            "long."
        ),
        "latch-head-deep": (
            "has {grip_mm:.1f} mm under its head; the piece is {thick_mm:.1f} mm thick there and {least_mm:g} mm is the least. "
            "Let its head stand out, or turn it round."
        ),
        "latch-catch": (
            "has lugs that catch by {catch_mm:.2f} mm only, less the clearance; two printed lines are {least_mm:g} mm. Make "
            "them stand out further."
        ),
    }

    form: ClassVar[Form] = Form(
        "Turning latch",
        "Turning latch, loose",
        ("count", "diameter_mm", "lug_mm", "length_mm", "head", "head_mm", "sunk_mm", "hand", "spares", "on"),
        when="Lids and hatches that open by a quarter of a turn and hold against any pull. Its head is seen.",
        words={
            "head": {"slot": "let in, a coin turns it", "knob": "stands out, fingers turn it"},
            "hand": {"right": "locks clockwise", "left": "locks anticlockwise"},
        },
        beside_fit=("count", "head", "head_mm", "sunk_mm", "spares", "on"),
    )

    takes_glue: ClassVar[bool] = False
    pulls: ClassVar[bool] = True

    kind: Literal["latch"] = "latch"
    fit: Fit = Field("sliding", title="Fit")
    count: int = Field(1, ge=1, le=12, title="Count")
    diameter_mm: Measure = Field(14.0, title="Diameter", description="over the lugs, mm")
    lug_mm: Annotated[float, Field(ge=0.8, le=10, allow_inf_nan=False)] = Field(
        2.0, title="Lugs stand out", description="mm, at 45°"
    )
    length_mm: Measure = Field(8.0, title="Length", description="how far it goes into the other piece, its lugs at the end, mm")
    head: Literal["slot", "knob"] = Field("slot", title="Head")
    head_mm: Annotated[float, Field(ge=0.8, le=40, allow_inf_nan=False)] = Field(2.4, title="Head is high", description="mm")
    sunk_mm: Annotated[float, Field(ge=0, le=200, allow_inf_nan=False)] = Field(
        0.3, title="Sunk", description="how far the head, or what a knob stands on, lies below the surface, mm"
    )
    hand: Literal["right", "left"] = Field("right", title="Hand")
    spares: Spares | None = Field(None, title="Spares", description="printed beyond those needed; none: by their size")
    on: Literal["a", "b"] = Field("b", title="Heads in", description="the piece the heads are in")

    @model_validator(mode="after")
    def _has_a_core(self) -> Self:
        if self.core_mm < self.diameter_mm / 3:
            raise ValueError(
                f"lugs of {self.lug_mm:g} mm leave no core in a latch of {self.diameter_mm:g} mm; "
                f"{math.floor(10 * self.diameter_mm / 3) / 10:g} mm is the most"
            )
        return self

    @property
    def wanted(self) -> int:
        """The count, or as many as were placed by hand."""
        return self.count if self.places is None else len(self.places)

    @property
    def spares_wanted(self) -> int | None:
        """As typed."""
        return self.spares

    @property
    def other(self) -> SideName:
        """The piece its lugs lock in."""
        return "a" if self.on == "b" else "b"

    @property
    def stands_on(self) -> SideName | None:
        """The piece with the heads."""
        return self.on

    @property
    def opens(self) -> bool:
        """Lids do."""
        return True

    @property
    def holds_shut(self) -> bool:
        """Opposite a hinge, where there is one."""
        return True

    @property
    def loose_turn(self) -> Turn:
        """A quarter of a turn back, before it comes out."""
        return Turn(0.25, 0.0, self.length_mm, 1 if self.hand == "right" else -1)

    @property
    def turned_in(self) -> SideName:
        """The piece its lugs lock in."""
        return self.other

    @property
    def core_mm(self) -> float:
        """Diameter between its lugs."""
        return self.diameter_mm - 2 * self.lug_mm

    @property
    def head_across_mm(self) -> float:
        """Diameter of its head."""
        return self.diameter_mm + 2 * RIM_MM

    @property
    def apart_mm(self) -> float:
        """Heads beside each other do not touch."""
        return self.head_across_mm + 1.0

    def ledge_mm(self, standing: Standing) -> float:
        """What lugs catch behind, at its thinnest."""
        return self.lug(standing).ledge_mm(standing.clearance_mm)

    def reach_mm(self, side: SideName) -> float:
        """Its length in the piece its lugs lock in; through the other one."""
        return self.length_mm if side == self.other else SEEN_MM

    def grip_mm(self, standing: Standing, place: Place) -> tuple[float, float]:
        """How thick the piece under its head is at a place, and what of it the head holds."""
        thick = standing.through(self.on, place, None)
        return thick, thick - self.sunk_mm - (self.head_mm if self.head == "slot" else 0.0)

    def footprint(self, standing: Standing, place: Place) -> shapely.Geometry:
        """Its bore."""
        return shapely.Point(place).buffer(self.diameter_mm / 2)

    def eroded(self, standing: Standing, section: MultiPolygon) -> shapely.Geometry:
        """The section less what must be material around its bore."""
        return section.buffer(-(self.diameter_mm / 2 + standing.clearance_mm + standing.least_wall_mm))

    def spread(self, room: MultiPolygon, apart_mm: float) -> list[Place]:
        """One in the middle of the widest room, several as far from each other as can be."""
        return spread(room, self.wanted, apart_mm)

    def lug(self, standing: Standing) -> Lug:
        """One of its lugs, smaller by the clearance."""
        return Lug(self.core_mm / 2 - standing.clearance_mm, self.lug_mm, self.length_mm, math.radians(WIDE_DEG), 0.0)

    def _angles(self) -> list[float]:
        """Where its lugs stand once it is locked, about the way it goes in."""
        return [2 * math.pi * k / LUGS for k in range(LUGS)]

    def tools(self, standing: Standing, places: Sequence[Place]) -> Tools:
        """The bore and the seat of the head in one piece, slots and channels in the other, and a loose bolt, for each place."""
        each: list[Tool] = []
        loose: list[Loose] = []
        for index, place in enumerate(places):
            thick, grip = self.grip_mm(standing, place)
            grip = max(grip, 0.1)
            matrix = into(standing.frame, self.other, place)
            each += [self._seat(index, standing, place, thick, grip), self._socket(index, standing, matrix)]
            # its head lies down while it prints
            loose.append(Loose(self._bolt(standing, grip).placed(matrix), inverted(matrix), direction_of(-matrix[:, 2])))
        return Tools(each, loose)

    def _bolt(self, standing: Standing, grip: float) -> Solid:
        """Head, shaft, core and lugs along Z, which goes into the other piece; its face at 0."""
        lug, across = self.lug(standing), self.head_across_mm
        head = knob(across, self.head_mm) if self.head == "knob" else slotted(across, self.head_mm)
        return bolt(lug, self._angles(), grip, standing.end_gap_mm).plus([head.moved(0.0, 0.0, -grip)])

    def _seat(self, index: int, standing: Standing, place: Place, thick: float, grip: float) -> Tool:
        """What the piece with the head loses."""
        gap, wall, radius = standing.clearance_mm, standing.least_wall_mm, self.diameter_mm / 2
        bore = radius + gap
        matrix = into(standing.frame, self.on, place)
        way = Solid.cylinder(self.head_across_mm / 2 + gap, grip, max(thick, grip) + OUT_MM, around=True)
        high = max(grip, JUST_INSIDE_MM + 0.1)
        return Tool(
            self.on,
            index,
            cut=Solid.cylinder(bore, -OPENING_MM, grip + 0.1, around=True).plus([way]).placed(matrix),
            bore=Solid.cylinder(bore, JUST_INSIDE_MM, high, around=True).placed(matrix),
            around=Solid.cylinder(bore + wall, JUST_INSIDE_MM, high).placed(matrix),
            beyond=Solid.cylinder(bore + wall, max(JUST_INSIDE_MM, high - 0.05), high).placed(matrix),
        )

    def _socket(self, index: int, standing: Standing, matrix: Points) -> Tool:
        """What the other piece loses: the bore of the core, the slots, the channels the lugs turn in."""
        lug, gap, wall = self.lug(standing), standing.clearance_mm, standing.least_wall_mm
        deep, outer = self.length_mm + standing.end_gap_mm, self.diameter_mm / 2
        back = -math.pi / 2 * self.loose_turn.hand
        cut = [Solid.cylinder(self.core_mm / 2, -OPENING_MM, deep, around=True)]
        for locked in self._angles():
            cut += [lug.channel(locked, locked + back, gap), lug.slot(locked + back, gap, -OPENING_MM)]
        return Tool(
            self.other,
            index,
            cut=Solid.united(cut).placed(matrix),
            bore=Solid.cylinder(outer, JUST_INSIDE_MM, deep, around=True).placed(matrix),
            around=Solid.cylinder(outer + wall, JUST_INSIDE_MM, deep).placed(matrix),
            beyond=Solid.cylinder(outer, deep, deep + wall).placed(matrix),
        )

    def motions(self, standing: Standing) -> tuple[Direction, ...] | None:
        """Latches go in afterwards, so any way will do."""
        return None

    def strength(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> Strength | None:
        """Tension of its core between its layers, or shear of the lugs or of what they catch behind: the least of F = σ·A and
        τ·n·w·h."""
        lug = self.lug(standing)
        tension = ACROSS_LAYERS * stuff.tension_mpa * math.pi * lug.core_mm**2
        shear = stuff.shear_mpa * LUGS * lug.shear_mm2(standing.clearance_mm)
        how = "cores in tension, σ·A" if tension <= shear else "lugs in shear, τ·n·w·h"
        return Strength(len(places) * min(tension, shear), how)

    def catches(self, standing: Standing, places: Sequence[Place], stuff: Stuff) -> list[tuple[Place, float]]:
        """Locked, it holds until it breaks."""
        whole = self.strength(standing, places, stuff)
        return [(place, whole.newtons / len(places)) for place in places] if whole else []

    def problems(self, standing: Standing, places: Sequence[Place], sections: Sections) -> list[Problem]:
        """A ledge too thin, too little under the head, lugs that hardly catch."""
        found = []
        ledge = self.ledge_mm(standing)
        if ledge < LEAST_LEDGE_MM - 1e-6:
            long = math.ceil(10 * (self.length_mm + LEAST_LEDGE_MM - ledge) - 1e-6) / 10
            params: Params = {"ledge_mm": max(0.0, ledge), "least_mm": LEAST_LEDGE_MM, "long_mm": long}
            found.append(Problem("latch-ledge", params, "must-fix"))
        catch, least = self.lug_mm - standing.clearance_mm, 2 * standing.line_mm
        if catch < least - 1e-6:
            found.append(Problem("latch-catch", {"catch_mm": max(0.0, catch), "least_mm": least}, "look-at"))
        for place in places:
            thick, grip = self.grip_mm(standing, place)
            if grip < LEAST_GRIP_MM - 1e-6:
                params = {"grip_mm": max(0.0, grip), "thick_mm": thick, "least_mm": LEAST_GRIP_MM}
                found.append(Problem("latch-head-deep", params, "must-fix", place))
        return found

    @classmethod
    def sizes(cls, joint_id: str, face: FaceRef, fit: Fit, standing: Standing) -> Iterator[Self]:
        """Large ones first, their heads in the piece that is thinner behind the face, let in where that is thick enough."""
        middle = shapely.point_on_surface(standing.shape)
        thick = {side: standing.through(side, (middle.x, middle.y), None) for side in ("a", "b")}
        on = "a" if thick["a"] < thick["b"] else "b"
        for diameter, lug in SIZES_MM:
            ledge = max(LEAST_LEDGE_MM, standing.least_wall_mm) + standing.clearance_mm
            long = math.ceil(2 * (lug_high_mm(lug) + ledge)) / 2
            sizes = {"diameter_mm": diameter, "lug_mm": lug, "length_mm": long, "on": on}
            for head in ({"head": "slot"}, {"head": "knob", "head_mm": 5.0, "sunk_mm": 0.0}):
                joint = cls.model_validate({"id": joint_id, "face": face, "fit": fit, **sizes, **head})
                if joint.grip_mm(standing, (middle.x, middle.y))[1] >= LEAST_GRIP_MM:
                    yield joint
                    break

    def smaller(self) -> Self | None:
        """The next smaller diameter with its lugs."""
        less = [(d, lug) for d, lug in SIZES_MM if d < self.diameter_mm - 1e-6]
        if not less:
            return None
        diameter, lug = less[0]
        shorter = lug_high_mm(self.lug_mm) - lug_high_mm(lug)
        return self.model_copy(
            update={"diameter_mm": diameter, "lug_mm": lug, "length_mm": round(self.length_mm - max(0.0, shorter), 2)}
        )

    def label(self) -> str:
        """Such as “2 turning latches ø14, 8 long”."""
        left = ", locks anticlockwise" if self.hand == "left" else ""
        name = "turning latch" if self.wanted == 1 else f"{self.wanted} turning latches"
        return f"{name} ø{self.diameter_mm:g}, {self.length_mm:g} long{left}"

    @property
    def elements(self) -> str:
        """One of them."""
        return "latch"

    def loose_name(self) -> str | None:
        """Such as “latch ø14 × 8”."""
        return f"latch ø{self.diameter_mm:g} × {self.length_mm:g}"

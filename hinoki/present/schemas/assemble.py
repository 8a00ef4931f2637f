"""The assembly as data: what the screens show, and what sheets and the report are made from."""

from typing import Literal

from pydantic import BaseModel, Field

from hinoki.core.assemble.interlocks import Way
from hinoki.core.assemble.motion.moves import MotionKind, Proof
from hinoki.core.assemble.retention import HoldKind
from hinoki.core.assemble.scene.parts import UnitKind
from hinoki.core.plan.assembly_settings import PinnedStep
from hinoki.present.schemas.findings import FindingView
from hinoki.present.schemas.vectors import Vec3

StepProof = Literal[Proof, "does not work", "no order"]
Tone = Literal["piece", "loose", "steel", "wire"]


class MeshAt(BaseModel):
    """A drawing and its colour; it lies where it is in the assembled model."""

    mesh: str
    tone: Tone


class UnitView(BaseModel):
    """Something that is handled as one."""

    id: str
    kind: UnitKind
    name: str
    balloon: str = Field(description="a piece's number, or a letter")
    numbers: list[int]
    bodies: list[MeshAt]
    middle: Vec3
    mass_g: float
    count: int = 1


class MotionView(BaseModel):
    """How a step goes, in the order of assembly: along `direction` over `distance_mm`; a screw turns by `turns` about its axis;
    two slides go along each of `legs` in turn; a swing first goes along `direction` and then closes by `swing_deg`."""

    kind: Literal[MotionKind, "set down"]
    direction: Vec3 | None = None
    distance_mm: float = 0.0
    legs: list[tuple[Vec3, float]] = []
    at: Vec3 | None = None
    axis: Vec3 | None = None
    turns: float = Field(0.0, description="counted right-handed about the axis, in the order of assembly")
    screw_mm: float = Field(0.0, description="how far it goes while it turns")
    swing_deg: float = Field(0.0, description="it comes in opened by so much, right-handed about the axis, and closes")


class NeedView(BaseModel):
    """Something bought that a step needs."""

    name: str
    count: int
    length_mm: float | None = None


class MeetView(BaseModel):
    """What a step that does not work meets."""

    units: list[str]
    at: Vec3 | None = None
    overlap: str | None = Field(None, description="name of the drawing of what the bodies would share")
    overlap_mm3: float = 0.0


class StepView(BaseModel):
    """One step. `units` are moved as one, led by `lead`; `into` are there already in what they go onto."""

    step: int
    lead: str
    piece: int | None
    units: list[str]
    adds: list[int] = Field(description="numbers of the pieces it moves")
    onto: str | None
    onto_piece: int | None
    into: list[str]
    group: str | None = Field(None, description="name of the group it moves")
    builds: str | None = Field(None, description="name of the group it is a part of building")
    motion: MotionView
    title: str
    how: str
    notes: list[str] = []
    hardware: list[NeedView] = []
    glue: bool = False
    hold: str | None = None
    turn: str | None = None
    undo: bool = True
    proof: StepProof
    why: str | None = None
    meets: MeetView | None = None
    eye: Vec3
    apart_mm: float = Field(description="how far from its place what moves is drawn")
    see_through: bool = False
    guides: list[Vec3] = Field([], description="points of its contacts, in their places: lines lead what moves to them")
    note: str = Field("", description="what the maker wrote")
    added: bool = Field(False, description="it has no place in the pinned order yet")


class GroupView(BaseModel):
    """Units that are put together first and then handled as one."""

    name: str
    lead: str
    units: list[str]
    numbers: list[int]
    step: int


class FreeView(BaseModel):
    """A change that was tried and frees a locked set."""

    way: Way
    words: str
    joint: str | None = None
    unit: str | None = None
    direction: Vec3 | None = None


class LockedView(BaseModel):
    """Units that lock each other."""

    units: list[str]
    numbers: list[int]
    says: str
    frees: list[FreeView]


class OffView(BaseModel):
    """Something that comes off on the way to what is replaced."""

    units: list[str]
    words: str
    kind: MotionKind
    direction: Vec3
    proof: Proof


class ReplaceView(BaseModel):
    """To replace a unit."""

    unit: str
    possible: bool
    says: str
    first: list[OffView]
    itself: OffView | None
    breaks: list[tuple[str, str]]


class HoldView(BaseModel):
    """What holds a unit in one direction."""

    way: str
    kind: HoldKind
    by: list[str]
    newtons: float | None


class HoldsView(BaseModel):
    """What holds a unit in each direction."""

    unit: str
    ways: list[HoldView]


class FallView(BaseModel):
    """Units that fall, or hang on magnets."""

    units: list[str]
    says: str
    falls: bool


class TipView(BaseModel):
    """By how much the model may be tipped in a direction (degrees counter-clockwise from X, seen from above)."""

    towards_deg: float
    tip_deg: float


class HangView(BaseModel):
    """Points to hang the model by, and how it then hangs."""

    what: str
    points: list[Vec3]
    leans_deg: float
    shares_g: list[float]
    chosen: bool


class BallastView(BaseModel):
    """A filling of the hollow and what it gives."""

    filling: str
    name: str
    bulk_g_cm3: float
    up_to_mm: float
    volume_cm3: float
    mass_g: float
    tip_deg: float
    centre_mm: Vec3


class BalanceView(BaseModel):
    """How the assembled model stands and hangs."""

    mass_g: float
    printed_g: float
    bought_g: float
    ballast_g: float
    centre_mm: Vec3
    floor_mm: float
    foot: list[tuple[float, float]]
    tip_deg: float
    tip_towards_deg: float
    tips: list[TipView]
    least_base_mm: float = Field(description="diameter of a round base under the centre of mass that may be tipped by 10°")
    hollow_cm3: float
    open_below: bool
    ballasts: list[BallastView]
    hangs: list[HangView]


class OpensView(BaseModel):
    """A door, a lid or a module."""

    unit: str
    says: str
    stays_shut: bool | None


class AssemblyView(BaseModel):
    """All that is known of an assembly."""

    steps: list[StepView] = []
    units: list[UnitView] = []
    groups: list[GroupView] = []
    locked: list[LockedView] = []
    replacing: list[ReplaceView] = []
    holds: list[HoldsView] = []
    falls: list[FallView] = []
    attitude: str = "standing"
    balance: BalanceView | None = None
    opens: list[OpensView] = []
    findings: list[FindingView] = []
    order: list[PinnedStep] = Field([], description="the steps as they can be pinned")
    pinned: bool = False
    cut_short: bool = False
    size_mm: float = 0.0

"""The build as data: what the screens show and the report is made from. No geometry beyond outlines."""

from typing import Literal

from pydantic import BaseModel, Field

from hinoki.core.join.joints import FaceRef, Place
from hinoki.core.workshop.fits import Fit
from hinoki.present.schemas.findings import FindingView
from hinoki.present.schemas.vectors import Vec3

Ring = list[tuple[float, float]]
Outline = list[list[Ring]]


class ObjectView(BaseModel):
    """One named object of the model."""

    name: str
    triangles: int
    size_mm: Vec3
    closed: bool


class PrepareView(BaseModel):
    """A prepare step as done; the mesh and box before it are what places in it refer to."""

    id: str
    label: str
    said: list[str]
    refused: bool
    before_mesh: str | None
    before_low_mm: Vec3
    before_high_mm: Vec3
    before_volume_mm3: float
    after_volume_mm3: float
    before_mass_g: float
    after_mass_g: float


class ModelView(BaseModel):
    """The model as prepared."""

    name: str
    triangles: int
    size_mm: Vec3
    low_mm: Vec3
    high_mm: Vec3
    volume_mm3: float
    raw_volume_mm3: float
    mass_g: float
    raw_mass_g: float
    closed: bool
    open_edges: int
    crowded_edges: int
    turned_edges: int
    lumps: int
    fits: bool
    over_mm: Vec3
    mesh: str = Field(description="name of the display mesh")
    raw_mesh: str = Field(description="name of the display mesh of the model as it came")
    objects: list[ObjectView] = []


class FrameView(BaseModel):
    """A plane in the model's space."""

    origin: Vec3
    u: Vec3
    v: Vec3
    n: Vec3


class RestView(BaseModel):
    """One way to lay a piece on the bed."""

    down: Vec3
    what: str
    overhang_mm2: float
    contact_mm2: float
    height_mm: float
    size_mm: Vec3
    fits: bool
    tip_deg: float = Field(90.0, description="the angle at which it tips over as it lies")
    stands: bool = Field(True, description="whether it stands by itself: on more than a point or an edge, and steadily")
    matrix: list[float] = Field(description="3 × 4, row by row: from model coordinates to the bed's")


class PieceView(BaseModel):
    """A piece with its joints."""

    key: str
    number: int
    name: str
    size_mm: Vec3
    low_mm: Vec3
    high_mm: Vec3
    volume_mm3: float
    volume_before_joints_mm3: float
    triangles: int
    closed: bool
    fits: bool
    over_mm: Vec3
    printer: str
    neighbours: list[int]
    prints_with: list[int] = Field([], description="pieces that come off the bed as one with it")
    mesh: str
    rest: RestView
    rest_chosen: bool
    rests: list[RestView]
    shape: str = Field("", description="hash of its shape: another one once it is printed out of date")


class SectionView(BaseModel):
    """One plane of a parting and the section of the model there."""

    member: int
    frame: FrameView
    area_mm2: float
    least_wall_mm: float | None
    room_radius_mm: float
    outline: Outline


class PartingView(BaseModel):
    """A parting as built."""

    id: str
    label: str
    cuts: bool
    pieces_cut: int = Field(0, description="pieces it cuts")
    pieces_made: int = Field(0, description="pieces that come of them")
    sections: list[SectionView]
    seam_mm: float = Field(0.0, description="length of its seam on the model's outside")
    seam_show_mm: float = Field(0.0, description="length of the seam on show faces")
    seam: list[list[Vec3]] = Field([], description="the seam as lines of points")


class MarkView(BaseModel):
    """A mark as it lies on the model now."""

    id: str
    kind: Literal["keep", "show", "hidden"]
    label: str
    faces: int
    area_mm2: float
    mesh: str = Field(description="name of the display mesh of its faces")
    crossed_by: list[str] = []


class MatingMarkView(BaseModel):
    """A letter on one side of a mating face."""

    face: str
    side: Literal["a", "b"]
    text: str
    place: tuple[float, float]
    size_mm: float
    outline: Outline


class BoreView(BaseModel):
    """Where a rod, a cable way or a stand goes through a mating face."""

    way: str
    label: str
    outline: Outline


class FaceView(BaseModel):
    """A mating face."""

    id: str
    ref: FaceRef
    label: str
    a: int
    b: int
    frame: FrameView
    area_mm2: float
    least_wall_mm: float | None
    outline: Outline
    behind: list[Outline] = Field([], description="sections of piece A and piece B 6 mm behind the face")
    holds_n: float | None = Field(None, description="an estimate of what its strongest joint holds, newtons")
    weight_n: float | None = Field(None, description="what the lighter of its pieces weighs printed full, newtons")
    lap: str | None = Field(None, description="how the halves overlap here, where the parting is a lap")
    apart_mm: float = Field(0.0, description="the gap between its pieces, such as at the sides of a hatch")
    bores: list[BoreView] = Field([], description="where rods and the like go through it")
    modules: bool = Field(False, description="whether magnets of modules hold it")
    poles: list[tuple[float, float, float, Literal["n", "s"]]] = Field(
        [], description="magnets of modules in it: place, radius, and the pole of piece A's that looks at piece B"
    )
    room_radius_mm: float = Field(description="of the largest circle with the least wall around it; below 0 none")


class SwingView(BaseModel):
    """The axis a door turns about: a point on it, its direction, and by how much it opens (right-handed about it)."""

    at: Vec3
    along: Vec3
    opens_deg: float


class JointView(BaseModel):
    """A joint as placed."""

    id: str
    face: str
    face_label: str
    kind: str
    label: str
    fit: Fit
    clearance_mm: float
    count: int
    letters: list[str]
    places: list[Place]
    positions_mm: list[Vec3]
    own_clearance: bool = Field(False, description="whether the clearance is the joint's own, not its fit's")
    on: Literal["a", "b"] | None = Field(None, description="the side the male part stands on")
    motions: list[Vec3] | None = Field(None, description="ways piece B can go onto piece A; none: any")
    poles: list[Literal["n", "s"]] = Field([], description="which pole of piece A's magnets looks at piece B, by place")
    holds_n: float | None = Field(None, description="an estimate of what it holds, newtons")
    holds_how: str = Field("", description="against what, and the formula's name")
    pull_n: float | None = Field(None, description="an estimate of the pull of all its magnets, newtons")
    swing: SwingView | None = Field(None, description="how the second piece swings, for a hinge")
    screws: bool = Field(False, description="whether it goes together by turning")
    shapes: list[Outline] = Field([], description="what each element takes of the face")
    cut_shapes: list[Outline] = Field([], description="what is cut for each element, seen along the face's normal")
    deep_mm: float = Field(0.0, description="how deep it goes into a piece, end gap and all")
    room: Outline
    collar: Outline = Field(default_factory=list, description="what both pieces gain inside a hollow, on the face")
    findings: list[FindingView]


class LooseAt(BaseModel):
    """Where one loose part sits in the assembled model."""

    joint: str
    pieces: tuple[int, int] = Field(description="numbers of the two pieces it joins")
    matrix: list[float] = Field(description="3 × 4, row by row: from its printed mesh to model coordinates")


class LooseView(BaseModel):
    """A kind of loose part and how many of it are needed."""

    name: str
    count: int = Field(description="how many the model needs")
    spares: int = Field(0, description="how many more are printed, since small parts come loose or get lost")
    size_mm: Vec3
    mesh: str
    places: list[LooseAt] = []
    shape: str = Field("", description="hash of its shape")

    @property
    def printed(self) -> int:
        """How many are printed in all."""
        return self.count + self.spares


class BoughtView(BaseModel):
    """A body of something bought, and where it sits."""

    name: str
    tone: Literal["steel", "n", "s"]
    mesh: str
    places: list[LooseAt]


class WayView(BaseModel):
    """A rod's bore or a cable's tunnel, and the pieces it goes through."""

    id: str
    kind: str
    label: str
    pieces: list[int]
    long_mm: float
    mesh: str = Field(description="the rod, or a wire in the tunnel")


class PoleView(BaseModel):
    """A magnet in a side of a module, as seen from outside, and the pole that looks out."""

    right_mm: float
    high_mm: float
    pole: Literal["n", "s"]


class SideView(BaseModel):
    """A side of a module: its magnets; its middle and the way it looks, in plan, of the first of them."""

    magnets: list[PoleView]
    middle: tuple[float, float] = (0.0, 0.0)
    out: tuple[float, float] = (0.0, 0.0)


class ModulesView(BaseModel):
    """Modules that meet side by side: their pattern of poles, and what trying all pairs showed."""

    id: str
    label: str
    pieces: list[int]
    turned: dict[int, int] = Field({}, description="by how many sides the pattern is turned in a piece, by its number")
    sides: list[SideView]
    table: list[list[int | None]] = Field(
        description="by how many sides the second module is turned for its side (column) to hold one of the first (row)"
    )
    says: list[str] = Field(description="what was proved, in words")
    pull_n: float = Field(description="an estimate of the pull between two sides, newtons")
    weight_n: float = Field(0.0, description="what the heaviest of them weighs printed full, newtons")
    outline: Outline = Field([], description="the first module from above")
    drawn: list[tuple[float, float, Literal["n", "s"], int]] = Field([], description="its magnets in plan, pole and side")


class HardwareView(BaseModel):
    """Something to buy, or a place to glue."""

    name: str
    count: int = Field(description="how many the model needs")
    spares: int = Field(0, description="how many more to have at hand")
    length_mm: float | None = Field(None, description="what to cut it to")


class Balance(BaseModel):
    """Whether the pieces add up to the model."""

    model_mm3: float
    pieces_before_joints_mm3: float
    taken_away_mm3: float = Field(0.0, description="what partings take away on purpose, such as the gap around a hatch")
    relative_error: float


class BuildView(BaseModel):
    """All that came of a plan."""

    state: Literal["empty", "open", "whole"]
    model: ModelView | None = None
    prepare: list[PrepareView] = []
    pieces: list[PieceView] = []
    partings: list[PartingView] = []
    marks: list[MarkView] = []
    seam_mm: float = Field(0.0, description="length of all seams on the model's outside")
    seam_show_mm: float = Field(0.0, description="length of all seams on show faces")
    faces: list[FaceView] = []
    joints: list[JointView] = []
    mating_marks: list[MatingMarkView] = []
    loose: list[LooseView] = []
    hardware: list[HardwareView] = []
    bought: list[BoughtView] = Field([], description="bodies of hardware, for the screen")
    ways: list[WayView] = []
    modules: list[ModulesView] = []
    findings: list[FindingView] = []
    balance: Balance | None = None
    numbers: dict[str, int] = {}

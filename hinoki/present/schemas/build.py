"""The build as data: what the screens show and the report is made from. No geometry beyond outlines."""

from typing import Literal

from pydantic import BaseModel, Field

from hinoki.core.plan.tile_set import MeetBy
from hinoki.present.schemas.findings import FindingView
from hinoki.present.schemas.joints import FaceView, JointView, MatingMarkView
from hinoki.present.schemas.vectors import FrameView, Outline, Vec3


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
    said: list[str] = Field([], description="about a part that Hinoki makes")


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


class PartPieceView(BaseModel):
    """A piece of a part, and its drawing."""

    key: str = Field(description="in the whole project")
    number: int
    name: str
    mesh: str


class PartView(BaseModel):
    """A part of the project, and where its instances stand. Matrices are 3 × 4, row by row: from the part's coordinates to the
    project's."""

    id: str
    name: str
    open: bool = Field(description="whether it is the one worked on")
    count: int = Field(description="how often it stands in the project")
    matrices: list[list[float]]
    size_mm: Vec3
    low_mm: Vec3 = Field(description="lowest corner of all its instances, in the project's coordinates")
    high_mm: Vec3
    volume_mm3: float
    pieces: list[PartPieceView]
    must_fix: int = Field(0, description="of a part that is not open: findings that must be fixed there")
    look_at: int = 0


class NeededView(BaseModel):
    """Something the whole project needs: a piece, or a kind of loose part (without a number), and how often."""

    key: str
    number: int | None
    name: str
    count: int
    shape: str


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
    pole: Literal["n", "s", "key"]


class SideView(BaseModel):
    """A side of a module: its magnets; its middle and the way it looks, in plan, of the first of them."""

    magnets: list[PoleView]
    middle: tuple[float, float] = (0.0, 0.0)
    out: tuple[float, float] = (0.0, 0.0)


class ModulesView(BaseModel):
    """Modules that meet side by side: their pattern of poles, and what trying all pairs showed."""

    id: str
    by: MeetBy = "magnets"
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
    drawn: list[tuple[float, float, Literal["n", "s", "key"], int]] = Field(
        [], description="its magnets, or what stands out (n) and takes that (s), in plan, and its side"
    )


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
    parts: list[PartView] = Field([], description="all parts of the project, the open one among them")
    needed: list[NeededView] = Field([], description="what the whole project is put together from")

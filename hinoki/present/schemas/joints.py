"""Mating faces and their joints as data."""

from typing import Literal

from pydantic import BaseModel, Field

from hinoki.core.join.joints import FaceRef, Place
from hinoki.core.workshop.fits import Fit
from hinoki.present.schemas.findings import FindingView
from hinoki.present.schemas.vectors import FrameView, Outline, Vec3


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
    poles: list[tuple[float, float, float, Literal["n", "s", "key"]]] = Field(
        [], description="magnets of modules in it: place, radius, and the pole of piece A's that looks at piece B"
    )
    room_radius_mm: float = Field(description="of the largest circle with the least wall around it; below 0 none")


class AxisView(BaseModel):
    """The axis a door turns about: a point on it, and its direction."""

    at: Vec3
    along: Vec3


class OpeningView(BaseModel):
    """How what hangs on a joint opens: by how much in each position, and where each piece (its number) is then, in rows of the
    matrix (3, 4)."""

    unit: Literal["deg", "mm"]
    by: list[float]
    moved: dict[int, list[list[float]]]
    at: Vec3 = Field(description="where to look")


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
    closes_n: float | None = Field(None, description="an estimate of the force that presses it together, newtons")
    strain_percent: float | None = Field(None, description="how far its hooks are strained as they go in")
    pull_n: float | None = Field(None, description="an estimate of the pull of all its magnets, newtons")
    axis: AxisView | None = Field(None, description="what the second piece turns about, for a hinge")
    opening: OpeningView | None = Field(None, description="how what hangs on it opens, for hinges and rails")
    turns: bool = Field(False, description="whether it goes together by turning")
    shapes: list[Outline] = Field([], description="what each element takes of the face")
    cut_shapes: list[Outline] = Field([], description="what is cut for each element, seen along the face's normal")
    deep_mm: float = Field(0.0, description="how deep it goes into a piece, end gap and all")
    room: Outline
    collar: Outline = Field(default_factory=list, description="what both pieces gain inside a hollow, on the face")
    findings: list[FindingView]

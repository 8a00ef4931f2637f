"""Findings as screens and reports see them: with words, and the reason why one may stay."""

from typing import Literal

from pydantic import BaseModel, Field

from hinoki.core.findings import Params, Severity, Station
from hinoki.core.join.joints import Joint
from hinoki.present.schemas.vectors import Vec3


class FixView(BaseModel):
    """Something that puts a finding right with one click."""

    kind: Literal["together", "joint", "add-joint", "shift", "rest", "rod", "carve"]
    label: str
    pieces: list[str] = []
    joint: Joint | None = Field(None, description="the joint as it would be")
    parting: str | None = None
    face: str | None = Field(None, description="the mating face, by its id, through which a rod is looked for")
    by_mm: float = Field(0.0, description="how far the parting is shifted along its normal; how much room is carved")
    movement: str | None = Field(None, description="the driver whose path is carved: of the first of `pieces` in the second")
    down: Vec3 | None = Field(None, description="the way the piece is to look down on the bed")


class FindingView(BaseModel):
    """One thing noticed: what, where, how much, what to do. The id is that of its code and place."""

    id: str
    severity: Severity
    code: str
    message: str
    params: Params = Field({}, description="its figures, lengths in mm, and the names in its sentence")
    station: Station
    piece: int | None = None
    face: str | None = None
    joint: str | None = None
    parting: str | None = None
    step: str | None = None
    at_mm: Vec3 | None = None
    fixes: list[FixView] = []
    whole: bool = Field(False, description="about the whole project: accepted in `project_accepted` of the plan")
    accepted: str | None = Field(None, description="the reason why it may stay")
    accepted_id: str | None = Field(None, description="under which id the plan says so: another one where 0.8 accepted it")

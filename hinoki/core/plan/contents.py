"""What one part of a project is made of: its model files, how they are prepared, divided and joined, and its pieces."""

from typing import Annotated, Literal, Self

from pydantic import BaseModel, Field, model_validator

from hinoki.core.divide.partings import Parting
from hinoki.core.findings import Accepted
from hinoki.core.geometry.mesh import Unit
from hinoki.core.join.channels import Way
from hinoki.core.join.joints import Joint
from hinoki.core.make import Maker
from hinoki.core.model.steps import PrepareStep
from hinoki.core.plan.assembly_settings import Assembling
from hinoki.core.plan.joint_tries import JointTry
from hinoki.core.plan.pictures import BackPicture
from hinoki.core.plan.print_settings import OwnSettings, SharedSettings
from hinoki.core.plan.regions import Mark
from hinoki.core.plan.tile_set import ModuleSet
from hinoki.core.plan.together import Together

Component = Annotated[float, Field(ge=-1, le=1, allow_inf_nan=False)]
Direction = tuple[Component, Component, Component]


class ModelUse(BaseModel, frozen=True):
    """The model file a plan is for, by content hash, and the unit its numbers are in."""

    source: str = Field(pattern=r"^[0-9a-f]{64}$", description="SHA-256 of the file as it came")
    file_name: str = Field("", max_length=200)
    unit: Unit = "mm"
    unit_from: Literal["file", "proposed", "picked"] = Field("picked", description="who says so")
    unit_reason: str = Field("", max_length=300)
    left_out: tuple[str, ...] = Field((), max_length=200, description="what of the file was not read")
    objects: tuple[Annotated[int, Field(ge=0, le=100_000)], ...] | None = Field(
        None,
        min_length=1,
        max_length=5000,
        description="which of the file's objects, counted from 0; where it holds one, which of its separate bodies; null: all",
    )


class PieceNote(BaseModel, frozen=True):
    """What the maker set for one piece: a name, and the direction that points down while it prints."""

    number: int | None = Field(None, ge=1, le=100_000)
    name: str = Field("", max_length=80)
    printer_id: str | None = Field(None, max_length=60, title="Printer", description="one of the plan's; none for the first")
    material_id: str | None = Field(None, max_length=60, title="Material", description="one of the plan's; none for the first")
    down: Direction | None = Field(None, title="Direction that points down on the bed, in model coordinates")
    locked: bool = Field(False, title="Locked", description="its side stays when all pieces are oriented")
    printing: OwnSettings = Field(
        default_factory=OwnSettings, description="what is printed otherwise than its part and the project"
    )

    @model_validator(mode="after")
    def _has_length(self) -> "PieceNote":
        if self.down is not None and sum(c * c for c in self.down) < 0.5:
            raise ValueError("the direction down must be a unit vector")
        return self


class Variant(BaseModel, frozen=True):
    """A whole division kept under a name: its partings, joints and what was set for its pieces."""

    id: str = Field(pattern=r"^v[1-9][0-9]{0,3}$")
    name: str = Field(min_length=1, max_length=60)
    partings: tuple[Parting, ...] = Field((), max_length=500)
    together: tuple[Together, ...] = Field((), max_length=500)
    joints: tuple[Joint, ...] = Field((), max_length=5000)
    pieces: dict[str, PieceNote] = Field(default_factory=dict, max_length=5000)


class Contents(BaseModel, frozen=True):
    """What a part is made of. Partings, joints and pieces are in the part's own coordinates: centred on the bed, Z up."""

    model: ModelUse | None = None
    also: tuple[ModelUse, ...] = Field((), max_length=100, description="further files of the same part")
    made: Maker | None = Field(None, description="the figures of a part that Hinoki makes, in the place of a file")
    prepare: tuple[PrepareStep, ...] = Field((), max_length=200, description="steps that change the model, in order")
    partings: tuple[Parting, ...] = Field((), max_length=500)
    together: tuple[Together, ...] = Field((), max_length=500, description="pieces joined again where cuts separated them")
    marks: tuple[Mark, ...] = Field((), max_length=200, description="areas to keep whole, to show and to hide seams in")
    joints: tuple[Joint, ...] = Field((), max_length=5000)
    joint_tries: tuple[JointTry, ...] = Field((), max_length=2000, description="versions of joints that were tried")
    ways: tuple[Way, ...] = Field((), max_length=200, description="bores for rods and tunnels for cables")
    modules: tuple[ModuleSet, ...] = Field((), max_length=20, description="pieces that meet side by side, by magnets")
    pieces: dict[str, PieceNote] = Field(default_factory=dict, max_length=5000)
    assembling: Assembling = Field(default_factory=Assembling, description="what the maker decided about the assembly")
    own_printing: SharedSettings = Field(
        default_factory=SharedSettings, description="what of this part is printed otherwise than the project"
    )
    pictures: tuple[BackPicture, ...] = Field((), max_length=20, description="pictures behind the model, to size and place by")
    accepted: dict[str, Accepted] = Field(
        default_factory=dict, max_length=5000, description="findings that may stay, by their ids, with the reason"
    )
    division_name: str = Field("Division 1", min_length=1, max_length=60, description="name of the division worked on")
    variants: tuple[Variant, ...] = Field((), max_length=12, description="other whole divisions, kept to compare and switch to")

    @model_validator(mode="after")
    def _unique(self) -> "Contents":
        for what, ids in (
            ("partings", [p.id for p in self.partings]),
            ("joints", [j.id for j in self.joints]),
            ("ways", [w.id for w in self.ways]),
            ("versions of joints", [t.id for t in self.joint_tries]),
            ("sets of modules", [m.id for m in self.modules]),
            ("marks", [m.id for m in self.marks]),
            ("pictures", [p.id for p in self.pictures]),
            ("variants", [v.id for v in self.variants]),
            ("steps", [s.id for s in self.prepare]),
        ):
            twice = sorted({i for i in ids if ids.count(i) > 1}) if len(set(ids)) < len(ids) else []
            if twice:
                raise ValueError(f"two {what} are named {twice[0]}; each needs a name of its own")
        if self.made is not None and self.model is not None:
            raise ValueError("a part is of a file, or made of figures; this one says both")
        return self

    def with_step(self, step: PrepareStep) -> Self:
        """With one more prepare step at the end, under an id that is free."""
        number = max((int(one.id[1:]) for one in self.prepare), default=0) + 1
        return self.model_copy(update={"prepare": (*self.prepare, step.model_copy(update={"id": f"s{number}"}))})

    @property
    def begun(self) -> bool:
        """Whether there is a body: a file was brought in, or it is made of figures."""
        return self.model is not None or self.made is not None

    @property
    def model_files(self) -> tuple[ModelUse, ...]:
        """All files of the part, the first one first."""
        return (self.model, *self.also) if self.model is not None else ()


CONTENTS = tuple(Contents.model_fields)
"""names of the fields that belong to a part; all others of a plan are the whole project's"""

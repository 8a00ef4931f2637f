"""The plan: what the maker decided, as one small JSON document. Immutable, versioned, migrated when old."""

import json
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from hinoki.core.divide.partings import Parting
from hinoki.core.errors import BadPlan
from hinoki.core.findings import Accepted
from hinoki.core.geometry.mesh import Unit
from hinoki.core.join.channels import Way
from hinoki.core.join.joints import Joint
from hinoki.core.model.steps import PrepareStep
from hinoki.core.plan.assembly_settings import Assembling
from hinoki.core.plan.batch_settings import Batching
from hinoki.core.plan.label_settings import MatingMarks
from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.plan.regions import Mark
from hinoki.core.plan.tile_set import ModuleSet
from hinoki.core.plan.together import Together
from hinoki.core.plan.versions import upgraded
from hinoki.core.unknown_fields import named, unknown_fields
from hinoki.core.workshop.fits import Fit, Fits
from hinoki.core.workshop.materials import Material, materials
from hinoki.core.workshop.printers import Printer, presets

SCHEMA = "hinoki-plan/1"
NEWEST = 1
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


class PieceNote(BaseModel, frozen=True):
    """What the maker set for one piece: a name, and the direction that points down while it prints."""

    number: int | None = Field(None, ge=1, le=100_000)
    name: str = Field("", max_length=80)
    printer_id: str | None = Field(None, max_length=60, title="Printer", description="one of the plan's; none for the first")
    material_id: str | None = Field(None, max_length=60, title="Material", description="one of the plan's; none for the first")
    down: Direction | None = Field(None, title="Direction that points down on the bed, in model coordinates")
    locked: bool = Field(False, title="Locked", description="its side stays when all pieces are oriented")

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


class Plan(BaseModel):
    """Everything the maker decided about one project. Millimetres and degrees; Z up; the bed is the XY plane."""

    model_config = ConfigDict(populate_by_name=True, frozen=True)

    schema_: Literal["hinoki-plan/1"] = Field("hinoki-plan/1", alias="schema")
    model: ModelUse | None = None
    also: tuple[ModelUse, ...] = Field((), max_length=100, description="further files of the same project")
    prepare: tuple[PrepareStep, ...] = Field((), max_length=200, description="steps that change the model, in order")
    more_printers: tuple[Printer, ...] = Field((), max_length=20, description="further printers; pieces may name one")
    material: Material = Field(default_factory=lambda: materials()[0])
    more_materials: tuple[Material, ...] = Field((), max_length=20, description="further materials; pieces may name one")
    printer: Printer = Field(default_factory=lambda: presets()[1])
    printing: PrintSettings = Field(default_factory=PrintSettings, description="what estimates rest on")
    batching: Batching = Field(default_factory=Batching, description="how beds are filled, copies, and what was laid by hand")
    least_wall_mm: float = Field(1.6, ge=0.2, le=50, title="Least wall")
    handling_n: float = Field(
        20.0,
        ge=0,
        le=2000,
        title="Force at the far end",
        description="what pushes what hangs from a seam when it is held, N",
    )
    fits: Fits = Field(default_factory=Fits)
    more_fits: dict[str, Fits] = Field(
        default_factory=dict, max_length=20, description="clearances of further printers, by their ids"
    )
    partings: tuple[Parting, ...] = Field((), max_length=500)
    together: tuple[Together, ...] = Field((), max_length=500, description="pieces joined again where cuts separated them")
    sliver_mm3: float = Field(1.0, ge=0, le=1e6, title="Slivers under", description="volume of a piece that counts as a sliver")
    marks: tuple[Mark, ...] = Field((), max_length=200, description="areas to keep whole, to show and to hide seams in")
    joints: tuple[Joint, ...] = Field((), max_length=5000)
    ways: tuple[Way, ...] = Field((), max_length=200, description="bores for rods and tunnels for cables")
    modules: tuple[ModuleSet, ...] = Field((), max_length=20, description="pieces that meet side by side, by magnets")
    mating_marks: MatingMarks = Field(default_factory=MatingMarks)
    pieces: dict[str, PieceNote] = Field(default_factory=dict, max_length=5000)
    assembling: Assembling = Field(default_factory=Assembling, description="what the maker decided about the assembly")
    accepted: dict[str, Accepted] = Field(
        default_factory=dict, max_length=5000, description="findings that may stay, by their ids, with the reason"
    )
    division_name: str = Field("Division 1", min_length=1, max_length=60, description="name of the division worked on")
    variants: tuple[Variant, ...] = Field((), max_length=12, description="other whole divisions, kept to compare and switch to")

    @model_validator(mode="after")
    def _unique(self) -> "Plan":
        for what, ids in (
            ("partings", [p.id for p in self.partings]),
            ("joints", [j.id for j in self.joints]),
            ("ways", [w.id for w in self.ways]),
            ("sets of modules", [m.id for m in self.modules]),
            ("marks", [m.id for m in self.marks]),
            ("variants", [v.id for v in self.variants]),
            ("steps", [s.id for s in self.prepare]),
        ):
            twice = sorted({i for i in ids if ids.count(i) > 1}) if len(set(ids)) < len(ids) else []
            if twice:
                raise ValueError(f"two {what} are named {twice[0]}; each needs a name of its own")
        return self

    @property
    def model_files(self) -> tuple[ModelUse, ...]:
        """All files of the project, the first one first."""
        return (self.model, *self.also) if self.model is not None else ()

    def printer_of(self, piece_key: str) -> Printer:
        """The printer a piece belongs to."""
        note = self.pieces.get(piece_key)
        wanted = note.printer_id if note else None
        return next((p for p in self.more_printers if p.id == wanted), self.printer)

    def material_of(self, piece_key: str) -> Material:
        """What a piece is printed with: the material it names, else the plan's first one that its printer can print."""
        note = self.pieces.get(piece_key)
        wanted = note.material_id if note else None
        every = (self.material, *self.more_materials)
        named = next((m for m in every if m.id == wanted), None)
        return named or next((m for m in every if m.process == self.printer_of(piece_key).process), self.material)

    def bed_for(self, piece_key: str) -> Printer:
        """The printer a piece belongs to, with the room there is for it as drawn: less, where it is made larger to print."""
        printer, larger = self.printer_of(piece_key), self.material_of(piece_key).enlarged
        return printer if larger == 1 else printer.smaller(larger)

    def clearance_mm(self, fit: Fit, *piece_keys: str) -> float:
        """Clearance on each side for a class of fit between pieces: that of the printer which needs the most."""
        fits = [self.more_fits.get(self.printer_of(key).id, self.fits) for key in piece_keys]
        return max(f.clearance_mm(fit) for f in fits or [self.fits])

    def as_variant(self, name: str, id_: str | None = None) -> Variant:
        """The division worked on as a variant, under a free id where none is given."""
        free = f"v{max((int(v.id[1:]) for v in self.variants), default=0) + 1}"
        return Variant(
            id=id_ or free, name=name, partings=self.partings, together=self.together, joints=self.joints, pieces=self.pieces
        )

    def json_text(self) -> str:
        """The plan as stored and exported."""
        return json.dumps(self.model_dump(mode="json", by_alias=True), indent=1, ensure_ascii=False)


def read_plan(text: str | bytes) -> Plan:
    """A plan from JSON as Hinoki itself keeps it. Raises BadPlan naming the field in one sentence."""
    return _of_known_schema(_parsed(text))


def given_plan(text: str | bytes) -> Plan:
    """A plan from JSON that somebody gives: fields that nobody knows are refused by name, too. Raises BadPlan."""
    return plan_from(_parsed(text))


def plan_from(data: Any) -> Plan:
    """A plan from parsed JSON that somebody gives. Raises BadPlan, also for fields that nobody knows."""
    plan = _of_known_schema(data)
    strange = list(unknown_fields(upgraded(data), plan.model_dump(mode="json", by_alias=True)))
    if strange:
        raise BadPlan(named(strange), strange[0])
    return plan


def _parsed(text: str | bytes) -> Any:
    try:
        return json.loads(text)
    except (ValueError, RecursionError) as error:
        raise BadPlan(f"The plan is not JSON: {error}. Export it from Hinoki again.", "plan") from error


def _of_known_schema(data: Any) -> Plan:
    if not isinstance(data, dict):
        raise BadPlan("A plan is a JSON object; this is something else.", "plan")
    schema = str(data.get("schema", ""))
    name, _, version = schema.partition("/")
    if name != "hinoki-plan" or not version.isdigit():
        raise BadPlan(f"This is not a Hinoki plan: its schema says {schema[:40]!r}, not '{SCHEMA}'.", "schema")
    if int(version) > NEWEST:
        raise BadPlan(
            f"The plan was made by a newer Hinoki (version {version}; this one reads up to {NEWEST}). Update Hinoki.",
            "schema",
        )
    try:
        return Plan.model_validate(upgraded(data))
    except ValidationError as error:
        raise BadPlan(*explain(error)) from error


def explain(error: ValidationError) -> tuple[str, str]:
    """The first thing wrong with a document, as one sentence and the place of it."""
    errors = error.errors(include_input=False, include_url=False)
    first = errors[0]
    place = ".".join(str(part) for part in first["loc"]) or "plan"
    if first["type"] == "union_tag_invalid":
        context = first.get("ctx", {})
        sentence = f"{place}: the kind {context.get('tag')!r} is not known; known are {context.get('expected_tags')}."
    elif first["type"] == "union_tag_not_found":
        sentence = f"{place}: the kind is missing."
    else:
        sentence = f"{place}: {first['msg'].removeprefix('Value error, ')}."
    more = len(errors) - 1
    return sentence + (f" ({more} more)" if more else ""), place

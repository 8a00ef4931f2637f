"""The plan: what the maker decided, as one small JSON document. Immutable, versioned, migrated when old."""

import json
from typing import Any, Literal

from pydantic import ConfigDict, Field, ValidationError, model_validator

from hinoki.core.errors import BadPlan, explain
from hinoki.core.findings import Accepted, Finding
from hinoki.core.moving.movements import Movement
from hinoki.core.plan.assembly_settings import Assembling
from hinoki.core.plan.batch_settings import Batching
from hinoki.core.plan.contents import CONTENTS, Contents, ModelUse, Variant
from hinoki.core.plan.label_settings import MatingMarks
from hinoki.core.plan.parts import FIRST, PART_ID, Instance, Instances, KeptPart, PartName, project_key
from hinoki.core.plan.pictures import BackPicture
from hinoki.core.plan.print_settings import AS_THE_PROJECT, OwnSettings, PrintGroup, PrintSettings, SharedSettings
from hinoki.core.plan.versions import upgraded
from hinoki.core.unknown_fields import named, unknown_fields
from hinoki.core.workshop.fits import Fit, Fits
from hinoki.core.workshop.materials import Material, materials
from hinoki.core.workshop.printers import Printer, presets

SCHEMA = "hinoki-plan/1"
NEWEST = 1


class Plan(Contents):
    """Everything the maker decided about one project. Millimetres and degrees; Z up; the bed is the XY plane.

    What a part is made of (`Contents`) is that of the part worked on, `part_id`; the other parts are in `parts`.
    """

    model_config = ConfigDict(populate_by_name=True, frozen=True)

    schema_: Literal["hinoki-plan/1"] = Field("hinoki-plan/1", alias="schema")
    part_id: str = Field(FIRST, pattern=PART_ID, description="the part worked on")
    part_name: PartName = Field("", title="Part", description="its name; none: that of its file")
    instances: Instances = Field((Instance(),), description="where the part worked on stands in the project")
    parts: tuple[KeptPart, ...] = Field((), max_length=200, description="the other parts of the project")
    more_printers: tuple[Printer, ...] = Field((), max_length=20, description="further printers; pieces may name one")
    material: Material = Field(default_factory=lambda: materials()[0])
    more_materials: tuple[Material, ...] = Field((), max_length=20, description="further materials; pieces may name one")
    printer: Printer = Field(default_factory=lambda: presets()[1])
    printing: PrintSettings = Field(default_factory=PrintSettings, description="what estimates rest on")
    groups: tuple[PrintGroup, ...] = Field(
        (), max_length=100, description="pieces that are printed alike, otherwise than others"
    )
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
    sliver_mm3: float = Field(1.0, ge=0, le=1e6, title="Slivers under", description="volume of a piece that counts as a sliver")
    mating_marks: MatingMarks = Field(default_factory=MatingMarks)
    project_assembling: Assembling = Field(
        default_factory=Assembling, description="what was decided about putting the parts together"
    )
    movements: tuple[Movement, ...] = Field((), max_length=100, description="what moves in the project, and what drives it")
    project_accepted: dict[str, Accepted] = Field(
        default_factory=dict, max_length=5000, description="findings about the whole project that may stay, as `accepted`"
    )

    @model_validator(mode="after")
    def _parts_apart(self) -> "Plan":
        ids = [self.part_id, *(part.id for part in self.parts)]
        twice = sorted({i for i in ids if ids.count(i) > 1})
        if twice:
            raise ValueError(f"two parts are named {twice[0]}; each needs a name of its own")
        moving = [one.id for one in self.movements]
        if len(set(moving)) < len(moving):
            raise ValueError(f"two movements are named {max(moving, key=moving.count)}; each needs a name of its own")
        groups = [one.id for one in self.groups]
        if len(set(groups)) < len(groups):
            raise ValueError(f"two groups are named {max(groups, key=groups.count)}; each needs a name of its own")
        if FIRST not in ids:
            raise ValueError(f"a project keeps its first part, {FIRST}; it is not among the parts")
        return self

    @property
    def all_files(self) -> tuple[ModelUse, ...]:
        """The files of all parts."""
        return (*self.model_files, *(use for part in self.parts for use in part.model_files))

    @property
    def all_kept(self) -> tuple[ModelUse | BackPicture, ...]:
        """The files and pictures of all parts."""
        return (*self.all_files, *self.pictures, *(picture for part in self.parts for picture in part.pictures))

    @property
    def part_ids(self) -> tuple[str, ...]:
        """All parts, in the order in which they came."""
        return tuple(sorted((self.part_id, *(part.id for part in self.parts)), key=lambda i: int(i[1:])))

    @property
    def label(self) -> str:
        """What the open part is called: its own name, else that of its file or of what it is made as, else its number."""
        file = self.model.file_name.rpartition(".")[0] if self.model is not None else ""
        made = self.made.form.name if self.made is not None else ""
        return self.part_name or file or made or f"Part {self.part_id[1:]}"

    def instance_label(self, which: int) -> str:
        """What one of its instances (from 0) is called."""
        return f"{self.label}, {which + 1} of {len(self.instances)}" if len(self.instances) > 1 else self.label

    def accepted_like(self, finding: Finding) -> dict[str, Accepted]:
        """What may stay of the kind of a finding, by its id: of the whole project or of the open part. Up to 0.11 both were
        kept with the part."""
        return self.accepted | self.project_accepted if finding.whole else self.accepted

    @property
    def count_plain(self) -> int:
        """How often the open part stands in the project as it is."""
        return sum(not one.mirrored for one in self.instances)

    @property
    def count_mirrored(self) -> int:
        """How often its mirror image does."""
        return len(self.instances) - self.count_plain

    def copies_of(self, piece_key: str) -> int:
        """How often a piece of the open part is printed: once for each instance, and as many more as were asked for."""
        more = self.batching.copies.get(project_key(self.part_id, piece_key), 1) - 1
        return len(self.instances) + more

    @property
    def noted_numbers(self) -> dict[str, int]:
        """Piece numbers set in the plan, by keys of the whole project."""
        every = [(self.part_id, self.pieces), *((part.id, part.pieces) for part in self.parts)]
        return {project_key(i, key): note.number for i, pieces in every for key, note in pieces.items() if note.number}

    def kept(self) -> KeptPart:
        """The part worked on as one that is put aside."""
        own = {name: getattr(self, name) for name in CONTENTS}
        return KeptPart(id=self.part_id, name=self.part_name, instances=self.instances, **own)

    def working_on(self, part_id: str) -> "Plan":
        """The same project with another part open. Raises BadPlan where it has none of that id."""
        if part_id == self.part_id:
            return self
        wanted = next((part for part in self.parts if part.id == part_id), None)
        if wanted is None:
            raise BadPlan(f"This project has no part {part_id}; it has {', '.join(self.part_ids)}.", "part")
        others = (self.kept(), *(part for part in self.parts if part.id != part_id))
        opened = {name: getattr(wanted, name) for name in CONTENTS}
        parts = tuple(sorted(others, key=lambda part: int(part.id[1:])))
        return self.model_copy(
            update=opened | {"part_id": wanted.id, "part_name": wanted.name, "instances": wanted.instances, "parts": parts}
        )

    def alone(self, part_id: str | None = None) -> "Plan":
        """The plan of one part by itself, of the open one where none is said. Raises BadPlan."""
        return self.working_on(part_id or self.part_id).model_copy(update={"parts": ()})

    def shared_settings(self, piece_key: str) -> SharedSettings:
        """What holds for a piece of the open part because of its group, and of what that leaves open because of its part."""
        key = project_key(self.part_id, piece_key)
        group = next((one for one in self.groups if key in one.pieces), None)
        return group.printing.within(self.own_printing) if group else self.own_printing

    def printer_of(self, piece_key: str) -> Printer:
        """The printer a piece belongs to: the one it names, else its group's or part's, else the project's first."""
        note = self.pieces.get(piece_key)
        wanted = (note.printer_id if note else None) or self.shared_settings(piece_key).printer_id
        return next((p for p in (self.printer, *self.more_printers) if p.id == wanted), self.printer)

    def material_of(self, piece_key: str) -> Material:
        """What a piece is printed with: the material it names, else its group's or part's, else the plan's first one that its
        printer can print."""
        note = self.pieces.get(piece_key)
        wanted = (note.material_id if note else None) or self.shared_settings(piece_key).material_id
        every = (self.material, *self.more_materials)
        named = next((m for m in every if m.id == wanted), None)
        return named or next((m for m in every if m.process == self.printer_of(piece_key).process), self.material)

    def own_settings(self, piece_key: str) -> OwnSettings:
        """What of a piece of the open part is printed otherwise than the project says; layers only where they differ."""
        note = self.pieces.get(piece_key)
        own = (note.printing if note else AS_THE_PROJECT).onto(self.shared_settings(piece_key))
        return own.model_copy(update={"layers": None}) if own.layers == self.printing.layers else own

    def printing_of(self, piece_key: str) -> PrintSettings:
        """How a piece of the open part is printed."""
        return self.own_settings(piece_key).over(self.printing)

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

"""What an archive's `project.json` holds, row by row, checked as closely as what the API takes in.

Lists stop at the first wrong row, and no error keeps what was given, so that a small archive cannot fill the memory.
"""

from datetime import datetime
from typing import Annotated, Literal, Self

from pydantic import AfterValidator, BaseModel, ConfigDict, FailFast, Field, model_validator

from hinoki.core.export.archive import ExportWish
from hinoki.core.export.manifest import WentOut
from hinoki.core.printlog.fit_answers import FitAnswer
from hinoki.core.printlog.records import NOTE, Grams, Key, Minutes, PreparedBatch, Progress
from hinoki.core.printlog.states import PieceState, PrintState, Reason, Result
from hinoki.store.storable_values import wrong_text

MOST = 100_000
LARGEST_NUMBER = 2**53


def _time(text: str) -> str:
    if datetime.fromisoformat(text).tzinfo is None:
        raise ValueError("a time needs its offset, such as 2025-01-31T12:00:00+00:00")
    return text


def _storable(text: str) -> str:
    if (wrong := wrong_text(text)) is not None:
        raise ValueError(f"a text {wrong}")
    return text


def _json_of(model: type[BaseModel]) -> AfterValidator:
    def check(text: str) -> str:
        model.model_validate_json(text)
        return text

    return AfterValidator(check)


Storable = AfterValidator(_storable)
Text = Annotated[str, Field(max_length=NOTE), Storable]
Unit = Annotated[str, Field(min_length=1, max_length=8100), Storable]
Time = Annotated[str, Field(max_length=40), AfterValidator(_time)]
Hash = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
Count = Annotated[int, Field(ge=0, le=LARGEST_NUMBER)]
Number = Annotated[int, Field(ge=1, le=LARGEST_NUMBER)]


class Row(BaseModel):
    """A row of an archive: nothing that is not known, and errors without what was given."""

    model_config = ConfigDict(extra="forbid", hide_input_in_errors=True, allow_inf_nan=False)


class RevisionRow(Row):
    """A revision; its plan has a file of its own."""

    number: Number
    parent: Count
    label: Text
    name: Annotated[str, Field(max_length=60), Storable]
    created_at: Time


class SourceRow(Row):
    """A model file."""

    sha256: Hash
    file_name: Annotated[str, Field(max_length=200), Storable]
    triangles: Count
    size: tuple[float, float, float]


class WentOutRow(Row):
    """An export, with what was wished and what it held as JSON."""

    revision: Number
    at: Time
    wish: Annotated[str, _json_of(ExportWish)]
    held: Annotated[str, _json_of(WentOut)]


class TickRow(Row):
    """A step that was ticked while building."""

    unit: Unit
    at: Time


class StepPhotoRow(TickRow):
    """A photograph at a step."""

    sha256: Hash


class PrintPhotoRow(Row):
    """A photograph of a print."""

    number: Number
    at: Time
    sha256: Hash


class ItemRow(Row):
    """One body of a print and its life."""

    item: Count
    key: Key
    number: Annotated[int, Field(ge=0, le=LARGEST_NUMBER)] | None
    name: Annotated[str, Field(max_length=300), Storable]
    copy_number: Number
    shape: str = Field(max_length=64)
    grams: Grams
    minutes: Minutes
    state: PieceState
    result: Result | None
    reason: Reason | None
    note: Text
    version: Number
    changed_at: Time


class PrintRow(Row):
    """A print of the log."""

    number: Number
    revision: Number
    state: PrintState
    machine: Text
    batch: PreparedBatch
    sent_at: Time
    begun_at: Time | None
    ended_at: Time | None
    minutes: Minutes | None
    grams: Grams | None
    progress: Progress
    gone_since: Time | None
    why: Text
    note: Text
    items: Annotated[list[ItemRow], FailFast(), Field(max_length=5000)]


class AnswerRow(FitAnswer):
    """How a joint of printed pieces went together."""

    model_config = ConfigDict(hide_input_in_errors=True)
    joint: Annotated[str, Field(min_length=1, max_length=160), Storable]
    note: Annotated[str, Field(max_length=200), Storable] = ""
    made_at: Time


class Kept(Row):
    """All that is small of a project."""

    schema_: Literal["hinoki-project/1"] = Field(alias="schema")
    name: Annotated[str, Field(min_length=1, max_length=80), Storable]
    created_at: Time
    updated_at: Time
    head: Number
    tip: Number
    archived_at: Time | None
    revisions: Annotated[list[RevisionRow], FailFast(), Field(min_length=1, max_length=MOST)]
    sources: Annotated[list[SourceRow], FailFast(), Field(max_length=5000)]
    numbers: Annotated[dict[Key, Number], Field(max_length=MOST)]
    shapes: Annotated[dict[Key, Annotated[str, Field(max_length=64)]], Field(max_length=MOST)]
    went_out: Annotated[list[WentOutRow], FailFast(), Field(max_length=MOST)]
    ticked: Annotated[list[TickRow], FailFast(), Field(max_length=MOST)]
    step_photos: Annotated[list[StepPhotoRow], FailFast(), Field(max_length=MOST)]
    prints: Annotated[list[PrintRow], FailFast(), Field(max_length=MOST)]
    print_photos: Annotated[list[PrintPhotoRow], FailFast(), Field(max_length=MOST)]
    fit_answers: Annotated[list[AnswerRow], FailFast(), Field(max_length=MOST)]

    @model_validator(mode="after")
    def _revisions_lead_back(self) -> Self:
        numbers = {r.number for r in self.revisions}
        for one in self.revisions:
            if one.parent >= one.number or (one.parent and one.parent not in numbers):
                raise ValueError(f"revision {one.number} cannot come from revision {one.parent}")
        for shown in (self.head, self.tip):
            if shown not in numbers:
                raise ValueError(f"revision {shown}, which it shows, is not in it")
        return self

"""A print as recorded: what went out, and how each piece of it came out."""

from dataclasses import dataclass
from typing import Annotated

from pydantic import BaseModel, Field

from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.printlog.states import ACTIVE, PieceState, PrintState, Reason, Result

Grams = Annotated[float, Field(ge=0, le=1e7, allow_inf_nan=False)]
Minutes = Annotated[float, Field(ge=0, le=1e7, allow_inf_nan=False)]
Key = Annotated[str, Field(min_length=1, max_length=8100)]
NOTE = 2000


class PreparedItem(BaseModel, frozen=True, allow_inf_nan=False):
    """One body on a bed: the key of its piece (of a loose part “loose …”), which copy, the hash of its shape, and its share."""

    key: Key
    number: int | None = None
    name: str = Field(max_length=300)
    copy_number: int = Field(1, ge=1)
    shape: str = Field(max_length=64)
    grams: Grams
    minutes: Minutes
    height_mm: float = 0.0
    foot_mm2: float = 0.0


class PreparedBatch(BaseModel, frozen=True, allow_inf_nan=False):
    """A batch ready to be sent: its file, what lies on it, and what it is estimated to take before anything was learned."""

    title: str = Field(max_length=400)
    batch: int
    batches: int
    reprint: bool = False
    file: str = Field(max_length=80)
    printer_id: str
    printer: str
    material_id: str
    material: str
    settings: PrintSettings
    layer_mm: float
    layers: int
    minutes: Minutes
    grams: Grams
    cost: float
    height_mm: float
    rests_on: str = ""
    """of the estimate the maker saw: what it had been corrected by"""
    expected_minutes: Minutes
    expected_grams: Grams
    items: tuple[PreparedItem, ...]


class Progress(BaseModel, frozen=True, allow_inf_nan=False):
    """How far a print is, as heard last."""

    fraction: Annotated[float, Field(ge=0, le=1)] = 0.0
    layer: int = 0
    layers: int = 0
    nozzle_c: float | None = None
    bed_c: float | None = None
    said: str = ""
    """what the printer says of itself, such as why it waits"""


@dataclass(frozen=True)
class Item:
    """One printed body and its life. `version` counts its changes, so that two windows do not overwrite each other.

    A plain dataclass: a long log holds thousands, and is read at once.
    """

    print_id: str
    item: int
    project_id: str
    key: str
    number: int | None
    name: str
    copy_number: int
    shape: str
    grams: float
    minutes: float
    state: PieceState
    result: Result | None
    reason: Reason | None
    note: str
    version: int
    changed_at: str


class Print(BaseModel):
    """One print of the log."""

    id: str
    project_id: str
    number: int
    revision: int
    state: PrintState
    machine_id: str | None
    machine: str
    spool_id: int | None
    batch: PreparedBatch
    sent_at: str
    begun_at: str | None
    ended_at: str | None
    minutes: float | None = Field(description="measured: printing time, as the printer tells it")
    grams: float | None = Field(description="measured: what was used")
    progress: Progress
    gone_since: str | None = Field(description="since when the printer has not answered")
    why: str = Field(description="why it ended as it did, where that is not plain")
    note: str
    photo: str | None = Field(description="hash of its photograph")
    items: list[Item] = []

    @property
    def active(self) -> bool:
        """Whether more is to be heard of it."""
        return self.state in ACTIVE

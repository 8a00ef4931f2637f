"""What Hinoki asks of any printer, and what it can be told. Adapters implement `Adapter`; nothing else speaks to printers."""

from dataclasses import dataclass, field
from typing import Literal, Protocol

from hinoki.core.printlog.records import PreparedBatch, Progress

JobState = Literal["waiting", "printing", "paused", "done", "failed", "cancelled"]


@dataclass(frozen=True)
class Fell:
    """A thing that a printer noticed to have failed, by its name in the file, and how."""

    name: str
    what: str


@dataclass(frozen=True)
class Heard:
    """What a printer says about a job."""

    state: JobState
    progress: Progress
    minutes: float | None = None
    """printing time so far, in the printer's own time"""
    grams: float | None = None
    why: str = ""
    fell: tuple[Fell, ...] = ()


@dataclass(frozen=True)
class Status:
    """What a printer says about itself."""

    name: str
    state: str
    job: str | None = None
    """the job it is busy with, whoever sent it"""
    nozzle_c: float | None = None
    bed_c: float | None = None
    filament_g: float | None = None
    jobs: tuple[str, ...] = field(default=())


class MachineProblem(Exception):
    """Something a printer did that is not as agreed; `says` is a sentence for the maker."""

    def __init__(self, says: str) -> None:
        super().__init__(says)
        self.says = says


class Gone(MachineProblem):
    """It does not answer, or not in time."""


class Garbled(MachineProblem):
    """It answers what cannot be understood."""


class Refused(MachineProblem):
    """It does not take the job, and says why."""


class Unknown(MachineProblem):
    """It knows nothing of the job: it was started anew, or never got it."""


class Adapter(Protocol):
    """A way to speak to a printer. Every call returns within its time-out or raises a MachineProblem."""

    follows: bool
    """whether it tells how a job goes; else a person does"""

    def close(self) -> None:
        """Let go of what is kept open to the printer."""

    def status(self) -> Status:
        """How the printer is."""

    def send(self, print_id: str, batch: PreparedBatch, content: bytes) -> None:
        """Hand a job over; sending one twice under the same id is the same as once. Raises Refused, Gone, Garbled."""

    def heard(self, print_id: str) -> Heard:
        """How a job goes. Raises Unknown, Gone, Garbled."""

    def pause(self, print_id: str) -> None:
        """Pause a job."""

    def resume(self, print_id: str) -> None:
        """Go on with it."""

    def cancel(self, print_id: str) -> None:
        """Stop it for good."""

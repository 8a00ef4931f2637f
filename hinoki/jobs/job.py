"""Jobs: what a worker is asked to do, and how it stands."""

import asyncio
import logging
import uuid
from collections.abc import Callable
from concurrent.futures import Future
from dataclasses import dataclass, field
from typing import Any, Literal

from hinoki.core.errors import HinokiError
from hinoki.operations.context import Situation
from hinoki.operations.registry import Operation

State = Literal["queued", "running", "done", "failed", "cancelled"]
ENDED: tuple[State, ...] = ("done", "failed", "cancelled")
LOG = logging.getLogger(__name__)


@dataclass
class Failure:
    """Why a job failed, in words and as a status."""

    message: str
    where: str | None = None
    status: int = 500
    code: str = "worker-failed"


GRACE_S = 6.0
"""time there is to stop by itself before who does it is ended"""
LONGEST_S = 900.0
"""time a job may take"""
SUDDEN = Failure("The worker doing this stopped suddenly. Nothing was changed and the rest goes on; try it again.")


def took_too_long(longest_s: float) -> Failure:
    """Why a job failed that took longer than it may."""
    return Failure(f"This took longer than {longest_s / 60:g} minutes and was stopped.", status=504)


@dataclass(frozen=True)
class Asked:
    """What a worker is given: the request of an operation as plain data, where it is asked, and the name its result goes by."""

    request: dict[str, Any]
    situation: Situation = Situation()  # noqa: RUF009 - frozen
    target: str = ""


@dataclass
class Job:
    """One piece of work in a worker process: an operation, by its declaration."""

    operation: Operation
    project_id: str
    asked: Asked
    subject: str = ""
    id: str = field(default_factory=lambda: uuid.uuid4().hex)
    state: State = "queued"
    fraction: float = 0.0
    phrase: str = "Waiting"
    pieces: dict[str, str] = field(default_factory=dict)
    """names of the drawings of pieces that are done before the rest of a build, by piece key"""
    result: Any = None
    failure: Failure | None = None
    cancel_asked: bool = False
    askers: int = 1
    """how many wait for it; it is stopped when none is left"""
    on_change: Callable[["Job"], None] = lambda _job: None
    on_done: Callable[["Job", Any], Any] = lambda _job, result: result
    """keeps what came of it before anybody sees that it is done, and gives what is left of the result; a refusal is what the
    job failed of"""
    _ended: "Future[None]" = field(default_factory=Future)

    @property
    def kind(self) -> str:
        """The name of its operation."""
        return self.operation.name

    def leave(self) -> None:
        """One of those who asked no longer waits; the last one stops it."""
        self.askers -= 1
        if self.askers <= 0:
            self.cancel_asked = True

    def told(self, fraction: float, phrase: str) -> None:
        """Note progress."""
        self.fraction, self.phrase = fraction, phrase
        self.tell()

    def told_pieces(self, pieces: dict[str, str]) -> None:
        """Note pieces that can be shown."""
        self.pieces = pieces
        self.tell()

    def hear(self, what: str, *said: Any) -> bool:
        """Take what is said by who does it; True when the job has ended."""
        if what == "progress":
            self.told(*said)
            return False
        if what == "pieces":
            self.told_pieces(*said)
            return False
        if what == "done":
            self.end("done", result=said[0])
        elif what == "cancelled":
            self.end("cancelled")
        else:
            self.end("failed", failure=Failure(*said))
        return True

    def begun(self) -> None:
        """Note that somebody has begun to do it."""
        self.state = "running"
        self.tell()

    def end(self, state: State, result: Any = None, failure: Failure | None = None) -> None:
        """Note the end, once."""
        if self.state in ENDED:
            return
        if state == "done":
            state, result, failure = self._kept(result)
        self.result, self.failure = result, failure
        self.state = state
        self._ended.set_result(None)
        self.tell()

    def _kept(self, result: Any) -> tuple[State, Any, Failure | None]:
        try:
            return "done", self.on_done(self, result), None
        except HinokiError as error:
            return "failed", None, Failure(error.message, error.where, error.status, error.code)
        except Exception:
            LOG.exception("job=%s kind=%s project=%s: what came of it could not be kept", self.id, self.kind, self.project_id)
            return "done", result, None

    def tell(self) -> None:
        """Tell who listens; what goes wrong there is logged and is not the worker's business."""
        try:
            self.on_change(self)
        except Exception:
            LOG.exception(
                "job=%s kind=%s project=%s state=%s: who listens failed", self.id, self.kind, self.project_id, self.state
            )

    def wait(self, seconds: float | None = None) -> Any:
        """The result, once it is there. Raises what the job failed of, and TimeoutError."""
        self._ended.result(seconds)
        return self._outcome()

    async def outcome(self, seconds: float | None = None) -> Any:
        """The result, once it is there, without keeping a thread waiting. Raises as `wait` does."""
        await asyncio.wait_for(asyncio.shield(asyncio.wrap_future(self._ended)), seconds)
        return self._outcome()

    def _outcome(self) -> Any:
        if self.state == "done":
            return self.result
        failure = self.failure or Failure("The work was stopped.", status=409, code="cancelled")
        error = HinokiError(failure.message, failure.where)
        error.status, error.code = failure.status, failure.code
        raise error

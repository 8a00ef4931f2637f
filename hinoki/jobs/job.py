"""Jobs: what a worker is asked to do, and how it stands."""

import asyncio
import logging
import uuid
from collections.abc import Callable
from concurrent.futures import Future
from dataclasses import dataclass, field
from typing import Any, Literal

from hinoki.core.errors import HinokiError

State = Literal["queued", "running", "done", "failed", "cancelled"]
Kind = Literal[
    "inspect",
    "build",
    "export",
    "survey",
    "trial",
    "drains",
    "model-file",
    "walls",
    "propose",
    "prove",
    "paint",
    "pick",
    "compare",
    "edges",
    "suit",
    "ladder",
    "orient",
    "batch",
    "what-if",
    "assemble",
    "sheet",
    "send",
    "touches",
    "differs",
    "portrait",
]
ENDED: tuple[State, ...] = ("done", "failed", "cancelled")
LOG = logging.getLogger(__name__)


@dataclass
class Failure:
    """Why a job failed, in words and as a status."""

    message: str
    where: str | None = None
    status: int = 500
    code: str = "worker-failed"


@dataclass
class Job:
    """One piece of work in a worker process."""

    kind: Kind
    project_id: str
    payload: dict[str, Any]
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
    on_change: Callable[["Job"], None] = lambda _job: None
    on_done: Callable[["Job", Any], Any] = lambda _job, result: result
    """keeps what came of it before anybody sees that it is done, and gives what is left of the result"""
    _ended: "Future[None]" = field(default_factory=Future)

    def told(self, fraction: float, phrase: str) -> None:
        """Note progress."""
        self.fraction, self.phrase = fraction, phrase
        self.tell()

    def told_pieces(self, pieces: dict[str, str]) -> None:
        """Note pieces that can be shown."""
        self.pieces = pieces
        self.tell()

    def end(self, state: State, result: Any = None, failure: Failure | None = None) -> None:
        """Note the end, once."""
        if self.state in ENDED:
            return
        self.result, self.failure = self._kept(result) if state == "done" else result, failure
        self.state = state
        self._ended.set_result(None)
        self.tell()

    def _kept(self, result: Any) -> Any:
        try:
            return self.on_done(self, result)
        except Exception:
            LOG.exception("job=%s kind=%s project=%s: what came of it could not be kept", self.id, self.kind, self.project_id)
            return result

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

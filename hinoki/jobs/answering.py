"""One operation answered, wherever that is done: in a worker process of this machine, or on another one."""

import logging
from typing import Any, NamedTuple

from hinoki.core.cache import Cache
from hinoki.core.errors import Cancelled, HinokiError
from hinoki.core.progress import Tell
from hinoki.jobs.job import Asked
from hinoki.operations.context import Context, Workspace
from hinoki.operations.registry import find

LOG = logging.getLogger(__name__)


class Ended(NamedTuple):
    """How it ended, as `Job.hear` takes it: `done` with the result, `cancelled`, or `failed` with message, place, status and
    code."""

    what: str
    said: tuple[Any, ...]


def answered(kind: str, asked: Asked, workspace: Workspace, cache: Cache, progress: Tell) -> Ended:
    """Run an operation by its name. Whatever goes wrong becomes a sentence; one job fails, who answers goes on."""
    try:
        return Ended("done", (_done(kind, asked, workspace, cache, progress),))
    except Cancelled as error:
        return Ended("cancelled", (error.message,))
    except HinokiError as error:
        return Ended("failed", (error.message, error.where, error.status, error.code))
    except MemoryError:
        text = "There was not enough memory for this. Use a model with fewer triangles."
        return Ended("failed", (text, None, 507, "out-of-memory"))
    except Exception as error:
        LOG.exception("kind=%s target=%s failed", kind, asked.target)
        text = f"Something in Hinoki went wrong ({type(error).__name__}: {error}). Nothing was changed."
        return Ended("failed", (text, None, 500, "internal"))


def _done(kind: str, asked: Asked, workspace: Workspace, cache: Cache, progress: Tell) -> Any:
    """The name of its result's file, or, where no file is kept, what came of it."""
    own = find(kind)
    context = Context(asked.situation, own.needs, workspace, cache, progress, asked.target)
    result = own.run(own.request.model_validate(asked.request), context)
    if not own.kept:
        return result.model_dump(mode="json")
    workspace.keep("answers", asked.target, result.model_dump_json(by_alias=True).encode())
    return asked.target

"""Jobs for tests: operations asked without a server."""

from collections.abc import Callable, Mapping
from typing import Any

from hinoki.jobs.job import Asked, Job
from hinoki.operations.context import Situation
from hinoki.operations.registry import find


def job_of(  # noqa: PLR0913 - how a question is asked, by name
    operation: str,
    request: Mapping[str, Any] | None = None,
    plan: str = "",
    target: str = "",
    project: str = "project",
    subject: str = "",
    on_change: Callable[[Job], None] = lambda _: None,
    on_done: Callable[[Job, Any], Any] = lambda _, result: result,
) -> Job:
    """A job that asks an operation about a plan, given as JSON."""
    asked = Asked(dict(request or {}), Situation(plan=plan), target)
    return Job(find(operation), project, asked, subject, on_change=on_change, on_done=on_done)

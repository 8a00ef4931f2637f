"""One pair of endpoints for every operation that is asked by its URL: ask (202, a job), and its result by name.

They are made from the declarations in `hinoki.operations`: nothing is written here for a new one.
"""

import inspect
from collections.abc import Callable
from typing import Any

from fastapi import APIRouter
from pydantic import BaseModel
from starlette.responses import Response

from hinoki.api.routers.builds import JobView
from hinoki.api.routers.projects import Shared, shown
from hinoki.api.shared.state import State, job_view
from hinoki.api.shared.strict_route import Heeding
from hinoki.core.errors import NotFound
from hinoki.operations.registry import Nothing, Operation, operations


def operations_router() -> APIRouter:
    """The router of all operations."""
    router = APIRouter(prefix="/api", route_class=Heeding)
    for own in operations().values():
        name = own.name.replace("-", "_")
        if own.asked_by_url:
            router.post(
                f"/projects/{{project_id}}/{own.name}",
                status_code=202,
                operation_id=f"ask_{name}",
                summary=own.phrase,
                description=own.summary,
                tags=[own.station],
            )(_asking(own))
        if own.kept:
            router.get(
                f"/results/{own.name}/{{name}}",
                response_model=own.result,
                operation_id=f"result_of_{name}",
                summary=f"{own.phrase}: the result",
                description=f"What came of it: {own.summary}",
                tags=[own.station],
            )(_result_of(own))
    return router


def _asking(own: Operation) -> Callable[..., JobView]:
    """The function behind the endpoint that asks, with the request's own type where it is asked anything."""

    def ask(project_id: str, state: State, body: BaseModel | None = None) -> JobView:
        return asked(state, own.name, project_id, body or own.request())

    none = inspect.Parameter.empty
    kinds: list[tuple[str, Any, Any]] = [("project_id", str, none), ("state", Shared, none)]
    if any(field.is_required() for field in own.request.model_fields.values()):
        kinds.append(("body", own.request, none))
    elif own.request is not Nothing:
        kinds.append(("body", own.request | None, None))
    each = [inspect.Parameter(n, inspect.Parameter.KEYWORD_ONLY, annotation=k, default=usual) for n, k, usual in kinds]
    ask.__signature__ = inspect.Signature(each, return_annotation=JobView)  # type: ignore[attr-defined]
    return ask


def _result_of(own: Operation) -> Callable[..., Response]:
    def result(name: str, state: Shared) -> Response:
        return answer_of(state, own.name, name)

    return result


def asked(state: State, operation: str, project_id: str, request: BaseModel) -> JobView:
    """Ask a worker about the revision that is shown."""
    now = shown(state, project_id)
    if now.plan.model is None:
        raise NotFound("This project has no model yet. Bring one in first.", "model")
    own = operations()[operation]
    if own.refuse is not None:
        own.refuse(request, now.plan)
    return JobView.model_validate(job_view(state.ask(operation, request, project_id, now.revision)))


def answer_of(state: State, operation: str, name: str) -> Response:
    """A worker's answer, as it was saved."""
    content = state.questions.answer(operation, name)
    if content is None:
        raise NotFound("This answer is not there any more; ask again.", operation)
    return Response(content, media_type="application/json")

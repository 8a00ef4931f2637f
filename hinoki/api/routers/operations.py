"""One pair of endpoints for every operation that is asked by its URL: ask (202, a job), and its result by name.

They are made from the declarations in `hinoki.operations`: nothing is written here for a new one.
"""

import inspect
from collections.abc import Callable
from functools import partial
from typing import Any, Literal

from fastapi import APIRouter
from pydantic import BaseModel, create_model
from starlette.responses import Response

from hinoki.api.routers.builds import JobView
from hinoki.api.routers.projects import Shared, shown, told
from hinoki.api.shared.state import State, job_view
from hinoki.api.shared.strict_route import Heeding
from hinoki.core.errors import NotFound
from hinoki.core.plan.plan import read_plan
from hinoki.jobs.job import Job
from hinoki.operations.edits import Edited
from hinoki.operations.registry import Nothing, Operation, operations
from hinoki.store.tables import projects


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


class Edit(BaseModel):
    """Where an edit is made, and what becomes of printed pieces that it touches: they stay, or change all the same. Without a
    word about them nothing is saved where there are such pieces; the result says which."""

    base_revision: int
    printed_pieces: Literal["keep", "change"] | None = None


def _asking(own: Operation) -> Callable[..., JobView]:
    """The function behind the endpoint that asks, with the request's own type where it is asked anything."""
    if own.edits:
        return _editing(own)

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


def _editing(own: Operation) -> Callable[..., JobView]:
    """The function behind the endpoint of an operation that edits: what comes of it is saved as a revision."""
    asking = create_model(f"{own.request.__name__}Edit", __base__=(own.request, Edit))

    def ask(project_id: str, state: State, body: Any) -> JobView:
        with state.database.reading() as connection:
            projects.unchanged(connection, project_id, body.base_revision)
        request = own.request.model_validate(body.model_dump(exclude=set(Edit.model_fields)))
        return asked(state, own.name, project_id, request, partial(_saved, state, body))

    none = inspect.Parameter.empty
    kinds: list[tuple[str, Any]] = [("project_id", str), ("state", Shared), ("body", asking)]
    each = [inspect.Parameter(n, inspect.Parameter.KEYWORD_ONLY, annotation=k, default=none) for n, k in kinds]
    ask.__signature__ = inspect.Signature(each, return_annotation=JobView)  # type: ignore[attr-defined]
    return ask


def _saved(state: State, asked: Edit, job: Job, name: str) -> str:
    """Save the plan that an edit made, where nothing is to be asked first."""
    done = Edited.model_validate_json(state.questions.answer(job.kind, name) or b"")
    if not done.changed or (done.touches.touched and asked.printed_pieces is None):
        return name
    kept = state.questions.plan_of(name, "kept") if asked.printed_pieces == "keep" else None
    plan = read_plan(kept or state.questions.plan_of(name) or b"")
    base = asked.base_revision
    state.database.write(lambda c: projects.add_revision(c, job.project_id, base, plan, done.label))
    told(state, job.project_id)
    return name


def _result_of(own: Operation) -> Callable[..., Response]:
    def result(name: str, state: Shared) -> Response:
        return answer_of(state, own.name, name)

    return result


def asked(
    state: State,
    operation: str,
    project_id: str,
    request: BaseModel,
    on_done: Callable[[Job, Any], Any] = lambda _job, result: result,
) -> JobView:
    """Ask a worker about the revision that is shown."""
    now = shown(state, project_id)
    if not now.plan.begun:
        raise NotFound("This project has no model yet. Bring one in first.", "model")
    own = operations()[operation]
    if own.refuse is not None:
        own.refuse(request, now.plan)
    return JobView.model_validate(job_view(state.ask(operation, request, project_id, now.revision, on_done=on_done)))


def answer_of(state: State, operation: str, name: str) -> Response:
    """A worker's answer, as it was saved."""
    content = state.questions.answer(operation, name)
    if content is None:
        raise NotFound("This answer is not there any more; ask again.", operation)
    return Response(content, media_type="application/json")

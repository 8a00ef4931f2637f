"""Builds, meshes, jobs, events and exports."""

import re
from collections.abc import AsyncIterator
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request
from pydantic import BaseModel, Field
from sse_starlette.sse import EventSourceResponse
from starlette.responses import FileResponse, Response

from hinoki.api.routers.projects import Shared, shown
from hinoki.api.shared.state import job_view
from hinoki.api.shared.strict_route import Heeding, file_of
from hinoki.core.errors import NotFound
from hinoki.present.schemas.build import BuildView

router = APIRouter(prefix="/api", route_class=Heeding)


class JobView(BaseModel):
    """A job as the browser sees it."""

    id: str
    kind: str
    subject: str
    state: str
    fraction: float
    phrase: str
    message: str | None
    where: str | None
    result: str | None
    pieces: dict[str, str] = Field({}, description="drawings of pieces that are there before the rest of a build, by piece key")


class BuildAnswer(BaseModel):
    """A build if it is ready, or the job that is making it."""

    revision: int
    build: BuildView | None
    job: JobView | None


@router.get("/projects/{project_id}/build", response_model=BuildAnswer)
def build(project_id: str, state: Shared, revision: Annotated[int | None, Query(ge=1)] = None) -> Response:
    """The build of a revision (the one shown by default); started when it is not there."""
    number = revision or shown(state, project_id).revision
    ready = state.built(project_id, number)
    if ready is not None:
        return Response(b'{"revision":%d,"job":null,"build":%b}' % (number, ready), media_type="application/json")
    job = state.start_build(project_id, number)
    answer = BuildAnswer(revision=number, build=None, job=JobView.model_validate(job_view(job)))
    return Response(answer.model_dump_json(), status_code=202, media_type="application/json")


@router.get("/meshes/{name}", response_class=FileResponse, responses=file_of("application/octet-stream"))
def mesh(name: str, state: Shared) -> FileResponse:
    """A display mesh by name; it never changes, so browsers keep it."""
    path = state.cache / "meshes" / f"{name}.bin"
    if not re.fullmatch(r"[0-9a-f]{8,64}", name) or not path.exists():
        raise NotFound("This piece's drawing is not there any more; load the page again.", "mesh")
    return FileResponse(
        path, media_type="application/octet-stream", headers={"Cache-Control": "public, max-age=31536000, immutable"}
    )


@router.get("/jobs/{job_id}")
def job(job_id: str, state: Shared) -> JobView:
    """How a job stands."""
    found = state.pool.job(job_id)
    if found is None:
        raise NotFound("There is no such job; it ended before the application was started again.", "job")
    return JobView.model_validate(job_view(found))


@router.delete("/jobs/{job_id}", status_code=202)
def cancel(job_id: str, state: Shared) -> JobView:
    """Ask a job to stop."""
    found = state.pool.job(job_id)
    if found is None:
        raise NotFound("There is no such job; it has ended.", "job")
    found.leave()
    return JobView.model_validate(job_view(found))


@router.get("/projects/{project_id}/events")
async def events(project_id: str, request: Request, state: Shared) -> EventSourceResponse:
    """Progress of jobs and new revisions, as server-sent events."""
    waiting = state.listeners.add(project_id)

    async def stream() -> AsyncIterator[dict[str, Any]]:
        try:
            for running in state.pool.running(project_id):
                yield {"event": "job", "data": JobView.model_validate(job_view(running)).model_dump_json()}
            while not await request.is_disconnected():
                event, data = await waiting.get()
                yield {"event": event, "data": data.decode()}
        finally:
            state.listeners.remove(project_id, waiting)

    return EventSourceResponse(stream(), ping=15)

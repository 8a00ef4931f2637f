"""Bringing a model in: the upload is streamed to disk, read in a worker, and stored only when it can be used."""

import sqlite3
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Query, Request
from starlette.concurrency import run_in_threadpool

from hinoki.api.projects import RevisionView, Shared, told
from hinoki.api.state import State
from hinoki.core.errors import HinokiError, TooLarge
from hinoki.core.mesh import Unit
from hinoki.core.plan import ModelUse
from hinoki.store import projects, sources

router = APIRouter(prefix="/api")
READ_WITHIN_S = 300.0


@router.post("/projects/{project_id}/model")
async def bring_in(
    project_id: str,
    request: Request,
    state: Shared,
    file_name: Annotated[str, Query(min_length=1, max_length=200)],
    base_revision: int,
    unit: Unit = "mm",
) -> RevisionView:
    """Bring in a model file (the request's body is the file); it becomes the project's model in a new revision."""
    limit = state.upload_limit
    too_large = TooLarge(
        f"The file is larger than {limit / 1e6:g} MB, the most that can be brought in. Thin it out where it was drawn.", "file"
    )
    if int(request.headers.get("content-length") or 0) > limit:
        raise too_large
    path = state.upload_path()
    try:
        with path.open("wb") as file:
            got = 0
            async for chunk in request.stream():
                got += len(chunk)
                if got > limit:
                    raise too_large
                file.write(chunk)
        return await run_in_threadpool(_keep, state, project_id, path, file_name, base_revision, unit)
    finally:
        path.unlink(missing_ok=True)


def _keep(state: State, project_id: str, file: Path, file_name: str, base: int, unit: Unit) -> RevisionView:
    with state.database.reading() as connection:
        before = projects.revision(connection, project_id)
    job = state.start_inspection(project_id, file, file_name)
    try:
        facts = job.wait(READ_WITHIN_S)
    except TimeoutError:
        job.cancel_asked = True
        raise HinokiError("Reading the file took too long and was stopped.", "file") from None
    digest = sources.sha256_of(file)
    x, y, z = facts["size"]
    known = sources.SourceFacts(digest, file_name, file.stat().st_size, facts["triangles"], (x, y, z))
    use = ModelUse(source=digest, file_name=file_name, unit=unit)
    plan = before.plan.model_copy(update={"model": use})
    label = f"Brought in {file_name}"[:120]

    def save(connection: sqlite3.Connection) -> None:
        sources.add_source(connection, file, known)
        projects.add_revision(connection, project_id, base, plan, label)

    state.database.write(save)
    return told(state, project_id)

"""Bringing a model in: the upload is streamed to disk, read in a worker, and stored only when it can be used."""

import sqlite3
from pathlib import Path
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request
from starlette.concurrency import run_in_threadpool

from hinoki.api.routers.projects import RevisionView, Shared, told
from hinoki.api.shared.state import State
from hinoki.api.shared.strict_route import Heeding
from hinoki.api.shared.uploads import receive
from hinoki.core.errors import HinokiError, TooLarge
from hinoki.core.geometry.mesh import Unit
from hinoki.core.plan.plan import ModelUse
from hinoki.store.tables import projects, sources

router = APIRouter(prefix="/api", route_class=Heeding)
READ_WITHIN_S = 300.0


@router.post("/projects/{project_id}/model")
async def bring_in(  # noqa: PLR0913 - the parts of the request
    project_id: str,
    request: Request,
    state: Shared,
    file_name: Annotated[str, Query(min_length=1, max_length=200)],
    base_revision: int,
    unit: Unit | None = None,
    add: bool = False,
) -> RevisionView:
    """Bring in a model file (the request's body is the file) in a new revision.

    It becomes the project's model, or is added to the files there are. Its unit is the file's own, or the one given, or a
    proposed one.
    """
    limit = state.upload_limit
    too_large = TooLarge(
        f"The file is larger than {limit / 1e6:g} MB, the most that can be brought in. Thin it out where it was drawn.", "file"
    )
    path = state.upload_path()
    try:
        await receive(request, path, limit, too_large)
        job = await run_in_threadpool(state.start_inspection, project_id, path, file_name)
        try:
            facts = await job.outcome(READ_WITHIN_S)
        except TimeoutError:
            raise HinokiError("Reading the file took too long and was stopped.", "file") from None
        finally:
            job.cancel_asked = True  # where it has not ended, nobody waits for it any more
        return await run_in_threadpool(_keep, state, project_id, path, facts, file_name, base_revision, unit, add)
    finally:
        path.unlink(missing_ok=True)


def _keep(  # noqa: PLR0913 - what came with the upload
    state: State,
    project_id: str,
    file: Path,
    facts: dict[str, Any],
    file_name: str,
    base: int,
    unit: Unit | None,
    add: bool,
) -> RevisionView:
    with state.database.reading() as connection:
        before = projects.revision(connection, project_id)
    digest = sources.sha256_of(file)
    x, y, z = facts["size"]
    known = sources.SourceFacts(digest, file_name, file.stat().st_size, facts["triangles"], (x, y, z))
    use = ModelUse(
        source=digest,
        file_name=file_name,
        unit=unit or facts["unit"],
        unit_from="picked" if unit else facts["unit_from"],
        unit_reason="" if unit else facts["unit_reason"],
        left_out=facts["left_out"],
    )
    if add and before.plan.model is not None:
        plan = before.plan.model_copy(update={"also": (*before.plan.also, use)})
    else:
        plan = before.plan.model_copy(update={"model": use, "also": ()})
    label = f"{'Added' if add else 'Brought in'} {file_name}"[:120]

    def save(connection: sqlite3.Connection) -> None:
        sources.add_source(connection, file, known)
        projects.add_revision(connection, project_id, base, plan, label)

    state.database.write(save)
    return told(state, project_id)

"""Bringing a model in: the upload is streamed to disk, read in a worker, and stored only when it can be used."""

import sqlite3
from pathlib import Path
from typing import Annotated, Any

import numpy as np
from fastapi import APIRouter, Query, Request
from starlette.concurrency import run_in_threadpool

from hinoki.api.routers.projects import RevisionView, Shared, told
from hinoki.api.shared.state import State
from hinoki.api.shared.strict_route import Heeding
from hinoki.api.shared.uploads import receive
from hinoki.core.errors import HinokiError, TooLarge
from hinoki.core.geometry.mesh import MM_PER_UNIT, Unit
from hinoki.core.parts.take_apart import with_part
from hinoki.core.plan.contents import ModelUse
from hinoki.core.plan.parts import BESIDE_MM, FIRST, Instance, KeptPart
from hinoki.present.schemas.build import BuildView
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
    as_part: bool = False,
) -> RevisionView:
    """Bring in a model file (the request's body is the file) in a new revision.

    It becomes the model of the part that is open, or is added to its files, or becomes a part of its own beside all others. Its
    unit is the file's own, or the one given, or a proposed one.
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
        return await run_in_threadpool(_keep, state, project_id, path, facts, file_name, base_revision, unit, add, as_part)
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
    as_part: bool,
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
    if as_part and before.plan.begun:
        size = np.array(facts["size"]) * MM_PER_UNIT[use.unit]
        there = _beside(state, project_id, before.number, float(size[0]))
        plan = with_part(before.plan, KeptPart(id=FIRST, model=use, instances=(there,)))
    elif add and before.plan.model is not None:
        plan = before.plan.model_copy(update={"also": (*before.plan.also, use)})
    else:
        plan = before.plan.model_copy(update={"model": use, "also": (), "made": None})
    label = f"{'Added' if add or as_part else 'Brought in'} {file_name}{' as a part' if as_part else ''}"[:120]

    def save(connection: sqlite3.Connection) -> None:
        sources.add_source(connection, file, known)
        projects.add_revision(connection, project_id, base, plan, label)

    state.database.write(save)
    return told(state, project_id)


def _beside(state: State, project_id: str, revision: int, wide_mm: float) -> Instance:
    """A place to the right of all parts, so far as they are built."""
    ready = state.built(project_id, revision)
    parts = BuildView.model_validate_json(ready).parts if ready is not None else []
    right = max((part.high_mm[0] for part in parts), default=0.0)
    return Instance(at_mm=(round(right + BESIDE_MM + wide_mm / 2, 3), 0.0, 0.0))

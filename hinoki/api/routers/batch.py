"""Beds and what goes out of them: one thing moved by hand, exports, and what went out before."""

import re

from fastapi import APIRouter
from pydantic import BaseModel
from starlette.responses import FileResponse

from hinoki.api.routers.builds import JobView
from hinoki.api.routers.projects import Shared, shown
from hinoki.api.shared.state import job_view
from hinoki.api.shared.strict_route import Heeding, file_of
from hinoki.core.batch.manual_move import Move, Moved, moved
from hinoki.core.errors import NotFound
from hinoki.core.export.archive import ExportWish
from hinoki.core.export.file_names import file_stem
from hinoki.core.export.manifest import PieceNow
from hinoki.present.batches import BatchesView, beds_of
from hinoki.present.schemas.build import BuildView
from hinoki.store.tables import projects
from hinoki.store.tables.export_history import went_out

router = APIRouter(prefix="/api", route_class=Heeding)


@router.post("/projects/{project_id}/batches/{name}/move")
def move(project_id: str, name: str, body: Move, state: Shared) -> Moved:
    """Try to move one thing on the beds as they are shown; an overlap is refused."""
    content = state.questions.answer("batch", name)
    if content is None:
        raise NotFound("This answer is not there any more; lay the batches out again.", "batches")
    wish = shown(state, project_id).plan.batching
    return moved(beds_of(BatchesView.model_validate_json(content)), body, wish.gap_mm, wish.turn_deg)


@router.post("/projects/{project_id}/exports", status_code=202)
def export(project_id: str, state: Shared, wish: ExportWish | None = None) -> JobView:
    """Start writing all files of the revision that is shown."""
    now = shown(state, project_id)
    if not now.plan.begun:
        raise NotFound("There is no model to export yet. Bring one in first.", "model")
    return JobView.model_validate(job_view(state.start_export(project_id, now.revision, wish or ExportWish())))


class WentView(BaseModel):
    """An export that was finished, and what has changed since: numbers of pieces whose shape is another now, or that are no
    more; none known while the project is being built."""

    revision: int
    at: str
    pieces: int
    batches: int
    changed: list[int] | None
    gone: list[int] | None


@router.get("/projects/{project_id}/exports")
def exports(project_id: str, state: Shared) -> list[WentView]:
    """What went out of a project, the newest first."""
    content = state.built(project_id, shown(state, project_id).revision)
    pieces = BuildView.model_validate_json(content).pieces if content else []
    now = [PieceNow(p.key, p.number, p.shape, p.mesh) for p in pieces] if content else None
    with state.database.reading() as connection:
        kept = went_out(connection, project_id)
    found = []
    for one in kept:
        changed, gone = one.held.changed_since(now) if now is not None else (None, None)
        found.append(
            WentView(
                revision=one.revision, at=one.at, pieces=len(one.held.pieces), batches=one.held.batches,
                changed=changed, gone=gone,
            )
        )  # fmt: skip
    return found


@router.get("/projects/{project_id}/exports/{name}", response_class=FileResponse, responses=file_of("application/zip"))
def download(project_id: str, name: str, state: Shared) -> FileResponse:
    """The ZIP of a finished export."""
    path = state.cache / "exports" / name
    own = re.fullmatch(r"[0-9a-f]{12}-[0-9]+-[0-9a-f]{8}\.zip", name) and name.startswith(project_id[:12])
    if not own or not path.exists():
        raise NotFound("This export is not there any more; export again.", "export")
    with state.database.reading() as connection:
        title = projects.project(connection, project_id).name
    stem = file_stem(0, title, 1).removeprefix("0-")
    return FileResponse(path, media_type="application/zip", filename=f"{stem}-{name.split('-')[1]}.zip")

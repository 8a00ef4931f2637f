"""Keeping projects: the shelf in order, copies, archives, backups, revisions named, compared and gone back to."""

import tempfile
from collections.abc import Callable
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated, TypeVar

from fastapi import APIRouter, Query, Request
from pydantic import BaseModel, Field
from starlette.background import BackgroundTask
from starlette.concurrency import run_in_threadpool
from starlette.responses import FileResponse, JSONResponse, Response

from hinoki.api.routers.builds import JobView
from hinoki.api.routers.projects import Name, RevisionView, Shared, shown
from hinoki.api.shared.state import State, job_view
from hinoki.api.shared.strict_route import Heeding, file_of
from hinoki.api.shared.uploads import receive
from hinoki.core.errors import NotFound, TooLarge
from hinoki.core.export.file_names import file_stem
from hinoki.core.plan.plan import Plan
from hinoki.jobs.atomic_write import save
from hinoki.operations.context import Situation
from hinoki.operations.printlog import PictureAsked
from hinoki.operations.registry import find
from hinoki.present.comparison import PlanComparison, compared
from hinoki.present.schemas.build import BuildView
from hinoki.store import archive
from hinoki.store.backups import backup
from hinoki.store.database import reader_connection
from hinoki.store.tables import projects

router = APIRouter(prefix="/api", route_class=Heeding)
T = TypeVar("T")
LARGEST_ARCHIVE = 2_000_000_000
LARGEST_BACKUP = 20_000_000_000


class PutAway(BaseModel):
    """Whether a project is put away from the shelf."""

    away: bool


class CopyWish(BaseModel):
    """What a copy is called."""

    name: Name


class RevisionName(BaseModel):
    """A name for a revision; an empty one takes it away."""

    name: str = Field("", max_length=60)


class Restored(BaseModel):
    """What is on the shelf after a restore."""

    projects: int


class Before(BaseModel):
    """What was here before the last restore: when it was replaced, how many projects, how large."""

    at: str
    projects: int
    bytes: int


class Making(BaseModel):
    """Demo projects that are being made, by name."""

    names: list[str]


@router.get("/shelf/making")
def being_made(state: Shared) -> Making:
    """The demo projects that are still to come."""
    return Making(names=list(state.making))


@router.put("/projects/{project_id}/away", status_code=204)
def put_away(project_id: str, body: PutAway, state: Shared) -> Response:
    """Put a project away from the shelf, or back."""
    state.database.write(lambda c: projects.put_away(c, project_id, body.away))
    return Response(status_code=204)


@router.post("/projects/{project_id}/copy", status_code=201)
def copy_project(project_id: str, body: CopyWish, state: Shared) -> RevisionView:
    """A copy of a project with its revisions, and an empty print log."""
    with tempfile.TemporaryDirectory(dir=state.incoming) as name:
        folder = Path(name)
        with state.database.snapshot() as connection:
            archive.write_archive(connection, project_id, folder / "copy.zip")
        found = archive.unpacked(folder / "copy.zip", folder)
        made = state.database.write(lambda c: archive.take_in(c, found, body.name.strip() or "Untitled", with_log=False))
    return shown(state, made)


@router.get("/projects/{project_id}/archive", response_class=FileResponse, responses=file_of("application/zip"))
def pack_project(project_id: str, state: Shared) -> FileResponse:
    """A project with everything, as a ZIP."""
    with state.database.snapshot() as connection:
        title = projects.project(connection, project_id).name
        with state.made() as path:
            archive.write_archive(connection, project_id, path)
    stem = file_stem(0, title, 1).removeprefix("0-")
    gone = BackgroundTask(path.unlink, missing_ok=True)
    return FileResponse(path, media_type="application/zip", filename=f"{stem}.hinoki.zip", background=gone)


@router.post("/archives", status_code=201)
async def take_archive(request: Request, state: Shared) -> RevisionView:
    """Take a project in from a ZIP (the request's body)."""

    def take(path: Path) -> RevisionView:
        with tempfile.TemporaryDirectory(dir=state.incoming) as folder:
            found = archive.unpacked(path, Path(folder))
            made = state.database.write(lambda c: archive.take_in(c, found))
        return shown(state, made)

    return await _received(request, state, LARGEST_ARCHIVE, take)


@router.get("/backup", response_class=FileResponse, responses=file_of("application/vnd.sqlite3"))
def save_backup(state: Shared) -> FileResponse:
    """Everything Hinoki keeps, in one file; safe while prints and edits go on."""
    with state.made() as path:
        backup(state.database.path, path)
    gone = BackgroundTask(path.unlink, missing_ok=True)
    return FileResponse(path, media_type="application/vnd.sqlite3", filename="hinoki-backup.sqlite", background=gone)


@router.post("/restore")
async def restore_backup(request: Request, state: Shared) -> Restored:
    """Take everything back from a backup (the request's body). What is here now is replaced; a damaged file changes nothing."""

    def take(path: Path) -> Restored:
        state.restore(path)
        return _restored(state)

    return await _received(request, state, LARGEST_BACKUP, take)


@router.get("/restore")
def before_restore(state: Shared) -> Before | None:
    """What was here before the last restore, as long as it is kept; null where there is nothing."""
    path = state.before_restore
    if not path.exists():
        return None
    with closing(reader_connection(path)) as connection:
        count = len(projects.list_projects(connection))
    at = datetime.fromtimestamp(path.stat().st_mtime, UTC).isoformat(timespec="seconds")
    return Before(at=at, projects=count, bytes=path.stat().st_size)


@router.post("/restore/back")
def take_back(state: Shared) -> Restored:
    """Take back what was here before the last restore; what is here now is kept in its place."""
    if not state.before_restore.exists():
        raise NotFound("Nothing is kept from before a restore.", "restore")
    state.restore(state.before_restore)
    return _restored(state)


@router.delete("/restore", status_code=204)
def let_go(state: Shared) -> Response:
    """Let go of what was here before the last restore."""
    state.before_restore.unlink(missing_ok=True)
    return Response(status_code=204)


def _restored(state: State) -> Restored:
    with state.database.reading() as connection:
        return Restored(projects=len(projects.list_projects(connection)))


async def _received(request: Request, state: State, limit: int, take: Callable[[Path], T]) -> T:
    """What `take` makes of the request's body, which is written to a file first. Raises TooLarge."""
    path = state.upload_path()
    try:
        await receive(request, path, limit, TooLarge(f"The file is larger than {limit / 1e9:g} GB.", "file"))
        return await run_in_threadpool(take, path)
    finally:
        path.unlink(missing_ok=True)


@router.put("/projects/{project_id}/revisions/{number}/name", status_code=204)
def name_revision(project_id: str, number: int, body: RevisionName, state: Shared) -> Response:
    """Give a revision a name."""
    state.database.write(lambda c: projects.name_revision(c, project_id, number, body.name.strip()))
    return Response(status_code=204)


@router.get("/projects/{project_id}/revisions/{number}/plan")
def plan_then(project_id: str, number: int, state: Shared) -> Plan:
    """The plan at a revision: to go back to it, save it as an edit."""
    with state.database.reading() as connection:
        return projects.revision(connection, project_id, number).plan


@router.get("/projects/{project_id}/compare")
def compare_revisions(
    project_id: str, before: Annotated[int, Query(ge=1)], after: Annotated[int, Query(ge=1)], state: Shared
) -> PlanComparison:
    """What changed from one revision to another; that of the pieces where both are built."""
    with state.database.reading() as connection:
        was, now = (projects.revision(connection, project_id, n).plan for n in (before, after))
    views = [state.built(project_id, n) for n in (before, after)]
    one, two = (BuildView.model_validate_json(v) if v else None for v in views)
    return compared(was, now, one, two)


@router.get(
    "/projects/{project_id}/picture",
    response_class=Response,
    responses=file_of("image/png") | {202: {"model": JobView}, 204: {"description": "Nothing is built yet"}},
)
def project_picture(project_id: str, state: Shared) -> Response:
    """A small picture of the pieces put together; while it is being drawn, the job (202). Before a build of this revision the
    last one there was, or nothing (204)."""
    with state.database.reading() as connection:
        head = projects.project(connection, project_id).head
    content = state.built(project_id, head)
    view = BuildView.model_validate_json(content) if content else None
    if view is None or not any(part.pieces for part in view.parts):
        return _last_picture(state, project_id)
    asked = PictureAsked(pieces=[(p.mesh, p.number, part.matrices) for part in view.parts for p in part.pieces])
    job = state.questions.ask(find("picture"), asked, Situation(), project_id)
    if job.state != "done":
        return JSONResponse(JobView.model_validate(job_view(job)).model_dump(), status_code=202)
    path = state.cache / "exports" / f"{str(job.result).removesuffix('.json')}.png"
    try:
        drawn = path.read_bytes()
    except (
        FileNotFoundError
    ):  # it went to make room, or with another project that had the same; the next look has it drawn anew
        (state.cache / "answers" / str(job.result)).unlink(missing_ok=True)
        return _last_picture(state, project_id)
    save(state.last_picture(project_id), drawn)
    return Response(drawn, media_type="image/png", headers={"Cache-Control": "private, max-age=5"})


def _last_picture(state: State, project_id: str) -> Response:
    """The last picture there is of a project, or nothing."""
    try:
        return Response(state.last_picture(project_id).read_bytes(), media_type="image/png")
    except FileNotFoundError:
        return Response(status_code=204)

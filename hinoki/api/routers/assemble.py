"""The assembly: its order, changes to it, sheets, ticks and photographs."""

import re
from typing import Annotated

from fastapi import APIRouter, Query, Request
from pydantic import BaseModel, Field
from starlette.concurrency import run_in_threadpool
from starlette.responses import FileResponse, Response

from hinoki.api.routers.projects import Shared, shown
from hinoki.api.shared.photographs import read_photo
from hinoki.api.shared.state import State
from hinoki.api.shared.strict_route import Heeding, file_of
from hinoki.core.assemble.reorder import Change, rearranged
from hinoki.core.errors import NotFound
from hinoki.core.export.file_names import file_stem
from hinoki.core.plan.assembly_settings import PinnedStep, UnitId
from hinoki.store.tables import projects, step_photos
from hinoki.store.tables import ticked_steps as ticks

router = APIRouter(prefix="/api", route_class=Heeding)


class Arrange(BaseModel):
    """The steps as they are, and the change."""

    steps: tuple[PinnedStep, ...] = Field(max_length=5000)
    change: Change


class Arranged(BaseModel):
    """The steps after a change."""

    steps: list[PinnedStep]


class Tick(BaseModel):
    """Whether a step is done, by the unit it moves."""

    unit: UnitId
    done: bool


class Bench(BaseModel):
    """What was done at the bench: steps ticked, and steps that have a photograph, with its hash."""

    ticked: list[str]
    photos: dict[str, str]


@router.post("/projects/{project_id}/assembly/arrange")
def arrange(project_id: str, body: Arrange, state: Shared) -> Arranged:
    """The steps after one is moved, some are grouped, or a group is resolved. Nothing is kept: pin the answer in the plan."""
    shown(state, project_id)
    return Arranged(steps=list(rearranged(body.steps, body.change)))


@router.get(
    "/projects/{project_id}/assembly/sheets/{name}",
    response_class=FileResponse,
    responses=file_of("application/pdf", "text/html"),
)
def download_sheet(project_id: str, name: str, state: Shared) -> FileResponse:
    """Finished sheets as PDF, or as a page to print."""
    path = state.cache / "exports" / name
    if not re.fullmatch(r"sheets-[0-9a-f]{32}\.(pdf|html)", name) or not path.exists():
        raise NotFound("These sheets are not there any more; draw them again.", "sheets")
    with state.database.reading() as connection:
        title = projects.project(connection, project_id).name
    stem = file_stem(0, title, 1).removeprefix("0-")
    if path.suffix == ".pdf":
        return FileResponse(path, media_type="application/pdf", filename=f"{stem}-assembly.pdf")
    return FileResponse(path, media_type="text/html")


@router.get("/projects/{project_id}/bench")
def bench(project_id: str, state: Shared) -> Bench:
    """What was done at the bench."""
    with state.database.reading() as connection:
        projects.project(connection, project_id)
        return Bench(ticked=ticks.ticked(connection, project_id), photos=step_photos.photos(connection, project_id))


@router.put("/projects/{project_id}/bench/ticks")
def set_tick(project_id: str, body: Tick, state: Shared) -> Bench:
    """Tick a step, or take its tick back; all windows are told."""
    state.database.write(lambda c: ticks.tick(c, project_id, body.unit, body.done))
    return _told(state, project_id)


@router.delete("/projects/{project_id}/bench/ticks")
def begin_again(project_id: str, state: Shared) -> Bench:
    """Take all ticks back."""
    state.database.write(lambda c: ticks.untick_all(c, project_id))
    return _told(state, project_id)


Unit = Annotated[str, Query(min_length=1, max_length=8000)]


@router.put("/projects/{project_id}/bench/photo")
async def add_photo(project_id: str, unit: Unit, request: Request, state: Shared) -> Bench:
    """Keep a photograph (the request's body) at a step; it is made small."""
    jpeg = await read_photo(request)

    def keep() -> Bench:
        state.database.write(lambda c: step_photos.keep_photo(c, project_id, unit, jpeg))
        return _told(state, project_id)

    return await run_in_threadpool(keep)


@router.get("/projects/{project_id}/bench/photo", response_class=Response, responses=file_of("image/jpeg"))
def get_photo(project_id: str, unit: Unit, state: Shared) -> Response:
    """The photograph of a step."""
    with state.database.reading() as connection:
        content = step_photos.photo(connection, project_id, unit)
    if content is None:
        raise NotFound("There is no photograph at this step.", "photograph")
    return Response(content, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=31536000, immutable"})


@router.delete("/projects/{project_id}/bench/photo")
def drop_photo(project_id: str, unit: Unit, state: Shared) -> Bench:
    """Take the photograph of a step away."""
    state.database.write(lambda c: step_photos.drop_photo(c, project_id, unit))
    return _told(state, project_id)


def _told(state: State, project_id: str) -> Bench:
    now = bench(project_id, state)
    state.listeners.tell(project_id, "bench", now.model_dump())
    return now

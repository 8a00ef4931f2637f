"""Questions about the model's surface: the survey, a repair tried out, drain holes, the thickness map."""

import re
from typing import Annotated, Any, Literal

import orjson
from fastapi import APIRouter
from pydantic import BaseModel, Field
from starlette.responses import FileResponse, Response

from hinoki.api.routers.builds import JobView
from hinoki.api.routers.projects import Shared, shown
from hinoki.api.shared.state import State, job_view
from hinoki.api.shared.strict_route import Heeding, file_of
from hinoki.core.errors import NotFound
from hinoki.core.model.steps import RepairStep
from hinoki.jobs.job import Job, Kind
from hinoki.present.model import DrainsView, SurveyView, TrialView
from hinoki.store.tables import projects

router = APIRouter(prefix="/api", route_class=Heeding)


class TrialWish(BaseModel):
    """The repair to try; none for the recommended one."""

    step: RepairStep | None = None


class DrainWish(BaseModel):
    """The hollow whose cavity should be drained."""

    step: Annotated[str, Field(max_length=10)]


@router.post("/projects/{project_id}/survey", status_code=202)
def look_closely(project_id: str, state: Shared) -> JobView:
    """Look closely at the surface of the model as prepared."""
    return asked(state, "survey", project_id)


@router.get("/surveys/{name}", response_model=SurveyView)
def survey(name: str, state: Shared) -> Response:
    """What was seen."""
    return answer_of(state, "survey", name)


@router.post("/projects/{project_id}/repair-trial", status_code=202)
def try_repair(project_id: str, body: TrialWish, state: Shared) -> JobView:
    """Try a repair without keeping it."""
    step = body.step.model_dump(mode="json") if body.step else None
    return asked(state, "trial", project_id, step=step)


@router.get("/repair-trials/{name}", response_model=TrialView)
def trial(name: str, state: Shared) -> Response:
    """What the repair would do."""
    return answer_of(state, "trial", name)


@router.post("/projects/{project_id}/drains", status_code=202)
def suggest_drains(project_id: str, body: DrainWish, state: Shared) -> JobView:
    """Work out drain holes for a hollow."""
    return asked(state, "drains", project_id, step=body.step)


@router.get("/drains/{name}", response_model=DrainsView)
def drains(name: str, state: Shared) -> Response:
    """The holes suggested."""
    return answer_of(state, "drains", name)


@router.post("/projects/{project_id}/model-file", status_code=202)
def write_model(project_id: str, ending: Literal["stl", "3mf", "obj", "ply", "glb"], state: Shared) -> JobView:
    """Write the model as prepared in an open format."""
    return asked(state, "model-file", project_id, ending=ending)


@router.get("/model-files/{name}", response_class=FileResponse, responses=file_of("application/octet-stream"))
def model_file(name: str, state: Shared) -> FileResponse:
    """The file that was written."""
    content = state.answer("model-file", name)
    path = state.cache / "exports" / orjson.loads(content)["file"] if content else None
    if path is None or not path.exists():
        raise NotFound("This file is not there any more; save the model again.", "model-file")
    return FileResponse(path, media_type="application/octet-stream", filename=f"model{path.suffix}")


@router.post("/projects/{project_id}/walls", status_code=202)
def measure_walls(project_id: str, state: Shared) -> JobView:
    """Measure the walls of all pieces; their thickness maps are there once the job has ended."""
    with state.database.reading() as connection:
        numbers = projects.piece_numbers(connection, project_id)
    return asked(state, "walls", project_id, numbers=numbers)


@router.get("/meshes/{name}/thickness", response_class=FileResponse, responses=file_of("application/octet-stream"))
def thickness(name: str, state: Shared) -> FileResponse:
    """Thickness under every corner of a display mesh, float32, in mm; there once the model was looked at closely."""
    path = state.cache / "meshes" / f"{name}.thick"
    if not re.fullmatch(r"[0-9a-f]{8,64}", name) or not path.exists():
        raise NotFound("The walls of this model have not been measured yet. Choose “Look closely”.", "mesh")
    return FileResponse(
        path, media_type="application/octet-stream", headers={"Cache-Control": "public, max-age=31536000, immutable"}
    )


def asked(state: State, kind: Kind, project_id: str, **more: Any) -> JobView:
    """Ask a worker about the revision that is shown."""
    now = shown(state, project_id)
    if now.plan.model is None:
        raise NotFound("This project has no model yet. Bring one in first.", "model")
    job: Job = state.ask(kind, project_id, now.revision, **more)
    return JobView.model_validate(job_view(job))


def answer_of(state: State, kind: Kind, name: str) -> Response:
    """A worker's answer, as it was saved."""
    content = state.answer(kind, name)
    if content is None:
        raise NotFound("This answer is not there any more; ask again.", kind)
    return Response(content, media_type="application/json")

"""Files of the model: as it was written in an open format, thickness under its surface, and pictures behind it."""

import hashlib
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
from hinoki.core.errors import NotFound
from hinoki.core.printlog.photographs import is_photograph, size_px
from hinoki.operations.model import FileMade
from hinoki.store.tables import sources

router = APIRouter(prefix="/api", route_class=Heeding)


@router.get("/model-files/{name}", response_class=FileResponse, responses=file_of("application/octet-stream"))
def model_file(name: str, state: Shared) -> FileResponse:
    """The file that was written."""
    content = state.questions.answer("model-file", name)
    path = state.cache / "exports" / FileMade.model_validate_json(content).file if content else None
    if path is None or not path.exists():
        raise NotFound("This file is not there any more; save the model again.", "model-file")
    return FileResponse(path, media_type="application/octet-stream", filename=f"model{path.suffix}")


@router.get("/meshes/{name}/thickness", response_class=FileResponse, responses=file_of("application/octet-stream"))
def thickness(name: str, state: Shared) -> FileResponse:
    """Thickness under every corner of a display mesh, float32, in mm; there once the model was looked at closely."""
    path = state.cache / "meshes" / f"{name}.thick"
    if not re.fullmatch(r"[0-9a-f]{8,64}", name) or not path.exists():
        raise NotFound("The walls of this model have not been measured yet. Choose “Look closely”.", "mesh")
    return FileResponse(
        path, media_type="application/octet-stream", headers={"Cache-Control": "public, max-age=31536000, immutable"}
    )


class PictureKept(BaseModel):
    """A picture that was kept, to be named in the plan."""

    source: str = Field(description="SHA-256 of the picture as it is kept")
    wide_px: int
    high_px: int


@router.post("/projects/{project_id}/pictures")
async def keep_picture(
    project_id: str, request: Request, state: Shared, file_name: Annotated[str, Query(min_length=1, max_length=200)]
) -> PictureKept:
    """Keep a picture (the request's body: JPEG, PNG or WebP) to be shown behind the model."""
    jpeg = await read_photo(request)
    return await run_in_threadpool(_keep, state, project_id, jpeg, file_name)


def _keep(state: State, project_id: str, jpeg: bytes, file_name: str) -> PictureKept:
    shown(state, project_id)
    wide, high = size_px(jpeg)
    name = hashlib.sha256(jpeg).hexdigest()
    path = state.upload_path()
    try:
        path.write_bytes(jpeg)
        facts = sources.SourceFacts(name, file_name, len(jpeg), 0, (float(wide), float(high), 0.0))
        state.database.write(lambda connection: sources.add_source(connection, path, facts))
    finally:
        path.unlink(missing_ok=True)
    return PictureKept(source=name, wide_px=wide, high_px=high)


@router.get("/pictures/{name}", response_class=Response, responses=file_of("image/jpeg"))
def picture(name: str, state: Shared) -> Response:
    """A picture that was kept, a JPEG."""
    gone = NotFound("This picture is not in this workshop. Bring it in again.", "pictures")
    if not re.fullmatch(r"[0-9a-f]{64}", name):
        raise gone
    with state.database.reading() as connection:
        try:
            content = sources.source_bytes(connection, name)
        except NotFound:
            raise gone from None
    if not is_photograph(content):
        raise gone
    return Response(content, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=31536000, immutable"})

"""Files of the model: as it was written in an open format, and thickness under its surface."""

import re

from fastapi import APIRouter
from starlette.responses import FileResponse

from hinoki.api.routers.projects import Shared
from hinoki.api.shared.strict_route import Heeding, file_of
from hinoki.core.errors import NotFound
from hinoki.operations.model import FileMade

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

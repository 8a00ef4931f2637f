"""Orientation: the best ways to lay a piece, or all of them."""

from fastapi import APIRouter
from starlette.responses import Response

from hinoki.api.builds import JobView
from hinoki.api.projects import Shared
from hinoki.api.surface import answer_of, asked
from hinoki.core.orienting.pieces import OrientView, OrientWish
from hinoki.store import projects

router = APIRouter(prefix="/api")


@router.post("/projects/{project_id}/orient", status_code=202)
def orient(project_id: str, body: OrientWish, state: Shared) -> JobView:
    """Search the ways to lay one piece of the plan that is shown, or all that are not locked."""
    with state.database.reading() as connection:
        numbers = projects.piece_numbers(connection, project_id)
    return asked(state, "orient", project_id, numbers=numbers, wish=body.model_dump(mode="json"))


@router.get("/orientations/{name}", response_model=OrientView)
def orientation(name: str, state: Shared) -> Response:
    """The candidates, best first."""
    return answer_of(state, "orient", name)

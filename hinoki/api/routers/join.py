"""Joining: joints that suit mating faces."""

from fastapi import APIRouter
from starlette.responses import Response

from hinoki.api.routers.builds import JobView
from hinoki.api.routers.model import answer_of, asked
from hinoki.api.routers.projects import Shared
from hinoki.api.shared.strict_route import Heeding
from hinoki.core.propose.recommend_joints import SuitView, SuitWish
from hinoki.store.tables import projects

router = APIRouter(prefix="/api", route_class=Heeding)


@router.post("/projects/{project_id}/suits", status_code=202)
def suit(project_id: str, body: SuitWish, state: Shared) -> JobView:
    """Work out joints that suit mating faces, with measures from each face."""
    with state.database.reading() as connection:
        numbers = projects.piece_numbers(connection, project_id)
    return asked(state, "suit", project_id, numbers=numbers, wish=body.model_dump(mode="json"))


@router.get("/suits/{name}", response_model=SuitView)
def suits(name: str, state: Shared) -> Response:
    """The joints that suit."""
    return answer_of(state, "suit", name)

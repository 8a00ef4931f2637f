"""How pieces print: the best ways to lay them, and the beds they are laid on."""

from fastapi import APIRouter
from starlette.responses import Response

from hinoki.api.builds import JobView
from hinoki.api.projects import Shared
from hinoki.api.surface import answer_of, asked
from hinoki.core.batching import BatchesView, BatchWish
from hinoki.core.orienting.pieces import OrientView, OrientWish
from hinoki.store import projects
from hinoki.store import workshop as shelf

router = APIRouter(prefix="/api")


@router.post("/projects/{project_id}/orient", status_code=202)
def orient(project_id: str, body: OrientWish, state: Shared) -> JobView:
    """Search the ways to lay one piece of the plan that is shown, or all that are not locked."""
    with state.database.reading() as connection:
        numbers = projects.piece_numbers(connection, project_id)
    return asked(state, "orient", project_id, numbers=numbers, wish=body.model_dump(mode="json"))


@router.post("/projects/{project_id}/batches", status_code=202)
def lay_out(project_id: str, body: BatchWish, state: Shared) -> JobView:
    """Estimate all that is printed and lay it out on beds."""
    with state.database.reading() as connection:
        numbers = projects.piece_numbers(connection, project_id)
        price = shelf.workshop(connection).settings.power_price
    wish = body.model_copy(update={"power_price": price})
    return asked(state, "batch", project_id, numbers=numbers, wish=wish.model_dump(mode="json"))


@router.get("/batches/{name}", response_model=BatchesView)
def batches(name: str, state: Shared) -> Response:
    """The batches with their figures."""
    return answer_of(state, "batch", name)


@router.get("/orientations/{name}", response_model=OrientView)
def orientation(name: str, state: Shared) -> Response:
    """The candidates, best first."""
    return answer_of(state, "orient", name)

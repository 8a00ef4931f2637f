"""How pieces print: the best ways to lay them, and the beds they are laid on."""

from typing import Annotated, Any

from fastapi import APIRouter
from pydantic import BaseModel, Field
from starlette.responses import Response

from hinoki.api.routers.builds import JobView
from hinoki.api.routers.model import answer_of, asked
from hinoki.api.routers.projects import Shared, shown
from hinoki.api.shared.state import State
from hinoki.api.shared.strict_route import Heeding
from hinoki.core.batch.manual_move import Move, Moved, moved
from hinoki.core.batch.scenarios import WhatIf
from hinoki.core.errors import NotFound
from hinoki.core.orient.pieces import OrientWish
from hinoki.present.batches import BatchesView, WhatIfView, beds_of
from hinoki.present.orient import OrientView
from hinoki.store.tables import projects
from hinoki.store.tables import workshop as shelf

router = APIRouter(prefix="/api", route_class=Heeding)


@router.post("/projects/{project_id}/orient", status_code=202)
def orient(project_id: str, body: OrientWish, state: Shared) -> JobView:
    """Search the ways to lay one piece of the plan that is shown, or all that are not locked."""
    with state.database.reading() as connection:
        numbers = projects.piece_numbers(connection, project_id)
    known = state.known()["known"]
    return asked(state, "orient", project_id, numbers=numbers, wish=body.model_dump(mode="json"), known=known)


class LayOut(BaseModel):
    """What is laid out: all that the plan prints, or, for a reprint, only so many of these, by key."""

    only: dict[Annotated[str, Field(max_length=8100)], Annotated[int, Field(ge=1, le=1000)]] | None = Field(
        None, max_length=5000
    )


@router.post("/projects/{project_id}/batches", status_code=202)
def lay_out(project_id: str, state: Shared, body: LayOut | None = None) -> JobView:
    """Estimate all that is printed, or what is printed again, and lay it out on beds, as the plan says."""
    return asked(state, "batch", project_id, **given(state, project_id, body.only if body else None))


@router.post("/projects/{project_id}/what-if", status_code=202)
def ask_what_if(project_id: str, body: WhatIf, state: Shared) -> JobView:
    """Estimate all that is printed with other settings, materials or sizes, side by side."""
    with state.database.reading() as connection:
        numbers = projects.piece_numbers(connection, project_id)
        price = shelf.settings(connection).power_price
    return asked(state, "what-if", project_id, wish=body.model_dump(mode="json"), numbers=numbers, power_price=price)


@router.get("/what-ifs/{name}", response_model=WhatIfView)
def what_ifs(name: str, state: Shared) -> Response:
    """The options side by side."""
    return answer_of(state, "what-if", name)


@router.get("/batches/{name}", response_model=BatchesView)
def batches(name: str, state: Shared) -> Response:
    """The batches with their figures."""
    return answer_of(state, "batch", name)


@router.post("/projects/{project_id}/batches/{name}/move")
def move(project_id: str, name: str, body: Move, state: Shared) -> Moved:
    """Try to move one thing on the beds as they are shown; an overlap is refused."""
    content = state.answer("batch", name)
    if content is None:
        raise NotFound("This answer is not there any more; lay the batches out again.", "batches")
    wish = shown(state, project_id).plan.batching
    return moved(beds_of(BatchesView.model_validate_json(content)), body, wish.gap_mm, wish.turn_deg)


@router.get("/orientations/{name}", response_model=OrientView)
def orientation(name: str, state: Shared) -> Response:
    """The candidates, best first."""
    return answer_of(state, "orient", name)


def given(state: State, project_id: str, only: dict[str, int] | None = None) -> dict[str, Any]:
    """What estimates need besides the plan: the numbers of pieces, and what the workshop knows."""
    with state.database.reading() as connection:
        numbers = projects.piece_numbers(connection, project_id)
    return {"numbers": numbers, **state.known(only)}

"""Beds: one thing moved by hand."""

from fastapi import APIRouter

from hinoki.api.routers.projects import Shared, shown
from hinoki.api.shared.strict_route import Heeding
from hinoki.core.batch.manual_move import Move, Moved, moved
from hinoki.core.errors import NotFound
from hinoki.present.batches import BatchesView, beds_of

router = APIRouter(prefix="/api", route_class=Heeding)


@router.post("/projects/{project_id}/batches/{name}/move")
def move(project_id: str, name: str, body: Move, state: Shared) -> Moved:
    """Try to move one thing on the beds as they are shown; an overlap is refused."""
    content = state.questions.answer("batch", name)
    if content is None:
        raise NotFound("This answer is not there any more; lay the batches out again.", "batches")
    wish = shown(state, project_id).plan.batching
    return moved(beds_of(BatchesView.model_validate_json(content)), body, wish.gap_mm, wish.turn_deg)

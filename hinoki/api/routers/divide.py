"""Dividing: proposals, variants, what is picked and painted in the view, a parting once more."""

from fastapi import APIRouter
from pydantic import BaseModel
from starlette.responses import Response

from hinoki.api.routers.builds import JobView
from hinoki.api.routers.model import answer_of, asked
from hinoki.api.routers.projects import RevisionView, Shared, shown, told
from hinoki.api.shared.strict_route import Heeding
from hinoki.core.divide.from_selection import EdgeLines, Picked, PickedPlane
from hinoki.core.divide.partings import Parting
from hinoki.core.divide.partings.duplicate import Again, once_more
from hinoki.core.divide.region_tracking import Stroke
from hinoki.core.errors import BadPlan
from hinoki.core.plan.plan import plan_from
from hinoki.core.plan.regions import Painted
from hinoki.core.propose import Proposal, Proposals, Wishes, taken
from hinoki.core.propose.variants import DivisionsView, VariantWish, after_wish
from hinoki.store.tables import projects

router = APIRouter(prefix="/api", route_class=Heeding)


class ProofWish(BaseModel):
    """A proposal to be proved on the model itself, and the wishes it came of."""

    wishes: Wishes
    proposal: Proposal


class Taking(BaseModel):
    """A proposal to take, the wishes it came of, and the revision it is taken on."""

    base_revision: int
    wishes: Wishes
    proposal: Proposal


class VariantEdit(BaseModel):
    """A wish for variants, and the revision it was made on."""

    base_revision: int
    wish: VariantWish


class PaintedAnswer(BaseModel):
    """The mark after a stroke; none where nothing of it is left."""

    painted: Painted | None


@router.post("/projects/{project_id}/proposals", status_code=202)
def propose(project_id: str, body: Wishes, state: Shared) -> JobView:
    """Work out three divisions of the model as prepared, or of one of its pieces."""
    return asked(state, "propose", project_id, wishes=body.model_dump(mode="json"))


@router.get("/proposals/{name}", response_model=Proposals)
def proposals(name: str, state: Shared) -> Response:
    """The proposals."""
    return answer_of(state, "propose", name)


@router.post("/projects/{project_id}/proofs", status_code=202)
def prove(project_id: str, body: ProofWish, state: Shared) -> JobView:
    """Prove a proposal on the model itself."""
    wishes, proposal = body.wishes.model_dump(mode="json"), body.proposal.model_dump(mode="json")
    return asked(state, "prove", project_id, wishes=wishes, proposal=proposal)


@router.get("/proofs/{name}", response_model=Proposal)
def proof(name: str, state: Shared) -> Response:
    """The proposal as it holds on the model."""
    return answer_of(state, "prove", name)


@router.post("/projects/{project_id}/take")
def take(project_id: str, body: Taking, state: Shared) -> RevisionView:
    """Take a proposal: its partings become the project's own, as a new revision."""
    with state.database.reading() as connection:
        plan = projects.revision(connection, project_id, body.base_revision).plan
    after = plan_from(taken(plan, body.wishes, body.proposal).model_dump(mode="json", by_alias=True))
    label = f"Take “{body.proposal.title}”"
    state.database.write(lambda c: projects.add_revision(c, project_id, body.base_revision, after, label))
    return told(state, project_id)


@router.post("/projects/{project_id}/comparison", status_code=202)
def compare(project_id: str, state: Shared) -> JobView:
    """Work out the figures of all variants."""
    return asked(state, "compare", project_id)


@router.get("/comparisons/{name}", response_model=DivisionsView)
def comparison(name: str, state: Shared) -> Response:
    """The figures of all variants."""
    return answer_of(state, "compare", name)


@router.post("/projects/{project_id}/variants")
def variants(project_id: str, body: VariantEdit, state: Shared) -> RevisionView:
    """Keep, switch, rename or drop a variant, as a new revision."""
    with state.database.reading() as connection:
        plan = projects.revision(connection, project_id, body.base_revision).plan
    after, label = after_wish(plan, body.wish)
    state.database.write(lambda c: projects.add_revision(c, project_id, body.base_revision, after, label))
    return told(state, project_id)


@router.post("/projects/{project_id}/picks", status_code=202)
def pick(project_id: str, body: Picked, state: Shared) -> JobView:
    """Find the plane for what was picked in the view."""
    return asked(state, "pick", project_id, picked=body.model_dump(mode="json"))


@router.get("/picks/{name}", response_model=PickedPlane)
def picked(name: str, state: Shared) -> Response:
    """The parting that was picked."""
    return answer_of(state, "pick", name)


@router.post("/projects/{project_id}/edges", status_code=202)
def find_edges(project_id: str, state: Shared) -> JobView:
    """Find the sharp edges of the model as prepared."""
    return asked(state, "edges", project_id)


@router.get("/edges/{name}", response_model=EdgeLines)
def edges(name: str, state: Shared) -> Response:
    """The sharp edges."""
    return answer_of(state, "edges", name)


@router.post("/projects/{project_id}/strokes", status_code=202)
def paint(project_id: str, body: Stroke, state: Shared) -> JobView:
    """Add what lies under the brush to a mark, or take it away."""
    known = {m.id for m in shown(state, project_id).plan.marks}
    if body.mark is not None and body.mark not in known:
        raise BadPlan("This mark is not there any more. Begin a new one.", "mark")
    return asked(state, "paint", project_id, stroke=body.model_dump(mode="json"))


@router.get("/strokes/{name}", response_model=PaintedAnswer)
def stroke(name: str, state: Shared) -> Response:
    """The mark after the stroke."""
    return answer_of(state, "paint", name)


@router.post("/partings/again")
def again(body: Again) -> Parting:
    """A copy of a parting, or its mirror image."""
    return once_more(body)

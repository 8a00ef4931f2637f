"""Dividing: proposals, variants, what is picked and painted in the view, a parting once more."""

from fastapi import APIRouter
from pydantic import BaseModel

from hinoki.api.routers.projects import RevisionView, Shared, told
from hinoki.api.shared.strict_route import Heeding
from hinoki.core.divide.partings import Parting
from hinoki.core.divide.partings.duplicate import Again, once_more
from hinoki.core.plan.plan import plan_from
from hinoki.core.propose import Wishes, taken
from hinoki.core.propose.variants import VariantWish, after_wish
from hinoki.present.proposals import ProposalView
from hinoki.store.tables import projects

router = APIRouter(prefix="/api", route_class=Heeding)


class Taking(BaseModel):
    """A proposal to take, the wishes it came of, and the revision it is taken on."""

    base_revision: int
    wishes: Wishes
    proposal: ProposalView


class VariantEdit(BaseModel):
    """A wish for variants, and the revision it was made on."""

    base_revision: int
    wish: VariantWish


@router.post("/projects/{project_id}/take")
def take(project_id: str, body: Taking, state: Shared) -> RevisionView:
    """Take a proposal: its partings become the project's own, as a new revision."""
    with state.database.reading() as connection:
        plan = projects.revision(connection, project_id, body.base_revision).plan
    after = plan_from(taken(plan, body.wishes, body.proposal).model_dump(mode="json", by_alias=True))
    label = f"Take “{body.proposal.title}”"
    state.database.write(lambda c: projects.add_revision(c, project_id, body.base_revision, after, label))
    return told(state, project_id)


@router.post("/projects/{project_id}/variants")
def variants(project_id: str, body: VariantEdit, state: Shared) -> RevisionView:
    """Keep, switch, rename or drop a variant, as a new revision."""
    with state.database.reading() as connection:
        plan = projects.revision(connection, project_id, body.base_revision).plan
    after, label = after_wish(plan, body.wish)
    state.database.write(lambda c: projects.add_revision(c, project_id, body.base_revision, after, label))
    return told(state, project_id)


@router.post("/partings/again")
def again(body: Again) -> Parting:
    """A copy of a parting, or its mirror image."""
    return once_more(body)

"""Dividing: proposals, figures of variants, what is picked and painted in the view."""

from pydantic import BaseModel

from hinoki.core.divide.from_selection import EdgeLines, Picked, PickedPlane, picked_parting, sharp_edges
from hinoki.core.divide.region_tracking import Stroke, painted
from hinoki.core.errors import BadPlan, HinokiError
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.plan import Plan
from hinoki.core.plan.regions import Painted
from hinoki.core.progress import part_of
from hinoki.core.propose import Wishes, figures_for, tried_with_joints
from hinoki.core.propose import propose as proposed
from hinoki.core.propose import prove as proved
from hinoki.core.propose.variants import DivisionsView, VariantFigures, of_variant
from hinoki.operations.context import Context
from hinoki.operations.registry import Nothing, operation
from hinoki.present.proposals import ProposalsView, ProposalView, proposal_view, proposals_view


@operation("propose", "divide", "Looking for divisions")
def propose(asked: Wishes, context: Context) -> ProposalsView:
    """Work out three divisions of the model as prepared, or of one of its pieces, and try them with joints."""

    def draw(name: str, solid: Solid) -> None:
        context.workspace.draw(name, solid.mesh)

    plan, source, cache = context.plan, context.workspace.source, context.cache
    found = proposed(plan, source, cache, asked, context.part(0.0, 0.6), draw)
    return proposals_view(tried_with_joints(plan, source, cache, asked, found, context.part(0.6, 1.0)))


class ProofAsked(BaseModel):
    """A proposal to be proved on the model itself, and the wishes it came of."""

    wishes: Wishes
    proposal: ProposalView


@operation("prove", "divide", "Proving the proposal")
def prove(asked: ProofAsked, context: Context) -> ProposalView:
    """Prove a proposal that was made on a thinned copy on the model itself."""
    source, cache = context.workspace.source, context.cache
    return proposal_view(proved(context.plan, source, cache, asked.wishes, asked.proposal, context.progress))


@operation("compare-variants", "divide", "Comparing the divisions")
def compare_variants(_asked: Nothing, context: Context) -> DivisionsView:
    """Work out the figures of the division worked on and of every variant."""
    plan = context.plan
    plans = [("", plan.division_name, plan), *((v.id, v.name, of_variant(plan, v)) for v in plan.variants)]
    lines = []
    for step, (name, title, one) in enumerate(plans):
        tell = part_of(context.progress, step / len(plans), (step + 1) / len(plans))
        figures = figures_for(one, context.workspace.source, context.cache, tell)
        lines.append(VariantFigures(variant=name or None, name=title, figures=figures))
    return DivisionsView(divisions=lines)


@operation("pick", "divide", "Looking at what was picked", lane="interactive")
def pick(asked: Picked, context: Context) -> PickedPlane:
    """Find the parting for what was picked in the view."""
    ready = context.prepared()
    if ready.solid is None:
        raise HinokiError("An open surface cannot be parted. Make it right under Model first.", "model")
    return picked_parting(asked, ready.solid, ready.mesh, context.part(0.2, 1.0))


@operation("edges", "divide", "Looking for edges", lane="interactive")
def edges(_asked: Nothing, context: Context) -> EdgeLines:
    """Find the sharp edges of the model as prepared, for points to snap to."""
    return EdgeLines(lines=sharp_edges(context.prepared().mesh))


class PaintedAnswer(BaseModel):
    """The mark after a stroke; none where nothing of it is left."""

    painted: Painted | None


def _known_mark(asked: Stroke, plan: Plan) -> None:
    if asked.mark is not None and asked.mark not in {m.id for m in plan.marks}:
        raise BadPlan("This mark is not there any more. Begin a new one.", "mark")


@operation("paint", "divide", "Painting", lane="interactive", refuse=_known_mark)
def paint(asked: Stroke, context: Context) -> PaintedAnswer:
    """Add what lies under the brush to a mark, or take it away."""
    ready = context.prepared()
    return PaintedAnswer(painted=painted(asked, context.plan.marks, ready.mesh, ready.key, context.cache))

"""The whole job: planned at once without asking, and looked over station by station."""

from pydantic import Field

from hinoki.core.errors import BadPlan
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of
from hinoki.core.whole_job.carried_out import carried_out
from hinoki.core.whole_job.overview import overview
from hinoki.core.whole_job.planned import WholeJobWish, all_planned
from hinoki.operations.context import Context
from hinoki.operations.edits import Edited, keep_edit
from hinoki.operations.registry import Nothing, operation
from hinoki.present.overview import OverviewView, overview_view, reasons


class WholeJobPlanned(Edited):
    """A job that was planned: why it became so, in words, and what there is to see of it."""

    reasons: list[str] = Field(description="the repair, the proposal taken, and what was against those before it")
    overview: OverviewView


@operation(
    "plan-whole-job",
    "divide",
    "Planning the whole job",
    needs=("numbers", "known", "power_price", "printed"),
    edits=True,
)
def plan_whole_job(asked: WholeJobWish, context: Context) -> WholeJobPlanned:
    """Make right, divide, join and lay the model without asking, lay out the beds and plan the assembly."""
    made, plan = all_planned(context.plan, context.workspace.source, context.cache, asked, context.part(0.0, 0.7))
    still_open = next((one.plan for one in made.values() if one.built.whole is None), None)
    if still_open is not None:
        whose = f" of {still_open.label}" if len(made) > 1 else ""
        raise BadPlan(f"The surface{whose} stays open, so it cannot be divided. Make it right under Model first.", "model")
    return WholeJobPlanned(
        label="Planned the whole job",
        changed=plan != context.plan,
        touches=keep_edit(context, plan, 0.95),
        reasons=[said for one in made.values() for said in reasons(one, len(made) > 1)],
        overview=_looked_over(plan, context, context.part(0.7, 0.95)),
    )


@operation("overview", "check", "Looking over the job", needs=("numbers", "known", "power_price"))
def look_over(_asked: Nothing, context: Context) -> OverviewView:
    """Tell what is decided at each station, and what was noticed there."""
    return _looked_over(context.plan, context, context.progress)


def _looked_over(plan: Plan, context: Context, tell: Tell) -> OverviewView:
    built = context.project_built(plan, part_of(tell, 0.0, 0.2))
    done = carried_out(plan, built, context.cache, part_of(tell, 0.2, 0.95), context.power_price, context.known)
    return overview_view(overview(built, done.findings, done.batches, done.together), plan)

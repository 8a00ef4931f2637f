"""Joining: joints that suit mating faces, and ladders to try a fit."""

from typing import Annotated

from pydantic import BaseModel, Field

from hinoki.core.errors import HinokiError
from hinoki.core.join.ladders.fit_ladder import Tried, clearances, ladder, least_for
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.recommend_joints import SuitView, SuitWish
from hinoki.core.propose.unlock_joints import suited_together
from hinoki.operations.context import Context
from hinoki.operations.registry import operation

LeastClearance = Annotated[float, Field(ge=-0.5, le=2, allow_inf_nan=False)]
MostClearance = Annotated[float, Field(ge=0, le=2, allow_inf_nan=False)]


@operation("suggest-joints", "join", "Looking for joints that suit", needs=("numbers",))
def suggest_joints(asked: SuitWish, context: Context) -> SuitView:
    """Work out joints that suit mating faces, with measures from each face."""
    built = context.built(tell=context.part(0.0, 0.5))
    return suited_together(
        built,
        context.plan,
        asked,
        lambda plan: context.built(plan, context.part(0.75, 0.75)),
        context.cache,
        context.part(0.5, 1.0),
    )


class LadderAsked(BaseModel):
    """A ladder of a joint of the plan, or of what is given, and at which clearances."""

    joint: str | None = Field(None, max_length=10, description="of the plan, by its name")
    of: Tried | None = Field(None, description="what to try where it is no joint of the plan")
    from_mm: LeastClearance = 0.05
    to_mm: MostClearance = 0.3
    rungs: int = Field(6, ge=3, le=9)

    def tried(self, plan: Plan) -> "Tried | None":
        """What is tried; None where the plan has no such joint."""
        return self.of if self.of is not None else next((j for j in plan.joints if j.id == self.joint), None)


class LadderView(BaseModel):
    """A ladder that was made: its clearances, how many pieces, and estimates of mass and time."""

    label: str
    clearances_mm: list[float]
    pieces: list[str]
    mass_g: float
    minutes: float
    file: str


def _sensible(asked: LadderAsked, plan: Plan) -> None:
    tried = asked.tried(plan)
    clearances(asked.from_mm, asked.to_mm, asked.rungs, least_for(tried) if tried is not None else 0.0)


@operation("ladder", "join", "Making the ladder", refuse=_sensible)
def make_ladder(asked: LadderAsked, context: Context) -> LadderView:
    """Make a fit ladder, as a 3MF and as a ZIP of STL files."""
    plan = context.plan
    tried = asked.tried(plan)
    if tried is None:
        raise HinokiError("This joint is not in the plan any more. Choose one that is.", "joint")
    context.progress(0.2, "Making the ladder")
    steps = clearances(asked.from_mm, asked.to_mm, asked.rungs, least_for(tried))
    made = ladder(tried, steps, plan.least_wall_mm, plan.printer.line_mm, float(plan.printer.room_mm[0]))
    context.workspace.keep("exports", f"{context.stem}.3mf", made.file())
    context.workspace.keep("exports", f"{context.stem}.zip", made.stl_files())
    return LadderView(
        label=tried.label(),
        clearances_mm=list(steps),
        pieces=[p.name for p in made.pieces],
        mass_g=round(made.mass_g(plan.material), 1),
        minutes=round(made.minutes(plan.printer), 0),
        file=context.stem,
    )

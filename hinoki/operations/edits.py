"""Edits that are worked out: the plan as it would be is kept beside the result, with what it does to printed pieces.

The server saves it as a revision (`hinoki.api.routers.operations`); the plan never goes through the browser.
"""

from pydantic import BaseModel, Field

from hinoki.core.build import Build
from hinoki.core.plan.plan import Plan
from hinoki.core.printlog.edit_impact import Touches, shapes_may_change, touches
from hinoki.core.progress import Tell
from hinoki.operations.context import Context


class Edited(BaseModel):
    """An edit: how the history calls it, whether there is anything to save, and what it does to printed pieces."""

    label: str
    changed: bool = True
    touches: Touches = Field(Touches(), description="without the plan with which printed pieces stay")


def keep_edit(context: Context, plan: Plan, begin: float = 0.8) -> Touches:
    """Keep the plan as it would be, and look at what it does to printed pieces; where they can stay, keep that plan, too."""
    context.workspace.keep("answers", f"{context.stem}.plan.json", plan.json_text().encode())
    if not context.printed or not shapes_may_change(context.plan, plan):
        return Touches()
    tell = context.part(begin, 1.0)

    def build_of(asked: Plan, told: Tell) -> Build:
        return context.project_built(asked, told)

    found = touches(context.project_built(tell=context.part(begin, begin)), plan, build_of, context.printed, tell)
    if found.kept is not None:
        context.workspace.keep("answers", f"{context.stem}.kept.json", found.kept.json_text().encode())
    return found.model_copy(update={"kept": None})

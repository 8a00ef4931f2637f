"""An operation asked in this process, as the application's workers do, without a workshop and without a project."""

from pydantic import BaseModel

from hinoki.cli.shared.folder_workspace import FolderWorkspace
from hinoki.core.cache import Cache
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell
from hinoki.operations.context import Context, Situation
from hinoki.operations.registry import Operation


def answered(own: Operation, request: BaseModel, plan: Plan, workspace: FolderWorkspace, tell: Tell, title: str) -> BaseModel:
    """What comes of an operation asked about a plan, of the type the operation declares. Raises HinokiError as it does."""
    if own.refuse is not None:
        own.refuse(request, plan)
    situation = Situation(plan=plan.json_text(), title=title)
    return own.run(request, Context(situation, own.needs, workspace, Cache(), tell, f"{own.name}.json"))

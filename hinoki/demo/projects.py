"""All demo projects: a name, the model file, and the plan for it."""

from collections.abc import Callable
from dataclasses import dataclass

from hinoki.core.plan import Plan
from hinoki.demo import fen_project, harbour_project, mask_project, project


@dataclass(frozen=True)
class Demo:
    """One demo project."""

    name: str
    source: Callable[[], bytes]
    plan: Callable[[bytes], Plan]


DEMOS = (
    Demo(project.PROJECT_NAME, project.demo_source, project.demo_plan),
    Demo(mask_project.PROJECT_NAME, mask_project.mask_source, mask_project.mask_plan),
    Demo(harbour_project.PROJECT_NAME, harbour_project.harbour_source, harbour_project.harbour_plan),
    Demo(fen_project.PROJECT_NAME, fen_project.fen_source, fen_project.fen_plan),
)
"""in the order in which they are made and stand on the shelf"""

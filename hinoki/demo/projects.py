"""All demo projects: a name, the model file, and the plan for it."""

from collections.abc import Callable
from dataclasses import dataclass

from hinoki.core.plan import Plan
from hinoki.demo import fen_project, harbour_project, mask_project, project
from hinoki.demo.resting import laid


@dataclass(frozen=True)
class Demo:
    """One demo project."""

    name: str
    source: Callable[[], bytes]
    plan: Callable[[bytes], Plan]


def _demo(name: str, source: Callable[[], bytes], plan: Callable[[bytes], Plan]) -> Demo:
    """A project whose pieces are laid to print."""
    return Demo(name, source, lambda data: laid(plan(data), name))


DEMOS = (
    _demo(project.PROJECT_NAME, project.demo_source, project.demo_plan),
    _demo(mask_project.PROJECT_NAME, mask_project.mask_source, mask_project.mask_plan),
    _demo(harbour_project.PROJECT_NAME, harbour_project.harbour_source, harbour_project.harbour_plan),
    _demo(fen_project.PROJECT_NAME, fen_project.fen_source, fen_project.fen_plan),
)
"""in the order in which they are made and stand on the shelf"""

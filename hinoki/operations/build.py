"""Builds of the plan that is shown."""

from collections.abc import Sequence

from pydantic import BaseModel

from hinoki.core.build import build_all
from hinoki.core.check.check import check_project
from hinoki.core.divide.cut import Part
from hinoki.core.geometry.shape import mesh_of
from hinoki.core.progress import along
from hinoki.core.project import project_numbers, project_shapes
from hinoki.operations.context import Context
from hinoki.operations.registry import Nothing, operation
from hinoki.present.build import present


class BuildDone(BaseModel):
    """What is kept of a build besides what screens see: numbers and shapes of all parts' pieces, by keys in the project."""

    numbers: dict[str, int]
    shapes: dict[str, str]


@operation(
    "build", "divide", "Building", lane="interactive", needs=("numbers",), asked_by_url=False, kept=False, newest_only=True
)
def build(_asked: Nothing, context: Context) -> BuildDone:
    """Build the plan for the screen; the view and the drawings become files."""

    def show_early(parts: Sequence[Part]) -> None:
        """Draw the pieces that are new, and tell their drawings before the rest of the build is worked out."""
        new = {part.key: part.made_by for part in parts if context.workspace.draw(part.made_by, part.solid.mesh)}
        if new:
            context.workspace.show_pieces(new)

    space, cache = context.workspace, context.cache
    made = build_all(context.plan, space.source, cache, context.part(0.0, 0.85), context.numbers, on_pieces=show_early)
    shown = present(made, check_project(made, cache, context.part(0.85, 0.9)), cache, context.part(0.9, 0.97))
    for name, body in along(list(shown.meshes.items()), context.part(0.97, 1.0), "Drawing"):
        space.draw(name, mesh_of(body))
    space.keep("builds", context.target, shown.view.model_dump_json().encode())
    return BuildDone(numbers=project_numbers(made), shapes=project_shapes(made))

"""The print log: what an edit does to printed pieces, where a printed piece differs from the plan, a picture of a project."""

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.build import Build
from hinoki.core.errors import NotFound
from hinoki.core.export.thumbnail import SHELF_PX, picture, pigment
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.plan import Plan, read_plan
from hinoki.core.printlog.edit_impact import PrintedPiece, Touches
from hinoki.core.printlog.edit_impact import touches as touched_by
from hinoki.core.printlog.shape_diff import difference
from hinoki.core.progress import Tell
from hinoki.operations.context import Context
from hinoki.operations.model import FileMade
from hinoki.operations.registry import operation
from hinoki.present.display_mesh import MAGIC
from hinoki.present.printlog import DifferenceView, difference_view

MOST_DRAWN = 60
"""of one part: more are not seen in so small a picture"""


class EditAsked(BaseModel):
    """An edit: the plan before it, as JSON, and the printed pieces that are of its shapes. The plan that is asked about is the
    one after it."""

    before: str
    printed: list[PrintedPiece]


@operation("edit-impact", "log", "Looking at printed pieces", needs=("numbers",), asked_by_url=False)
def edit_impact(asked: EditAsked, context: Context) -> Touches:
    """Work out which printed pieces an edit would put out of date, what they cost, and whether they can stay as they are."""
    was = context.project_built(read_plan(asked.before), context.part(0.0, 0.2))

    def build_of(plan: Plan, tell: Tell) -> Build:
        return context.project_built(plan, tell)

    return touched_by(was, context.plan, build_of, asked.printed, context.part(0.2, 1.0))


class OtherPieces(BaseModel):
    """Pieces, by their keys, that were printed from a plan, given as JSON."""

    plan: str
    keys: list[str]


class DifferenceAsked(BaseModel):
    """A printed piece, by its key, the plan it was printed from, as JSON, and what else was printed from which plan."""

    key: str
    printed_plan: str
    others: list[OtherPieces] = Field(max_length=1000)


@operation("difference", "log", "Comparing", needs=("numbers",), asked_by_url=False)
def piece_difference(asked: DifferenceAsked, context: Context) -> DifferenceView:
    """Work out where a printed piece differs from the plan now, and whether it still goes together."""
    now, was = context.built(tell=context.part(0.0, 0.4)), context.built(read_plan(asked.printed_plan), context.part(0.4, 0.7))
    neighbours: dict[str, Solid] = {}
    for step, other in enumerate(asked.others):
        begin, end = (0.7 + 0.2 * k / len(asked.others) for k in (step, step + 1))
        one = context.built(read_plan(other.plan), context.part(begin, end))
        neighbours |= {p.key: p.solid for p in one.parts if p.key in other.keys}
    if not any(p.key == asked.key for p in now.parts):
        raise NotFound("The plan has no such piece any more; there is nothing to compare it with.", "piece")
    if not any(p.key == asked.key for p in was.parts):
        raise NotFound("The plan it was printed from cannot be built as it was; it cannot be compared.", "piece")
    context.progress(0.9, "Comparing")
    found, more, less = difference(was, now, asked.key, neighbours)
    stem = context.stem.rsplit("-", 1)[1]

    def drawn(letter: str, solid: Solid | None) -> str | None:
        if solid is None:
            return None
        context.workspace.draw(f"{stem}{letter}", solid.mesh)
        return f"{stem}{letter}"

    return difference_view(found, drawn("a", more), drawn("b", less))


class PictureAsked(BaseModel):
    """The names of the drawings of pieces, their numbers, and where each stands: matrices of 3 × 4, row by row."""

    pieces: list[tuple[str, int, list[list[float]]]]


@operation("picture", "divide", "Drawing a picture", asked_by_url=False)
def project_picture(asked: PictureAsked, context: Context) -> FileMade:
    """A small picture of the pieces put together, from their drawings."""
    bodies = [
        (mesh.placed(np.array(matrix).reshape(3, 4)), pigment(number))
        for name, number, places in asked.pieces
        for mesh in [_drawing(context.workspace.drawing(name))]
        for matrix in places[:MOST_DRAWN]
    ]
    if not bodies:
        raise NotFound("There is nothing to draw yet.", "picture")
    context.workspace.keep("exports", f"{context.stem}.png", picture(bodies, SHELF_PX))
    return FileMade(file=f"{context.stem}.png")


def _drawing(content: bytes) -> Mesh:
    """A display mesh read back (see hinoki.present.display_mesh)."""
    start = len(MAGIC)
    vertices, triangles = (int(n) for n in np.frombuffer(content, "<u4", 2, start))
    at = start + 8
    points = np.frombuffer(content, "<f4", 3 * vertices, at).reshape(-1, 3).astype(np.float64)
    faces = np.frombuffer(content, "<u4", 3 * triangles, at + 24 * vertices).reshape(-1, 3).astype(np.int64)
    return Mesh(points, faces)

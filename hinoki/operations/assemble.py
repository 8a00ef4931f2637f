"""Assembling: the order in which all goes together, and its sheets."""

from typing import Literal

from pydantic import BaseModel

from hinoki.core.assemble.assembled import assembled
from hinoki.core.parts.put_together import parts_put_together
from hinoki.operations.context import Context
from hinoki.operations.model import FileMade
from hinoki.operations.registry import operation
from hinoki.present.assemble.assembly import assembly_of, assembly_of_all
from hinoki.present.assemble.view import assembly_view
from hinoki.present.schemas.assemble import AssemblyView
from hinoki.present.sheets.sheet_html import write_html
from hinoki.present.sheets.sheet_pdf import write_pdf


class AssembleAsked(BaseModel):
    """What is put together: the pieces of the part that is worked on, or all parts of the project."""

    scope: Literal["part", "project"] = "part"


@operation("assemble", "assemble", "Planning the assembly", needs=("numbers",))
def assemble(asked: AssembleAsked, context: Context) -> AssemblyView:
    """Plan the assembly, or follow the order pinned in the plan."""
    if asked.scope == "project":
        whole = context.project_built(tell=context.part(0.0, 0.3))
        out, built, plan = parts_put_together(context.plan, whole, context.cache, context.part(0.3, 0.9))
    else:
        plan, built = context.plan, context.built(tell=context.part(0.0, 0.3))
        out = assembled(plan, built, context.cache, context.part(0.3, 0.9))
    view, meshes = assembly_view(plan, built, out, context.cache)
    meshes |= {piece.made_by: piece.mesh for piece in built.pieces}
    context.draw(meshes)
    return view


@operation("sheets", "assemble", "Drawing the sheets", needs=("numbers", "title", "revision", "project", "photos"))
def sheets(asked: AssembleAsked, context: Context) -> FileMade:
    """Draw the assembly sheets, as PDF and as a page to print; those of all parts tell how each is put together, too."""
    tell = context.part(0.3, 0.9)
    plan, title, revision, photos = context.plan, context.title, context.revision, context.photos
    if asked.scope == "project":
        whole = context.project_built(tell=context.part(0.0, 0.3))
        made = assembly_of_all(plan, whole, context.cache, title, revision, True, photos, tell)
    else:
        built = context.built(tell=context.part(0.0, 0.3))
        made = assembly_of(plan, built, context.cache, title, revision, True, photos, tell)
    if made.sheets:
        context.workspace.keep("exports", f"{context.stem}.pdf", write_pdf(*made.sheets))
        context.workspace.keep("exports", f"{context.stem}.html", write_html(*made.sheets))
    return FileMade(file=context.stem)

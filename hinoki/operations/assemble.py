"""Assembling: the order in which all goes together, and its sheets."""

from hinoki.core.assemble.assembled import assembled
from hinoki.operations.context import Context
from hinoki.operations.model import FileMade
from hinoki.operations.registry import Nothing, operation
from hinoki.present.assemble.assembly import assembly_of
from hinoki.present.assemble.view import assembly_view
from hinoki.present.schemas.assemble import AssemblyView
from hinoki.present.sheets.sheet_html import write_html
from hinoki.present.sheets.sheet_pdf import write_pdf


@operation("assemble", "assemble", "Planning the assembly", needs=("numbers",))
def assemble(_asked: Nothing, context: Context) -> AssemblyView:
    """Plan the assembly, or follow the order pinned in the plan."""
    built = context.built(tell=context.part(0.0, 0.3))
    out = assembled(context.plan, built, context.cache, context.part(0.3, 0.9))
    view, meshes = assembly_view(context.plan, built, out, context.cache)
    meshes |= {piece.made_by: piece.mesh for piece in built.pieces}
    for name, mesh in meshes.items():
        context.workspace.draw(name, mesh)
    return view


@operation("sheets", "assemble", "Drawing the sheets", needs=("numbers", "title", "revision", "project", "photos"))
def sheets(_asked: Nothing, context: Context) -> FileMade:
    """Draw the assembly sheets of the revision that is shown, as PDF and as a page to print."""
    built, tell = context.built(tell=context.part(0.0, 0.3)), context.part(0.3, 0.9)
    made = assembly_of(context.plan, built, context.cache, context.title, context.revision, True, context.photos, tell)
    if made.sheet is not None:
        context.workspace.keep("exports", f"{context.stem}.pdf", write_pdf(made.sheet))
        context.workspace.keep("exports", f"{context.stem}.html", write_html(made.sheet))
    return FileMade(file=context.stem)

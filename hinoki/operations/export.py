"""What leaves Hinoki, in one ZIP."""

from hinoki.core.batch.print_plan import printing_of
from hinoki.core.check.check import check_all
from hinoki.core.export.archive import ExportWish, export_zip
from hinoki.core.export.manifest import WentOut
from hinoki.operations.context import Context
from hinoki.operations.registry import operation
from hinoki.present.assemble.assembly import assembly_of_all
from hinoki.present.export import outgoing_of


@operation(
    "export",
    "batch",
    "Writing the export",
    needs=("numbers", "known", "power_price", "title", "revision"),
    asked_by_url=False,
)
def export(asked: ExportWish, context: Context) -> WentOut:
    """Write the ZIP of an export; gives what it holds of each piece."""
    plan, cache = context.plan, context.cache
    built = context.project_built(tell=context.part(0.0, 0.5))
    printing = printing_of(plan, built, cache, context.power_price, context.part(0.5, 0.7), context.known)
    assembly = assembly_of_all(plan, built, cache, context.title, context.revision, asked.assembly, tell=context.part(0.7, 0.8))
    outgoing = outgoing_of(built, check_all(built, cache), asked, printing, assembly, context.title, context.revision)
    content = export_zip(plan, built, context.part(0.8, 1.0), outgoing)
    context.workspace.keep("exports", f"{context.stem}.zip", content)
    return WentOut.of(built, printing.batches)

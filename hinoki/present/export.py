"""What goes out besides bodies: the report and the assembly sheets."""

from collections.abc import Mapping
from functools import partial

from hinoki.core.batch.print_plan import Printing
from hinoki.core.build import Build
from hinoki.core.check.check import Checked
from hinoki.core.export.archive import ExportWish, Outgoing
from hinoki.present.assemble.assembly import Assembly
from hinoki.present.report import report
from hinoki.present.sheets.sheet_pdf import write_pdf


def outgoing_of(  # noqa: PLR0913 - what goes out
    built: Build,
    checked: Mapping[str, Checked],
    wish: ExportWish,
    printing: Printing | None = None,
    assembly: Assembly | None = None,
    title: str = "",
    revision: int | None = None,
) -> Outgoing:
    """All that goes out of a build, with its report and its sheets."""
    telling = partial(report, built, checked, printing=printing, ending=wish.pieces, assembly=assembly)
    sheet = write_pdf(*assembly.sheets) if assembly is not None and assembly.sheets else None
    return Outgoing(wish, printing, title, revision, sheet, telling)

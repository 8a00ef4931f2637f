"""The lists of an export as tables: what is cut, and what is to be bought."""

import csv
import io

from hinoki.core.batch.batches import prints_on
from hinoki.core.batch.print_plan import Printing
from hinoki.core.build import Build
from hinoki.core.export.batches import estimates_of
from hinoki.core.export.file_names import loose_file, piece_stems
from hinoki.core.export.own_settings import own_words
from hinoki.core.project import project_hardware, project_loose, project_pieces
from hinoki.core.workshop.hardware import spares_of


def hardware_list(built: Build) -> str:
    """What is to be bought, and glued, as a table."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(["what", "needed", "spares", "length_mm"])
    for item in project_hardware(built):
        rows.writerow([item.name, item.count, spares_of(item), "" if item.length_mm is None else f"{item.length_mm:.1f}"])
    return out.getvalue()


def cut_list(built: Build, ending: str = "stl", printing: Printing | None = None) -> str:
    """Pieces part by part, each with how often it is needed, what it takes and the batch it prints in where that is known; then
    loose parts."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(
        [
            "number",
            "name",
            "count",
            "key",
            "file",
            "size_x_mm",
            "size_y_mm",
            "size_z_mm",
            "resting_x_mm",
            "resting_y_mm",
            "resting_z_mm",
            "rests_on",
            "volume_cm3",
            "fits",
            "mates_with",
            "batch",
            "mass_g",
            "minutes",
            "cost",
            "printed_otherwise",
        ]
    )
    stems = piece_stems(built)
    batches = prints_on(printing.batches) if printing is not None else {}
    took = estimates_of(printing.batches) if printing is not None else {}
    for one in project_pieces(built):
        p = one.piece
        table.writerow(
            [
                p.number,
                _cell(one.name),
                one.count,
                one.key,
                f"pieces/{stems[one.key]}.{ending}",
                *(f"{v:.2f}" for v in p.size_mm),
                *(f"{v:.2f}" for v in p.rest.size_mm),
                p.rest.what,
                f"{p.volume_mm3 / 1000:.2f}",
                "yes" if p.fits else "no",
                " ".join(map(str, p.neighbours)),
                batches.get(one.key, ""),
                *(took.get(one.key, {}).get(name, "") for name in ("mass_g", "minutes", "cost")),
                own_words(one.part.plan.own_settings(p.key)),
            ]
        )
    for item in project_loose(built):
        size = (f"{v:.2f}" for v in item.size_mm)
        table.writerow(["", item.name, item.printed, "loose", loose_file(item, ending), *size, *[""] * 12])
    return out.getvalue()


def _cell(text: str) -> str:
    """Text that a spreadsheet will not take for a formula."""
    return f"'{text}" if text[:1] in "=+-@\t" else text

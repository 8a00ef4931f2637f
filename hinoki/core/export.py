"""What leaves Hinoki: piece files, one 3MF, the plan, the report and the cut list. Byte-identical for equal input."""

import csv
import io
import re
import time
import unicodedata
import zipfile
from collections.abc import Iterator
from typing import Any

import numpy as np
import orjson

from hinoki.core.clearance import measured_clearance
from hinoki.core.engine import Built
from hinoki.core.export_batches import batch_files, batches_report, estimates_of
from hinoki.core.formats.stl import write_stl
from hinoki.core.formats.threemf import Placed, write_3mf
from hinoki.core.mesh import Mesh, Points, rounded_to_single
from hinoki.core.plan import PieceNote, Plan
from hinoki.core.printing import Printing
from hinoki.core.progress import Tell, quiet
from hinoki.core.solid import Solid
from hinoki.core.view import LooseView, PieceView

REPORT_SCHEMA = "hinoki-report/1"
NO_PARAMETERS = {"id", "face", "kind", "fit", "places", "clearance_mm"}
GAP_MM = 10.0
_EPOCH = (1980, 1, 1, 0, 0, 0)


def file_stem(number: int, name: str, digits: int) -> str:
    """A sortable, readable name for files: `05-tower-lower`."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode()
    words = re.sub(r"[^a-z0-9]+", "-", plain.lower()).strip("-")[:50] or "piece"
    return f"{number:0{digits}d}-{words}"


def lying(built: Built, piece: PieceView) -> Mesh:
    """A piece as it will lie on the bed, rounded as files hold it."""
    matrix = np.array(piece.rest.matrix).reshape(3, 4)
    body = built.meshes[piece.mesh]
    if isinstance(body, Solid):
        return rounded_to_single(body.placed(matrix).mesh)
    return rounded_to_single(Mesh(body.vertices @ matrix[:, :3].T + matrix[:, 3], body.faces))


def export_files(
    plan: Plan,
    built: Built,
    progress: Tell = quiet,
    seconds: dict[str, float] | None = None,
    begun: float | None = None,
    printing: Printing | None = None,
) -> Iterator[tuple[str, bytes]]:
    """All files of an export, as (path, content), the report last.

    `seconds`, when given, holds what the builds took and is written into the report with the time of writing and the
    total since `begun` (perf_counter); without it the report's times are zero, so that equal plans give equal bytes.
    `printing`, when given, goes out as a file for each batch, and into the report.
    """
    writing = time.perf_counter()
    pieces = built.view.pieces
    digits = max(2, len(str(max((p.number for p in pieces), default=1))))
    stems = {p.number: file_stem(p.number, p.name, digits) for p in pieces}
    placed: list[Placed] = []
    shapes: dict[int, tuple[int, bool]] = {}
    places: dict[int, Points] = {}
    shift = 0.0
    for step, piece in enumerate(pieces):
        progress(0.7 * step / max(1, len(pieces)), f"Writing {piece.name}")
        mesh = lying(built, piece)
        shapes[piece.number] = len(mesh.faces), mesh.edges.closed
        yield f"pieces/{stems[piece.number]}.stl", write_stl(mesh, f"Hinoki {stems[piece.number]}")
        # side by side, so that no two objects share a place; what prints as one stays as it stands
        at = next((places[n] for n in piece.prints_with if n in places), None)
        if at is None:
            low = np.min(
                [mesh.bounds[0], *(lying(built, p).bounds[0] for p in pieces if p.number in piece.prints_with)], axis=0
            )
            at = np.array([shift - low[0], -low[1], 0.0])
            shift += piece.rest.size_mm[0] + GAP_MM
        places[piece.number] = at
        placed.append(Placed(f"{piece.number} {piece.name}", mesh, piece.key, at))
    for loose in built.view.loose:
        mesh = rounded_to_single(built.loose[loose.name].mesh)
        yield loose_file(loose), write_stl(mesh, f"Hinoki {loose.name}")
    progress(0.75, "Writing the 3MF")
    yield "pieces.3mf", write_3mf(placed, plan.model.file_name if plan.model else "")
    if printing is not None:
        yield from batch_files(printing.batches, plan.model.file_name if plan.model else "")
    yield "plan.json", exported_plan(plan, built).json_text().encode()
    yield "cut-list.csv", _cut_list(built, stems).encode()
    yield "hardware.csv", _hardware_list(built).encode()
    if seconds is not None:
        seconds["write"] = time.perf_counter() - writing
        seconds["total"] = time.perf_counter() - (writing if begun is None else begun)
    progress(0.95, "Writing the report")
    yield "report.json", orjson.dumps(report(plan, built, stems, shapes, seconds or {}, printing), option=orjson.OPT_INDENT_2)


def export_zip(plan: Plan, built: Built, progress: Tell = quiet, printing: Printing | None = None) -> bytes:
    """All files in one ZIP."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        for path, content in export_files(plan, built, progress, printing=printing):
            method = zipfile.ZIP_STORED if path.endswith(".3mf") else zipfile.ZIP_DEFLATED
            archive.writestr(zipfile.ZipInfo(path, _EPOCH), content, method, 1)
    return out.getvalue()


def exported_plan(plan: Plan, built: Built) -> Plan:
    """The plan with the piece numbers of its build, so that they are kept elsewhere too."""
    notes = dict(plan.pieces)
    for key, number in sorted(built.view.numbers.items(), key=lambda item: item[1]):
        note = notes.get(key)
        shown = next((p for p in built.view.pieces if p.key == key), None)
        if note is not None:
            notes[key] = note.model_copy(update={"number": number})
        elif shown is not None:
            notes[key] = PieceNote(number=number)
    return plan.model_copy(update={"pieces": notes})


def loose_file(loose: LooseView) -> str:
    """Where the print file of a kind of loose part lies."""
    name = file_stem(loose.count, loose.name, 1).split("-", 1)[1]
    return f"loose/{name}-{loose.printed}-times.stl"


def report(
    plan: Plan,
    built: Built,
    stems: dict[int, str],
    shapes: dict[int, tuple[int, bool]],
    seconds: dict[str, float],
    printing: Printing | None = None,
) -> dict[str, Any]:
    """The report: a contract others build on (see docs/report-format.md)."""
    view, model = built.view, built.view.model
    if model is None:
        raise ValueError("there is nothing to report on without a model")
    findings = [f.model_dump(exclude={"station", "joint", "parting"}) for f in view.findings]
    labels = {f.id: f.label for f in view.faces}
    sides = {f.id: {"a": f.a, "b": f.b} for f in view.faces}
    estimates = estimates_of(printing.batches) if printing is not None else {}
    finished = {part.key: part.solid for part in built.parts}
    gaps = [measured_clearance(one, finished) for one in built.placed]
    return {
        "schema": REPORT_SCHEMA,
        "model": {
            "name": model.name,
            "triangles": model.triangles,
            "size_mm": model.size_mm,
            "volume_mm3": model.volume_mm3,
            "closed": model.closed,
            "findings": [f.model_dump(include={"severity", "code", "message"}) for f in view.findings if f.station == "model"],
        },
        "bed_mm": [float(v) for v in plan.printer.room_mm],
        "pieces": [
            {
                "key": p.key,
                "number": p.number,
                "name": p.name,
                "file": f"pieces/{stems[p.number]}.stl",
                "size_mm": p.size_mm,
                "resting_size_mm": p.rest.size_mm,
                "volume_mm3": p.volume_mm3,
                "triangles": shapes[p.number][0],
                "closed": shapes[p.number][1],
                "fits": p.fits,
                "neighbours": p.neighbours,
                "prints_with": p.prints_with,
                "resting_matrix": p.rest.matrix,
                "resting": resting_of(p, printing),
                "estimate": estimates.get(p.number),
            }
            for p in view.pieces
        ],
        "joints": [
            {
                "id": j.id,
                "face": j.face_label,
                "kind": j.kind,
                "label": j.label,
                "parameters": one.joint.model_dump(
                    mode="json", exclude={"id", "face", "kind", "fit", "places", "clearance_mm"}
                ),
                "count": j.count,
                "fit": j.fit,
                "clearance_mm": j.clearance_mm,
                "clearance_measured_mm": None if gap is None else round(gap, 4),
                "stands_on": None if j.on is None else view.numbers[one.part(j.on).key],
                "motions": j.motions,
                "positions_mm": j.positions_mm,
                "loose": one.joint.loose_name(),
                "findings": [f.model_dump(include={"severity", "code", "message"}) for f in j.findings],
            }
            for j, one, gap in zip(view.joints, built.placed, gaps, strict=True)
        ],
        "mating_marks": [{"face": labels[m.face], "text": m.text, "piece": sides[m.face][m.side]} for m in view.mating_marks],
        "loose": [
            {
                "name": item.name,
                "count": item.count,
                "spares": item.spares,
                "size_mm": item.size_mm,
                "file": loose_file(item),
            }
            for item in view.loose
        ],
        "hardware": [item.model_dump() for item in view.hardware],
        "modules": [
            {
                **m.model_dump(include={"id", "label", "pieces", "table", "says"}),
                "turned": [{"piece": piece, "sides": sides} for piece, sides in sorted(m.turned.items())],
                "sides": [[magnet.model_dump() for magnet in side.magnets] for side in m.sides],
            }
            for m in view.modules
        ],
        "batches": batches_report(printing.batches) if printing is not None else [],
        "volume_balance": view.balance.model_dump() if view.balance else None,
        "assembly": [
            {
                "step": s.step,
                "piece": s.piece,
                "onto": s.onto,
                "direction": s.direction,
                "group": s.group,
                "how": s.how,
                "notes": s.notes,
            }
            for s in view.assembly
        ],
        "findings": findings,
        "seconds": {k: round(seconds.get(k, 0.0), 3) for k in ("read", "part", "join", "write", "total")},
    }


def resting_of(piece: PieceView, printing: Printing | None) -> dict[str, Any]:
    """How a piece lies, in figures; support and tipping only where it was measured."""
    lies = printing.lying.get(piece.key) if printing is not None else None
    return {
        "direction": piece.rest.down,
        "support_mm3": None if lies is None else round(lies.support.volume_mm3, 1),
        "overhang_mm2": piece.rest.overhang_mm2,
        "contact_mm2": piece.rest.contact_mm2,
        "height_mm": piece.rest.height_mm,
        "tip_deg": None if lies is None else round(lies.tip_deg, 1),
    }


def _hardware_list(built: Built) -> str:
    """What is to be bought, and glued, as a table."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(["what", "needed", "spares", "length_mm"])
    for item in built.view.hardware:
        rows.writerow([item.name, item.count, item.spares, "" if item.length_mm is None else f"{item.length_mm:.1f}"])
    return out.getvalue()


def _cut_list(built: Built, stems: dict[int, str]) -> str:
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(
        [
            "number",
            "name",
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
        ]
    )
    for p in built.view.pieces:
        table.writerow(
            [
                p.number,
                _cell(p.name),
                p.key,
                f"pieces/{stems[p.number]}.stl",
                *(f"{v:.2f}" for v in p.size_mm),
                *(f"{v:.2f}" for v in p.rest.size_mm),
                p.rest.what,
                f"{p.volume_mm3 / 1000:.2f}",
                "yes" if p.fits else "no",
                " ".join(map(str, p.neighbours)),
            ]
        )
    for item in built.view.loose:
        table.writerow(["", f"{item.printed} × {item.name}", "loose", "", *(f"{v:.2f}" for v in item.size_mm), *[""] * 7])
    return out.getvalue()


def _cell(text: str) -> str:
    """Text that a spreadsheet will not take for a formula."""
    return f"'{text}" if text[:1] in "=+-@\t" else text

"""What leaves Hinoki: piece files, 3MF, the model put together, drawings, the plan, the report and the lists. Byte-identical
for equal input."""

import io
import time
import zipfile
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
import orjson
from pydantic import BaseModel, Field

from hinoki.core.batch.print_items import printed_matrix
from hinoki.core.batch.print_plan import Printing
from hinoki.core.build import Build
from hinoki.core.export.batches import batch_files
from hinoki.core.export.face_drawings import face_drawings, face_dxf, face_svg
from hinoki.core.export.file_names import loose_file, piece_stems
from hinoki.core.export.tables import cut_list, hardware_list
from hinoki.core.formats.base import NamedMesh
from hinoki.core.formats.gltf import write_glb
from hinoki.core.formats.threemf_write import Placed, write_3mf
from hinoki.core.formats.write import write_file
from hinoki.core.geometry.mesh import Mesh, Points, rounded_to_single
from hinoki.core.geometry.shape import mesh_of
from hinoki.core.orient.resting.piece import Piece
from hinoki.core.plan.contents import PieceNote
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, along, part_of, quiet
from hinoki.core.project import project_loose, project_pieces

GAP_MM = 10.0
_EPOCH = (1980, 1, 1, 0, 0, 0)


class ExportWish(BaseModel, frozen=True):
    """What goes out besides the batches, the plan, the report and the lists."""

    pieces: Literal["stl", "obj", "ply"] = Field("stl", title="Pieces as", description="each as it lies on the bed")
    model: bool = Field(True, title="Model as GLB", description="put together, and moved apart")
    faces: bool = Field(True, title="Mating faces", description="drawn 1 : 1, as SVG and DXF")
    assembly: bool = Field(True, title="Assembly sheets", description="as PDF")


ReportOf = Callable[[Mapping[str, tuple[int, bool]], Mapping[str, float]], Mapping[str, Any]]
"""makes the report of what was written: triangles of each piece's file and whether it closes, by key; seconds by stage"""


@dataclass(frozen=True)
class Outgoing:
    """What goes out of a build, and the name and revision of the project it is of, where it has one."""

    wish: ExportWish = ExportWish()  # noqa: RUF009 - frozen
    printing: Printing | None = None
    title: str = ""
    revision: int | None = None
    sheet: bytes | None = None
    """the assembly sheets as PDF"""
    report: ReportOf | None = None


def lying(plan: Plan, piece: Piece, mirrored: bool = False) -> Mesh:
    """A piece as it will lie on the bed, or its mirror image, larger by what its material shrinks where that is wanted, rounded
    as files hold it."""
    matrix = printed_matrix(plan, piece, mirrored)
    body = piece.body
    return rounded_to_single(mesh_of(body.placed(matrix)))


def export_files(
    plan: Plan,
    built: Build,
    progress: Tell = quiet,
    seconds: dict[str, float] | None = None,
    begun: float | None = None,
    outgoing: Outgoing = Outgoing(),
) -> Iterator[tuple[str, bytes]]:
    """All files of an export, as (path, content), the report last.

    `seconds`, when given, holds what the builds took and is written into the report with the time of writing and the
    total since `begun` (perf_counter); without it the report's times are zero, so that equal plans give equal bytes.
    """
    writing = time.perf_counter()
    wish, printing = outgoing.wish, outgoing.printing
    title = outgoing.title or (plan.model.file_name if plan.model else "")
    placed: list[Placed] = []
    yield from _piece_files(plan, built, wish.pieces, placed, part_of(progress, 0.0, 0.6))
    for loose in project_loose(built):
        name = loose_file(loose, wish.pieces)
        yield name, write_file([NamedMesh(f"Hinoki {loose.name}", loose.solid.mesh)], name)
    progress(0.65, "Writing the 3MF")
    yield "pieces.3mf", write_3mf(placed, title)
    if printing is not None:
        progress(0.7, "Writing the batches")
        yield from batch_files(printing.batches, title, outgoing.revision)
    if wish.model and built.pieces:
        progress(0.8, "Writing the model")
        for name, apart in (("assembled", 0.0), ("spread", 1.0)):
            yield f"model/{name}.glb", write_glb(spread(built, apart))
    if wish.faces:
        progress(0.88, "Drawing the mating faces")
        for drawing in (drawing for part in built.all_parts for drawing in face_drawings(part)):
            stem = drawing.label.replace("|", "-").replace(" ", "-")
            yield f"faces/{stem}.svg", face_svg(drawing)
            yield f"faces/{stem}.dxf", face_dxf(drawing)
    if outgoing.sheet is not None:
        yield "assembly.pdf", outgoing.sheet
    yield "plan.json", exported_plan(plan, built).json_text().encode()
    yield "cut-list.csv", cut_list(built, wish.pieces, printing).encode()
    yield "hardware.csv", hardware_list(built).encode()
    if seconds is not None:
        seconds["write"] = time.perf_counter() - writing
        seconds["total"] = time.perf_counter() - (writing if begun is None else begun)
    if outgoing.report is not None:
        progress(0.95, "Writing the report")
        shapes = {one.part_number: (len(one.mesh.faces), one.mesh.edges.closed) for one in placed}
        yield "report.json", orjson.dumps(outgoing.report(shapes, seconds or {}), option=orjson.OPT_INDENT_2)


def _piece_files(plan: Plan, built: Build, ending: str, placed: list[Placed], tell: Tell) -> Iterator[tuple[str, bytes]]:
    """A file for each piece, and for its mirror image where that is needed; in `placed` all of them side by side, so that no
    two share a place, and what prints as one as it stands."""
    stems, pieces = piece_stems(built), project_pieces(built)
    places: dict[tuple[int, bool], Points] = {}
    shift = 0.0
    for one in along(pieces, tell, lambda k: f"Writing {pieces[k].name}"):
        piece, own = one.piece, plan.alone(one.part.plan.part_id)
        mesh = lying(own, piece, one.mirrored)
        name = f"{stems[one.key]}.{ending}"
        yield f"pieces/{name}", write_file([NamedMesh(f"Hinoki {stems[one.key]}", mesh)], name)
        at = next((places[n, one.mirrored] for n in piece.prints_with if (n, one.mirrored) in places), None)
        if at is None:
            others = [lying(own, p, one.mirrored).bounds[0] for p in one.part.pieces if p.number in piece.prints_with]
            low = np.min([mesh.bounds[0], *others], axis=0)
            at = np.array([shift - low[0], -low[1], 0.0])
            shift += own.material_of(piece.key).enlarged * piece.rest.size_mm[0] + GAP_MM
        places[piece.number, one.mirrored] = at
        placed.append(Placed(f"{piece.number} {one.name}", mesh, one.key, at))


def export_zip(plan: Plan, built: Build, progress: Tell = quiet, outgoing: Outgoing = Outgoing()) -> bytes:
    """All files in one ZIP."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        for path, content in export_files(plan, built, progress, outgoing=outgoing):
            method = zipfile.ZIP_STORED if path.endswith(".3mf") else zipfile.ZIP_DEFLATED
            archive.writestr(zipfile.ZipInfo(path, _EPOCH), content, method, 1)
    return out.getvalue()


def spread(built: Build, apart: float) -> list[NamedMesh]:
    """The pieces of all instances of all parts where they are in the project, moved apart from its middle by a share of their
    distance; heights from its foot, and a little less."""
    placed = [
        (f"{one.number} {one.name}", one.mesh.placed(matrix))
        for part in built.all_parts
        for matrix in (instance.matrix for instance in part.plan.instances)
        for one in part.pieces
    ]
    if not placed:
        return []
    boxes = np.array([mesh.bounds for _, mesh in placed])
    low, high = boxes[:, 0].min(axis=0), boxes[:, 1].max(axis=0)
    found = []
    for (name, mesh), box in zip(placed, boxes, strict=True):
        centre = box.mean(axis=0)
        away = centre - (low + high) / 2
        way = np.array([0.9 * away[0], 0.9 * away[1], 0.6 * (centre[2] - low[2])]) * apart
        found.append(NamedMesh(name, Mesh(mesh.vertices + way, mesh.faces)))
    return found


def exported_plan(plan: Plan, built: Build) -> Plan:
    """The plan with the piece numbers of its build, so that they are kept elsewhere too."""
    parts = {part.plan.part_id: part for part in built.others}
    others = tuple(p.model_copy(update={"pieces": _with_numbers(p.pieces, parts[p.id])}) for p in plan.parts)
    return plan.model_copy(update={"pieces": _with_numbers(plan.pieces, built), "parts": others})


def _with_numbers(pieces: Mapping[str, PieceNote], built: Build) -> dict[str, PieceNote]:
    notes = dict(pieces)
    for key, number in sorted(built.numbers.items(), key=lambda item: item[1]):
        note = notes.get(key)
        shown = next((p for p in built.pieces if p.key == key), None)
        if note is not None:
            notes[key] = note.model_copy(update={"number": number})
        elif shown is not None:
            notes[key] = PieceNote(number=number)
    return notes

"""The report of an export: a contract others build on (see docs/report-format.md)."""

from collections.abc import Mapping
from typing import Any

from hinoki.core.batch.print_plan import Printing
from hinoki.core.build import Build
from hinoki.core.check.check import Checked
from hinoki.core.export.batches import batches_report, estimates_of
from hinoki.core.export.file_names import loose_file, piece_stems
from hinoki.core.join.clearance import measured_clearance
from hinoki.present.build import described
from hinoki.present.schemas.assemble import AssemblyView
from hinoki.present.schemas.build import BuildView, PieceView

REPORT_SCHEMA = "hinoki-report/1"
NO_PARAMETERS = {"id", "face", "kind", "fit", "places", "clearance_mm"}


def report(  # noqa: PLR0913 - what is reported
    built: Build,
    checked: Checked,
    shapes: Mapping[int, tuple[int, bool]],
    seconds: Mapping[str, float],
    printing: Printing | None = None,
    ending: str = "stl",
    assembly: AssemblyView | None = None,
) -> dict[str, Any]:
    """The report; files of pieces end in `ending`. `shapes` tells the triangles of each piece's file, and whether it closes."""
    plan, view = built.plan, described(built, checked)
    model = view.model
    if model is None:
        raise ValueError("there is nothing to report on without a model")
    findings = [f.model_dump(exclude={"station", "joint", "parting"}) for f in view.findings]
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
        "pieces": _pieces(built, view, shapes, printing, ending),
        "joints": _joints(built, view),
        "mating_marks": _marks(view),
        "loose": _loose(built, view, ending),
        "hardware": [item.model_dump() for item in view.hardware],
        "modules": _tiles(view),
        "batches": batches_report(printing.batches) if printing is not None else [],
        "volume_balance": view.balance.model_dump() if view.balance else None,
        "assembly": None if assembly is None else assembly_report(assembly),
        "findings": findings,
        "seconds": {k: round(seconds.get(k, 0.0), 3) for k in ("read", "part", "join", "write", "total")},
    }


def _pieces(
    built: Build, view: BuildView, shapes: Mapping[int, tuple[int, bool]], printing: Printing | None, ending: str
) -> list[dict[str, Any]]:
    plan, stems = built.plan, piece_stems(built.pieces)
    estimates = estimates_of(printing.batches) if printing is not None else {}
    return [
        {
            "key": p.key,
            "number": p.number,
            "name": p.name,
            "file": f"pieces/{stems[p.number]}.{ending}",
            "size_mm": p.size_mm,
            "resting_size_mm": p.rest.size_mm,
            "volume_mm3": p.volume_mm3,
            "enlarged_percent": round(100 * (plan.material_of(p.key).enlarged - 1), 4),
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
    ]


def _joints(built: Build, view: BuildView) -> list[dict[str, Any]]:
    finished = {part.key: part.solid for part in built.parts}
    gaps = [measured_clearance(one, finished) for one in built.placed]
    return [
        {
            "id": j.id,
            "face": j.face_label,
            "kind": j.kind,
            "label": j.label,
            "parameters": one.joint.model_dump(mode="json", exclude=NO_PARAMETERS),
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
    ]


def _marks(view: BuildView) -> list[dict[str, Any]]:
    labels = {f.id: f.label for f in view.faces}
    sides = {f.id: {"a": f.a, "b": f.b} for f in view.faces}
    return [{"face": labels[m.face], "text": m.text, "piece": sides[m.face][m.side]} for m in view.mating_marks]


def _loose(built: Build, view: BuildView, ending: str) -> list[dict[str, Any]]:
    names = {p.name: p for p in built.loose}
    return [
        {
            "name": item.name,
            "count": item.count,
            "spares": item.spares,
            "size_mm": item.size_mm,
            "file": loose_file(names[item.name], ending),
        }
        for item in view.loose
    ]


def _tiles(view: BuildView) -> list[dict[str, Any]]:
    return [
        {
            **m.model_dump(include={"id", "label", "pieces", "table", "says"}),
            "turned": [{"piece": piece, "sides": sides} for piece, sides in sorted(m.turned.items())],
            "sides": [[magnet.model_dump() for magnet in side.magnets] for side in m.sides],
        }
        for m in view.modules
    ]


def assembly_report(view: AssemblyView) -> dict[str, Any]:
    """The steps by piece numbers and names, the groups, what is locked, and how the model stands."""
    names = {u.id: f"piece {u.numbers[0]}" if u.numbers else u.name for u in view.units}
    return {
        "steps": [
            {
                "step": s.step,
                "adds": s.adds,
                "also": [names[u] for u in s.units if not names[u].startswith("piece ")],
                "onto": s.onto_piece,
                "motion": {
                    "kind": s.motion.kind,
                    "direction": s.motion.direction,
                    "distance_mm": s.motion.distance_mm,
                    "turns": s.motion.turns,
                    "legs": s.motion.legs,
                },
                "hardware": [h.model_dump() for h in s.hardware],
                "glue": s.glue,
                "proof": s.proof,
                "how": s.how,
                "notes": s.notes,
            }
            for s in view.steps
        ],
        "groups": [{"name": g.name, "pieces": g.numbers, "step": g.step} for g in view.groups],
        "locked": [{"pieces": k.numbers, "says": k.says, "frees": [f.words for f in k.frees]} for k in view.locked],
        "balance": None
        if view.balance is None
        else {
            "mass_g": view.balance.mass_g,
            "centre_mm": view.balance.centre_mm,
            "tip_deg": view.balance.tip_deg,
            "least_base_mm": view.balance.least_base_mm,
        },
        "findings": [f.model_dump(include={"severity", "code", "message", "piece"}) for f in view.findings],
        "cut_short": view.cut_short,
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

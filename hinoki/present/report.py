"""The report of an export: a contract others build on (see docs/report-format.md)."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from hinoki.core.batch.print_plan import Printing
from hinoki.core.build import Build
from hinoki.core.check.check import Checked
from hinoki.core.errors import BadPlan
from hinoki.core.export.batches import batches_report, estimates_of
from hinoki.core.export.file_names import loose_file, piece_stems
from hinoki.core.join.clearance import measured_clearance
from hinoki.core.project import project_hardware, project_loose, project_pieces
from hinoki.present.assemble.assembly import Assembly
from hinoki.present.build import described, hardware_view, loose_view
from hinoki.present.schemas.assemble import AssemblyView
from hinoki.present.schemas.build import BuildView, PieceView

REPORT_SCHEMA = "hinoki-report/1"
NO_PARAMETERS = {"id", "face", "kind", "fit", "places", "clearance_mm"}


def report(  # noqa: PLR0913 - what is reported
    built: Build,
    checked: Mapping[str, Checked],
    shapes: Mapping[str, tuple[int, bool]],
    seconds: Mapping[str, float],
    printing: Printing | None = None,
    ending: str = "stl",
    assembly: Assembly | None = None,
) -> dict[str, Any]:
    """The report; files of pieces end in `ending`. `checked` are the findings by the id of the part, `shapes` tells the
    triangles of each piece's file, and whether it closes, by its key in the project."""
    parts = [_Part(part, described(part, checked[part.plan.part_id])) for part in built.all_parts]
    there = [one for one in parts if one.view.model is not None]
    if not there:
        raise BadPlan(built.not_made or "There is no model to report on yet. Bring one in first.", "model")
    view = next((one for one in there if one.built is built), there[0]).view
    return {
        "schema": REPORT_SCHEMA,
        "model": _model(view),
        "parts": [_part(one, assembly) for one in parts],
        "bed_mm": [float(v) for v in built.plan.printer.room_mm],
        "pieces": _pieces(built, parts, shapes, printing, ending),
        "joints": [joint for one in parts for joint in _joints(one)],
        "mating_marks": [mark for one in parts for mark in _marks(one.view)],
        "loose": _loose(built, ending),
        "hardware": [hardware_view(item).model_dump() for item in project_hardware(built)],
        "modules": [tile for one in parts for tile in _tiles(one.view)],
        "batches": batches_report(printing.batches) if printing is not None else [],
        "volume_balance": view.balance.model_dump() if view.balance else None,
        "assembly": None if assembly is None else assembly_report(assembly.view),
        "findings": [
            {"part": one.id} | f.model_dump(exclude={"station", "joint", "parting"}) for one in parts for f in one.view.findings
        ],
        "seconds": {k: round(seconds.get(k, 0.0), 3) for k in ("read", "part", "join", "write", "total")},
    }


@dataclass(frozen=True)
class _Part:
    """A part as built, and as screens see it."""

    built: Build
    view: BuildView

    @property
    def id(self) -> str:
        return self.built.plan.part_id


def _model(view: BuildView) -> dict[str, Any] | None:
    model = view.model
    if model is None:
        return None
    return {
        "name": model.name,
        "triangles": model.triangles,
        "size_mm": model.size_mm,
        "volume_mm3": model.volume_mm3,
        "closed": model.closed,
        "findings": [f.model_dump(include={"severity", "code", "message"}) for f in view.findings if f.station == "model"],
    }


def _part(one: _Part, assembly: Assembly | None) -> dict[str, Any]:
    plan = one.built.plan
    steps = assembly.parts.get(one.id) if assembly is not None else None
    return {
        "id": one.id,
        "name": plan.label,
        "instances": [
            {"at_mm": i.at_mm, "turn_deg": i.turn_deg, "mirrored": i.mirrored, "matrix": i.matrix.ravel().tolist()}
            for i in plan.instances
        ],
        "model": _model(one.view),
        "assembly": None if steps is None else assembly_report(steps),
    }


def _pieces(
    built: Build, parts: list[_Part], shapes: Mapping[str, tuple[int, bool]], printing: Printing | None, ending: str
) -> list[dict[str, Any]]:
    stems = piece_stems(built)
    estimates = estimates_of(printing.batches) if printing is not None else {}
    views = {(one.id, p.key): p for one in parts for p in one.view.pieces}
    found = []
    for one in project_pieces(built):
        plan = one.part.plan
        p = views[plan.part_id, one.piece.key]
        found.append(
            {
                "key": one.key,
                "part": plan.part_id,
                "count": one.count,
                "number": p.number,
                "name": one.name,
                "file": f"pieces/{stems[one.key]}.{ending}",
                "size_mm": p.size_mm,
                "resting_size_mm": p.rest.size_mm,
                "volume_mm3": p.volume_mm3,
                "enlarged_percent": round(100 * (plan.material_of(p.key).enlarged - 1), 4),
                "triangles": shapes[one.key][0],
                "closed": shapes[one.key][1],
                "fits": p.fits,
                "neighbours": p.neighbours,
                "prints_with": p.prints_with,
                "resting_matrix": p.rest.matrix,
                "resting": resting_of(p, one.part.project_key(p.key), printing),
                "estimate": estimates.get(one.key),
            }
        )
    return found


def _joints(one_part: _Part) -> list[dict[str, Any]]:
    built, view = one_part.built, one_part.view
    finished = {part.key: part.solid for part in built.parts}
    gaps = [measured_clearance(one, finished) for one in built.placed]
    return [
        {
            "id": j.id,
            "part": one_part.id,
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


def _loose(built: Build, ending: str) -> list[dict[str, Any]]:
    return [
        loose_view(item).model_dump(include={"name", "count", "spares", "size_mm"}) | {"file": loose_file(item, ending)}
        for item in project_loose(built)
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


def resting_of(piece: PieceView, key: str, printing: Printing | None) -> dict[str, Any]:
    """How a piece (its `key` in the project) lies, in figures; support and tipping only where it was measured."""
    lies = printing.lying.get(key) if printing is not None else None
    return {
        "direction": piece.rest.down,
        "support_mm3": None if lies is None else round(lies.support.volume_mm3, 1),
        "overhang_mm2": piece.rest.overhang_mm2,
        "contact_mm2": piece.rest.contact_mm2,
        "height_mm": piece.rest.height_mm,
        "tip_deg": None if lies is None else round(lies.tip_deg, 1),
    }

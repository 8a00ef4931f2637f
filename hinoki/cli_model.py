"""The commands about one model file: inspect and repair."""

import argparse
import sys
from collections.abc import Callable
from pathlib import Path

import orjson

from hinoki.core.findings import mm
from hinoki.core.formats.base import ModelFile, NamedMesh
from hinoki.core.formats.registry import read_file
from hinoki.core.formats.writing import WRITERS, write_file
from hinoki.core.health.survey import survey
from hinoki.core.mesh import MM_PER_UNIT, Unit
from hinoki.core.prepare.repair import RepairStep, recommended
from hinoki.core.progress import quiet
from hinoki.core.repair.compare import Comparison, compared
from hinoki.core.shape import Shape, brought_in
from hinoki.core.survey_view import issue_view
from hinoki.core.units import NAMES, UnitChoice, propose_unit

INSPECT_SCHEMA = "hinoki-inspect/1"


def add_commands(commands: "argparse._SubParsersAction[argparse.ArgumentParser]", read: Callable[[Path], bytes]) -> None:
    """Add `inspect` and `repair` to the command line."""
    inspect = commands.add_parser("inspect", help="size, volume, state of the surface and findings of a model file")
    inspect.add_argument("model", type=Path, metavar="MODEL")
    inspect.add_argument("--unit", choices=sorted(MM_PER_UNIT), help="unit of the numbers (the file's, or a proposed one)")
    inspect.add_argument("--least-wall", type=float, default=0.9, metavar="MM")
    inspect.add_argument("--line", type=float, default=0.45, metavar="MM", help="line width of the printer")
    inspect.add_argument("--json", action="store_true", help="everything, with places, as JSON")
    inspect.set_defaults(run=lambda options: _inspect(options, read))

    repair = commands.add_parser("repair", help="make a surface right by the mildest means that do it")
    repair.add_argument("model", type=Path, metavar="MODEL")
    repair.add_argument("-o", "--out", type=Path, required=True, metavar="OUT", help=f"one of {', '.join(WRITERS)}")
    repair.add_argument("--unit", choices=sorted(MM_PER_UNIT))
    repair.add_argument("--fineness", type=float, metavar="MM", help="rebuild the surface at this fineness")
    repair.set_defaults(run=lambda options: _repair(options, read))


def unit_of(file: ModelFile, wanted: Unit | None) -> tuple[Unit, str]:
    """The unit to read a file in, and who says so."""
    if wanted is not None:
        return wanted, "as asked"
    if file.unit is not None:
        return file.unit, "the file says so"
    low, high = file.mesh.bounds
    choice: UnitChoice = propose_unit(high - low)
    return choice.unit, choice.reason


def _inspect(options: argparse.Namespace, read: Callable[[Path], bytes]) -> int:
    file = read_file(read(options.model), options.model.name)
    unit, why = unit_of(file, options.unit)
    shape = brought_in([(file, unit)])
    found = survey(shape.mesh, options.least_wall, options.line)
    low, high = shape.bounds
    size = [round(float(v), 3) for v in high - low]
    closed = shape.solid is not None
    if options.json:
        document = {
            "schema": INSPECT_SCHEMA,
            "name": options.model.name,
            "unit": unit,
            "unit_reason": why,
            "objects": [{"name": b.name, "triangles": len(b.mesh.faces), "closed": b.solid is not None} for b in shape.bodies],
            "triangles": len(shape.mesh.faces),
            "size_mm": size,
            "volume_mm3": round(shape.volume_mm3, 3),
            "closed": closed,
            "left_out": list(file.left_out),
            "findings": [issue_view(i).model_dump(exclude={"places": {"__all__": {"line"}}}) for i in found.issues],
        }
        sys.stdout.buffer.write(orjson.dumps(document, option=orjson.OPT_INDENT_2) + b"\n")
    else:
        print(f"{options.model.name}: {' × '.join(f'{v:.1f}' for v in size)} mm, {shape.volume_mm3 / 1000:.1f} cm³")
        print(f"unit: {NAMES[unit]} ({why})")
        print(f"{len(shape.bodies)} objects, {len(shape.mesh.faces):,} triangles, {'closed' if closed else 'not closed'}")
        for sentence in file.left_out:
            print(f"left out: {sentence}")
        for issue in found.issues:
            print(f"{issue.severity.replace('-', ' ')}: {issue.message} [{issue.code}]")
            for place in issue.places[:3]:
                x, y, z = (float(v) for v in place.at)
                print(f"    at {x:.1f}, {y:.1f}, {z:.1f}{': ' + place.text if place.text else ''}")
    return 1 if any(i.severity == "must-fix" for i in found.issues) or not closed else 0


def _repair(options: argparse.Namespace, read: Callable[[Path], bytes]) -> int:
    if options.out.suffix.lower() not in WRITERS:
        write_file([], options.out.name)  # refuses before any work is done
    file = read_file(read(options.model), options.model.name)
    unit, why = unit_of(file, options.unit)
    shape = brought_in([(file, unit)])
    print(f"{options.model.name}, {NAMES[unit]} ({why})", file=sys.stderr)
    if options.fineness is not None:
        how: RepairStep | None = RepairStep(id="s1", holes="leave", rebuild_mm=options.fineness)
    else:
        how = recommended(shape.mesh, "s1")
    after = shape
    if how is None:
        print("nothing to repair: the surface is closed and in order")
    else:
        outcome = how.apply(shape, quiet)
        after = outcome.shape
        print(how.label())
        for sentence in outcome.said:
            print(f"  {sentence}")
        print_comparison(compared(shape.mesh, after.mesh))
    options.out.parent.mkdir(parents=True, exist_ok=True)
    options.out.write_bytes(write_file(objects_of(after), options.out.name))
    print(f"written to {options.out}")
    return 0 if after.solid is not None else 1


def objects_of(shape: Shape) -> list[NamedMesh]:
    """The bodies of a shape as named meshes."""
    return [NamedMesh(b.name, b.mesh) for b in shape.bodies]


def print_comparison(both: Comparison) -> None:
    """A table of before and after."""
    rows = [("", "before", "after")]
    for name in type(both.before).model_fields:
        one, two = getattr(both.before, name), getattr(both.after, name)
        rows.append((name.replace("_mm3", " mm³").replace("_", " "), _cell(one), _cell(two)))
    for row in rows:
        print(f"  {row[0]:<16}{row[1]:>16}{row[2]:>16}")
    print(f"  largest deviation {mm(both.deviation_mm)}")


def _cell(value: float | bool) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:,.1f}" if isinstance(value, float) else f"{value:,}"


def parse_scale(text: str) -> float:
    """A factor from “0.5”, “1:48” or “1/48”. Raises ValueError."""
    for sign in (":", "/"):
        if sign in text:
            one, two = text.split(sign)
            return float(one) / float(two)
    return float(text)

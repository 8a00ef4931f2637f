"""`hinoki repair`: make a surface right by the mildest means that do it."""

import argparse
from pathlib import Path
from typing import Any

from hinoki.cli.shared.arguments import add_model, read_model, unit_of
from hinoki.cli.shared.output import Output, add_output, output_of
from hinoki.core.formats.base import NamedMesh
from hinoki.core.formats.registry import read_file
from hinoki.core.formats.write import WRITERS, write_file
from hinoki.core.geometry.shape import Shape
from hinoki.core.model.read import brought_in
from hinoki.core.model.repair.compare import Comparison, compared
from hinoki.core.model.steps.repair import RepairStep, recommended
from hinoki.core.model.units import NAMES
from hinoki.core.progress import quiet
from hinoki.present.words import sentence
from hinoki.present.words.wording import mm

REPAIR_SCHEMA = "hinoki-repair/1"


def declare(parser: argparse.ArgumentParser) -> None:
    """Add what `repair` takes."""
    add_model(parser, "unit of the numbers (the file's, or a proposed one)")
    parser.add_argument("-o", "--out", type=Path, required=True, metavar="OUT", help=f"one of {', '.join(WRITERS)}")
    parser.add_argument("--fineness", type=float, metavar="MM", help="rebuild the surface at this fineness")
    add_output(parser, "what was done")
    parser.set_defaults(run=_repair)


def _repair(options: argparse.Namespace) -> int:
    if options.out.suffix.lower() not in WRITERS:
        write_file([], options.out.name)  # refuses before any work is done
    file = read_file(read_model(options.model), options.model.name)
    unit, why = unit_of(file, options.unit)
    shape = brought_in([(file, unit, None)])
    output = output_of(options)
    output.note(f"{options.model.name}, {NAMES[unit]} ({why})")
    document: dict[str, Any] = {"schema": REPAIR_SCHEMA, "name": options.model.name, "unit": unit, "repair": None}
    if options.fineness is not None:
        how: RepairStep | None = RepairStep(id="s1", holes="leave", rebuild_mm=options.fineness)
    else:
        how = recommended(shape.mesh, "s1")
    after = shape
    if how is None:
        output.say("nothing to repair: the surface is closed and in order")
    else:
        outcome = how.apply(shape, quiet)
        after = outcome.shape
        output.say(how.label())
        for done in outcome.said:
            output.say(f"  {done}")
        for finding in outcome.findings:
            output.say(f"  {sentence(finding)}")
        both = compared(shape.mesh, after.mesh)
        say_comparison(both, output)
        document |= {
            "repair": how.label(),
            "said": list(outcome.said),
            "findings": [sentence(f) for f in outcome.findings],
            "comparison": both.model_dump(mode="json"),
        }
    options.out.parent.mkdir(parents=True, exist_ok=True)
    options.out.write_bytes(write_file(objects_of(after), options.out.name))
    output.say(f"written to {options.out}")
    output.document(document | {"file": str(options.out), "closed": after.solid is not None})
    return 0 if after.solid is not None else 1


def objects_of(shape: Shape) -> list[NamedMesh]:
    """The bodies of a shape as named meshes."""
    return [NamedMesh(b.name, b.mesh) for b in shape.bodies]


def say_comparison(both: Comparison, output: Output) -> None:
    """A table of before and after."""
    rows = [("", "before", "after")]
    for name in type(both.before).model_fields:
        one, two = getattr(both.before, name), getattr(both.after, name)
        rows.append((name.replace("_mm3", " mm³").replace("_", " "), _cell(one), _cell(two)))
    for row in rows:
        output.say(f"  {row[0]:<16}{row[1]:>16}{row[2]:>16}")
    output.say(f"  largest deviation {mm(both.deviation_mm)}")


def _cell(value: float | bool) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:,.1f}" if isinstance(value, float) else f"{value:,}"

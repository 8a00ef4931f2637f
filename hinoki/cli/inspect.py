"""`hinoki inspect`: what one model file is like."""

import argparse

from hinoki.cli.shared.arguments import add_model, read_model, unit_of
from hinoki.cli.shared.output import add_output, output_of
from hinoki.core.formats.registry import read_file
from hinoki.core.model.health.diagnostics import survey
from hinoki.core.model.read import brought_in
from hinoki.core.model.units import NAMES
from hinoki.present.model import issue_view
from hinoki.present.words import issue_sentence

INSPECT_SCHEMA = "hinoki-inspect/1"


def declare(parser: argparse.ArgumentParser) -> None:
    """Add what `inspect` takes."""
    add_model(parser, "unit of the numbers (the file's, or a proposed one)")
    parser.add_argument("--least-wall", type=float, default=0.9, metavar="MM")
    parser.add_argument("--line", type=float, default=0.45, metavar="MM", help="line width of the printer")
    add_output(parser, "everything, with places,")
    parser.set_defaults(run=_inspect)


def _inspect(options: argparse.Namespace) -> int:
    file = read_file(read_model(options.model), options.model.name)
    unit, why = unit_of(file, options.unit)
    shape = brought_in([(file, unit, None)])
    found = survey(shape.mesh, options.least_wall, options.line)
    low, high = shape.bounds
    size = [round(float(v), 3) for v in high - low]
    closed = shape.solid is not None
    output = output_of(options)
    output.document(
        {
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
    )
    output.say(f"{options.model.name}: {' × '.join(f'{v:.1f}' for v in size)} mm, {shape.volume_mm3 / 1000:.1f} cm³")
    output.say(f"unit: {NAMES[unit]} ({why})")
    output.say(f"{len(shape.bodies)} objects, {len(shape.mesh.faces):,} triangles, {'closed' if closed else 'not closed'}")
    for sentence in file.left_out:
        output.say(f"left out: {sentence}")
    for issue in found.issues:
        output.say(f"{issue.severity.replace('-', ' ')}: {issue_sentence(issue)} [{issue.code}]")
        for place in issue.places[:3]:
            x, y, z = (float(v) for v in place.at)
            output.say(f"    at {x:.1f}, {y:.1f}, {z:.1f}{': ' + place.text if place.text else ''}")
    return 1 if any(i.severity == "must-fix" for i in found.issues) or not closed else 0

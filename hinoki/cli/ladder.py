"""`hinoki ladder`: small test pieces of a joint at stepped clearances."""

import argparse
import json
from pathlib import Path

from pydantic import ValidationError

from hinoki.cli.shared.output import add_output, output_of
from hinoki.core.errors import BadPlan
from hinoki.core.join.joints import Joint
from hinoki.core.join.ladders.fit_ladder import TRIED, clearances, ladder, least_for
from hinoki.core.join.ladders.hole_ladder import Hole
from hinoki.core.join.sizing.recommended_sizes import KINDS
from hinoki.core.workshop.materials import materials
from hinoki.core.workshop.printers import presets

ANY_FACE = {"parting": "p1", "member": 0, "a": "p1-", "b": "p1+"}


def declare(parser: argparse.ArgumentParser) -> None:
    """Add what `ladder` takes."""
    parser.add_argument("kind", choices=[*(k for k in KINDS if k != "butt"), "hole"])
    parser.add_argument(
        "--param", action="append", default=[], metavar="NAME=VALUE", help="a measure of the joint, such as diameter_mm=6"
    )
    parser.add_argument("--from", dest="low", type=float, default=0.05, metavar="MM", help="smallest clearance, a side (0.05)")
    parser.add_argument("--to", dest="high", type=float, default=0.3, metavar="MM", help="largest clearance, a side (0.3)")
    parser.add_argument("--rungs", type=int, default=6, metavar="N", help="how many, 3 to 9 (6)")
    parser.add_argument("--least-wall", type=float, default=1.6, metavar="MM", help="wall around the joint (1.6)")
    parser.add_argument("--out", type=Path, required=True, metavar="DIR")
    add_output(parser, "what was made")
    parser.set_defaults(run=_run)


def _run(options: argparse.Namespace) -> int:
    joint = _joint(options.kind, options.param)
    printer, material = presets()[1], materials()[0]
    steps = clearances(options.low, options.high, options.rungs, least_for(joint))
    made = ladder(joint, steps, options.least_wall, printer.line_mm, float(printer.room_mm[0]))
    options.out.mkdir(parents=True, exist_ok=True)
    (options.out / "ladder.3mf").write_bytes(made.file())
    (options.out / "ladder-stl.zip").write_bytes(made.stl_files())
    report = {
        "schema": "hinoki-ladder/1",
        "joint": joint.label(),
        "clearances_mm": list(steps),
        "pieces": [{"name": p.name, "rungs": list(p.rungs)} for p in made.pieces],
        "mass_g": round(made.mass_g(material), 1),
        "minutes": round(made.minutes(printer)),
    }
    (options.out / "ladder.json").write_text(json.dumps(report, indent=1, ensure_ascii=False))
    size = f"{len(steps)} rungs, {len(made.pieces)} pieces, about {report['mass_g']} g, {report['minutes']} min"
    output_of(options).say(f"{joint.label()}: {size}")
    output_of(options).document(report)
    return 0


def _joint(kind: str, given: list[str]) -> Joint | Hole:
    body: dict[str, object] = {"kind": kind} if kind == "hole" else {"kind": kind, "id": "j1", "face": ANY_FACE}
    for item in given:
        name, equals, value = item.partition("=")
        if not equals or not name:
            raise BadPlan(f"A measure is given as NAME=VALUE, such as diameter_mm=6; this says {item[:40]!r}.", "--param")
        body[name] = value
    try:
        joint = TRIED.validate_python(body)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"][1:]) or kind
        raise BadPlan(f"This {kind} is not possible: {where}: {first['msg']}.", "--param") from error
    wrong = sorted(set(body) - set(type(joint).model_fields))
    if wrong:
        raise BadPlan(f"A {kind} has no measure {wrong[0]!r}.", "--param")
    return joint

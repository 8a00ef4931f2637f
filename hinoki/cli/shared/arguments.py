"""What commands about one model file are given: the file, a plan, its printer, unit, scale and direction."""

import argparse
import hashlib
from pathlib import Path

from hinoki.cli.shared.output import Output, output_of
from hinoki.core.errors import BadPlan, UnreadableModel
from hinoki.core.formats.base import ModelFile
from hinoki.core.formats.registry import read_file
from hinoki.core.geometry.mesh import MM_PER_UNIT, Unit
from hinoki.core.model.steps import HollowStep, PrepareStep, ScaleStep, StandStep
from hinoki.core.model.units import UnitChoice, propose_unit
from hinoki.core.plan.contents import ModelUse
from hinoki.core.plan.plan import Plan, given_plan
from hinoki.core.workshop.printers import Printer

UP: dict[str, tuple[float, float, float]] = {
    "x": (-1.0, 0.0, 0.0),
    "y": (0.0, -1.0, 0.0),
    "z": (0.0, 0.0, -1.0),
    "-x": (1.0, 0.0, 0.0),
    "-y": (0.0, 1.0, 0.0),
    "-z": (0.0, 0.0, 1.0),
}
"""what points down when this way is up"""
LARGEST_BYTES = 500_000_000


def add_model(parser: argparse.ArgumentParser, unit: str = "unit of the model's numbers (mm, or the plan's)") -> None:
    """Add the model file and the unit of its numbers."""
    parser.add_argument("model", type=Path, metavar="MODEL")
    parser.add_argument("--unit", choices=sorted(MM_PER_UNIT), help=unit)


def add_bed(parser: argparse.ArgumentParser, usual: tuple[float, float, float] | None = None) -> None:
    """Add the printer's room."""
    text = "room of the printer in mm, such as 220x220x250"
    parser.add_argument("--bed", type=_bed, default=usual, metavar="XxYxZ", help=text)


def add_stance(parser: argparse.ArgumentParser) -> None:
    """Add the scale and which way is up."""
    parser.add_argument("--scale", type=_scale, metavar="FACTOR", help="scale by a factor such as 0.5 or 1:48")
    parser.add_argument("--up", choices=sorted(UP), help="which way is up in the file (z)")


def _bed(text: str) -> tuple[float, float, float]:
    try:
        x, y, z = (float(part) for part in text.lower().replace("×", "x").split("x"))
    except ValueError:
        raise argparse.ArgumentTypeError(f"{text!r} is not three lengths such as 220x220x250") from None
    if not all(0 < side <= 5000 for side in (x, y, z)):
        raise argparse.ArgumentTypeError(f"every side of the bed must be over 0 and at most 5000 mm, not {text}")
    return x, y, z


def _scale(text: str) -> float:
    try:
        factor = _parse_scale(text)
    except (ValueError, ZeroDivisionError):
        raise argparse.ArgumentTypeError(f"{text!r} is not a factor such as 0.5 or 1:48") from None
    if not 1e-4 <= factor <= 1e4:
        raise argparse.ArgumentTypeError(f"the factor must be between 0.0001 and 10000, not {text}")
    return factor


def _parse_scale(text: str) -> float:
    """A factor from “0.5”, “1:48” or “1/48”. Raises ValueError."""
    for sign in (":", "/"):
        if sign in text:
            one, two = text.split(sign)
            return float(one) / float(two)
    return float(text)


def read_model(path: Path) -> bytes:
    """The bytes of a model file. Raises UnreadableModel for a folder and for what is too large."""
    if path.is_dir():
        raise UnreadableModel(f"{path} is a folder; name a model file.", "MODEL")
    if path.stat().st_size > LARGEST_BYTES:
        raise UnreadableModel(f"{path.name} is larger than {LARGEST_BYTES // 1_000_000} MB.", "MODEL")
    return path.read_bytes()


def unit_of(file: ModelFile, wanted: Unit | None) -> tuple[Unit, str]:
    """The unit to read a file in, and who says so."""
    if wanted is not None:
        return wanted, "as asked"
    if file.unit is not None:
        return file.unit, "the file says so"
    low, high = file.mesh.bounds
    choice: UnitChoice = propose_unit(high - low)
    return choice.unit, choice.reason


def plan_for(options: argparse.Namespace, data: bytes) -> Plan:
    """The plan to follow, with what the command line changes of it; without one, a plan for the bed named.

    Sets `options.other_model`: whether the plan was made for another file.
    """
    source = hashlib.sha256(data).hexdigest()
    plan, options.other_model = Plan(), False
    if options.plan:
        plan = given_plan(options.plan.read_bytes())
        options.other_model = plan.model is not None and plan.model.source != source
        if options.other_model:
            output_of(options).note("note: the plan was made for another model file; it is tried on this one")
    elif options.bed is None:
        raise BadPlan("--bed is needed when there is no plan, such as --bed 220x220x250.", "--bed")
    file_name = options.model.name[-200:]
    unit: Unit = options.unit or (plan.model.unit if plan.model else None) or _unit(data, file_name, output_of(options))
    objects = plan.model.objects if plan.model else None
    changes: dict[str, object] = {"model": ModelUse(source=source, file_name=file_name, unit=unit, objects=objects)}
    steps = _steps(options, len(plan.prepare))
    if steps:
        changes["prepare"] = (*plan.prepare, *steps)
    if options.bed:
        x, y, z = options.bed
        changes["printer"] = Printer(bed_mm=(x, y), height_mm=z)
    if options.least_wall is not None:
        if not 0.2 <= options.least_wall <= 50:
            raise BadPlan("--least-wall must be between 0.2 and 50 mm.", "--least-wall")
        changes["least_wall_mm"] = options.least_wall
    return plan.model_copy(update=changes)


def _unit(data: bytes, file_name: str, output: Output) -> Unit:
    """The unit the file says, or millimetres; what else it may be is said on stderr."""
    file = read_file(data, file_name)
    if file.unit is not None:
        return file.unit
    low, high = file.mesh.bounds
    choice = propose_unit(high - low)
    if choice.doubtful:
        output.note(f"note: read in millimetres; {choice.reason} Say so with --unit.")
    return "mm"


def _steps(options: argparse.Namespace, there: int) -> list[PrepareStep]:
    """Prepare steps asked for on the command line."""
    steps: list[PrepareStep] = []
    if options.up and options.up != "z":
        steps.append(StandStep(id=f"s{there + 1}", down=UP[options.up]))
    if options.scale:
        steps.append(ScaleStep(id=f"s{there + len(steps) + 1}", factor=(options.scale,) * 3))
    if options.hollow is not None:
        if not 0.3 <= options.hollow <= 100:
            raise BadPlan("--hollow must be a wall between 0.3 and 100 mm.", "--hollow")
        steps.append(HollowStep(id=f"s{there + len(steps) + 1}", wall_mm=options.hollow))
    return steps

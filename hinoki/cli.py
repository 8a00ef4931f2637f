"""The command line: make, serve, demo, backup."""

import argparse
import hashlib
import shutil
import sys
import time
from collections import Counter
from collections.abc import Callable, Sequence
from pathlib import Path

from hinoki import __version__
from hinoki.cli_assemble import add_assemble, steps_told
from hinoki.cli_divide import add_propose, add_wishes, wishes_of
from hinoki.cli_ladder import add_ladder
from hinoki.cli_model import add_commands, parse_scale
from hinoki.cli_orient import add_orient
from hinoki.core.assembling.whole import Assembly, assembly_of
from hinoki.core.batching import Batches
from hinoki.core.cache import Cache
from hinoki.core.engine import Built, build
from hinoki.core.errors import BadPlan, HinokiError, UnreadableModel
from hinoki.core.export import ExportWish, Outgoing, export_files
from hinoki.core.formats.registry import read_file
from hinoki.core.joints.suggest import KINDS
from hinoki.core.mesh import MM_PER_UNIT, Unit
from hinoki.core.orienting.pieces import OrientWish, best_rests, with_rests
from hinoki.core.orienting.weigh import PRESETS
from hinoki.core.plan import ModelUse, Plan, read_plan
from hinoki.core.prepare import HollowStep, PrepareStep, ScaleStep, StandStep
from hinoki.core.printers import Printer
from hinoki.core.printing import printing_of
from hinoki.core.progress import Tell, part_of
from hinoki.core.propose import divided
from hinoki.core.suit import SuitWish, settled, suggested
from hinoki.core.units import propose_unit

UNMATCHED = ("parting-misses", "parting-twice", "joint-unplaced", "joint-no-room", "piece-gone", "mark-lost")
"""findings that say what of a plan did not match another model"""
UNUSABLE_FINDINGS = ("parting-misses", "parting-twice")
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


def main(arguments: Sequence[str] | None = None) -> int:
    """Run a command; gives the exit code: 0 good, 1 something must be fixed, 2 unusable input."""
    options = _parser().parse_args(arguments)
    try:
        code: int = options.run(options)
    except HinokiError as error:
        where = f" ({error.where})" if error.where else ""
        print(f"hinoki: {error.message}{where}", file=sys.stderr)
        return 2
    except OSError as error:
        print(f"hinoki: {error.strerror}: {error.filename}", file=sys.stderr)
        return 2
    return code


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="hinoki", description="Divide, join and lay out models for printing.")
    parser.add_argument("--version", action="version", version=f"hinoki {__version__}")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    make = commands.add_parser("make", help="divide a model into joined, printable pieces")
    make.add_argument("model", type=Path, metavar="MODEL")
    make.add_argument("--bed", type=_bed, metavar="XxYxZ", help="room of the printer in mm, such as 220x220x250")
    make.add_argument("--unit", choices=sorted(MM_PER_UNIT), help="unit of the model's numbers (mm, or the plan's)")
    make.add_argument("--plan", type=Path, help="a plan to follow; without one the first proposal is taken")
    make.add_argument(
        "--joint",
        choices=["auto", *KINDS, "none"],
        default="auto",
        help="joints where the plan has none; auto: as suits",
    )
    make.add_argument("--fit", choices=["press", "snug", "sliding", "loose"], help="the usual one of each kind unless given")
    make.add_argument("--marks", action="store_true", help="letters on the mating faces, so that pieces find their neighbours")
    make.add_argument("--one-way", action="store_true", help="pegs so that pieces cannot be put together turned")
    make.add_argument("--least-wall", type=float, metavar="MM", help="least wall around a joint (1.6, or the plan's)")
    make.add_argument("--pieces", choices=["stl", "obj", "ply"], default="stl", help="format of the pieces' own files")
    make.add_argument(
        "--lean", action="store_true", help="without the model as GLB, the drawings of mating faces and assembly.pdf"
    )
    make.add_argument("--lay", choices=list(PRESETS), default="least support", help="what counts when pieces are oriented")
    make.add_argument("--out", type=Path, required=True, metavar="DIR")
    add_wishes(make)
    make.set_defaults(run=_make)

    make.add_argument("--scale", type=_scale, metavar="FACTOR", help="scale by a factor such as 0.5 or 1:48")
    make.add_argument("--up", choices=sorted(UP), help="which way is up in the file (z)")
    make.add_argument("--hollow", type=float, metavar="MM", help="take out the inside and leave a wall")
    add_commands(commands, _read)
    add_propose(commands, _bed, _scale, UP, _given)
    add_ladder(commands)
    add_orient(commands, _bed, _given)
    add_assemble(commands)

    for name, text in (("serve", "start the application"), ("demo", "start the application with the demo project")):
        serve = commands.add_parser(name, help=text)
        serve.add_argument("--data", type=Path, default=None, help="folder for the database and the cache")
        serve.add_argument("--host", default="127.0.0.1")
        serve.add_argument("--port", type=int, default=8462)
        serve.add_argument("--access-phrase", default=None, help="needed when --host is not this machine")
        serve.set_defaults(run=_serve, demo=name == "demo", print_speed=None)
        if name == "demo":
            serve.add_argument(
                "--print-speed", type=_speed, default=1200.0, help="how fast the simulated printers print; 0: none"
            )

    backup = commands.add_parser("backup", help="copy the database into one file, safe while running")
    backup.add_argument("file", type=Path)
    backup.add_argument("--data", type=Path, default=None)
    backup.set_defaults(run=_backup)

    restore = commands.add_parser("restore", help="take everything back from a backup; what is there now is replaced")
    restore.add_argument("file", type=Path)
    restore.add_argument("--data", type=Path, default=None)
    restore.set_defaults(run=_restore)
    return parser


def _speed(text: str) -> float:
    speed = float(text)
    if not 0 <= speed <= 1e6:
        raise argparse.ArgumentTypeError("between 0 (no simulated printers) and 1000000")
    return speed


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
        factor = parse_scale(text)
    except (ValueError, ZeroDivisionError):
        raise argparse.ArgumentTypeError(f"{text!r} is not a factor such as 0.5 or 1:48") from None
    if not 1e-4 <= factor <= 1e4:
        raise argparse.ArgumentTypeError(f"the factor must be between 0.0001 and 10000, not {text}")
    return factor


def _make(options: argparse.Namespace) -> int:
    begun = time.perf_counter()
    data = _read(options.model)
    plan = _plan_for(options, data)
    if options.marks:
        plan = plan.model_copy(update={"mating_marks": plan.mating_marks.model_copy(update={"on": True})})
    cache, bar = Cache(), _Bar()
    building = bar.within(0.0, 0.5)
    seconds: dict[str, float] = {}
    joints = None if options.joint == "none" else SuitWish(kind=options.joint, fit=options.fit, one_way=options.one_way)
    try:
        if options.plan:
            built = build(plan, lambda _: data, cache, building, for_screen=False, seconds=seconds)
            unusable = [f for f in built.view.findings if f.code in UNUSABLE_FINDINGS]
            if unusable:
                raise BadPlan(unusable[0].message, unusable[0].parting)
            if not plan.joints and joints is not None:
                plan = suggested(built, plan, joints.kind, joints.fit, seconds, joints.one_way)
                plan = settled(plan, build(plan, lambda _: data, cache, building, for_screen=False, seconds=seconds))
                built = build(plan, lambda _: data, cache, building, for_screen=False, seconds=seconds)
        else:
            source: Callable[[str], bytes] = lambda _: data  # noqa: E731
            wishes = wishes_of(options)
            plan, built, _ = divided(plan, source, cache, joints, wishes, building, seconds)
        wish = OrientWish(preset=options.lay)
        plan = with_rests(plan, best_rests(plan, built, wish, cache, bar.within(0.5, 0.65), also_chosen=False))
        built = build(plan, lambda _: data, cache, for_screen=False, seconds=seconds)
        printing = printing_of(plan, built, cache, tell=bar.within(0.65, 0.8))
        assembly = assembly_of(plan, built, cache, options.model.stem, None, not options.lean, tell=bar.within(0.8, 0.95))
        also = ExportWish(pieces=options.pieces, model=not options.lean, faces=not options.lean)
        outgoing = Outgoing(also, printing, assembly, options.model.stem)
        for path, content in export_files(plan, built, bar.within(0.95, 1.0), seconds, begun, outgoing):
            target = options.out / path
            target.parent.mkdir(parents=True, exist_ok=True)
            target.write_bytes(content)
    finally:
        bar.end()
    _table(built, printing.batches, assembly, options.out)
    if options.other_model:
        told = [f.message for f in built.view.findings if f.code in UNMATCHED]
        for message in told or ["everything in it matched"]:
            print(f"of the plan: {message}")
    findings = [*built.view.findings, *assembly.view.findings]
    return 1 if any(f.severity == "must-fix" for f in findings) else 0


def _read(path: Path) -> bytes:
    if path.is_dir():
        raise UnreadableModel(f"{path} is a folder; name a model file.", "MODEL")
    if path.stat().st_size > LARGEST_BYTES:
        raise UnreadableModel(f"{path.name} is larger than {LARGEST_BYTES // 1_000_000} MB.", "MODEL")
    return path.read_bytes()


def _plan_for(options: argparse.Namespace, data: bytes) -> Plan:
    source = hashlib.sha256(data).hexdigest()
    plan, options.other_model = Plan(), False
    if options.plan:
        plan = read_plan(options.plan.read_bytes())
        options.other_model = plan.model is not None and plan.model.source != source
        if options.other_model:
            print("note: the plan was made for another model file; it is tried on this one", file=sys.stderr)
    elif options.bed is None:
        raise BadPlan("--bed is needed when there is no plan, such as --bed 220x220x250.", "--bed")
    file_name = options.model.name[-200:]
    unit: Unit = options.unit or (plan.model.unit if plan.model else None) or _unit(data, file_name)
    changes: dict[str, object] = {"model": ModelUse(source=source, file_name=file_name, unit=unit)}
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


def _given(options: argparse.Namespace) -> tuple[Plan, bytes, "_Bar"]:
    """The plan for a model named on the command line, the model, and a progress bar."""
    data = _read(options.model)
    return _plan_for(options, data), data, _Bar()


def _unit(data: bytes, file_name: str) -> Unit:
    """The unit the file says, or millimetres; what else it may be is said on stderr."""
    file = read_file(data, file_name)
    if file.unit is not None:
        return file.unit
    low, high = file.mesh.bounds
    choice = propose_unit(high - low)
    if choice.doubtful:
        print(f"note: read in millimetres; {choice.reason} Say so with --unit.", file=sys.stderr)
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


def _table(built: Built, laid: Batches, assembly: Assembly, out: Path) -> None:
    view = built.view
    rows = [("", "piece", "size mm", "lies on", "fits")]
    for p in view.pieces:
        rows.append((str(p.number), p.name, " × ".join(f"{v:.1f}" for v in p.size_mm), p.rest.what, "yes" if p.fits else "NO"))
    widths = [max(len(row[k]) for row in rows) for k in range(5)]
    for row in rows:
        print("  ".join(cell.ljust(w) for cell, w in zip(row, widths, strict=True)).rstrip())
    kinds = Counter(j.kind for j in view.joints)
    joints = ", ".join(f"{kind} on {many}" for kind, many in sorted(kinds.items())) or "no joints"
    print(f"\n{len(view.pieces)} pieces, {len(view.faces)} mating faces ({joints}), written to {out}")
    for batch in laid.each:
        took = batch.took
        hours = f"{int(took.minutes // 60)} h {int(took.minutes % 60):02d}"
        what = ", ".join(str(n) for thing, _ in batch.things for n in thing.thing.numbers) or "loose parts"
        print(f"batch {batch.number} on {batch.printer.name}: {what}; about {hours}, {took.mass_g:.0f} g")
    print(f"assembly: {steps_told(assembly.view)}")
    for finding in [*view.findings, *assembly.view.findings]:
        if finding.severity != "note":
            print(f"{finding.severity.replace('-', ' ')}: {finding.message}")


def _serve(options: argparse.Namespace) -> int:
    from hinoki.api.server import serve

    return serve(options.data, options.host, options.port, options.access_phrase, options.demo, options.print_speed or None)


def _backup(options: argparse.Namespace) -> int:
    from hinoki.api.server import data_folder
    from hinoki.store.database import backup

    backup(data_folder(options.data, demo=False) / "hinoki.sqlite", options.file)
    print(f"Backed up to {options.file} ({options.file.stat().st_size / 1e6:.1f} MB)")
    return 0


def _restore(options: argparse.Namespace) -> int:
    from contextlib import closing

    from hinoki.api.server import data_folder
    from hinoki.store.database import Database, usable_backup

    usable_backup(options.file)
    folder = data_folder(options.data, demo=False)
    with closing(Database(folder / "hinoki.sqlite")) as database:
        database.replace(options.file)
    for name in ("builds", "exports"):
        shutil.rmtree(folder / "cache" / name, ignore_errors=True)
    print(f"Restored from {options.file} into {folder}")
    return 0


class _Bar:
    """A progress bar on stderr: redrawn on a terminal, one line for each tenth elsewhere."""

    def __init__(self) -> None:
        self._terminal = sys.stderr.isatty()
        self._last = -1

    def show(self, fraction: float, phrase: str) -> None:
        tenth = int(fraction * 10)
        if self._terminal:
            width = max(10, min(30, shutil.get_terminal_size().columns - 50))
            full = int(fraction * width)
            print(f"\r[{'#' * full}{'.' * (width - full)}] {fraction:4.0%} {phrase[:40]:<40}", end="", file=sys.stderr)
        elif tenth != self._last:
            print(f"{fraction:4.0%} {phrase}", file=sys.stderr)
        self._last = tenth

    def within(self, low: float, high: float) -> Tell:
        """The same bar for a part of the whole."""
        return part_of(self.show, low, high)

    def end(self) -> None:
        if self._terminal:
            print("\r" + " " * 78 + "\r", end="", file=sys.stderr)


if __name__ == "__main__":
    sys.exit(main())

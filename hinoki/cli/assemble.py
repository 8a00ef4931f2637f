"""`hinoki assemble`: plan the assembly of meshes placed as assembled."""

import argparse
from pathlib import Path

import orjson

from hinoki.cli.shared.arguments import LARGEST_BYTES
from hinoki.cli.shared.output import Output, add_output, output_of
from hinoki.core.assemble.from_meshes import assembled_meshes
from hinoki.core.cache import Cache
from hinoki.core.errors import HinokiError, OpenSurface, UnreadableModel
from hinoki.core.formats.registry import read_file
from hinoki.core.geometry.mesh import MM_PER_UNIT, Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.assembly_settings import Assembling
from hinoki.core.plan.plan import Plan
from hinoki.present.assemble.view import assembly_view
from hinoki.present.report import assembly_report
from hinoki.present.schemas.assemble import AssemblyView
from hinoki.present.sheets.sheet import sheet_of
from hinoki.present.sheets.sheet_pdf import write_pdf

ASSEMBLE_SCHEMA = "hinoki-assemble/1"
ENDINGS = (".stl", ".obj", ".ply", ".3mf", ".glb", ".gltf", ".step", ".stp")


def declare(parser: argparse.ArgumentParser) -> None:
    """Add what `assemble` takes."""
    parser.add_argument("folder", type=Path, metavar="DIR_OF_MESHES", help="one closed mesh for each piece")
    parser.add_argument("--unit", choices=sorted(MM_PER_UNIT), default="mm", help="unit of the meshes' numbers (mm)")
    parser.add_argument("--seconds", type=float, default=120.0, metavar="S", help="the most time to look for an order (120)")
    parser.add_argument("--paper", choices=["A4", "Letter"], default="A4")
    add_output(parser, "everything")
    parser.add_argument("--out", type=Path, metavar="DIR", help="write assembly.pdf and assembly.json there")
    parser.set_defaults(run=_assemble)


def steps_told(view: AssemblyView) -> str:
    """How the order is proved, in a line."""
    counts: dict[str, int] = {}
    for step in view.steps:
        counts[step.proof] = counts.get(step.proof, 0) + 1
    proofs = ", ".join(f"{many} {proof}" for proof, many in counts.items())
    return f"{len(view.steps)} steps ({proofs})" if view.steps else "nothing to put together"


def _assemble(options: argparse.Namespace) -> int:
    bodies = _bodies(options.folder, MM_PER_UNIT[options.unit])
    plan = Plan(assembling=Assembling(paper=options.paper))
    cache = Cache()
    out, built = assembled_meshes(bodies, plan, cache, max(0.0, options.seconds))
    view, _ = assembly_view(plan, built, out, cache)
    told = {
        "schema": ASSEMBLE_SCHEMA,
        "pieces": [{"number": u.numbers[0], "name": u.name, "mass_g": u.mass_g} for u in view.units],
    }
    told |= assembly_report(view)
    if options.out:
        options.out.mkdir(parents=True, exist_ok=True)
        sheet = sheet_of(plan, built, out, view, options.folder.resolve().name, cache)
        (options.out / "assembly.pdf").write_bytes(write_pdf(sheet))
        (options.out / "assembly.json").write_bytes(orjson.dumps(told, option=orjson.OPT_INDENT_2))
    output_of(options).document(told)
    _say(view, output_of(options))
    return 1 if any(f.severity == "must-fix" for f in view.findings) or view.cut_short else 0


def _bodies(folder: Path, factor: float) -> list[tuple[str, Solid]]:
    """The meshes of a folder by their files' names. Raises UnreadableModel and OpenSurface naming the file."""
    if not folder.is_dir():
        raise UnreadableModel(f"{folder} is not a folder; name one that holds a mesh for each piece.", "DIR_OF_MESHES")
    paths = sorted(p for p in folder.iterdir() if p.suffix.lower() in ENDINGS and p.is_file())
    if not paths:
        raise UnreadableModel(
            f"{folder} holds no mesh ({', '.join(ENDINGS)}); put one file for each piece in it.", "DIR_OF_MESHES"
        )
    names: dict[str, int] = {}
    found = []
    for path in paths:
        if path.stat().st_size > LARGEST_BYTES:
            raise UnreadableModel(f"{path.name} is larger than {LARGEST_BYTES // 1_000_000} MB.", path.name)
        try:
            mesh = read_file(path.read_bytes(), path.name).mesh
        except HinokiError as error:
            raise UnreadableModel(f"{path.name}: {error.message}", error.where) from error
        scaled = Mesh(mesh.vertices * factor, mesh.faces) if factor != 1.0 else mesh
        try:
            solid = Solid.from_mesh(scaled)
        except OpenSurface as error:
            text = f"{path.name}: {error.message} Make it right first, such as with hinoki repair."
            raise OpenSurface(text, path.name) from error
        names[path.stem] = names.get(path.stem, 0) + 1
        found.append((path.stem if names[path.stem] == 1 else path.name, solid))
    return found


def _say(view: AssemblyView, output: Output) -> None:
    for step in view.steps:
        mark = "" if step.proof == "proved" else f" ({step.proof})"
        group = f" [{step.builds}]" if step.builds else ""
        output.say(f"{step.step:3d}. {step.title}: {step.how}{group}{mark}")
    for finding in view.findings:
        output.say(f"{finding.severity.replace('-', ' ')}: {finding.message}")

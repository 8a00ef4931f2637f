"""`hinoki make`: divide a model into joined, printable pieces."""

import argparse
import hashlib
import time
from collections import Counter
from pathlib import Path

import orjson

from hinoki.cli.assemble import steps_told
from hinoki.cli.propose import add_wishes, wishes_of
from hinoki.cli.shared.arguments import add_bed, add_model, add_stance, plan_for, read_model
from hinoki.cli.shared.output import Output, add_output, output_of
from hinoki.cli.shared.parts_given import Given, PartGiven, add_parts, parts_given, with_parts
from hinoki.cli.shared.progress_bar import ProgressBar
from hinoki.core.batch.batches import Batches
from hinoki.core.batch.print_plan import printing_of
from hinoki.core.build import Build, build, build_all
from hinoki.core.cache import Cache
from hinoki.core.check.check import Checked, check, check_all
from hinoki.core.errors import BadPlan
from hinoki.core.export.archive import ExportWish, export_files
from hinoki.core.join.sizing.recommended_sizes import KINDS
from hinoki.core.orient.pieces import OrientWish
from hinoki.core.orient.scoring import PRESETS
from hinoki.core.project import project_pieces
from hinoki.core.propose.recommend_joints import SuitWish
from hinoki.core.whole_job.planned import WholeJobWish, all_planned
from hinoki.present.assemble.assembly import Assembly, assembly_of_all
from hinoki.present.export import outgoing_of
from hinoki.present.findings import finding_views
from hinoki.present.words import sentence

UNMATCHED = ("parting-misses", "parting-twice", "joint-unplaced", "joint-no-room", "piece-gone", "mark-lost")
"""findings that say what of a plan did not match another model"""
UNUSABLE_FINDINGS = ("parting-misses", "parting-twice")


def declare(parser: argparse.ArgumentParser) -> None:
    """Add what `make` takes."""
    add_model(parser)
    add_bed(parser)
    add_parts(parser)
    parser.add_argument("--plan", type=Path, help="a plan to follow; without one the first proposal is taken")
    parser.add_argument(
        "--joint",
        choices=["auto", *KINDS, "none"],
        default="auto",
        help="joints where the plan has none; auto: as suits",
    )
    parser.add_argument("--fit", choices=["press", "snug", "sliding", "loose"], help="the usual one of each kind unless given")
    parser.add_argument(
        "--marks", action="store_true", help="letters on the mating faces, so that pieces find their neighbours"
    )
    parser.add_argument("--one-way", action="store_true", help="pegs so that pieces cannot be put together turned")
    parser.add_argument("--least-wall", type=float, metavar="MM", help="least wall around a joint (1.6, or the plan's)")
    parser.add_argument("--pieces", choices=["stl", "obj", "ply"], default="stl", help="format of the pieces' own files")
    parser.add_argument(
        "--lean", action="store_true", help="without the model as GLB, the drawings of mating faces and assembly.pdf"
    )
    parser.add_argument("--lay", choices=list(PRESETS), default="least support", help="what counts when pieces are oriented")
    parser.add_argument("--out", type=Path, required=True, metavar="DIR")
    add_wishes(parser)
    add_stance(parser)
    parser.add_argument("--repair", action="store_true", help="make the surface right first, by the mildest means that do")
    parser.add_argument("--hollow", type=float, metavar="MM", help="take out the inside and leave a wall")
    add_output(parser, "the report")
    parser.set_defaults(run=_make)


def _make(options: argparse.Namespace) -> int:
    begun = time.perf_counter()
    data = read_model(options.model)
    given = parts_given(options)
    plan = plan_for(options, data)
    files = {hashlib.sha256(data).hexdigest(): data} | {one.source: one.data for one in given}
    plan = with_parts(plan, [*given, Given(PartGiven(file=options.model.name), options.model, data)])
    if options.marks:
        plan = plan.model_copy(update={"mating_marks": plan.mating_marks.model_copy(update={"on": True})})
    cache, bar, output = Cache(), ProgressBar(options.quiet), output_of(options)
    seconds: dict[str, float] = {}
    joints = None if options.joint == "none" else SuitWish(kind=options.joint, fit=options.fit, one_way=options.one_way)
    wish = WholeJobWish(
        repair=options.repair,
        wishes=wishes_of(options),
        joints=joints,
        lay=OrientWish(preset=options.lay),
        divide=not options.plan,
    )
    try:
        if options.plan:
            found = check(build(plan, files.__getitem__, cache, bar.within(0.0, 0.1), seconds=seconds), cache).findings
            unusable = [f for f in found if f.code in UNUSABLE_FINDINGS]
            if unusable:
                raise BadPlan(sentence(unusable[0]), unusable[0].parting)
        made, plan = all_planned(plan, files.__getitem__, cache, wish, bar.within(0.1, 0.65), seconds)
        built = build_all(plan, files.__getitem__, cache)
        printing = printing_of(plan, built, cache, tell=bar.within(0.65, 0.8))
        assembly = assembly_of_all(plan, built, cache, options.model.stem, None, not options.lean, tell=bar.within(0.8, 0.95))
        every = check_all(built, cache)
        also = ExportWish(pieces=options.pieces, model=not options.lean, faces=not options.lean)
        outgoing = outgoing_of(built, every, also, printing, assembly, options.model.stem)
        for path, content in export_files(plan, built, bar.within(0.95, 1.0), seconds, begun, outgoing):
            target = options.out / path
            target.parent.mkdir(parents=True, exist_ok=True)
            target.write_bytes(content)
            if path == "report.json":
                output.document(orjson.loads(content))
    finally:
        bar.end()
    if options.repair:
        for each in made.values():
            output.say(each.repaired.label() if each.repaired else "nothing to repair: the surface is closed and in order")
    for one in (one for each in made.values() for one in each.passed_over):
        output.say(f"Proposal {one.number} ({one.title}) was passed over: {sentence(one.against)}")
    checked = Checked(tuple(f for one in every.values() for f in one.findings))
    _table(built, checked, printing.batches, assembly, options.out, output)
    if options.other_model:
        told = [sentence(f) for f in checked.findings if f.code in UNMATCHED]
        for message in told or ["everything in it matched"]:
            output.say(f"of the plan: {message}")
    return 1 if checked.must_fix or any(f.severity == "must-fix" for f in assembly.view.findings) else 0


def _table(built: Build, checked: Checked, laid: Batches, assembly: Assembly, out: Path, output: Output) -> None:
    rows = [("", "piece", "size mm", "lies on", "fits")]
    for one in project_pieces(built):
        p, often = one.piece, f"{one.count} × " if one.count > 1 else ""
        size = " × ".join(f"{v:.1f}" for v in p.size_mm)
        rows.append((str(p.number), often + one.name, size, p.rest.what, "yes" if p.fits else "NO"))
    widths = [max(len(row[k]) for row in rows) for k in range(5)]
    for row in rows:
        output.say("  ".join(cell.ljust(w) for cell, w in zip(row, widths, strict=True)).rstrip())
    kinds = Counter(placed_joint.joint.kind for part in built.all_parts for placed_joint in part.placed)
    joints = ", ".join(f"{kind} on {many}" for kind, many in sorted(kinds.items())) or "no joints"
    pieces, faces = (sum(counts) for counts in zip(*((len(p.pieces), len(p.faces)) for p in built.all_parts), strict=True))
    output.say(f"\n{pieces} pieces, {faces} mating faces ({joints}), written to {out}")
    for batch in laid.each:
        took = batch.took
        hours = f"{int(took.minutes // 60)} h {int(took.minutes % 60):02d}"
        what = ", ".join(str(n) for thing, _ in batch.things for n in thing.thing.numbers) or "loose parts"
        output.say(f"batch {batch.number} on {batch.printer.name}: {what}; about {hours}, {took.mass_g:.0f} g")
    output.say(f"assembly: {steps_told(assembly.view)}")
    for finding in (*finding_views(checked.findings, built.plan), *assembly.view.findings):
        if finding.severity != "note":
            output.say(f"{finding.severity.replace('-', ' ')}: {finding.message}")

"""`hinoki propose`: divisions of a model, and what is wished of one."""

import argparse
from pathlib import Path

from hinoki.cli.shared.answered import answered
from hinoki.cli.shared.arguments import add_bed, add_model, add_stance, plan_for, read_model
from hinoki.cli.shared.folder_workspace import FolderWorkspace
from hinoki.cli.shared.output import Output, add_output, output_of
from hinoki.cli.shared.progress_bar import ProgressBar
from hinoki.core.plan.plan import Plan
from hinoki.core.propose import Figures, Wishes, taken
from hinoki.core.propose.search.beam_search import WEIGHTS
from hinoki.operations.registry import find
from hinoki.present.proposals import ProposalsView

PROPOSALS_SCHEMA = "hinoki-proposals/1"


def declare(parser: argparse.ArgumentParser) -> None:
    """Add what `propose` takes."""
    add_model(parser)
    add_bed(parser)
    parser.add_argument("--plan", type=Path, help="a plan whose printer, steps and marks are used")
    add_stance(parser)
    add_output(parser, "the proposals, their figures and their partings as plans,")
    add_wishes(parser)
    parser.set_defaults(run=_propose, least_wall=None, hollow=None)


def add_wishes(parser: argparse.ArgumentParser) -> None:
    """Add what can be wished of a division."""
    parser.add_argument("--max-pieces", type=_count, metavar="N", help="greatest number of pieces wished")
    parser.add_argument("--prefer", choices=sorted(WEIGHTS), default="fewest", help="what counts most (few pieces)")


def wishes_of(options: argparse.Namespace) -> Wishes:
    """The wishes named on the command line."""
    return Wishes(most_pieces=options.max_pieces, prefer=options.prefer)


def _propose(options: argparse.Namespace) -> int:
    data = read_model(options.model)
    plan, bar, output = plan_for(options, data), ProgressBar(options.quiet), output_of(options)
    wishes = wishes_of(options)
    own, workspace = find("propose"), FolderWorkspace(data, None)
    try:
        found = answered(own, wishes, plan, workspace, bar.show, options.model.stem)
    finally:
        bar.end()
    assert isinstance(found, ProposalsView)
    output.document(_document(plan, wishes, found))
    _say(found, output)
    return 0


def _document(plan: Plan, wishes: Wishes, found: ProposalsView) -> dict[str, object]:
    return {
        "schema": PROPOSALS_SCHEMA,
        "remarks": found.remarks,
        "lower_bound": found.lower_bound,
        "proposals": [
            {
                "title": p.title,
                "says": p.says,
                "proved": p.proved,
                "with_joints": p.with_joints,
                "figures": p.figures.model_dump(mode="json"),
                "plan": taken(plan, wishes, p).model_dump(mode="json", by_alias=True),
            }
            for p in found.proposals
        ],
    }


def _say(found: ProposalsView, output: Output) -> None:
    for number, one in enumerate(found.proposals, start=1):
        output.say(f"{number}. {one.title}: {one.says}")
        for line in figure_lines(one.figures):
            output.say(f"   {line}")
        if one.with_joints:
            output.say(f"   not to be carried through with joints: {one.with_joints}")
    for remark in found.remarks:
        output.say(f"note: {remark}")


def figure_lines(figures: Figures) -> list[str]:
    """A division's figures in words."""
    beds = "1 batch" if figures.batches == 1 else f"{figures.batches} batches"
    seams = f"seams {figures.seam_mm:.0f} mm" + (
        f", {figures.seam_show_mm:.0f} mm on show faces" if figures.seam_show_mm else ""
    )
    room = "" if figures.least_room_mm is None else f"least room for joints ⌀ {figures.least_room_mm:.1f} mm"
    wall = "" if figures.least_wall_mm is None else f"least wall at a seam {figures.least_wall_mm:.1f} mm"
    support = f"{figures.supported} need support" if figures.supported else "none needs support"
    return [
        f"{figures.pieces} pieces, {beds}, {seams}",
        ", ".join(part for part in (room, wall, support, f"smallest to largest {figures.balance:.0%}") if part),
    ]


def _count(text: str) -> int:
    if not text.isdigit() or not 1 <= int(text) <= 600:
        raise argparse.ArgumentTypeError(f"{text!r} is not a number of pieces from 1 to 600")
    return int(text)

"""The command that proposes divisions, and what `make` wishes of one."""

import argparse
import sys
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Protocol

import orjson

from hinoki.core.cache import Cache
from hinoki.core.mesh import MM_PER_UNIT
from hinoki.core.plan import Plan
from hinoki.core.propose import Figures, Proposals, Wishes, propose, taken
from hinoki.core.propose.search import WEIGHTS

PROPOSALS_SCHEMA = "hinoki-proposals/1"


class Bar(Protocol):
    """A progress bar."""

    def show(self, fraction: float, phrase: str) -> None:
        """Show how far it is."""

    def end(self) -> None:
        """Take it off the screen."""


Given = Callable[[argparse.Namespace], tuple[Plan, bytes, Bar]]


def add_wishes(parser: argparse.ArgumentParser) -> None:
    """Add what can be wished of a division."""
    parser.add_argument("--max-pieces", type=_count, metavar="N", help="greatest number of pieces wished")
    parser.add_argument("--prefer", choices=sorted(WEIGHTS), default="fewest", help="what counts most (fewest pieces)")


def wishes_of(options: argparse.Namespace) -> Wishes:
    """The wishes named on the command line."""
    return Wishes(most_pieces=options.max_pieces, prefer=options.prefer)


def add_propose(
    commands: "argparse._SubParsersAction[argparse.ArgumentParser]",
    bed: Callable[[str], object],
    scale: Callable[[str], object],
    up: Mapping[str, object],
    given: Given,
) -> None:
    """Add `propose` to the command line; `given` makes the plan and reads the model."""
    parser = commands.add_parser("propose", help="three divisions of a model that fit the printer, with their figures")
    parser.add_argument("model", type=Path, metavar="MODEL")
    parser.add_argument("--bed", type=bed, metavar="XxYxZ", help="room of the printer in mm, such as 220x220x250")
    parser.add_argument("--unit", choices=sorted(MM_PER_UNIT), help="unit of the model's numbers (mm, or the plan's)")
    parser.add_argument("--plan", type=Path, help="a plan whose printer, steps and marks are used")
    parser.add_argument("--scale", type=scale, metavar="FACTOR", help="scale by a factor such as 0.5 or 1:48")
    parser.add_argument("--up", choices=sorted(up), help="which way is up in the file (z)")
    parser.add_argument("--json", action="store_true", help="the proposals, their figures and their partings as plan JSON")
    add_wishes(parser)
    parser.set_defaults(run=lambda options: _propose(options, given), least_wall=None, hollow=None)


def _propose(options: argparse.Namespace, given: Given) -> int:
    plan, data, bar = given(options)
    wishes = wishes_of(options)
    try:
        found = propose(plan, lambda _: data, Cache(), wishes, bar.show)
    finally:
        bar.end()
    if options.json:
        sys.stdout.buffer.write(orjson.dumps(_document(plan, wishes, found), option=orjson.OPT_INDENT_2) + b"\n")
    else:
        _print(found)
    return 0


def _document(plan: Plan, wishes: Wishes, found: Proposals) -> dict[str, object]:
    return {
        "schema": PROPOSALS_SCHEMA,
        "remarks": found.remarks,
        "lower_bound": found.lower_bound,
        "proposals": [
            {
                "title": p.title,
                "says": p.says,
                "proved": p.proved,
                "figures": p.figures.model_dump(mode="json"),
                "plan": taken(plan, wishes, p).model_dump(mode="json", by_alias=True),
            }
            for p in found.proposals
        ],
    }


def _print(found: Proposals) -> None:
    for number, one in enumerate(found.proposals, start=1):
        print(f"{number}. {one.title}: {one.says}")
        for line in figure_lines(one.figures):
            print(f"   {line}")
    for remark in found.remarks:
        print(f"note: {remark}")


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

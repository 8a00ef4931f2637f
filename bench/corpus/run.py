"""`python3 run.py bench corpus`: the corpus on three beds with defaults, as one table."""

import argparse
import json
import sys
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor, as_completed
from dataclasses import asdict
from pathlib import Path

from bench.corpus.figures_of import Figures
from bench.corpus.judge import BEDS, judged
from bench.corpus.models import ENTRIES

HEADS = (
    "model", "bed", "must fix", "look at", "pieces / bound", "joined", "barest", "strength", "support", "tips", "s",
    "missed, why",
)  # fmt: skip
LANES = 2


def main() -> int:
    """Judge the models that are named, or all; prints the table, gives 1 where something must be fixed."""
    parser = argparse.ArgumentParser(prog="run.py bench corpus")
    parser.add_argument("names", nargs="*", help="families or models; all without")
    parser.add_argument("--bed", type=float, action="append", help="only beds of this width: 180, 220, 300")
    parser.add_argument("--lanes", type=int, default=LANES)
    parser.add_argument("--out", type=Path, help="where to write the figures, as JSON lines")
    options = parser.parse_args()
    numbers = [k for k, e in enumerate(ENTRIES) if not options.names or {e.name, e.family} & set(options.names)]
    beds = [b for b in BEDS if not options.bed or b[0] in options.bed]
    rows: dict[tuple[int, float], Figures] = {}
    with ThreadPoolExecutor(options.lanes) as lanes:
        asked = {lanes.submit(judged, k, bed): (k, bed[0]) for k in numbers for bed in beds}
        for done in as_completed(asked):
            row = rows[asked[done]] = done.result()
            print("  ".join(_cells(row)), file=sys.stderr, flush=True)
            if options.out:
                with options.out.open("a") as file:
                    file.write(json.dumps(asdict(row)) + "\n")
    found = [rows[key] for key in sorted(rows)]
    print("\n".join(table(found)))
    return 1 if any(r.must_fix for r in found) else 0


def table(rows: Sequence[Figures]) -> list[str]:
    """The figures as lines of Markdown, and what they come to."""
    lines = [f"| {' | '.join(HEADS)} |", f"|{' --- |' * len(HEADS)}"]
    lines += [f"| {' | '.join(_cells(row))} |" for row in rows]
    clean = sum(not row.must_fix for row in rows)
    bare = sum(row.barest < 0.5 for row in rows)
    share = 100 * clean / max(1, len(rows))
    return [*lines, "", f"{clean} of {len(rows)} with nothing to fix ({share:.0f} %); {bare} with a seam more than half bare."]


def _cells(row: Figures) -> list[str]:
    strong = "—" if row.strength is None else f"{row.strength:.1f}"
    shares = [f"{100 * s:.0f} %" for s in (row.joined, row.barest)]
    said = "; ".join([*row.missed, *([row.why] if row.why else [])])
    return [
        row.name, f"{row.bed_mm:.0f}", str(row.must_fix), str(row.look_at), f"{row.pieces} / {row.bound}", *shares, strong,
        f"{row.support:.2f}", str(row.tipping), f"{row.seconds:.0f}", said,
    ]  # fmt: skip


if __name__ == "__main__":
    sys.exit(main())

"""`python -m tests.running`: what `python3 run.py test` calls. See CONTRIBUTING.md."""

import argparse
import os
import sys
import time
from collections.abc import Sequence
from pathlib import Path

from hinoki.jobs.threads import one_thread_each
from tests.running.changed import touched
from tests.running.lanes import meeting_place, run_all
from tests.running.outcome import Timing
from tests.running.units import Unit, checks, collected, longest_first, matching, remember

SLOWEST = 10


def main(arguments: Sequence[str] | None = None) -> int:
    """Run tests; gives the exit code: 0 when all passed."""
    options = _parser().parse_args(arguments)
    if options.thorough:
        os.environ["HINOKI_THOROUGH"] = "1"
    one_thread_each()
    units = _wanted(options)
    if not units:
        print("Nothing that can be tested was changed.\n0 passed, 0 failed, 0 skipped")
        return 0
    begun = time.monotonic()
    outcomes = []
    with meeting_place():
        for outcome in run_all(longest_first(units), options.lanes, options.screens):
            outcomes.append(outcome)
            mark = "FAILED" if outcome.failed else "good"
            print(f"{outcome.unit}: {mark} ({outcome.passed} in {outcome.wall_s:.1f} s)", flush=True)
            if outcome.said:
                print(outcome.said[-12_000:], flush=True)
    if not options.thorough:
        remember({t.name: t.wall_s for o in outcomes if not o.failed for t in o.timings})
    _print_slowest([t for o in outcomes for t in o.timings], options.slowest)
    for outcome in outcomes:
        if outcome.failed:
            print(f"failed: {outcome.unit}")
    passed, failed, skipped = (sum(getattr(o, name) for o in outcomes) for name in ("passed", "failed", "skipped"))
    print(f"Ran in {time.monotonic() - begun:.0f} s on {options.lanes} lanes.")
    print(f"{passed} passed, {failed} failed, {skipped} skipped")
    return 1 if failed or not passed else 0


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="run.py test", description="Run the tests.")
    parser.add_argument("names", nargs="*", help="core, core.test_build, core.test_build.Class.test_name; all without")
    parser.add_argument("-k", action="append", default=[], metavar="WORDS", help="only tests whose name holds this")
    parser.add_argument("--changed", nargs="?", const="HEAD", metavar="REV", help="only what a change since REV can touch")
    parser.add_argument("--thorough", action="store_true", help="many more examples, kills and shapes")
    lanes = (os.cpu_count() or 2) + 1  # tests of the screens wait a third of their time for one another's processes
    parser.add_argument("--lanes", type=int, default=lanes, metavar="N", help="processes beside each other")
    parser.add_argument("--slowest", type=int, default=SLOWEST, metavar="N", help="how many of the slowest are told")
    parser.add_argument("--screens", type=Path, default=None, help=argparse.SUPPRESS)
    return parser


def _wanted(options: argparse.Namespace) -> list[Unit]:
    if options.changed:
        change = touched(options.changed)
        found = matching(collected(()), change.tests) if change.tests else []
        return found + [c for c in checks() if c.folder in change.folders]
    every = [] if options.names or options.k else checks()
    return [*every, *collected(options.names, options.k)]


def _print_slowest(timings: Sequence[Timing], count: int) -> None:
    print(f"The {count} slowest, seconds on the wall and of the processor:")
    for one in sorted(timings, key=lambda t: -t.wall_s)[:count]:
        print(f"{one.wall_s:8.1f}{one.cpu_s:8.1f}  {one.name}")


if __name__ == "__main__":
    sys.exit(main())

"""`python3 run.py bench mutants`: faults put into the code on purpose, and whether the tests find them.

Each is a line of the code as it is, the same line broken, and the tests that are to find it. The faults are put into a copy of
the tree, one at a time. One that no test finds is told, and makes the exit code 1.
"""

import argparse
import os
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[1]
FOLDERS = ("hinoki", "tests", "bench")


@dataclass(frozen=True)
class Mutant:
    """A fault: what it is, where, the text that is there and the text instead, and the tests (as unittest names them)."""

    what: str
    path: str
    good: str
    bad: str
    tests: tuple[str, ...]


MUTANTS = (
    Mutant(
        "the second magnet of a pair looks the same way",
        "hinoki/core/join/joints/magnet.py",
        "zip(SIDES, (pole, turned_poles([pole])[0]), strict=True)",
        "zip(SIDES, (pole, pole), strict=True)",
        ("tests.core.join.test_magnets",),
    ),
    Mutant(
        "the second magnet of a tile's side is of the same pole",
        "hinoki/core/join/tiles/polarity.py",
        '(apart_mm / 2, high_mm, "s")',
        '(apart_mm / 2, high_mm, "n")',
        ("tests.core.join.test_tiles",),
    ),
    Mutant(
        "the timetable takes what does not end today",
        "hinoki/core/batch/schedule.py",
        "if now % DAY + b.took.minutes <= wish.to_hour * 60 + 1e-6]",
        "if now % DAY + b.took.minutes > wish.to_hour * 60 + 1e-6]",
        ("tests.core.batch.test_timetable",),
    ),
    Mutant(
        "the shelf counts out-of-date pieces as printed",
        "hinoki/store/tables/projects.py",
        "i.piece_id = s.piece_id AND i.shape = s.shape AND",
        "i.piece_id = s.piece_id AND",
        ("tests.store.test_print_store",),
    ),
    Mutant(
        "the plane is moved away from the face it all but lies in",
        "hinoki/core/divide/snap_to_face.py",
        "frame.raised(shift)",
        "frame.raised(-shift)",
        ("tests.core.divide.test_snap_to_face",),
    ),
    Mutant(
        "the printer is missing in the key of a resting face",
        "hinoki/core/stages.py",
        'NO_INPUT = ("cache", "tell", "source_of")',
        'NO_INPUT = ("cache", "tell", "source_of", "printer")',
        ("tests.core.test_build.Resting",),
    ),
    Mutant(
        "older builds are not cancelled",
        "hinoki/jobs/pool.py",
        "other.cancel_asked = True",
        "pass",
        ("tests.jobs.test_pool",),
    ),
    Mutant(
        "a flat peg's section grows by half",
        "hinoki/core/join/contract/pegs.py",
        "level = FLAT_AT * half + grown",
        "level = FLAT_AT * half + grown / 2",
        ("tests.core.join.test_pins_and_dowels",),
    ),
    Mutant(
        "beds are a fifth higher than they are",
        "hinoki/core/workshop/printers.py",
        "self.bed_mm[1] - twice, self.height_mm]",
        "self.bed_mm[1] - twice, 1.2 * self.height_mm]",
        ("tests.core.workshop.test_printers",),
    ),
)


def main() -> int:
    """Try all, or those whose words are named."""
    parser = argparse.ArgumentParser(prog="run.py bench mutants")
    parser.add_argument("words", nargs="*", help="only those whose description has one of these words")
    options = parser.parse_args()
    chosen = [m for m in MUTANTS if not options.words or any(w in m.what for w in options.words)]
    with ThreadPoolExecutor(2) as pool:
        found = list(pool.map(killed, chosen))
    for mutant, was in zip(chosen, found, strict=True):
        print(f"{'found' if was else 'NOT FOUND'}: {mutant.what}")
    return 0 if all(found) else 1


def killed(mutant: Mutant) -> bool:
    """Whether its tests fail with the fault.

    Raises ValueError where the code no longer has the line, and where its tests fail without the fault.
    """
    with tempfile.TemporaryDirectory() as place:
        tree = Path(place)
        for folder in FOLDERS:
            shutil.copytree(ROOT / folder, tree / folder, ignore=shutil.ignore_patterns("__pycache__"))
        path = tree / mutant.path
        text = path.read_text()
        if text.count(mutant.good) != 1:
            raise ValueError(f"{mutant.path} has {mutant.good!r} {text.count(mutant.good)} times: mend bench/mutants.py")
        if not _pass(tree, mutant.tests):
            raise ValueError(f"{', '.join(mutant.tests)} fail without any fault")
        path.write_text(text.replace(mutant.good, mutant.bad))
        return not _pass(tree, mutant.tests)


def _pass(tree: Path, tests: tuple[str, ...]) -> bool:
    own = {**os.environ, "PYTHONPATH": str(tree), "PYTHONDONTWRITEBYTECODE": "1"}
    command = [sys.executable, "-m", "unittest", "-q", "-f", *tests]
    return subprocess.run(command, cwd=tree, env=own, capture_output=True, check=False).returncode == 0


if __name__ == "__main__":
    sys.exit(main())

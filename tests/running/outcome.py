"""What a unit came to, test by test, with the time it took."""

import io
import subprocess
import time
import traceback
import unittest
from dataclasses import dataclass, field

import psutil

from tests.running.units import ROOT, Unit


@dataclass(frozen=True)
class Timing:
    """How long a test or the fixture of a class took."""

    name: str
    wall_s: float
    cpu_s: float
    """processor time of this process and of those it started"""


@dataclass
class Outcome:
    """What came of one unit."""

    unit: str
    passed: int = 0
    failed: int = 0
    skipped: int = 0
    said: str = ""
    """what is to be read where something failed or was warned of"""
    wall_s: float = 0.0
    timings: list[Timing] = field(default_factory=list)


SHORT_S = 0.1
"""a test that takes less is taken to have computed all the while"""


class _Timed(unittest.TextTestResult):
    """Times every test; what runs before the first of a class is its fixture."""

    def __init__(self, name: str, stream: io.StringIO) -> None:
        super().__init__(unittest.runner._WritelnDecorator(stream), descriptions=True, verbosity=0)  # type: ignore[attr-defined]
        self.timings: list[Timing] = []
        self.testsPassed = 0
        self._name, self._since = name, _clock()

    def startTest(self, test: unittest.TestCase) -> None:
        if not self.timings:
            self._took(f"{self._name} (fixture)")
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:
        super().stopTest(test)
        self._took(test.id())

    def addSuccess(self, test: unittest.TestCase) -> None:
        super().addSuccess(test)
        self.testsPassed += 1

    def _took(self, name: str) -> None:
        wall_s = time.monotonic() - self._since[0]
        if wall_s < SHORT_S:  # looking at all processes would take about as long
            self.timings.append(Timing(name, wall_s, wall_s))
            self._since = time.monotonic(), self._since[1] + wall_s
            return
        now = _clock()
        self.timings.append(Timing(name, wall_s, max(0.0, now[1] - self._since[1])))
        self._since = now


def _clock() -> tuple[float, float]:
    """Seconds on the wall, and of the processor in this process and all below it."""
    me = psutil.Process()
    own = me.cpu_times()
    used = own.user + own.system + own.children_user + own.children_system
    for child in me.children(recursive=True):
        try:
            times = child.cpu_times()
        except psutil.Error:  # it has ended meanwhile and counts with its parent
            continue
        used += times.user + times.system
    return time.monotonic(), used


def run(unit: Unit) -> Outcome:
    """Run a unit in this process; whatever goes wrong is in what it came to."""
    begun = time.monotonic()
    try:
        outcome = _checked(unit) if unit.command else _tested(unit)
    except Exception:  # noqa: BLE001 - the lane goes on with the next unit
        outcome = Outcome(unit.name, failed=1, said=traceback.format_exc())
    outcome.wall_s = time.monotonic() - begun
    return outcome


def _tested(unit: Unit) -> Outcome:
    stream = io.StringIO()
    result = _Timed(unit.name, stream)
    result.startTestRun()
    suite = unittest.defaultTestLoader.loadTestsFromNames(unit.tests)
    suite.run(result)
    result.stopTestRun()
    result.printErrors()
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    passed = result.testsPassed + len(result.expectedFailures)
    return Outcome(unit.name, passed, failed, len(result.skipped), stream.getvalue(), timings=result.timings)


def _checked(unit: Unit) -> Outcome:
    before = _clock()
    done = subprocess.run(unit.command, cwd=ROOT / unit.folder, capture_output=True, text=True)
    after = _clock()
    good = done.returncode == 0
    said = "" if good else f"{unit.name}:\n{done.stdout}{done.stderr}"
    return Outcome(
        unit.name, int(good), int(not good), 0, said, timings=[Timing(unit.name, after[0] - before[0], after[1] - before[1])]
    )

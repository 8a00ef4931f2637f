"""What is run in one go: a class of tests (a long one test by test), or one check of the whole tree."""

import fnmatch
import json
import unittest
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[2]
SUITES = ("core", "present", "reference", "store", "jobs", "printers", "demo", "cli", "tools", "packing", "api", "ui")
MEASURED = ROOT / ".setup" / "durations.json"
"""seconds of every test, fixture and check in the last runs on this machine"""
COMMITTED = Path(__file__).parent / "durations.json"
"""seconds where nothing was measured yet"""
UNKNOWN_S = 1.0
"""for a test that was never measured"""
LONG_S = 20.0
"""a class that takes longer is run test by test where its tests have nothing in common"""


@dataclass(frozen=True)
class Unit:
    """Tests of one class by their full names, or a command that checks the tree."""

    name: str
    tests: tuple[str, ...] = ()
    command: tuple[str, ...] = ()
    folder: str = "."
    needs_screens: bool = False
    """only when the screens are built and a browser is there"""

    @property
    def fixture(self) -> str:
        """The name under which the time of what its tests have in common is kept."""
        return f"{self.name} (fixture)"


def checks() -> list[Unit]:
    """The linters and type checkers, with their caches in .setup."""
    python = str(ROOT / ".venv" / "bin" / "python")
    caches = ROOT / ".setup"
    eslint = ("--cache", "--cache-location", str(caches / "eslint"), "--cache-strategy", "content")
    prettier = ("--cache", "--cache-location", str(caches / "prettier"), "--cache-strategy", "content")
    vue = ("--incremental", "--tsBuildInfoFile", str(caches / "vue-tsc"))
    npx = ("npx", "--no-install")
    return [
        Unit("ruff check", command=(python, "-m", "ruff", "check", ".")),
        Unit("ruff format", command=(python, "-m", "ruff", "format", "--check", ".")),
        Unit("mypy", command=(python, "-m", "mypy")),
        Unit("vue-tsc", command=(*npx, "vue-tsc", "--noEmit", *vue), folder="web", needs_screens=True),
        Unit("vitest", command=(*npx, "vitest", "run"), folder="web", needs_screens=True),
        Unit("eslint", command=(*npx, "eslint", ".", *eslint), folder="web", needs_screens=True),
        Unit(
            "prettier",
            command=(*npx, "prettier", "--check", "--log-level", "warn", "src", "tests", *prettier),
            folder="web",
            needs_screens=True,
        ),
    ]


def collected(names: Sequence[str], patterns: Sequence[str] = ()) -> list[Unit]:
    """The classes of tests under `names`: suites (core), modules (core.test_build), classes or tests; all for none.

    `patterns` keep the tests whose name holds one of them, as unittest's -k does. Raises SystemExit for unknown names.
    """
    loader = unittest.TestLoader()
    known = known_seconds()
    loader.testNamePatterns = [p if any(c in p for c in "*?[") else f"*{p}*" for p in patterns] or None
    classes: dict[type[unittest.TestCase], list[str]] = {}
    for name in names or SUITES:
        for test in _loaded(loader, name.removeprefix("tests.")):
            kind = type(test)
            if isinstance(test, unittest.loader._FailedTest):  # type: ignore[attr-defined]
                raise SystemExit(f"{name} names no tests: {test._exception}")  # type: ignore[attr-defined]
            classes.setdefault(kind, []).append(test.id())
    return [unit for kind, tests in classes.items() for unit in _of_class(kind, list(dict.fromkeys(tests)), known)]


def _of_class(kind: type[unittest.TestCase], tests: list[str], known: dict[str, float]) -> list[Unit]:
    name = f"{kind.__module__}.{kind.__qualname__}"
    screens = name.startswith(("tests.ui.", "tests.packing."))
    apart = getattr(kind, "each_alone", kind.setUpClass.__func__ is unittest.TestCase.setUpClass.__func__)  # type: ignore[attr-defined]
    if apart and sum(known.get(test, UNKNOWN_S) for test in tests) > LONG_S:
        return [Unit(test, (test,), needs_screens=screens) for test in tests]
    return [Unit(name, tuple(tests), needs_screens=screens)]


def _loaded(loader: unittest.TestLoader, name: str) -> Iterator[unittest.TestCase]:
    folder = ROOT / "tests" / name.replace(".", "/")
    if folder.is_dir():
        return _flat(loader.discover(str(folder), top_level_dir=str(ROOT)))
    return _flat(loader.loadTestsFromName(f"tests.{name}"))


def _flat(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    for one in suite:
        if isinstance(one, unittest.TestSuite):
            yield from _flat(one)
        else:
            yield one


def longest_first(units: Iterable[Unit]) -> list[Unit]:
    """In the order in which they are begun, so that all lanes end together."""
    known = known_seconds()
    return sorted(units, key=lambda unit: -expected_s(unit, known))


def expected_s(unit: Unit, known: dict[str, float]) -> float:
    """How long a unit took before, or is thought to take."""
    if unit.command:
        return known.get(unit.name, UNKNOWN_S)
    return known.get(unit.fixture, 0.0) + sum(known.get(test, UNKNOWN_S) for test in unit.tests)


def remember(seconds: dict[str, float]) -> None:
    """Keep how long tests took on this machine."""
    MEASURED.parent.mkdir(exist_ok=True)
    both = {**_read(MEASURED), **{name: round(s, 1) for name, s in seconds.items()}}
    MEASURED.write_text(json.dumps(dict(sorted(both.items())), indent=0))


def known_seconds() -> dict[str, float]:
    """How long tests, fixtures and checks took before, by name."""
    return {**_read(COMMITTED), **_read(MEASURED)}


def _read(path: Path) -> dict[str, float]:
    return dict(json.loads(path.read_text())) if path.exists() else {}


def matching(units: Iterable[Unit], modules: Sequence[str]) -> list[Unit]:
    """The units in any of the named modules (patterns)."""
    return [u for u in units if any(fnmatch.fnmatch(u.name, f"{m}.*") for m in modules)]

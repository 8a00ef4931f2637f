"""Which tests a change can touch.

Core, reference and worker tests: those whose imports lead to a changed module. A package that lists kinds (REGISTRIES) is
looked through: who imports one kind by its name from it uses that kind alone. Tests of the API, the command line and the
screens drive the whole application, so their imports lead everywhere; they are chosen by what they are about (ABOUT), and
what is about nothing in particular calls for the whole job in the browser.
"""

import ast
import subprocess
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from tests.running.units import ROOT

ABOUT = {
    "model": """
        hinoki/core/formats hinoki/core/health hinoki/core/prepare hinoki/core/repair hinoki/core/read.py
        hinoki/core/survey_view.py hinoki/core/units.py hinoki/core/shape.py hinoki/api/models.py
        hinoki/api/uploads.py hinoki/api/surface.py hinoki/cli/inspect.py hinoki/cli/repair.py
        web/src/stations/model
    """,
    "divide": """
        hinoki/core/partings hinoki/core/propose hinoki/core/marking.py hinoki/core/marks.py
        hinoki/core/picks.py hinoki/core/variants.py hinoki/core/together.py hinoki/api/divide.py
        hinoki/cli/propose.py web/src/stations/divide
    """,
    "join": """
        hinoki/core/joints hinoki/core/ladder hinoki/core/hole_ladder.py hinoki/core/ways
        hinoki/core/modules.py hinoki/core/suit.py hinoki/core/collaring.py hinoki/core/mating_marks.py
        hinoki/core/one_way.py hinoki/core/threads.py hinoki/core/screws.py hinoki/core/hardware.py
        hinoki/core/own_hardware.py hinoki/core/fits.py hinoki/api/join.py hinoki/api/ladders.py
        hinoki/api/hardware.py hinoki/cli/ladder.py web/src/stations/join web/src/sheet web/src/workshop
    """,
    "print": """
        hinoki/core/orient hinoki/core/packing hinoki/core/estimating hinoki/core/batch
        hinoki/core/printing.py hinoki/core/printables.py hinoki/core/laying.py hinoki/core/moving.py
        hinoki/core/timetable.py hinoki/core/spares.py hinoki/core/what_if.py hinoki/core/went_out.py
        hinoki/core/export hinoki/api/orient.py hinoki/api/exports.py hinoki/cli/orient.py
        web/src/stations/orient web/src/stations/batch
    """,
    "assemble": """
        hinoki/core/assembling hinoki/api/assembly.py hinoki/cli/assemble.py hinoki/store/step_photos.py
        hinoki/store/ticks.py web/src/stations/assemble web/src/stores/assembly.ts
    """,
    "log": """
        hinoki/core/printlog hinoki/machines hinoki/stand_ins hinoki/store/print hinoki/store/machines.py
        hinoki/store/spools.py hinoki/store/archive.py hinoki/api/printlog.py hinoki/api/prints.py
        hinoki/api/machines.py hinoki/api/watching.py hinoki/api/keeping.py hinoki/workers/log_work.py
        web/src/stations/log web/src/stores/printlog.ts web/src/shelf
    """,
}
"""subjects, and the beginnings of the paths that are about each"""
DRIVING: dict[str, tuple[str, ...]] = {
    "tests.ui.test_model_station": ("model",),
    "tests.ui.test_divide": ("divide",),
    "tests.ui.test_wedges": ("divide",),
    "tests.ui.test_join": ("join",),
    "tests.ui.test_join_more": ("join",),
    "tests.ui.test_workshop": ("join",),
    "tests.ui.test_print": ("print",),
    "tests.ui.test_assemble": ("assemble",),
    "tests.ui.test_print_log": ("log",),
    "tests.ui.test_whole_job": ("everything",),
    "tests.api.test_surface": ("model",),
    "tests.api.test_divide": ("divide",),
    "tests.api.test_join": ("join",),
    "tests.api.test_ladders": ("join",),
    "tests.api.test_print": ("print",),
    "tests.api.test_assembly": ("assemble",),
    "tests.api.test_print_log": ("log",),
    "tests.api.test_keeping": ("log",),
    "tests.api.test_killed": ("everything",),
    "tests.api.test_api": ("everything",),
    "tests.core.test_cli": ("everything",),
    "tests.core.test_cli_model": ("model",),
    "tests.core.test_cli_assemble": ("assemble",),
    "tests.workers.test_questions": ("everything",),
    "tests.workers.test_pool": ("everything",),
}
"""tests that drive the whole application, by what they are about"""
REGISTRIES = ("hinoki.core.joints", "hinoki.core.partings", "hinoki.core.prepare", "hinoki.core.ways")
EVERYTHING = ("run.py", "constraints.txt", "reference.txt", "pyproject.toml", "tests/running", "web/package")


@dataclass(frozen=True)
class Change:
    """Patterns of the test modules a change can touch, and the folders whose checks it calls for."""

    tests: tuple[str, ...]
    folders: frozenset[str]


def touched(revision: str) -> Change:
    """What the change since `revision`, with what is not committed, can touch."""
    return touched_by(_changed_files(revision))


def touched_by(files: Iterable[str]) -> Change:
    """What a change to `files` (paths below the root) can touch."""
    paths = list(files)
    folders = frozenset("web" if p.startswith("web/") else "." for p in paths if p.endswith((".py", ".ts", ".vue", ".css")))
    if any(p.startswith(EVERYTHING) for p in paths):
        return Change(("tests.*",), folders)
    modules = {m for p in paths if (m := module_of(p)) is not None}
    reached = _importing(modules)
    tests = {m for m in reached if m.startswith("tests.") and "test_" in m and m not in DRIVING}
    code = [p for p in paths if p.startswith(("hinoki/", "web/src/"))]
    about = {subject for p in code for subject in _subjects(p)}
    tests |= {m for m, subjects in DRIVING.items() if about & set(subjects)}
    tests |= {m for m in DRIVING if m in reached & _importing({m for m in modules if m.startswith("tests.")})}
    return Change(tuple(sorted(tests)), folders)


def _subjects(path: str) -> list[str]:
    return [subject for subject, starts in ABOUT.items() if path.startswith(tuple(starts.split()))] or ["everything"]


def _changed_files(revision: str) -> list[str]:
    def git(*arguments: str) -> list[str]:
        done = subprocess.run(["git", *arguments], cwd=ROOT, capture_output=True, text=True)
        if done.returncode:
            raise SystemExit(f"git {' '.join(arguments)}: {done.stderr.strip()}")
        return done.stdout.splitlines()

    return [*git("diff", "--name-only", revision), *git("ls-files", "--others", "--exclude-standard")]


def module_of(path: str) -> str | None:
    """The name of the module in a file; none for other files."""
    if not path.endswith(".py") or not path.startswith(("hinoki/", "tests/")):
        return None
    return path.removesuffix(".py").removesuffix("/__init__").replace("/", ".")


def _importing(modules: set[str]) -> set[str]:
    """These modules and all whose imports lead to them."""
    users = _users()
    reached, edge = set(modules), list(modules)
    while edge:
        for user in users[edge.pop()] - reached:
            reached.add(user)
            edge.append(user)
    return reached


@cache
def _users() -> dict[str, set[str]]:
    """For every module of ours the modules that import it."""
    users: dict[str, set[str]] = defaultdict(set)
    for folder in ("hinoki", "tests"):
        for path in (ROOT / folder).rglob("*.py"):
            user = module_of(str(path.relative_to(ROOT)))
            if user is not None:
                for name in _imports(path):
                    users[name].add(user)
    return users


def _imports(path: Path) -> set[str]:
    """Names of modules that a file imports; `from a import b` may be a module b, and is both."""
    if module_of(str(path.relative_to(ROOT))) in REGISTRIES:
        return set()
    names = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            names |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module in REGISTRIES:
            names |= {node.module, *(_listed(node.module).get(alias.name, node.module) for alias in node.names)}
        elif isinstance(node, ast.ImportFrom) and node.module:
            names |= {node.module, *(f"{node.module}.{alias.name}" for alias in node.names)}
    return {n for n in names if n.startswith(("hinoki.", "tests."))}


@cache
def _listed(registry: str) -> dict[str, str]:
    """What a registry hands on, and the module each comes from."""
    path = ROOT / registry.replace(".", "/") / "__init__.py"
    return {
        alias.name: node.module
        for node in ast.walk(ast.parse(path.read_text()))
        if isinstance(node, ast.ImportFrom) and node.module
        for alias in node.names
    }

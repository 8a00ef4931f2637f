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
        hinoki/core/formats hinoki/core/model hinoki/present/model.py hinoki/present/words/model.py hinoki/operations/model.py
        hinoki/api/routers/model hinoki/api/shared/uploads.py hinoki/cli/inspect.py hinoki/cli/repair.py
        web/src/stations/model
    """,
    "divide": """
        hinoki/core/divide hinoki/core/propose hinoki/present/proposals.py hinoki/present/words/divide.py
        hinoki/operations/divide.py hinoki/api/routers/divide.py hinoki/cli/propose.py web/src/stations/divide
    """,
    "join": """
        hinoki/core/join hinoki/core/workshop hinoki/present/joints.py hinoki/present/tiles.py hinoki/present/words/join.py
        hinoki/operations/join.py hinoki/api/routers/fit_ladders.py hinoki/api/routers/kinds.py
        hinoki/api/routers/workshop.py hinoki/cli/ladder.py web/src/stations/join web/src/sheet web/src/workshop
    """,
    "print": """
        hinoki/core/orient hinoki/core/batch hinoki/core/export hinoki/present/orient.py hinoki/present/batches.py
        hinoki/operations/orient.py hinoki/operations/batch.py hinoki/operations/export.py hinoki/api/routers/batch.py
        hinoki/cli/orient.py web/src/stations/orient web/src/stations/batch
    """,
    "assemble": """
        hinoki/core/assemble hinoki/present/sheets hinoki/present/assemble hinoki/present/schemas/assemble.py
        hinoki/present/words/assemble.py hinoki/operations/assemble.py hinoki/api/routers/assemble.py hinoki/cli/assemble.py
        hinoki/store/tables/step_photos.py hinoki/store/tables/ticked_steps.py web/src/stations/assemble
        web/src/stores/assembly.ts
    """,
    "log": """
        hinoki/core/printlog hinoki/present/printlog.py hinoki/operations/printlog.py hinoki/printers
        hinoki/store/tables/print hinoki/store/tables/spools.py hinoki/store/archive hinoki/api/routers/print
        hinoki/api/shared/printer_watch.py hinoki/api/routers/shelf.py web/src/stations/printlog web/src/stores/printlog.ts
        web/src/shelf
    """,
}
"""subjects, and the beginnings of the paths that are about each"""
OF_ALL = ("tests.core.test_frozen", "tests.core.test_layers")
"""tests that find the modules of the core by themselves, so that no import leads from them to any"""
DRIVING: dict[str, tuple[str, ...]] = {
    "tests.ui.test_model": ("model",),
    "tests.ui.test_divide": ("divide",),
    "tests.ui.test_wedges": ("divide",),
    "tests.ui.test_join": ("join",),
    "tests.ui.test_join_more": ("join",),
    "tests.ui.test_workshop": ("join",),
    "tests.ui.test_print": ("print",),
    "tests.ui.test_assemble": ("assemble",),
    "tests.ui.test_printlog": ("log",),
    "tests.ui.test_whole_job": ("everything",),
    "tests.ui.test_newcomers": ("everything",),
    "tests.api.test_model": ("model",),
    "tests.api.test_divide": ("divide",),
    "tests.api.test_join": ("join",),
    "tests.api.test_fit_ladders": ("join",),
    "tests.api.test_print": ("print",),
    "tests.api.test_assemble": ("assemble",),
    "tests.api.test_printlog": ("log",),
    "tests.api.test_shelf": ("log",),
    "tests.api.test_killed": ("everything",),
    "tests.api.test_api": ("everything",),
    "tests.cli.test_make": ("everything",),
    "tests.cli.test_inspect_and_repair": ("model",),
    "tests.cli.test_assemble": ("assemble",),
    "tests.packing.test_wheel": ("everything",),
    "tests.jobs.test_questions": ("everything",),
    "tests.jobs.test_pool": ("everything",),
}
"""tests that drive the whole application, by what they are about"""
REGISTRIES = (
    "hinoki.core.join.joints",
    "hinoki.core.divide.partings",
    "hinoki.core.model.steps",
    "hinoki.core.join.channels",
)
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
    tests |= set(OF_ALL) if any(p.startswith("hinoki/core/") for p in paths) else set()
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

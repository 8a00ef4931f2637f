"""`python3 run.py bench sample`: a seeded sample of small faults in a part of the core, and how many of them the tests find.

Faults are those of cosmic-ray (another operator, another comparison, another number, a condition the other way round); they are
drawn evenly over the places where one can be made. One inside a function is put into a process that has read everything before,
others into a copy of the tree. Then the tests run whose imports lead to that module, those of its own room first, quick ones
first, until one fails. Survivors are told with their line; docs/testing.md judges them.

It needs cosmic-ray: `.venv/bin/pip install -e .[mutation]`.
"""

import argparse
import ast
import gc
import io
import json
import multiprocessing
import os
import random
import shutil
import sys
import tempfile
import time
import unittest
from collections import defaultdict
from collections.abc import Iterator, Sequence
from contextlib import redirect_stderr, redirect_stdout
from dataclasses import asdict, dataclass
from importlib import import_module
from multiprocessing.process import BaseProcess
from pathlib import Path
from types import CodeType, FunctionType
from typing import Any

from tests.running.changed import DRIVING, touched_by
from tests.running.units import ROOT, Unit, collected, expected_s, known_seconds

ROOMS = ("join", "batch", "divide", "assemble", "printlog")
MANY, SEED = 60, 20_260_801
SUITES = ("core", "present", "reference", "store")
"""suites whose tests look for the fault; what drives the whole application is left out, so that a sample takes an hour"""
LONGEST_S = 120.0
"""of tests for one fault, as they took before; the slowest ones beyond that are left out"""
LANES = 2
ARITHMETIC = ("Add_Sub", "Sub_Add", "Mul_Div", "Div_Mul", "FloorDiv_Mul", "Mod_Mul", "Pow_Mul")
COMPARED = ("Eq", "NotEq", "Lt", "LtE", "Gt", "GtE")
PLAIN = (
    "NumberReplacer", "AddNot", "ReplaceTrueWithFalse", "ReplaceFalseWithTrue", "ReplaceAndWithOr", "ReplaceOrWithAnd",
    "ReplaceBreakWithContinue", "ReplaceContinueWithBreak", "ZeroIterationForLoop", "ReplaceUnaryOperator_Delete_Not",
    "ReplaceUnaryOperator_USub_UAdd",
)  # fmt: skip


@dataclass(frozen=True)
class Fault:
    """One fault: where it is, what makes it (an operator of cosmic-ray and which of its places), and the code with it."""

    path: str
    line: int
    operator: str
    occurrence: int
    was: str
    becomes: str
    code: str
    inside: bool
    """within the body of a function"""


def operators() -> list[str]:
    """The kinds of fault, as cosmic-ray names them; those that only make programs that cannot run are left out."""
    compared = [f"ReplaceComparisonOperator_{a}_{b}" for a in COMPARED for b in COMPARED if a != b]
    return [f"core/{n}" for n in (*PLAIN, *(f"ReplaceBinaryOperator_{n}" for n in ARITHMETIC), *compared)]


def faults(room: str, many: int = MANY, seed: int = SEED) -> list[Fault]:
    """A sample of the faults of a room of the core: places drawn evenly, then one of the kinds that can be there."""
    places: dict[tuple[str, int, int], list[tuple[str, int]]] = defaultdict(list)
    texts = {}
    for path in sorted((ROOT / "hinoki" / "core" / room).rglob("*.py")):
        name = str(path.relative_to(ROOT))
        texts[name] = path.read_text()
        for operator, occurrence, line, column in _sites(texts[name]):
            places[name, line, column].append((operator, occurrence))
    drawn = random.Random(seed)
    found: list[Fault] = []
    for place in drawn.sample(sorted(places), len(places)):
        fault = _fault(place[0], texts[place[0]], place[1], drawn.choice(sorted(places[place])))
        if fault is not None:
            found.append(fault)
        if len(found) == many:
            break
    return found


def _sites(text: str) -> Iterator[tuple[str, int, int, int]]:
    from cosmic_ray.ast import ast_nodes, get_ast
    from cosmic_ray.plugins import get_operator

    nodes = list(ast_nodes(get_ast(text)))
    for name in operators():
        operator, occurrence = get_operator(name)(), 0
        for node in nodes:
            for (line, column), _ in operator.mutation_positions(node):
                yield name, occurrence, line, column
                occurrence += 1


def _fault(path: str, text: str, line: int, drawn: tuple[str, int]) -> Fault | None:
    from cosmic_ray.mutating import mutate_code
    from cosmic_ray.plugins import get_operator

    operator, occurrence = drawn
    code = mutate_code(text.encode(), get_operator(operator)(), occurrence)
    if code is None:
        return None
    code = code.decode() if isinstance(code, bytes) else code
    try:
        compile(code, path, "exec")
    except SyntaxError:
        return None
    if ast.dump(ast.parse(code)) == ast.dump(ast.parse(text)):
        return None
    pairs = zip(text.splitlines(), code.splitlines(), strict=False)
    was, becomes = next(((a.strip(), b.strip()) for a, b in pairs if a != b), ("", ""))
    return Fault(path, line, operator, occurrence, was, becomes, code, _inside(text, line))


def _inside(text: str, line: int) -> bool:
    for node in ast.walk(ast.parse(text)):
        if isinstance(node, ast.FunctionDef) and node.end_lineno is not None:
            first = node.body[0].lineno
            if first <= line <= node.end_lineno:
                return True
    return False


def units_for(fault: Fault, room: str, all_units: Sequence[Unit]) -> list[Unit]:
    """The classes of tests that can see a fault: of its own room first, quick ones first, so many seconds of them."""
    modules = touched_by([fault.path]).tests
    own = f"tests.core.{room}."
    seeing = [u for u in all_units if any(u.name.startswith(f"{m}.") for m in modules if m not in DRIVING)]
    known = known_seconds()
    ordered = sorted(seeing, key=lambda u: (not u.name.startswith(own), expected_s(u, known)))
    kept, spent = [], 0.0
    for unit in ordered:
        spent += expected_s(unit, known)
        if spent <= LONGEST_S:
            kept.append(unit)
    return kept


def main() -> int:
    """Try the samples of the rooms that are named, or of all; gives 1 where less than 85 of 100 are found."""
    parser = argparse.ArgumentParser(prog="run.py bench sample")
    parser.add_argument("rooms", nargs="*", default=list(ROOMS), help=", ".join(ROOMS))
    parser.add_argument("--many", type=int, default=MANY, help="faults in each")
    parser.add_argument("--seed", type=int, default=SEED)
    parser.add_argument("--lanes", type=int, default=LANES)
    parser.add_argument("--out", type=Path, help="where to write what came of each, as JSON lines")
    parser.add_argument("--again", type=Path, help="what --out wrote before: only what was not found then is tried again")
    options = parser.parse_args()
    all_units = [u for suite in SUITES for u in collected([suite])]
    for name in {test.rpartition(".")[0].rpartition(".")[0] for u in all_units for test in u.tests}:
        import_module(name)
    good = True
    for room in options.rooms:
        sample = faults(room, options.many, options.seed)
        before = _found_before(options.again)
        tried = [fault for fault in sample if not before.get(_place(asdict(fault)))]
        _refuse_unsound(tried, room, all_units)
        now = dict(zip(map(id, tried), _all(tried, room, all_units, options.lanes, options.out), strict=True))
        found = [now.get(id(fault), True) for fault in sample]
        share = sum(found) / len(sample)
        print(f"{room}: {sum(found)} of {len(sample)} faults found, {100 * share:.0f} %")
        for fault, was in zip(sample, found, strict=True):
            if not was:
                print(f"  NOT FOUND {fault.path}:{fault.line}\n    - {fault.was}\n    + {fault.becomes}", flush=True)
        good &= share >= 0.85
    return 0 if good else 1


def _place(fault: dict[str, Any]) -> tuple[Any, ...]:
    return tuple(fault[name] for name in ("path", "line", "operator", "occurrence", "was"))


def _found_before(path: Path | None) -> dict[tuple[Any, ...], bool]:
    """Whether each fault of an earlier run was found."""
    lines = path.read_text().splitlines() if path is not None else []
    return {_place(row): row["found"] for row in map(json.loads, lines)}


def _refuse_unsound(sample: Sequence[Fault], room: str, all_units: Sequence[Unit]) -> None:
    """Raises SystemExit where tests fail without any fault: then finding one would say nothing."""
    units = {u.name: u for fault in sample for u in units_for(fault, room, all_units)}
    context = multiprocessing.get_context("fork")
    process = context.Process(target=_try, args=(None, list(units.values())))
    process.start()
    process.join()
    if process.exitcode:
        raise SystemExit(f"{room}: tests fail without any fault")


def _all(sample: Sequence[Fault], room: str, all_units: Sequence[Unit], lanes: int, out: Path | None) -> list[bool]:
    """Whether each fault is found, several tried at a time."""
    context = multiprocessing.get_context("fork")
    found: dict[int, bool] = {}
    waiting, running = list(enumerate(sample)), dict[int, tuple[BaseProcess, float]]()
    while waiting or running:
        while waiting and len(running) < lanes:
            number, fault = waiting.pop(0)
            units = units_for(fault, room, all_units)
            process: BaseProcess = context.Process(target=_try, args=(fault, units))
            process.start()
            limit = 3 * sum(expected_s(u, known_seconds()) for u in units) + 90
            running[number] = process, time.monotonic() + limit
        for number, (process, until) in list(running.items()):
            process.join(0.1)
            late = time.monotonic() > until
            if late and process.is_alive():
                process.kill()
                process.join()
            if not process.is_alive():
                found[number] = process.exitcode != 0
                del running[number]
                _tell(sample[number], found[number], late, len(found), len(sample), out)
    return [found[k] for k in range(len(sample))]


def _tell(fault: Fault, was: bool, late: bool, done: int, many: int, out: Path | None) -> None:
    says = "late" if late else "found" if was else "NOT FOUND"
    print(f"{done}/{many} {says}: {fault.path}:{fault.line} {fault.becomes[:80]}", file=sys.stderr, flush=True)
    if out is not None:
        with out.open("a") as file:
            file.write(json.dumps({**asdict(fault), "code": "", "found": was, "late": late}) + "\n")


def _try(fault: Fault | None, units: Sequence[Unit]) -> None:
    """In a process of its own: put the fault in, run the tests, end with 0 where none fails."""
    os.setpgrp()
    quiet = io.StringIO()
    with redirect_stdout(quiet), redirect_stderr(quiet):
        if fault is None:
            status = _failing([test for unit in units for test in unit.tests])
        else:
            status = _inside_run(fault, units) if fault.inside else _apart_run(fault, units)
    os._exit(status)


def _inside_run(fault: Fault, units: Sequence[Unit]) -> int:
    if not _put_in(str(ROOT / fault.path), fault.code):
        return _apart_run(fault, units)
    return _failing([test for unit in units for test in unit.tests])


def _put_in(path: str, code: str) -> bool:
    """Give every function of a file its code with the fault; False where none was there to be given it."""
    now: dict[tuple[str, int], CodeType] = {}

    def gather(one: CodeType) -> None:
        now[one.co_qualname, one.co_firstlineno] = one
        for inner in one.co_consts:
            if isinstance(inner, CodeType):
                gather(inner)

    gather(compile(code, path, "exec"))
    given = False
    for thing in gc.get_objects():
        if isinstance(thing, FunctionType) and thing.__code__.co_filename == path:
            own = thing.__code__
            new = now.get((own.co_qualname, own.co_firstlineno))
            if new is not None and (new.co_code, new.co_consts) != (own.co_code, own.co_consts):
                thing.__code__ = new
                given = True
    return given


def _apart_run(fault: Fault, units: Sequence[Unit]) -> int:
    """The same with a copy of the tree, read anew: for what is worked out while modules are read."""
    import subprocess

    with tempfile.TemporaryDirectory() as place:
        tree = Path(place)
        for folder in ("hinoki", "tests", "bench"):
            shutil.copytree(ROOT / folder, tree / folder, ignore=shutil.ignore_patterns("__pycache__"))
        for name in ("run.py", "pyproject.toml", ".importlinter"):
            shutil.copyfile(ROOT / name, tree / name)
        (tree / fault.path).write_text(fault.code)
        tests = [test for unit in units for test in unit.tests]
        own = {**os.environ, "PYTHONPATH": str(tree), "PYTHONDONTWRITEBYTECODE": "1"}
        command = [sys.executable, "-m", "bench.sample", "--run"]
        done = subprocess.run(command, cwd=tree, env=own, input="\n".join(tests), text=True, capture_output=True, check=False)
        return 0 if done.returncode == 0 else 1


def _failing(tests: Sequence[str]) -> int:
    suite = unittest.TestLoader().loadTestsFromNames(tests)
    result = unittest.TextTestRunner(io.StringIO(), failfast=True).run(suite)
    return 0 if result.wasSuccessful() else 1


if __name__ == "__main__":
    sys.exit(_failing(sys.stdin.read().split()) if "--run" in sys.argv else main())

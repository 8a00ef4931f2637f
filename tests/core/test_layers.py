"""Which rooms of the house may lean on which (docs/architecture.md): contracts of import-linter, and the floors; and sizes."""

import ast
import subprocess
import sys
import unittest
from collections import defaultdict
from functools import cache
from pathlib import Path

import grimp

ROOT = Path(__file__).parents[2]
FLOORS = """
    core.errors core.progress core.unknown_fields core.parent_process core.cache core.stages core.findings core.forms
    core.geometry core.symmetry core.limbs
    core.formats core.workshop
    core.join.contract core.join.rims core.join.turning core.join.closures core.join.joints core.join.channels
    core.join.walls core.join.faced
    core.divide.partings
    core.moving.movements core.moving.mechanism
    core.model.health core.model.repair core.model.offsets core.model.steps
    core.make.base core.make.screw_holes core.make.running core.make
    core.plan
    core.model core.divide core.join core.join.opening core.join.sizing core.join.tiles core.join.supplies core.join.ladders
    core.orient.resting
    core.build core.project
    core.printed
    core.batch.packing core.orient core.batch.estimate core.batch
    core.assemble.scene core.assemble.motion core.assemble
    core.check
    core.parts core.moving
    core.propose.search core.propose
    core.export core.printlog core.whole_job
    present.schemas present.words present.findings present.display_mesh present.bodies present.joints present.tiles
    present.parts present.build present.printed
    present.sheets present.assemble present
"""
"""the rooms of the core and of what is presented, from the ground up; each may lean on those before it"""


@cache
def graph() -> grimp.ImportGraph:
    return grimp.build_graph("hinoki")


def room_of(module: str, floors: dict[str, int]) -> str:
    """The room a module stands in: the longest name on the floors that it begins with."""
    name = module.removeprefix("hinoki.")
    while name and name not in floors:
        name = name.rpartition(".")[0]
    return name


CORE_TESTS = """
import sys, unittest
print(unittest.TestLoader().discover("tests/core", top_level_dir=".").countTestCases())
print(sorted(name for name in sys.modules if name.startswith(("hinoki.present", "hinoki.operations", "hinoki.api"))))
"""
"""tells how many tests of the core there are, and what above the core was read with them"""
LONG_TO_READ = {"scipy", "networkx", "trimesh", "igl", "skimage"}
MOST_MODULES = 16
MOST_FUNCTION = 60
MOST_LINES = 350
LONGER = {"hinoki/core/geometry/solid.py": 390}
"""the only door to the kernel: what needs the kernel stands here"""


class Layers(unittest.TestCase):
    def test_the_contracts_hold(self) -> None:
        done = subprocess.run(
            [str(Path(sys.executable).parent / "lint-imports"), "--no-cache"],
            cwd=ROOT,
            capture_output=True,
            text=True,
            check=False,
        )
        self.assertEqual(done.returncode, 0, done.stdout[-3000:] + done.stderr)

    def test_every_room_leans_only_on_rooms_below_it(self) -> None:
        floors = {room: k for k, room in enumerate(FLOORS.split())}
        wrong, unknown = [], set()
        for module in graph().modules:
            if not module.startswith(("hinoki.core", "hinoki.present")):
                continue
            room = room_of(module, floors)
            if not room and module not in ("hinoki.core", "hinoki.present"):
                unknown.add(module)
            for used in graph().find_modules_directly_imported_by(module):
                below = room_of(used, floors)
                if room and below and floors[below] > floors[room]:
                    wrong.append(f"{module} imports {used}")
        self.assertEqual((wrong, unknown), ([], set()))

    def test_no_test_of_the_core_sees_what_screens_see(self) -> None:
        """A field of any schema of screens and reports can go, and no test of the core notices: none of them reads one."""
        done = subprocess.run([sys.executable, "-c", CORE_TESTS], cwd=ROOT, capture_output=True, text=True, check=True)
        tests, seen = done.stdout.splitlines()
        self.assertGreater(int(tests), 500)
        self.assertEqual(seen, "[]")

    def test_what_takes_long_to_read_is_read_where_it_is_used(self) -> None:
        """The server needs none of it itself, and its workers have read it ahead (jobs/preload.py)."""
        found = []
        for path in sorted((ROOT / "hinoki").rglob("*.py")):
            for node in ast.parse(path.read_text()).body:
                names = [node.module or ""] if isinstance(node, ast.ImportFrom) else []
                names += [alias.name for alias in node.names] if isinstance(node, ast.Import) else []
                found += [f"{path.relative_to(ROOT)}: {n}" for n in names if n.partition(".")[0] in LONG_TO_READ]
        self.assertEqual(found, [])

    def test_no_function_is_too_long(self) -> None:
        long = {}
        for path in (ROOT / "hinoki").rglob("*.py"):
            for node in ast.walk(ast.parse(path.read_text())):
                if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef) and node.end_lineno is not None:
                    lines = node.end_lineno - node.lineno + 1
                    if lines > MOST_FUNCTION:
                        long[f"{path.relative_to(ROOT)} {node.name}"] = lines
        self.assertEqual(long, {})

    def test_no_room_is_too_large_and_no_module_too_long(self) -> None:
        rooms: dict[str, int] = defaultdict(int)
        long = {}
        for path in (ROOT / "hinoki").rglob("*.py"):
            rooms[str(path.parent.relative_to(ROOT))] += path.name != "__init__.py"
            lines = len(path.read_text().splitlines())
            name = str(path.relative_to(ROOT))
            if lines > LONGER.get(name, MOST_LINES):
                long[name] = lines
        self.assertEqual({room: n for room, n in rooms.items() if n > MOST_MODULES}, {})
        self.assertEqual(long, {})


if __name__ == "__main__":
    unittest.main()

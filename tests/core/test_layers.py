"""Imports point one way only (docs: architecture)."""

import ast
import unittest
from pathlib import Path

ROOT = Path(__file__).parents[2] / "hinoki"
MAY_NOT = {
    "core": {"api", "store", "jobs", "cli", "demo"},
    "store": {"api", "jobs", "cli", "demo"},
    "jobs": {"api", "cli", "demo"},
    "printers": {"api", "store", "jobs", "cli", "demo"},
    "demo": {"api", "store", "jobs", "cli"},
}


def imported(path: Path) -> set[str]:
    names = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.ImportFrom) and node.module:
            names.add(node.module)
        elif isinstance(node, ast.Import):
            names.update(alias.name for alias in node.names)
    return names


class Layers(unittest.TestCase):
    def test_no_layer_imports_one_above_it(self) -> None:
        wrong = [
            f"{path.relative_to(ROOT)} imports {name}"
            for layer, forbidden in MAY_NOT.items()
            for path in (ROOT / layer).rglob("*.py")
            for name in imported(path)
            if name.startswith("hinoki.") and name.split(".")[1] in forbidden
        ]
        self.assertEqual(wrong, [])

    def test_only_solid_imports_the_kernel(self) -> None:
        users = {str(p.relative_to(ROOT)) for p in ROOT.rglob("*.py") if "manifold3d" in imported(p)}
        self.assertEqual(users, {"core/geometry/solid.py"})

    def test_core_knows_no_web_and_no_database(self) -> None:
        outside = {"fastapi", "starlette", "uvicorn", "sqlite3", "sse_starlette"}
        wrong = [(p.name, name) for p in (ROOT / "core").rglob("*.py") for name in imported(p) if name.split(".")[0] in outside]
        self.assertEqual(wrong, [])

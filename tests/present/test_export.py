"""What goes out with its report: the report's contract, and equal bytes in every process."""

import json
import os
import subprocess
import sys
import unittest
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from hinoki.core.propose.recommend_joints import suggested
from hinoki.core.workshop.printers import presets
from tests.presented import exported
from tests.shapes import across, built, level, plan_for, stl_of, tube

ROOT = Path(__file__).parents[2]

BENCH = presets()[1]


TELLING = """
from hinoki.core.assemble.assembled import assembled
from hinoki.core.cache import Cache
from hinoki.core.join.channels import CableWay
from tests.presented import exported
from tests.shapes import across, box, built, level, plan_for, stl_of
import hashlib

data = stl_of(box(60, 60, 60))
way = CableWay(id="w1", start_mm=(15, 15, -5), end_mm=(15, 15, 65))
plan = plan_for(data, level(1, 30), across(2, "x", 0), across(3, "y", 0), ways=(way,))
made = built(data, plan)
for name, content in sorted(exported(made).items()):
    print(name, hashlib.sha256(content).hexdigest())
for step in assembled(plan, made, Cache()).order.steps:
    print(step.lead, step.onto)
"""


def told_in_a_process(seed: int) -> str:
    """What a process of its own tells of a build, its strings hashed with a seed of their own."""
    own = {**os.environ, "PYTHONHASHSEED": str(seed)}
    command = [sys.executable, "-c", TELLING]
    return subprocess.run(command, cwd=ROOT, env=own, capture_output=True, text=True, check=True).stdout


class Exports(unittest.TestCase):
    def setUp(self) -> None:
        self.data = stl_of(tube(46, 34, 300))
        plan = plan_for(self.data, level(1, 100), level(2, 200), across(3, "x", 0))
        self.plan = suggested(built(self.data, plan), plan, "dowel", "sliding")

    def test_equal_plans_give_equal_bytes_in_every_process(self) -> None:
        """Whatever order a process keeps its sets in: the drawings' files, and the order of assembly."""
        with ThreadPoolExecutor(2) as both:
            one, two = both.map(told_in_a_process, (3, 4))
        self.assertEqual(one, two)

    def test_the_report_keeps_its_contract(self) -> None:
        files = exported(built(self.data, self.plan))
        report = json.loads(files["report.json"])
        self.assertEqual(report["schema"], "hinoki-report/1")
        wanted = {
            "model": {"name", "triangles", "size_mm", "volume_mm3", "closed", "findings"},
            "volume_balance": {"model_mm3", "pieces_before_joints_mm3", "relative_error"},
            "seconds": {"read", "part", "join", "write", "total"},
        }
        for key, inner in wanted.items():
            self.assertLessEqual(inner, set(report[key]))
        piece_keys = "key number name file size_mm resting_size_mm volume_mm3 triangles closed fits neighbours"
        self.assertLessEqual(set(piece_keys.split()), set(report["pieces"][0]))
        joint_keys = "face kind count fit clearance_mm positions_mm findings"
        self.assertLessEqual(set(joint_keys.split()), set(report["joints"][0]))
        self.assertIsNone(report["assembly"])  # it goes along where it was asked for
        for piece in report["pieces"]:
            self.assertIn(piece["file"], files)
            self.assertTrue(piece["closed"])
        self.assertLess(report["volume_balance"]["relative_error"], 1e-6)


if __name__ == "__main__":
    unittest.main()

"""The plan as it is written down for the screens (web/openapi.json): every limit and default of its kinds is as told there."""

import json
import unittest
from pathlib import Path
from typing import Any

from hinoki.core.plan.plan import Plan

WRITTEN = Path(__file__).parents[2] / "web" / "openapi.json"


def told(value: Any) -> Any:
    """A schema without what the document leaves out: defaults of nothing."""
    if isinstance(value, dict):
        return {k: told(v) for k, v in value.items() if not (k == "default" and v is None)}
    return [told(v) for v in value] if isinstance(value, list) else value


class Written(unittest.TestCase):
    def test_every_field_has_the_limits_and_the_default_that_are_written_down(self) -> None:
        written = json.loads(WRITTEN.read_text().replace('-Output"', '"'))["components"]["schemas"]
        plan = Plan.model_json_schema(ref_template="#/components/schemas/{model}")["$defs"]
        shared = [name for name in plan if name in written]
        self.assertGreater(len(shared), 40)
        for name in shared:
            with self.subTest(name):
                now = told(json.loads(json.dumps(plan[name].get("properties", {}))))
                self.assertEqual(now, told(written[name].get("properties", {})), "run 'python3 run.py types'")


if __name__ == "__main__":
    unittest.main()

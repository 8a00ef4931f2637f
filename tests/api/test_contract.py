"""The API keeps to its own document, whatever is asked: no failure of the server, no status that is not declared.

Requests are made up from the OpenAPI document by schemathesis, good ones and wrong ones.
"""

import contextlib
import logging
import tempfile
import unittest
import warnings
from pathlib import Path

import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis.errors import Unsatisfiable
from schemathesis.checks import not_a_server_error
from schemathesis.generation import GenerationMode
from schemathesis.specs.openapi.checks import content_type_conformance, status_code_conformance

from hinoki.api.app import make_app
from hinoki.api.shared.state import State
from hinoki.core.formats.registry import read_file
from hinoki.store.tables import projects
from hinoki.store.tables.sources import SourceFacts, add_source
from tests.effort import THOROUGH, either
from tests.shapes import box, level, plan_for, stl_of

CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance]
ENDLESS = ("/api/projects/{project_id}/events",)
"""streams that go on until the window is closed"""


class Contract(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.state = State(Path(folder.name))
        self.addCleanup(self.state.close)
        logging.disable(logging.WARNING)
        self.addCleanup(logging.disable, logging.NOTSET)
        warnings.simplefilter("ignore")
        self.project = self.begun()

    def begun(self) -> str:
        """A project that requests may name, with a model and a parting."""
        data = stl_of(box(30, 20, 40))
        plan = plan_for(data, level(1, 20))
        assert plan.model
        path = self.state.upload_path()
        path.write_bytes(data)
        facts = SourceFacts(plan.model.source, "a.stl", len(data), len(read_file(data, "a.stl").mesh.faces), (30.0, 20.0, 40.0))
        self.state.database.write(lambda c: add_source(c, path, facts))
        path.unlink()
        return self.state.database.write(lambda c: projects.add_project(c, "Shed", plan))

    def test_every_operation_answers_as_it_is_declared(self) -> None:
        app = make_app(self.state, hosts=("*",))
        schema = schemathesis.openapi.from_asgi("/openapi.json", app, timeout=300)
        count = 0
        for found in schema.get_all_operations():
            operation = found.ok()
            if operation.path in ENDLESS:
                continue
            count += 1
            # a name in an address is never wrong by its form
            wrong = [GenerationMode.NEGATIVE] if operation.body or operation.query else []
            for mode in (GenerationMode.POSITIVE, *wrong):
                with self.subTest(operation=f"{operation.method} {operation.path}", mode=mode.value):
                    self.tried(operation, mode)
        self.assertGreater(count, 90)

    def tried(self, operation: "schemathesis.APIOperation", mode: GenerationMode) -> None:  # type: ignore[name-defined]
        strategy = operation.as_strategy(generation_mode=mode)

        @settings(
            max_examples=either(1, 40),
            deadline=None,
            derandomize=not THOROUGH,
            database=None,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        @given(case=strategy)
        def one(case: "schemathesis.Case") -> None:
            if "project_id" in (case.path_parameters or {}):
                case.path_parameters["project_id"] = self.project
            case.call_and_validate(checks=CHECKS)

        with contextlib.suppress(Unsatisfiable):  # nothing can be asked wrongly where nothing is given
            one()

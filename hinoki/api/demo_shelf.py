"""The demo projects, put on the shelf one by one while the application already answers."""

import logging
import subprocess
import sys
import threading
from collections.abc import Sequence
from pathlib import Path

from hinoki.api.shared.state import State
from hinoki.core.errors import BadPlan
from hinoki.core.formats.registry import read_file
from hinoki.demo.projects import DEMOS, Demo
from hinoki.jobs.atomic_write import save
from hinoki.store.tables import projects
from hinoki.store.tables.sources import SourceFacts, add_source

LOG = logging.getLogger(__name__)
LOOKS_EVERY_S = 0.1


class DemoShelf:
    """Makes what the shelf lacks of `demos`; their models in processes of their own, so that the server answers meanwhile.
    `state.making` names what is still to come."""

    def __init__(self, state: State, demos: Sequence[Demo] = DEMOS) -> None:
        self._state = state
        with state.database.reading() as connection:
            there = {row.name for row in projects.list_projects(connection)}
        self._missing = [demo for demo in demos if demo.name not in there]
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._make_all, name="demo projects", daemon=True)

    def begin(self) -> None:
        """Begin, and stop before the application is closed."""
        self._state.making = [demo.name for demo in self._missing]
        self._state.before_closing(self.close)
        self._thread.start()

    def close(self) -> None:
        """Stop: what is being made is left."""
        self._stop.set()
        self._thread.join()

    def _make_all(self) -> None:
        for demo in self._missing:
            try:
                self._make(demo)
            except Exception:
                LOG.exception("the demo project “%s” could not be made", demo.name)
            if self._stop.is_set():
                return
            self._state.making = [name for name in self._state.making if name != demo.name]

    def _make(self, demo: Demo) -> None:
        path = self._state.upload_path()
        command = [sys.executable, "-m", "hinoki.demo.made", str(DEMOS.index(demo)), str(path)]
        try:
            # a session of its own: Ctrl+C is for the server, which ends it
            with subprocess.Popen(command, start_new_session=True) as made:
                while made.poll() is None:
                    if self._stop.wait(LOOKS_EVERY_S):
                        made.kill()
            if self._stop.is_set():
                return
            if made.returncode:
                raise RuntimeError(f"its model was not made (exit code {made.returncode})")
            put_on_the_shelf(self._state, demo, path)
        finally:
            path.unlink(missing_ok=True)


def put_on_the_shelf(state: State, demo: Demo, path: Path) -> None:
    """A demo project with its model file, made at `path`, and the plan that is shipped."""
    data = path.read_bytes()
    plan = demo.plan(data)
    if plan.model is None:
        raise BadPlan("the demo plan names no model", "model")
    use = plan.model
    mesh = read_file(data, use.file_name).mesh
    x, y, z = (float(v) for v in mesh.bounds[1] - mesh.bounds[0])
    facts = SourceFacts(use.source, use.file_name, len(data), len(mesh.faces), (x, y, z))
    state.database.write(lambda c: add_source(c, path, facts))
    project = state.database.write(lambda c: projects.add_project(c, demo.name, plan, "Demo project"))
    if demo.picture_path.exists():
        save(state.last_picture(project), demo.picture_path.read_bytes())

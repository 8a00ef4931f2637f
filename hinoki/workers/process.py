"""What runs inside a worker process: it keeps solids alive between jobs, tells progress, and can be asked to stop."""

import contextlib
import os
import tempfile
import time
from collections.abc import Callable
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.display import display_buffer
from hinoki.core.engine import Built, build
from hinoki.core.errors import Cancelled, HinokiError
from hinoki.core.export import export_zip
from hinoki.core.plan import Plan, read_plan
from hinoki.core.read import read_model
from hinoki.core.solid import Solid
from hinoki.store.database import reader_connection
from hinoki.store.sources import source_bytes

EVERY_S = 0.08


class Worker:
    """One worker's state: its memory of results and the folders it may use."""

    def __init__(self, pipe: Connection, database: Path, cache_folder: Path) -> None:
        self._pipe, self._database, self._folder = pipe, database, cache_folder
        self._cache = Cache()
        self._job, self._last = "", 0.0

    def run(self) -> None:
        """Serve jobs until the pipe closes."""
        while True:
            try:
                message = self._pipe.recv()
            except (EOFError, OSError):
                return
            if message[0] == "job":
                self._answer(*message[1:])

    def _answer(self, job: str, kind: str, payload: dict[str, Any]) -> None:
        self._job, self._last = job, 0.0
        try:
            actions: dict[str, Callable[..., Any]] = {"inspect": self.inspect, "build": self.build, "export": self.export}
            self._pipe.send(("done", job, actions[kind](**payload)))
        except Cancelled as error:
            self._pipe.send(("cancelled", job, error.message))
        except HinokiError as error:
            self._pipe.send(("failed", job, error.message, error.where, error.status, error.code))
        except MemoryError:
            text = "There was not enough memory for this. Use a model with fewer triangles."
            self._pipe.send(("failed", job, text, None, 507, "out-of-memory"))
        except Exception as error:  # noqa: BLE001 - one job fails, the worker goes on
            text = f"Something in Hinoki went wrong ({type(error).__name__}: {error}). Nothing was changed."
            self._pipe.send(("failed", job, text, None, 500, "internal"))

    def progress(self, fraction: float, phrase: str) -> None:
        """Tell the server, at most every EVERY_S. Raises Cancelled when it was asked to stop."""
        while self._pipe.poll():
            message = self._pipe.recv()
            if message == ("cancel", self._job):
                raise Cancelled("Stopped.")
        now = time.monotonic()
        if now - self._last >= EVERY_S:
            self._last = now
            self._pipe.send(("progress", self._job, fraction, phrase))

    def inspect(self, path: str, file_name: str) -> dict[str, Any]:
        """Read a file just brought in; its number of triangles and size in its own unit."""
        self.progress(0.1, "Reading the model")
        mesh = read_model(Path(path).read_bytes(), file_name)
        low, high = mesh.bounds
        return {"triangles": len(mesh.faces), "size": [float(v) for v in high - low]}

    def build(self, plan: str, numbers: dict[str, int], target: str) -> dict[str, int]:
        """Build a plan for the screen; the view and the meshes go into the cache folder. Gives the piece numbers."""
        built = self._built(read_plan(plan), numbers, for_screen=True)
        for name, body in built.meshes.items():
            path = self._folder / "meshes" / f"{name}.bin"
            if not path.exists():
                self.progress(0.97, "Drawing")
                save(path, display_buffer(body.mesh if isinstance(body, Solid) else body))
        save(self._folder / "builds" / target, built.view.model_dump_json().encode())
        return built.view.numbers

    def export(self, plan: str, numbers: dict[str, int], target: str) -> str:
        """Write the ZIP of an export into the cache folder; gives its name."""
        wanted = read_plan(plan)
        built = self._built(wanted, numbers, for_screen=False)
        save(self._folder / "exports" / target, export_zip(wanted, built, lambda f, p: self.progress(0.5 + 0.5 * f, p)))
        return target

    def _built(self, plan: Plan, numbers: dict[str, int], for_screen: bool) -> Built:
        return build(plan, self._source, self._cache, self.progress, numbers, for_screen)

    def _source(self, sha256: str) -> bytes:
        with contextlib.closing(reader_connection(self._database)) as connection:
            return source_bytes(connection, sha256)


def save(path: Path, content: bytes) -> None:
    """Write a file whole or not at all."""
    path.parent.mkdir(parents=True, exist_ok=True)
    handle, name = tempfile.mkstemp(dir=path.parent, prefix=".part-")
    with os.fdopen(handle, "wb") as file:
        file.write(content)
    Path(name).replace(path)


def serve_jobs(pipe: Connection, database: str, cache_folder: str) -> None:
    """Entry of a worker process."""
    np.seterr(all="ignore")
    Worker(pipe, Path(database), Path(cache_folder)).run()

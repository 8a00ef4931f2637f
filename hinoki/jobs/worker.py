"""What runs inside a worker process: operations, found by their names. It keeps solids alive between jobs, tells progress, and
can be asked to stop."""

import contextlib
import logging
import time
from collections.abc import Mapping
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, Literal

from hinoki.core.cache import Cache
from hinoki.core.errors import Cancelled, HinokiError
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.jobs.atomic_write import save
from hinoki.jobs.job import Asked
from hinoki.jobs.memory import keep_within
from hinoki.operations.context import Context
from hinoki.operations.registry import find
from hinoki.present.display_mesh import display_arrays, display_buffer, gaps_buffer, thickness_buffer
from hinoki.store.cache_files import used
from hinoki.store.database import reader_connection
from hinoki.store.tables.sources import source_bytes
from hinoki.store.tables.step_photos import photo

EVERY_S = 0.08
LOG = logging.getLogger(__name__)


class Worker:
    """One worker's state: its memory of results and the folders it may use."""

    def __init__(self, pipe: Connection, database: Path, cache_folder: Path) -> None:
        self._pipe = pipe
        self.files = Files(pipe, database, cache_folder)
        self.cache = Cache()
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
                keep_within(self.cache)

    def _answer(self, job: str, kind: str, asked: Asked) -> None:
        self._job, self._last = job, 0.0
        self.files.job = job
        try:
            self._pipe.send(("done", job, self._done(kind, asked)))
        except Cancelled as error:
            self._pipe.send(("cancelled", job, error.message))
        except HinokiError as error:
            self._pipe.send(("failed", job, error.message, error.where, error.status, error.code))
        except MemoryError:
            text = "There was not enough memory for this. Use a model with fewer triangles."
            self._pipe.send(("failed", job, text, None, 507, "out-of-memory"))
        except Exception as error:  # one job fails, the worker goes on
            LOG.exception("job=%s kind=%s failed", job, kind)
            text = f"Something in Hinoki went wrong ({type(error).__name__}: {error}). Nothing was changed."
            self._pipe.send(("failed", job, text, None, 500, "internal"))

    def _done(self, kind: str, asked: Asked) -> Any:
        """Run an operation: the name of its result's file, or, where no file is kept, what came of it."""
        own = find(kind)
        context = Context(asked.situation, own.needs, self.files, self.cache, self.progress, asked.target)
        result = own.run(own.request.model_validate(asked.request), context)
        if not own.kept:
            return result.model_dump(mode="json")
        save(self.files.folder / "answers" / asked.target, result.model_dump_json(by_alias=True).encode())
        return asked.target

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


class Files:
    """The files and bytes of a data folder that operations read and write (see operations.context.Workspace)."""

    def __init__(self, pipe: Connection, database: Path, folder: Path) -> None:
        self._pipe, self._database, self.folder = pipe, database, folder
        self.job = ""

    def source(self, sha256: str) -> bytes:
        """A model file by its hash."""
        with contextlib.closing(reader_connection(self._database)) as connection:
            return source_bytes(connection, sha256)

    def photo(self, project: str, unit: str) -> bytes | None:
        """A photograph at a step."""
        with contextlib.closing(reader_connection(self._database)) as connection:
            return photo(connection, project, unit)

    def draw(self, name: str, mesh: Mesh) -> bool:
        """Write a drawing where there is none; whether there was none."""
        path = self.folder / "meshes" / f"{name}.bin"
        if path.exists():
            used(path)
            return False
        save(path, display_buffer(mesh))
        return True

    def drawing(self, name: str) -> bytes:
        """A drawing that was kept."""
        return (self.folder / "meshes" / f"{name}.bin").read_bytes()

    def map_walls(self, name: str, mesh: Mesh) -> None:
        """Write a thickness map where there is none."""
        path = self.folder / "meshes" / f"{name}.thick"
        if not path.exists():
            positions, _, indices = display_arrays(mesh)
            save(path, thickness_buffer(mesh, positions, indices))

    def draw_gaps(self, name: str, surface: Mesh, gaps: Points) -> None:
        """Write a drawing, and a map of the gaps over its faces."""
        if self.draw(name, surface):
            save(self.folder / "meshes" / f"{name}.thick", gaps_buffer(surface, gaps))

    def keep(self, folder: Literal["answers", "builds", "exports"], name: str, content: bytes) -> None:
        """Write a file."""
        save(self.folder / folder / name, content)

    def show_pieces(self, drawings: Mapping[str, str]) -> None:
        """Tell the server the drawings of pieces that are there before the rest of a build."""
        self._pipe.send(("pieces", self.job, dict(drawings)))

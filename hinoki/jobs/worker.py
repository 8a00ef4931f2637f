"""What runs inside a worker process: operations, found by their names. It keeps solids alive between jobs, tells progress, and
can be asked to stop."""

import contextlib
import time
from collections.abc import Mapping
from multiprocessing.connection import Connection
from pathlib import Path

from hinoki.core.cache import Cache
from hinoki.core.errors import Cancelled
from hinoki.jobs.answering import answered
from hinoki.jobs.atomic_write import save
from hinoki.jobs.job import Asked
from hinoki.jobs.made_files import MadeFiles
from hinoki.jobs.memory import keep_within
from hinoki.store.cache_files import used
from hinoki.store.database import reader_connection
from hinoki.store.tables.sources import source_bytes
from hinoki.store.tables.step_photos import photo

EVERY_S = 0.08


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
        what, said = answered(kind, asked, self.files, self.cache, self.progress)
        self._pipe.send((what, job, *said))

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


class Files(MadeFiles):
    """The files and bytes of a data folder that operations read and write (see operations.context.Workspace)."""

    def __init__(self, pipe: Connection, database: Path, folder: Path) -> None:
        self._pipe, self._database, self.folder = pipe, database, folder
        self.job = ""

    def there(self, path: str) -> bool:
        """Whether a file is there, which is used now."""
        file = self.folder / path
        if file.exists():
            used(file)
            return True
        return False

    def put(self, path: str, content: bytes) -> None:
        """Write a file."""
        save(self.folder / path, content)

    def source(self, sha256: str) -> bytes:
        """A model file by its hash."""
        with contextlib.closing(reader_connection(self._database)) as connection:
            return source_bytes(connection, sha256)

    def photo(self, project: str, unit: str) -> bytes | None:
        """A photograph at a step."""
        with contextlib.closing(reader_connection(self._database)) as connection:
            return photo(connection, project, unit)

    def drawing(self, name: str) -> bytes:
        """A drawing that was kept."""
        return (self.folder / "meshes" / f"{name}.bin").read_bytes()

    def show_pieces(self, drawings: Mapping[str, str]) -> None:
        """Tell the server the drawings of pieces that are there before the rest of a build."""
        self._pipe.send(("pieces", self.job, dict(drawings)))

"""The database: one writer thread, a few read-only readers, numbered migrations. Plain SQL on sqlite3, WAL, FULL sync."""

import queue
import sqlite3
import threading
from collections.abc import Callable, Iterator
from concurrent.futures import Future
from contextlib import closing, contextmanager
from importlib.resources import files
from pathlib import Path
from typing import Any, TypeVar

from hinoki.core.errors import Closing, HinokiError

T = TypeVar("T")
Write = Callable[[sqlite3.Connection], Any]
_Job = tuple[Write, "Future[Any]", bool]
IDLE_READERS = 8
"""readers that are kept open for whoever reads next"""


class Database:
    """Owns all connections to one database file."""

    def __init__(self, path: Path) -> None:
        self.path = path
        path.parent.mkdir(parents=True, exist_ok=True)
        self._jobs: queue.Queue[_Job | None] = queue.Queue()
        self._idle: queue.LifoQueue[sqlite3.Connection] = queue.LifoQueue(IDLE_READERS)
        self._asking = threading.Lock()
        self._closed = False
        writer = _opened(path)
        self._thread = threading.Thread(target=self._write_all, args=(writer,), name="database writer", daemon=True)
        self._thread.start()

    def write(self, action: Callable[[sqlite3.Connection], T]) -> T:
        """Run `action` in one transaction on the writer thread; committed when this returns, undone when it raises."""
        done: Future[T] = Future()
        self._ask(action, done, True)
        return done.result()

    def replace(self, source: Path) -> None:
        """Take over all of another database, which was looked through before (see store.backups); readers see it at once."""
        done: Future[None] = Future()

        def take(writer: sqlite3.Connection) -> None:
            with closing(sqlite3.connect(source)) as other:
                other.backup(writer)
            writer.execute("PRAGMA journal_mode = WAL")

        self._ask(take, done, False)
        done.result()

    @contextmanager
    def reading(self) -> Iterator[sqlite3.Connection]:
        """A read-only connection, for as long as it is needed; whoever reads next is given the same."""
        try:
            connection = self._idle.get_nowait()
        except queue.Empty:
            connection = reader_connection(self.path)
        try:
            yield connection
        finally:
            try:
                if self._closed:
                    raise queue.Full
                self._idle.put_nowait(connection)
            except queue.Full:
                connection.close()

    @contextmanager
    def snapshot(self) -> Iterator[sqlite3.Connection]:
        """A read-only connection that sees the database as it is now until it is done."""
        with self.reading() as connection:
            connection.execute("BEGIN")
            try:
                yield connection
            finally:
                connection.execute("ROLLBACK")

    def close(self) -> None:
        """Finish what is queued and close; whoever still wants to write is told so."""
        with self._asking:
            if not self._closed:
                self._closed = True
                self._jobs.put(None)
        self._thread.join()
        while not self._idle.empty():
            self._idle.get_nowait().close()

    def _ask(self, action: Write, done: "Future[Any]", in_transaction: bool) -> None:
        with self._asking:
            if self._closed:
                raise Closing("Hinoki is being closed, and nothing was changed. Start it again and repeat this.")
            self._jobs.put((action, done, in_transaction))

    def _write_all(self, connection: sqlite3.Connection) -> None:
        while (job := self._jobs.get()) is not None:
            action, done, in_transaction = job
            try:
                if in_transaction:
                    connection.execute("BEGIN IMMEDIATE")
                result = action(connection)
                if in_transaction:
                    connection.execute("COMMIT")
            except BaseException as error:  # noqa: BLE001 - handed to the caller, whatever it is
                if connection.in_transaction:
                    connection.execute("ROLLBACK")
                done.set_exception(error)
            else:
                done.set_result(result)
        connection.close()


def _opened(path: Path) -> sqlite3.Connection:
    """The writer's connection, its schema the newest. Raises HinokiError for a database that cannot be used."""
    try:
        writer = _writer_connection(path)
        at = int(writer.execute("PRAGMA user_version").fetchone()[0])
        if at <= newest_schema():
            migrate(writer)
            return writer
        writer.close()
    except sqlite3.DatabaseError as error:
        if isinstance(error, sqlite3.OperationalError) and "malformed" not in str(error):
            raise
        raise HinokiError(
            f"The database is damaged ({error}). Put a backup in its place with 'hinoki restore FILE'; what is there is kept "
            "beside it.",
            str(path),
        ) from error
    raise HinokiError(
        f"The database was written by a newer Hinoki (schema {at}; this one knows {newest_schema()}). Update Hinoki.", str(path)
    )


def reader_connection(path: Path) -> sqlite3.Connection:
    """A read-only connection, for any one thread at a time."""
    connection = sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True, timeout=10, check_same_thread=False)
    connection.row_factory = sqlite3.Row
    connection.execute("PRAGMA trusted_schema = ON")  # it checks and reads JSON
    return connection


def _writer_connection(path: Path) -> sqlite3.Connection:
    connection = sqlite3.connect(path, timeout=10, isolation_level=None, check_same_thread=False)
    connection.row_factory = sqlite3.Row
    connection.execute("PRAGMA journal_mode = WAL")
    connection.execute("PRAGMA synchronous = FULL")
    connection.execute("PRAGMA foreign_keys = ON")
    connection.execute("PRAGMA trusted_schema = ON")  # it checks and reads JSON
    return connection


def migrate(connection: sqlite3.Connection) -> int:
    """Apply the migrations that are missing, each with its mark in one transaction; gives the schema's number."""
    at = int(connection.execute("PRAGMA user_version").fetchone()[0])
    for number, script in migrations():
        if number <= at:
            continue
        # tables that are made anew are dropped in between, and nothing else is to go with them
        connection.execute("PRAGMA foreign_keys = OFF")
        try:
            connection.executescript(f"BEGIN IMMEDIATE;\n{script}\nPRAGMA user_version = {number};")
            orphan = connection.execute("PRAGMA foreign_key_check").fetchone()
            if orphan is not None:
                raise sqlite3.IntegrityError(f"a row of its {orphan[0]} belongs to nothing")
            connection.execute("COMMIT")
        except sqlite3.Error:
            if connection.in_transaction:
                connection.execute("ROLLBACK")
            raise
        finally:
            connection.execute("PRAGMA foreign_keys = ON")
        at = number
    return at


def newest_schema() -> int:
    """The number of the newest migration."""
    return migrations()[-1][0]


def migrations() -> list[tuple[int, str]]:
    """The scripts in their order, each with its number."""
    folder = files("hinoki.store").joinpath("migrations")
    found = [(int(f.name[:3]), f.read_text()) for f in folder.iterdir() if f.name.endswith(".sql")]
    return sorted(found)

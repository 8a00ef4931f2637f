"""The database: one writer thread, read-only readers, numbered migrations. Plain SQL on sqlite3, WAL, FULL sync."""

import queue
import sqlite3
import threading
from collections.abc import Callable, Iterator
from concurrent.futures import Future
from contextlib import closing, contextmanager
from importlib.resources import files
from pathlib import Path
from typing import Any, TypeVar

from hinoki.core.errors import HinokiError

T = TypeVar("T")
Write = Callable[[sqlite3.Connection], Any]
_Job = tuple[Write, "Future[Any]", bool]


class Database:
    """Owns all connections to one database file."""

    def __init__(self, path: Path) -> None:
        self.path = path
        path.parent.mkdir(parents=True, exist_ok=True)
        self._jobs: queue.Queue[_Job | None] = queue.Queue()
        self._local = threading.local()
        self._readers: list[sqlite3.Connection] = []
        writer = _writer_connection(path)
        migrate(writer)
        self._thread = threading.Thread(target=self._write_all, args=(writer,), name="database writer", daemon=True)
        self._thread.start()

    def write(self, action: Callable[[sqlite3.Connection], T]) -> T:
        """Run `action` in one transaction on the writer thread; committed when this returns, undone when it raises."""
        done: Future[T] = Future()
        self._jobs.put((action, done, True))
        return done.result()

    def replace(self, source: Path) -> None:
        """Take over all of another database, which was looked at before (see usable_backup); readers see it at once.

        Its schema is brought to the newest first, in the copy.
        """
        done: Future[None] = Future()

        def take(writer: sqlite3.Connection) -> None:
            with closing(sqlite3.connect(source)) as other:
                migrate(other)
                other.backup(writer)
            writer.execute("PRAGMA journal_mode = WAL")

        self._jobs.put((take, done, False))
        done.result()

    @contextmanager
    def reading(self) -> Iterator[sqlite3.Connection]:
        """This thread's read-only connection."""
        connection = getattr(self._local, "connection", None)
        if connection is None:
            connection = reader_connection(self.path)
            self._local.connection = connection
            self._readers.append(connection)
        yield connection

    @contextmanager
    def snapshot(self) -> Iterator[sqlite3.Connection]:
        """This thread's read-only connection, which sees the database as it is now until it is done."""
        with self.reading() as connection:
            connection.execute("BEGIN")
            try:
                yield connection
            finally:
                connection.execute("ROLLBACK")

    def close(self) -> None:
        """Finish what is queued and close."""
        self._jobs.put(None)
        self._thread.join()
        for connection in self._readers:
            connection.close()

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


def reader_connection(path: Path) -> sqlite3.Connection:
    """A read-only connection, for any one thread at a time."""
    connection = sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True, timeout=10, check_same_thread=False)
    connection.row_factory = sqlite3.Row
    return connection


def _writer_connection(path: Path) -> sqlite3.Connection:
    connection = sqlite3.connect(path, timeout=10, isolation_level=None, check_same_thread=False)
    connection.row_factory = sqlite3.Row
    connection.execute("PRAGMA journal_mode = WAL")
    connection.execute("PRAGMA synchronous = FULL")
    connection.execute("PRAGMA foreign_keys = ON")
    return connection


def migrate(connection: sqlite3.Connection) -> int:
    """Apply the migrations that are missing, each with its mark in one transaction; gives the schema's number."""
    at = int(connection.execute("PRAGMA user_version").fetchone()[0])
    for number, script in _migrations():
        if number <= at:
            continue
        connection.executescript(f"BEGIN IMMEDIATE;\n{script}\nPRAGMA user_version = {number};\nCOMMIT;")
        at = number
    return at


def _migrations() -> list[tuple[int, str]]:
    folder = files("hinoki.store").joinpath("migrations")
    found = [(int(f.name[:3]), f.read_text()) for f in folder.iterdir() if f.name.endswith(".sql")]
    return sorted(found)


def usable_backup(path: Path) -> None:
    """Raises HinokiError for a file that is no backup of Hinoki's, is damaged, or was made by a newer one."""
    newest = _migrations()[-1][0]
    try:
        with closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)) as connection:
            state = connection.execute("PRAGMA integrity_check").fetchone()[0]
            number = int(connection.execute("PRAGMA user_version").fetchone()[0])
            names = {row[0] for row in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    except sqlite3.DatabaseError as error:
        raise HinokiError("This is no backup: it is not a database. Choose the file that Hinoki saved.", "file") from error
    if state != "ok":
        raise HinokiError(f"This backup is damaged ({state[:80]}). Choose another.", "file")
    if not {"projects", "revisions", "sources"} <= names or not number >= 1:
        raise HinokiError("This is a database, but no backup of Hinoki's. Choose the file that was saved.", "file")
    if number > newest:
        says = f"This backup was made by a newer Hinoki (schema {number}; this one knows {newest}). Update Hinoki."
        raise HinokiError(says, "file")


def backup(source: Path, target: Path) -> None:
    """Copy the database into one file with SQLite's own backup; safe while the application runs."""
    if not source.exists():
        raise FileNotFoundError(2, "there is no database here", str(source))
    with sqlite3.connect(f"{source.absolute().as_uri()}?mode=ro", uri=True) as original, sqlite3.connect(target) as copy:
        original.backup(copy)
    copy.close()
    original.close()

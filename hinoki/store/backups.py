"""Backups: saved while the application runs, and looked through wholly before anything is taken from them."""

import re
import sqlite3
import tempfile
from collections.abc import Callable, Iterator
from contextlib import closing
from pathlib import Path

from hinoki.core.errors import HinokiError
from hinoki.core.plan.plan import read_plan
from hinoki.store.database import Database, migrate, migrations, newest_schema, reader_connection
from hinoki.store.tables import export_history as went_out
from hinoki.store.tables import fit_answers, ladders, prints, projects, spools, workshop
from hinoki.store.tables import inventory as own_hardware
from hinoki.store.tables import printers as machines

APPLICATION_ID = int.from_bytes(b"HINO", "big")
MARKED_FROM = 8
"""the schema from which on a database says whose it is"""
BEFORE = "before-restore.sqlite"
"""what was there before a restore, kept beside the database until it is let go"""


def backup(source: Path, target: Path) -> None:
    """Copy the database into one file with SQLite's own backup; safe while the application runs."""
    if not source.exists():
        raise FileNotFoundError(2, "there is no database here", str(source))
    with closing(reader_connection(source)) as original, closing(sqlite3.connect(target)) as copy:
        original.backup(copy)
        copy.execute("PRAGMA journal_mode = DELETE")  # all of it in the one file


def looked_through(path: Path, target: Path) -> None:
    """Copy a backup to `target`, brought to the newest schema, with everything in it read once.

    Raises HinokiError for a file that is no backup of Hinoki's, is damaged, does what a backup does not (a trigger, a view), or
    was made by a newer Hinoki. The file itself is only read.
    """
    try:
        with closing(_read_only(path)) as connection:
            _refuse_foreign(connection)
            with closing(sqlite3.connect(target)) as copy:
                connection.backup(copy)
                copy.execute("PRAGMA journal_mode = DELETE")
                _refuse_damaged(copy)  # of a file that is only read, SQLite does not check all that tables promise
                migrate(copy)
    except sqlite3.DatabaseError as error:
        says = "it is not a database" if "not a database" in str(error) else f"it cannot be read ({error})"
        raise HinokiError(f"This is no backup: {says}. Choose the file that Hinoki saved.", "file") from error
    with closing(sqlite3.connect(target)) as copy:
        copy.row_factory = sqlite3.Row
        for what, read in _everything(copy):
            try:
                read()
            except (HinokiError, ValueError, TypeError, KeyError, sqlite3.Error) as error:
                reason = str(error).splitlines()[0][:160]
                raise HinokiError(
                    f"This backup is damaged: {what} cannot be read ({reason}). Choose another.", "file"
                ) from error


def restore(database: Database, source: Path, before: Path, place: Path) -> None:
    """Take over a backup in a running database; what was there is kept as `before` first, so that a kill at any moment loses
    neither. Working files lie in the folder `place`. Raises HinokiError for what is no sound backup; then nothing is changed.
    """
    with tempfile.TemporaryDirectory(dir=place) as name:
        looked, kept = Path(name) / "looked.sqlite", Path(name) / "kept.sqlite"
        looked_through(source, looked)
        backup(database.path, kept)
        kept.replace(before)
        database.replace(looked)
        try:
            database.write(workshop.fill_if_empty)
        except Exception:
            database.replace(before)
            raise


def _read_only(path: Path) -> sqlite3.Connection:
    """A connection that changes nothing and runs nothing that the file brings along."""
    alone = not path.with_name(path.name + "-wal").exists()  # then SQLite need not put files beside it
    connection = sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro{'&immutable=1' * alone}", uri=True)
    # what defines the tables is read as text and compared with ours before anything of it is used; ours checks its JSON
    connection.execute("PRAGMA trusted_schema = ON")
    return connection


def _refuse_foreign(connection: sqlite3.Connection) -> None:
    number = int(connection.execute("PRAGMA user_version").fetchone()[0])
    whose = int(connection.execute("PRAGMA application_id").fetchone()[0])
    there = _schema(connection)
    if number < 1 or "projects" not in there or whose != (APPLICATION_ID if number >= MARKED_FROM else 0):
        raise HinokiError("This is a database, but no backup of Hinoki's. Choose the file that was saved.", "file")
    if number > newest_schema():
        says = f"This backup was made by a newer Hinoki (schema {number}; this one knows {newest_schema()}). Update Hinoki."
        raise HinokiError(says, "file")
    with closing(sqlite3.connect(":memory:")) as ours:
        for k, script in migrations():
            if k <= number:
                ours.executescript(script)
        known = _schema(ours)
    for name in sorted(known.keys() | there.keys(), key=lambda n: (" " in n, n)):  # tables before what is about them
        if name not in there:
            raise HinokiError(f"This backup is damaged: its {name} is missing. Choose another.", "file")
        if there[name] != known.get(name):
            raise HinokiError(f"This is no backup of Hinoki's: its {name} is not as Hinoki makes it. Choose another.", "file")


def _schema(connection: sqlite3.Connection) -> dict[str, str]:
    """What defines each table, index, trigger and view, by its kind and name; SQLite's own are left out."""
    rows = connection.execute("SELECT type, name, sql FROM sqlite_master WHERE name NOT GLOB 'sqlite_*'").fetchall()
    found = {
        name if kind == "table" else f"{kind} {name}": re.sub(r"--[^\n]*|[\s\"]", "", sql or "") for kind, name, sql in rows
    }
    own = connection.execute("SELECT name FROM sqlite_master WHERE name GLOB 'sqlite_*' AND type IN ('trigger', 'view')")
    return found | {f"hidden {name}": "" for (name,) in own}


def _refuse_damaged(connection: sqlite3.Connection) -> None:
    state = connection.execute("PRAGMA integrity_check").fetchone()[0]
    if state != "ok":
        raise HinokiError(f"This backup is damaged ({state[:80]}). Choose another.", "file")
    orphan = connection.execute("PRAGMA foreign_key_check").fetchone()
    if orphan is not None:
        raise HinokiError(f"This backup is damaged: a row of its {orphan[0]} belongs to nothing. Choose another.", "file")


def _everything(connection: sqlite3.Connection) -> Iterator[tuple[str, Callable[[], object]]]:
    """All that is read from the database anywhere, with its name."""
    for name, read in {
        "the workshop": workshop.workshop,
        "a ladder": ladders.ladders,
        "a size of hardware": own_hardware.own_sizes,
        "the drawer": own_hardware.stock,
        "a printer's address": machines.machines,
        "a spool": spools.spools,
        "an answer about a fit": fit_answers.fit_answers,
        "the shelf": projects.list_projects,
    }.items():
        yield name, lambda read=read: read(connection)  # type: ignore[misc]
    for project_id, name in connection.execute("SELECT id, name FROM projects").fetchall():
        yield f"what went out of “{name}”", lambda p=project_id: went_out.went_out(connection, p)  # type: ignore[misc]
        yield f"the print log of “{name}”", lambda p=project_id: prints.prints_of(connection, p)  # type: ignore[misc]
    files = {row[0] for row in connection.execute("SELECT sha256 FROM sources")}
    plans = connection.execute("SELECT p.name, r.number, r.plan FROM revisions r JOIN projects p ON p.id = r.project_id")
    for name, number, plan in plans:
        yield f"revision {number} of “{name}”", lambda plan=plan: _with_files(plan, files)  # type: ignore[misc]


def _with_files(plan: str, files: set[str]) -> None:
    for use in read_plan(plan).all_kept:
        if use.source not in files:
            raise HinokiError(f"its file {use.file_name} is missing")

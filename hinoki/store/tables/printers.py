"""The printers that batches are sent to."""

import sqlite3

from hinoki.core.errors import InUse, NotFound
from hinoki.core.printlog.printer_connection import Machine
from hinoki.store.tables.sources import now


def machines(connection: sqlite3.Connection) -> list[Machine]:
    """All, in the order in which they were entered."""
    return [Machine.model_validate_json(r["body"]) for r in connection.execute("SELECT body FROM machines ORDER BY rowid")]


def machine(connection: sqlite3.Connection, machine_id: str) -> Machine:
    """One of them. Raises NotFound."""
    row = connection.execute("SELECT body FROM machines WHERE id = ?", (machine_id,)).fetchone()
    if row is None:
        raise NotFound("This printer is not among those batches can be sent to. Choose one that is.", "machine")
    return Machine.model_validate_json(row["body"])


def put_machine(connection: sqlite3.Connection, one: Machine) -> None:
    """Add or change one."""
    connection.execute(
        "INSERT INTO machines VALUES (?, ?, ?) "
        "ON CONFLICT (id) DO UPDATE SET body = excluded.body, updated_at = excluded.updated_at",
        (one.id, one.model_dump_json(), now()),
    )


def drop_machine(connection: sqlite3.Connection, machine_id: str) -> None:
    """Take one out; its prints stay in the log. Raises InUse while one is under way there."""
    row = connection.execute(
        "SELECT number FROM prints WHERE machine_id = ? AND state IN ('sending', 'sent', 'printing', 'paused')", (machine_id,)
    ).fetchone()
    if row is not None:
        raise InUse(f"Print {row['number']} is under way there. Stop it, or wait until it has ended.", "machine")
    connection.execute("DELETE FROM machines WHERE id = ?", (machine_id,))

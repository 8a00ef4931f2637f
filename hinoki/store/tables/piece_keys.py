"""Keys of pieces, and of other things that are put together. They may be very long, so other tables name them by a number."""

import sqlite3
from collections.abc import Iterable


def piece_ids(connection: sqlite3.Connection, project_id: str, keys: Iterable[str]) -> dict[str, int]:
    """The numbers of keys, given now to those that have none. Of a project that is not there, none."""
    wanted = list(dict.fromkeys(keys))
    connection.executemany(
        "INSERT INTO piece_keys (project_id, key) SELECT id, ? FROM projects WHERE id = ? ON CONFLICT DO NOTHING",
        [(key, project_id) for key in wanted],
    )
    found = {}
    for key in wanted:
        known = known_piece(connection, project_id, key)
        if known is not None:
            found[key] = known
    return found


def known_piece(connection: sqlite3.Connection, project_id: str, key: str) -> int | None:
    """The number of a key, where it has one."""
    row = connection.execute("SELECT id FROM piece_keys WHERE project_id = ? AND key = ?", (project_id, key)).fetchone()
    return int(row[0]) if row else None

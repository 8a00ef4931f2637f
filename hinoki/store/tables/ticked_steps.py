"""Steps of an assembly that were ticked while building."""

import sqlite3

from hinoki.store.tables.piece_keys import known_piece, piece_ids
from hinoki.store.tables.sources import now


def ticked(connection: sqlite3.Connection, project_id: str) -> list[str]:
    """The units whose steps are done, in the order in which they were ticked."""
    rows = connection.execute(
        "SELECT k.key FROM ticked_steps t JOIN piece_keys k ON k.id = t.piece_id WHERE k.project_id = ? ORDER BY t.at, k.key",
        (project_id,),
    )
    return [r["key"] for r in rows]


def tick(connection: sqlite3.Connection, project_id: str, unit: str, done: bool) -> None:
    """Tick a step, or take its tick back; ticking twice changes nothing."""
    if done:
        for piece in piece_ids(connection, project_id, [unit]).values():
            connection.execute("INSERT INTO ticked_steps VALUES (?, ?) ON CONFLICT DO NOTHING", (piece, now()))
    else:
        connection.execute("DELETE FROM ticked_steps WHERE piece_id = ?", (known_piece(connection, project_id, unit),))


def untick_all(connection: sqlite3.Connection, project_id: str) -> None:
    """Begin again."""
    connection.execute(
        "DELETE FROM ticked_steps WHERE piece_id IN (SELECT id FROM piece_keys WHERE project_id = ?)", (project_id,)
    )

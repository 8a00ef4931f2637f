"""Steps of an assembly that were ticked while building."""

import sqlite3

from hinoki.store.tables.sources import now


def ticked(connection: sqlite3.Connection, project_id: str) -> list[str]:
    """The units whose steps are done, in the order in which they were ticked."""
    rows = connection.execute("SELECT unit FROM ticked_steps WHERE project_id = ? ORDER BY at, unit", (project_id,))
    return [r["unit"] for r in rows]


def tick(connection: sqlite3.Connection, project_id: str, unit: str, done: bool) -> None:
    """Tick a step, or take its tick back; ticking twice changes nothing."""
    if done:
        connection.execute(
            "INSERT INTO ticked_steps (project_id, unit, at) SELECT id, ?, ? FROM projects WHERE id = ? ON CONFLICT DO NOTHING",
            (unit, now(), project_id),
        )
    else:
        connection.execute("DELETE FROM ticked_steps WHERE project_id = ? AND unit = ?", (project_id, unit))


def untick_all(connection: sqlite3.Connection, project_id: str) -> None:
    """Begin again."""
    connection.execute("DELETE FROM ticked_steps WHERE project_id = ?", (project_id,))

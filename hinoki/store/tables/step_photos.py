"""Photographs at steps of an assembly: one for each step, already made small."""

import hashlib
import sqlite3

from hinoki.store.tables.sources import now


def photos(connection: sqlite3.Connection, project_id: str) -> dict[str, str]:
    """The hash of the photograph of every step that has one, by the unit it moves."""
    rows = connection.execute("SELECT unit, sha256 FROM step_photos WHERE project_id = ? ORDER BY unit", (project_id,))
    return {r["unit"]: r["sha256"] for r in rows}


def photo(connection: sqlite3.Connection, project_id: str, unit: str) -> bytes | None:
    """The photograph of a step, a JPEG."""
    row = connection.execute("SELECT jpeg FROM step_photos WHERE project_id = ? AND unit = ?", (project_id, unit)).fetchone()
    return bytes(row["jpeg"]) if row else None


def keep_photo(connection: sqlite3.Connection, project_id: str, unit: str, jpeg: bytes) -> None:
    """Keep the photograph of a step instead of the one it had."""
    connection.execute(
        "INSERT INTO step_photos (project_id, unit, at, sha256, jpeg) SELECT id, ?, ?, ?, ? FROM projects WHERE id = ? "
        "ON CONFLICT DO UPDATE SET at = excluded.at, sha256 = excluded.sha256, jpeg = excluded.jpeg",
        (unit, now(), hashlib.sha256(jpeg).hexdigest(), jpeg, project_id),
    )


def drop_photo(connection: sqlite3.Connection, project_id: str, unit: str) -> None:
    """Take the photograph of a step away."""
    connection.execute("DELETE FROM step_photos WHERE project_id = ? AND unit = ?", (project_id, unit))

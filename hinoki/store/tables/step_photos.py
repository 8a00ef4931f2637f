"""Photographs at steps of an assembly: one for each step, already made small."""

import hashlib
import sqlite3

from hinoki.store.tables.piece_keys import known_piece, piece_ids
from hinoki.store.tables.sources import now


def photos(connection: sqlite3.Connection, project_id: str) -> dict[str, str]:
    """The hash of the photograph of every step that has one, by the unit it moves."""
    rows = connection.execute(
        "SELECT k.key, f.sha256 FROM step_photos f JOIN piece_keys k ON k.id = f.piece_id "
        "WHERE k.project_id = ? ORDER BY k.key",
        (project_id,),
    )
    return {r["key"]: r["sha256"] for r in rows}


def photo(connection: sqlite3.Connection, project_id: str, unit: str) -> bytes | None:
    """The photograph of a step, a JPEG."""
    piece = known_piece(connection, project_id, unit)
    row = connection.execute("SELECT jpeg FROM step_photos WHERE piece_id = ?", (piece,)).fetchone()
    return bytes(row["jpeg"]) if row else None


def keep_photo(connection: sqlite3.Connection, project_id: str, unit: str, jpeg: bytes) -> None:
    """Keep the photograph of a step instead of the one it had."""
    for piece in piece_ids(connection, project_id, [unit]).values():
        connection.execute(
            "INSERT INTO step_photos VALUES (?, ?, ?, ?) "
            "ON CONFLICT DO UPDATE SET at = excluded.at, sha256 = excluded.sha256, jpeg = excluded.jpeg",
            (piece, now(), hashlib.sha256(jpeg).hexdigest(), jpeg),
        )


def drop_photo(connection: sqlite3.Connection, project_id: str, unit: str) -> None:
    """Take the photograph of a step away."""
    connection.execute("DELETE FROM step_photos WHERE piece_id = ?", (known_piece(connection, project_id, unit),))

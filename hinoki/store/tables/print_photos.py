"""Photographs of prints: one for each, already made small."""

import hashlib
import sqlite3

from hinoki.store.tables.sources import now


def print_photo(connection: sqlite3.Connection, print_id: str) -> bytes | None:
    """The photograph of a print, a JPEG."""
    row = connection.execute("SELECT jpeg FROM print_photos WHERE print_id = ?", (print_id,)).fetchone()
    return bytes(row["jpeg"]) if row else None


def keep_print_photo(connection: sqlite3.Connection, print_id: str, jpeg: bytes) -> None:
    """Keep the photograph of a print instead of the one it had."""
    connection.execute(
        "INSERT INTO print_photos (print_id, at, sha256, jpeg) SELECT id, ?, ?, ? FROM prints WHERE id = ? "
        "ON CONFLICT DO UPDATE SET at = excluded.at, sha256 = excluded.sha256, jpeg = excluded.jpeg",
        (now(), hashlib.sha256(jpeg).hexdigest(), jpeg, print_id),
    )


def drop_print_photo(connection: sqlite3.Connection, print_id: str) -> None:
    """Take the photograph of a print away."""
    connection.execute("DELETE FROM print_photos WHERE print_id = ?", (print_id,))

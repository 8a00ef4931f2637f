"""Model files as they came, in chunks, by SHA-256."""

import hashlib
import sqlite3
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from hinoki.core.errors import NotFound

CHUNK = 4 * 1024 * 1024


@dataclass(frozen=True)
class SourceFacts:
    """What is known of a model file without reading it."""

    sha256: str
    file_name: str
    bytes: int
    triangles: int
    size: tuple[float, float, float]


def now() -> str:
    """The time as stored: ISO 8601, UTC."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def sha256_of(path: Path) -> str:
    """Hash of a file, read in chunks."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def add_source(connection: sqlite3.Connection, path: Path, facts: SourceFacts) -> None:
    """Store a file with its facts; does nothing when it is there already."""
    row = (facts.sha256, facts.file_name, facts.bytes, facts.triangles, *facts.size, now())
    added = connection.execute("INSERT OR IGNORE INTO sources VALUES (?, ?, ?, ?, ?, ?, ?, ?)", row)
    if added.rowcount == 0:
        return
    with path.open("rb") as file:
        number = 0
        while content := file.read(CHUNK):
            connection.execute("INSERT INTO source_chunks VALUES (?, ?, ?)", (facts.sha256, number, content))
            number += 1


def source_bytes(connection: sqlite3.Connection, sha256: str) -> bytes:
    """The file's content. Raises NotFound."""
    rows = connection.execute("SELECT content FROM source_chunks WHERE sha256 = ? ORDER BY number", (sha256,))
    data = b"".join(row[0] for row in rows)
    if not data:
        raise NotFound("A file of this plan is not in this workshop. Bring it in again.", "model.source")
    return data


def source_facts(connection: sqlite3.Connection, sha256: str) -> SourceFacts:
    """What is known of a file. Raises NotFound."""
    row = connection.execute("SELECT * FROM sources WHERE sha256 = ?", (sha256,)).fetchone()
    if row is None:
        raise NotFound("A file of this plan is not in this workshop. Bring it in again.", "model.source")
    return SourceFacts(
        row["sha256"], row["file_name"], row["bytes"], row["triangles"], (row["size_x"], row["size_y"], row["size_z"])
    )

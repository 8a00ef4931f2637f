"""What went out of a project, and in which revision."""

import sqlite3
from dataclasses import dataclass

from hinoki.core.export.archive import ExportWish
from hinoki.core.export.manifest import WentOut
from hinoki.store.tables.sources import now


@dataclass(frozen=True)
class Went:
    """One finished export."""

    revision: int
    at: str
    wish: ExportWish
    held: WentOut


def remember(connection: sqlite3.Connection, project_id: str, revision: int, wish: ExportWish, held: WentOut) -> None:
    """Keep that an export was finished. A project that was deleted meanwhile is passed over."""
    connection.execute(
        "INSERT INTO went_out (project_id, revision, at, wish, held) SELECT id, ?, ?, ?, ? FROM projects WHERE id = ?",
        (revision, now(), wish.model_dump_json(), held.model_dump_json(), project_id),
    )


def went_out(connection: sqlite3.Connection, project_id: str, most: int = 50) -> list[Went]:
    """The last exports of a project, the newest first."""
    rows = connection.execute(
        "SELECT revision, at, wish, held FROM went_out WHERE project_id = ? ORDER BY at DESC, id DESC LIMIT ?",
        (project_id, most),
    )
    return [
        Went(r["revision"], r["at"], ExportWish.model_validate_json(r["wish"]), WentOut.model_validate_json(r["held"]))
        for r in rows
    ]

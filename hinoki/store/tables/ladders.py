"""Fit ladders that were answered: kept, never overwritten."""

import sqlite3

from hinoki.core.workshop.fit_ladder_answers import Answers, LadderEntry, learned
from hinoki.store.tables.sources import now


def add_ladder(connection: sqlite3.Connection, entry: LadderEntry) -> int:
    """Keep an answered ladder; gives its number. Raises sqlite3.IntegrityError for a printer or material that is not there."""
    done = connection.execute(
        "INSERT INTO ladders (printer_id, material_id, layer_mm, joint, answers, note, made_at) VALUES (?, ?, ?, ?, ?, ?, ?)",
        (
            entry.printer_id,
            entry.material_id,
            entry.layer_mm,
            entry.joint,
            entry.answers.model_dump_json(),
            entry.note,
            entry.made_at or now(),
        ),
    )
    return int(done.lastrowid or 0)


def ladders(connection: sqlite3.Connection) -> list[LadderEntry]:
    """All answered ladders, the newest first, each with what it tells."""
    found = []
    for row in connection.execute("SELECT * FROM ladders ORDER BY made_at DESC, id DESC"):
        answers = Answers.model_validate_json(row["answers"])
        found.append(LadderEntry.model_validate({**dict(row), "answers": answers, "learned": learned(answers)}))
    return found


def drop_ladder(connection: sqlite3.Connection, number: int) -> None:
    """Take an answered ladder out."""
    connection.execute("DELETE FROM ladders WHERE id = ?", (number,))

"""How joints of real pieces went together."""

import sqlite3

from hinoki.core.printlog.fit_answers import FitAnswer
from hinoki.store.tables.sources import now


def add_fit_answer(connection: sqlite3.Connection, answer: FitAnswer, project_id: str | None) -> int:
    """Keep an answer; gives its number."""
    done = connection.execute(
        "INSERT INTO fit_answers (project_id, printer_id, material_id, joint, fit, clearance_mm, answer, note, made_at) "
        "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
        (
            project_id, answer.printer_id, answer.material_id, answer.joint, answer.fit, answer.clearance_mm, answer.answer,
            answer.note, answer.made_at or now(),
        ),
    )  # fmt: skip
    return int(done.lastrowid or 0)


def fit_answers(connection: sqlite3.Connection, project_id: str | None = None) -> list[FitAnswer]:
    """All answers, or those of one project, the oldest first."""
    rows = connection.execute(
        "SELECT id, printer_id, material_id, joint, fit, clearance_mm, answer, note, made_at FROM fit_answers "
        "WHERE ? IS NULL OR project_id = ? ORDER BY made_at, id",
        (project_id, project_id),
    )
    return [FitAnswer.model_validate(dict(row)) for row in rows]


def drop_fit_answer(connection: sqlite3.Connection, number: int) -> None:
    """Take an answer back."""
    connection.execute("DELETE FROM fit_answers WHERE id = ?", (number,))

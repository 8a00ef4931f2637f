"""Projects and their revisions: every edit is a new revision; undo and redo move a pointer."""

import sqlite3
import uuid
from dataclasses import dataclass

from hinoki.core.errors import ChangedElsewhere, NotFound
from hinoki.core.plan import Plan, read_plan
from hinoki.store.sources import now


@dataclass(frozen=True)
class ProjectRow:
    """A project on the shelf."""

    id: str
    name: str
    created_at: str
    updated_at: str
    head: int
    tip: int


@dataclass(frozen=True)
class Revision:
    """A project's plan at one revision, and where undo and redo would lead."""

    project_id: str
    number: int
    label: str
    plan: Plan
    created_at: str
    undo_label: str | None
    redo_label: str | None


def add_project(connection: sqlite3.Connection, name: str, plan: Plan, label: str = "Begun") -> str:
    """A new project with its first revision; gives its id."""
    project_id, at = uuid.uuid4().hex, now()
    connection.execute("INSERT INTO projects VALUES (?, ?, ?, ?, 1, 1)", (project_id, name, at, at))
    connection.execute("INSERT INTO revisions VALUES (?, 1, 0, ?, ?, ?)", (project_id, label, plan.json_text(), at))
    return project_id


def list_projects(connection: sqlite3.Connection) -> list[ProjectRow]:
    """All projects, the oldest first."""
    rows = connection.execute("SELECT id, name, created_at, updated_at, head, tip FROM projects ORDER BY created_at, id")
    return [ProjectRow(*row) for row in rows]


def project(connection: sqlite3.Connection, project_id: str) -> ProjectRow:
    """One project. Raises NotFound."""
    row = connection.execute(
        "SELECT id, name, created_at, updated_at, head, tip FROM projects WHERE id = ?", (project_id,)
    ).fetchone()
    if row is None:
        raise NotFound("There is no such project; it may have been deleted in another window.", "project")
    return ProjectRow(*row)


def rename_project(connection: sqlite3.Connection, project_id: str, name: str) -> None:
    """Give a project another name. Raises NotFound."""
    project(connection, project_id)
    connection.execute("UPDATE projects SET name = ?, updated_at = ? WHERE id = ?", (name, now(), project_id))


def delete_project(connection: sqlite3.Connection, project_id: str) -> None:
    """Delete a project, its revisions, and model files no other project uses. Raises NotFound."""
    project(connection, project_id)
    connection.execute("DELETE FROM projects WHERE id = ?", (project_id,))
    connection.execute(
        "DELETE FROM sources WHERE sha256 NOT IN "
        "(SELECT json_extract(plan, '$.model.source') FROM revisions WHERE json_extract(plan, '$.model') IS NOT NULL) "
        "AND sha256 NOT IN (SELECT json_extract(a.value, '$.source') FROM revisions r, json_each(r.plan, '$.also') a)"
    )


def revision(connection: sqlite3.Connection, project_id: str, number: int | None = None) -> Revision:
    """A revision, by default the one shown. Raises NotFound."""
    owner = project(connection, project_id)
    number = number or owner.head
    row = connection.execute(
        "SELECT number, label, plan, created_at, parent FROM revisions WHERE project_id = ? AND number = ?",
        (project_id, number),
    ).fetchone()
    if row is None:
        raise NotFound(f"This project has no revision {number}.", "revision")
    after = _redo_number(connection, owner)
    redo = _label(connection, project_id, after) if after else None
    undo = row["label"] if row["parent"] else None
    return Revision(project_id, row["number"], row["label"], read_plan(row["plan"]), row["created_at"], undo, redo)


def add_revision(connection: sqlite3.Connection, project_id: str, base: int, plan: Plan, label: str) -> Revision:
    """Save an edit made on revision `base`. Raises ChangedElsewhere when another is shown by now."""
    owner = _unchanged(connection, project_id, base)
    newest = connection.execute("SELECT max(number) FROM revisions WHERE project_id = ?", (project_id,)).fetchone()[0]
    number, at = newest + 1, now()
    connection.execute(
        "INSERT INTO revisions VALUES (?, ?, ?, ?, ?, ?)", (project_id, number, owner.head, label, plan.json_text(), at)
    )
    connection.execute("UPDATE projects SET head = ?, tip = ?, updated_at = ? WHERE id = ?", (number, number, at, project_id))
    return revision(connection, project_id)


def undo(connection: sqlite3.Connection, project_id: str, base: int) -> Revision:
    """Go back one revision. Raises NotFound at the first one."""
    owner = _unchanged(connection, project_id, base)
    parent = connection.execute(
        "SELECT parent FROM revisions WHERE project_id = ? AND number = ?", (project_id, owner.head)
    ).fetchone()[0]
    if not parent:
        raise NotFound("There is nothing to undo.", "revision")
    return _move(connection, project_id, parent)


def redo(connection: sqlite3.Connection, project_id: str, base: int) -> Revision:
    """Go forward again. Raises NotFound at the newest one."""
    after = _redo_number(connection, _unchanged(connection, project_id, base))
    if not after:
        raise NotFound("There is nothing to redo.", "revision")
    return _move(connection, project_id, after)


def history(connection: sqlite3.Connection, project_id: str) -> list[tuple[int, int, str, str]]:
    """(number, parent, label, created_at) of all revisions, newest first."""
    project(connection, project_id)
    rows = connection.execute(
        "SELECT number, parent, label, created_at FROM revisions WHERE project_id = ? ORDER BY number DESC", (project_id,)
    )
    return [tuple(row) for row in rows]


def piece_numbers(connection: sqlite3.Connection, project_id: str) -> dict[str, int]:
    """Piece numbers given so far, by key."""
    rows = connection.execute("SELECT piece_key, number FROM piece_numbers WHERE project_id = ?", (project_id,))
    return {row["piece_key"]: row["number"] for row in rows}


def remember_numbers(connection: sqlite3.Connection, project_id: str, numbers: dict[str, int]) -> None:
    """Keep the numbers a build gave."""
    connection.executemany(
        "INSERT INTO piece_numbers VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET number = excluded.number",
        [(project_id, key, number) for key, number in numbers.items()],
    )


def _unchanged(connection: sqlite3.Connection, project_id: str, base: int) -> ProjectRow:
    owner = project(connection, project_id)
    if owner.head != base:
        raise ChangedElsewhere(
            f"The project was changed elsewhere: it is at revision {owner.head}, your edit was made on {base}. "
            "It has been loaded anew; make the edit again.",
            "base_revision",
        )
    return owner


def _redo_number(connection: sqlite3.Connection, owner: ProjectRow) -> int:
    """The child of the shown revision on the way to the tip; 0 at the tip."""
    if owner.tip == owner.head:
        return 0
    row = connection.execute(
        "WITH RECURSIVE way (number, parent) AS ("
        " SELECT number, parent FROM revisions WHERE project_id = :p AND number = :tip"
        " UNION ALL SELECT r.number, r.parent FROM revisions r JOIN way ON r.number = way.parent WHERE r.project_id = :p)"
        " SELECT number FROM way WHERE parent = :head",
        {"p": owner.id, "tip": owner.tip, "head": owner.head},
    ).fetchone()
    return int(row[0]) if row else 0


def _label(connection: sqlite3.Connection, project_id: str, number: int) -> str:
    row = connection.execute("SELECT label FROM revisions WHERE project_id = ? AND number = ?", (project_id, number)).fetchone()
    return str(row[0])


def _move(connection: sqlite3.Connection, project_id: str, number: int) -> Revision:
    connection.execute("UPDATE projects SET head = ?, updated_at = ? WHERE id = ?", (number, now(), project_id))
    return revision(connection, project_id)

"""Projects and their revisions: every edit is a new revision; undo and redo move a pointer."""

import sqlite3
import uuid
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from hinoki.core.errors import ChangedElsewhere, NotFound
from hinoki.core.plan.plan import Plan, read_plan
from hinoki.core.printlog.states import MADE
from hinoki.store.slugs import listed
from hinoki.store.tables.piece_keys import piece_ids
from hinoki.store.tables.sources import now

_COLUMNS = "p.id, p.name, p.created_at, p.updated_at, p.head, p.tip, p.archived_at"
_THERE = (
    "(SELECT count(*) FROM piece_keys k JOIN piece_shapes s ON s.piece_id = k.id WHERE k.project_id = p.id AND EXISTS "
    "(SELECT 1 FROM print_items i WHERE i.piece_id = s.piece_id AND i.shape = s.shape AND i.state IN {}))"
)
_COUNTS = (
    "(SELECT count(*) FROM piece_keys k JOIN piece_shapes s ON s.piece_id = k.id WHERE k.project_id = p.id) AS pieces, "
    f"{_THERE.format(listed(MADE))} AS printed, {_THERE.format(listed(('finished', 'installed')))} AS installed"
)


@dataclass(frozen=True)
class ProjectRow:
    """A project."""

    id: str
    name: str
    created_at: str
    updated_at: str
    head: int
    tip: int
    archived_at: str | None


@dataclass(frozen=True)
class ShelfRow(ProjectRow):
    """A project on the shelf: what its plan holds, how many pieces its last build had, how many of these are printed as they
    are now, and how many are finished."""

    model_name: str | None
    partings: int
    joints: int
    printer: str
    pieces: int
    printed: int
    installed: int


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
    connection.execute(
        "INSERT INTO projects (id, name, created_at, updated_at) VALUES (?, ?, ?, ?)",
        (project_id, name, at, at),
    )
    _insert(connection, project_id, 1, None, label, plan, at)
    connection.execute("UPDATE projects SET head = 1, tip = 1 WHERE id = ?", (project_id,))
    return project_id


def list_projects(connection: sqlite3.Connection) -> list[ShelfRow]:
    """All projects, the oldest first."""
    rows = connection.execute(
        f"SELECT {_COLUMNS}, r.model_name, r.partings, r.joints, r.printer, {_COUNTS} FROM projects p "
        "JOIN revisions r ON r.project_id = p.id AND r.number = p.head ORDER BY p.created_at, p.id"
    )
    return [ShelfRow(*row) for row in rows]


def project(connection: sqlite3.Connection, project_id: str) -> ProjectRow:
    """One project. Raises NotFound."""
    row = connection.execute(f"SELECT {_COLUMNS} FROM projects p WHERE p.id = ?", (project_id,)).fetchone()
    if row is None:
        raise NotFound("There is no such project; it may have been deleted in another window.", "project")
    return ProjectRow(*row)


def rename_project(connection: sqlite3.Connection, project_id: str, name: str) -> None:
    """Give a project another name. Raises NotFound."""
    project(connection, project_id)
    connection.execute("UPDATE projects SET name = ?, updated_at = ? WHERE id = ?", (name, now(), project_id))


_KEPT = (
    "SELECT json_extract(plan, '$.model.source') AS kept FROM revisions",
    "SELECT json_extract(f.value, '$.source') FROM revisions r, json_each(r.plan, '$.also') f",
    "SELECT json_extract(f.value, '$.source') FROM revisions r, json_each(r.plan, '$.pictures') f",
    "SELECT json_extract(p.value, '$.model.source') FROM revisions r, json_each(r.plan, '$.parts') p",
    "SELECT json_extract(f.value, '$.source') FROM revisions r, json_each(r.plan, '$.parts') p, json_each(p.value, '$.also') f",
    "SELECT json_extract(f.value, '$.source') FROM revisions r, json_each(r.plan, '$.parts') p, "
    "json_each(p.value, '$.pictures') f",
)
"""where plans name files: models, further files and pictures, of the open part and of the others"""
FRESH = timedelta(hours=1)
"""a file that came in so lately may be one that a plan is about to name"""


def delete_project(connection: sqlite3.Connection, project_id: str) -> None:
    """Delete a project, its revisions, and files that no other project's plans name. Raises NotFound."""
    project(connection, project_id)
    connection.execute("DELETE FROM projects WHERE id = ?", (project_id,))
    before = (datetime.now(UTC) - FRESH).isoformat(timespec="milliseconds")
    connection.execute(
        f"DELETE FROM sources WHERE sha256 NOT IN (SELECT kept FROM ({' UNION '.join(_KEPT)}) WHERE kept IS NOT NULL) "
        "AND (triangles > 0 OR created_at < ?)",
        (before,),
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
    owner = unchanged(connection, project_id, base)
    newest = connection.execute("SELECT max(number) FROM revisions WHERE project_id = ?", (project_id,)).fetchone()[0]
    number, at = newest + 1, now()
    _insert(connection, project_id, number, owner.head, label, plan, at)
    connection.execute("UPDATE projects SET head = ?, tip = ?, updated_at = ? WHERE id = ?", (number, number, at, project_id))
    return revision(connection, project_id)


def undo(connection: sqlite3.Connection, project_id: str, base: int) -> Revision:
    """Go back one revision. Raises NotFound at the first one."""
    owner = unchanged(connection, project_id, base)
    parent = connection.execute(
        "SELECT parent FROM revisions WHERE project_id = ? AND number = ?", (project_id, owner.head)
    ).fetchone()[0]
    if not parent:
        raise NotFound("There is nothing to undo.", "revision")
    return _move(connection, project_id, parent)


def redo(connection: sqlite3.Connection, project_id: str, base: int) -> Revision:
    """Go forward again. Raises NotFound at the newest one."""
    after = _redo_number(connection, unchanged(connection, project_id, base))
    if not after:
        raise NotFound("There is nothing to redo.", "revision")
    return _move(connection, project_id, after)


def history(connection: sqlite3.Connection, project_id: str) -> list[tuple[int, int, str, str, str]]:
    """(number, parent, label, created_at, name) of all revisions, newest first."""
    project(connection, project_id)
    rows = connection.execute(
        "SELECT number, coalesce(parent, 0), label, created_at, name FROM revisions WHERE project_id = ? ORDER BY number DESC",
        (project_id,),
    )
    return [tuple(row) for row in rows]


def piece_numbers(connection: sqlite3.Connection, project_id: str) -> dict[str, int]:
    """Piece numbers given so far, by key."""
    rows = connection.execute(
        "SELECT k.key, n.number FROM piece_keys k JOIN piece_numbers n ON n.piece_id = k.id WHERE k.project_id = ?",
        (project_id,),
    )
    return {row["key"]: row["number"] for row in rows}


def remember_numbers(connection: sqlite3.Connection, project_id: str, numbers: dict[str, int]) -> None:
    """Keep the numbers a build gave. A project that was deleted meanwhile is passed over."""
    ids = piece_ids(connection, project_id, numbers)
    connection.executemany(
        "INSERT INTO piece_numbers VALUES (?, ?) ON CONFLICT DO UPDATE SET number = excluded.number",
        [(ids[key], number) for key, number in numbers.items() if key in ids],
    )


def name_revision(connection: sqlite3.Connection, project_id: str, number: int, name: str) -> None:
    """Give a revision a name, or take it away with an empty one. Raises NotFound."""
    revision(connection, project_id, number)
    connection.execute("UPDATE revisions SET name = ? WHERE project_id = ? AND number = ?", (name, project_id, number))


def put_away(connection: sqlite3.Connection, project_id: str, away: bool) -> None:
    """Put a project away from the shelf, or back. Raises NotFound."""
    project(connection, project_id)
    connection.execute("UPDATE projects SET archived_at = ? WHERE id = ?", (now() if away else None, project_id))


def remember_shapes(connection: sqlite3.Connection, project_id: str, revision_number: int, shapes: dict[str, str]) -> None:
    """Keep the shapes of the pieces of a build, where it is the one that is shown."""
    row = connection.execute("SELECT head FROM projects WHERE id = ?", (project_id,)).fetchone()
    if row is None or row["head"] != revision_number:
        return
    connection.execute(
        "DELETE FROM piece_shapes WHERE piece_id IN (SELECT id FROM piece_keys WHERE project_id = ?)", (project_id,)
    )
    keep_shapes(connection, project_id, shapes)


def keep_shapes(connection: sqlite3.Connection, project_id: str, shapes: dict[str, str]) -> None:
    """Add the shapes of pieces."""
    ids = piece_ids(connection, project_id, shapes)
    connection.executemany("INSERT INTO piece_shapes VALUES (?, ?)", [(ids[key], shape) for key, shape in shapes.items()])


def shapes(connection: sqlite3.Connection, project_id: str) -> dict[str, str]:
    """The shapes of the pieces of the revision built last, by key."""
    rows = connection.execute(
        "SELECT k.key, s.shape FROM piece_keys k JOIN piece_shapes s ON s.piece_id = k.id WHERE k.project_id = ?",
        (project_id,),
    )
    return {row["key"]: row["shape"] for row in rows}


def _insert(  # noqa: PLR0913 - a row's columns
    connection: sqlite3.Connection, project_id: str, number: int, parent: int | None, label: str, plan: Plan, at: str
) -> None:
    connection.execute(
        "INSERT INTO revisions (project_id, number, parent, label, plan, created_at) VALUES (?, ?, ?, ?, ?, ?)",
        (project_id, number, parent, label, plan.json_text(), at),
    )


def unchanged(connection: sqlite3.Connection, project_id: str, base: int) -> ProjectRow:
    """A project that is still at revision `base`. Raises ChangedElsewhere, NotFound."""
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
        " UNION SELECT r.number, r.parent FROM revisions r JOIN way ON r.number = way.parent WHERE r.project_id = :p)"
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

"""Printers, materials, fits and settings."""

import sqlite3

from hinoki.core.errors import InUse, NotFound
from hinoki.core.workshop.fit_ladder_answers import LadderEntry
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.materials import Material, materials
from hinoki.core.workshop.printers import Printer, presets
from hinoki.core.workshop.workshop import FitEntry, Settings, Workshop
from hinoki.store.tables.inventory import own_sizes, put_own_size, put_stock, stock
from hinoki.store.tables.ladders import add_ladder, ladders
from hinoki.store.tables.sources import now


def fill_if_empty(connection: sqlite3.Connection) -> None:
    """Put the generic printers and materials into a workshop that has never had any."""
    if connection.execute("SELECT 1 FROM settings WHERE name = 'filled'").fetchone():
        return
    for printer in presets():
        connection.execute("INSERT OR IGNORE INTO printers VALUES (?, ?, ?)", (printer.id, printer.model_dump_json(), now()))
    for material in materials():
        connection.execute("INSERT OR IGNORE INTO materials VALUES (?, ?, ?)", (material.id, material.model_dump_json(), now()))
    connection.execute("INSERT INTO settings VALUES ('filled', '1')")


def workshop(connection: sqlite3.Connection) -> Workshop:
    """Everything, in the order in which it was entered."""
    printers = [Printer.model_validate_json(r["body"]) for r in connection.execute("SELECT body FROM printers ORDER BY rowid")]
    kept = [Material.model_validate_json(r["body"]) for r in connection.execute("SELECT body FROM materials ORDER BY rowid")]
    fits = [
        FitEntry.model_validate(dict(row))
        for row in connection.execute("SELECT * FROM fits ORDER BY printer_id, material_id, clearance_mm")
    ]
    return Workshop(
        schema="hinoki-workshop/1",
        printers=tuple(printers),
        materials=tuple(kept),
        fits=tuple(fits),
        settings=settings(connection),
        own_sizes=tuple(own_sizes(connection)),
        stock=tuple(stock(connection)),
        ladders=tuple(ladders(connection)),
    )


def settings(connection: sqlite3.Connection) -> Settings:
    """Currency and price of power."""
    row = connection.execute("SELECT value FROM settings WHERE name = 'money'").fetchone()
    return Settings.model_validate_json(row["value"]) if row else Settings()


def put_printer(connection: sqlite3.Connection, printer: Printer) -> None:
    """Add or change a printer."""
    _put(connection, "printers", printer.id, printer.model_dump_json())


def put_material(connection: sqlite3.Connection, material: Material) -> None:
    """Add or change a material."""
    _put(connection, "materials", material.id, material.model_dump_json())


def put_fit(connection: sqlite3.Connection, entry: FitEntry) -> None:
    """Keep a clearance for a printer with a material. Raises NotFound where either is not in the workshop."""
    for table, item in (("printers", entry.printer_id), ("materials", entry.material_id)):
        _there(connection, table, item)
    at = entry.updated_at or now()
    connection.execute(
        "INSERT INTO fits VALUES (?, ?, ?, ?, ?, ?, ?) ON CONFLICT DO UPDATE SET clearance_mm = excluded.clearance_mm, "
        "origin = excluded.origin, note = excluded.note, updated_at = excluded.updated_at",
        (
            entry.printer_id,
            entry.material_id,
            entry.fit,
            entry.clearance_mm,
            entry.origin,
            entry.note,
            at,
        ),
    )


def drop_fit(connection: sqlite3.Connection, printer_id: str, material_id: str, fit: Fit) -> None:
    """Go back to the common clearance."""
    connection.execute("DELETE FROM fits WHERE printer_id = ? AND material_id = ? AND fit = ?", (printer_id, material_id, fit))


def put_settings(connection: sqlite3.Connection, given: Settings) -> None:
    """Keep currency and price of power."""
    connection.execute(
        "INSERT INTO settings VALUES ('money', ?) ON CONFLICT DO UPDATE SET value = excluded.value",
        (given.model_dump_json(),),
    )


def delete_printer(connection: sqlite3.Connection, printer_id: str) -> None:
    """Take a printer out. Raises InUse while a project uses it, NotFound where there is none."""
    _there(connection, "printers", printer_id)
    users = _users(connection, "$.printer.id", printer_id) | _users_of_more(connection, printer_id)
    _refuse_used(users, "printer")
    connection.execute("DELETE FROM printers WHERE id = ?", (printer_id,))


def delete_material(connection: sqlite3.Connection, material_id: str) -> None:
    """Take a material out. Raises InUse while a project uses it, NotFound where there is none."""
    _there(connection, "materials", material_id)
    _refuse_used(_users(connection, "$.material.id", material_id), "material")
    connection.execute("DELETE FROM materials WHERE id = ?", (material_id,))


def take_in(connection: sqlite3.Connection, given: Workshop) -> None:
    """Import a workshop: what has the same name is replaced, what is here only stays."""
    for printer in given.printers:
        put_printer(connection, printer)
    for material in given.materials:
        put_material(connection, material)
    for entry in given.fits:
        put_fit(connection, entry)
    put_settings(connection, given.settings)
    for size in given.own_sizes:
        put_own_size(connection, size)
    for item in given.stock:
        put_stock(connection, item)
    known = {_told(entry) for entry in ladders(connection)}
    for ladder in reversed(given.ladders):  # the oldest first, as they were made
        if _told(ladder) not in known:
            add_ladder(connection, ladder)


def _told(entry: LadderEntry) -> tuple[str, ...]:
    """What makes a ladder one and the same: who printed it, of what, when, and how it was."""
    return entry.printer_id, entry.material_id, entry.joint, entry.made_at, entry.answers.model_dump_json()


def _put(connection: sqlite3.Connection, table: str, item: str, body: str) -> None:
    connection.execute(
        f"INSERT INTO {table} VALUES (?, ?, ?) "
        "ON CONFLICT (id) DO UPDATE SET body = excluded.body, updated_at = excluded.updated_at",
        (item, body, now()),
    )


def _there(connection: sqlite3.Connection, table: str, item: str) -> None:
    if connection.execute(f"SELECT 1 FROM {table} WHERE id = ?", (item,)).fetchone() is None:
        raise NotFound(f"There is no {table[:-1]} “{item[:60]}” in the workshop.", table)


def _users(connection: sqlite3.Connection, path: str, item: str) -> set[str]:
    """Names of projects whose shown plan has `item` at a JSON path."""
    rows = connection.execute(
        "SELECT p.name FROM projects p JOIN revisions r ON r.project_id = p.id AND r.number = p.head "
        "WHERE json_extract(r.plan, ?) = ?",
        (path, item),
    )
    return {row["name"] for row in rows}


def _users_of_more(connection: sqlite3.Connection, item: str) -> set[str]:
    rows = connection.execute(
        "SELECT p.name FROM projects p JOIN revisions r ON r.project_id = p.id AND r.number = p.head, "
        "json_each(r.plan, '$.more_printers') m WHERE json_extract(m.value, '$.id') = ?",
        (item,),
    )
    return {row["name"] for row in rows}


def _refuse_used(users: set[str], what: str) -> None:
    if users:
        names = ", ".join(f"“{n}”" for n in sorted(users)[:3]) + (f" and {len(users) - 3} more" if len(users) > 3 else "")
        raise InUse(f"This {what} is used by {names}. Give the project another {what} first.", what)

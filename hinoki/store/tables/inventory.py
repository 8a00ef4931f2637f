"""The maker's own sizes of hardware, and the stock."""

import sqlite3

from hinoki.core.workshop.inventory import OwnSize, StockItem
from hinoki.store.tables.sources import now


def own_sizes(connection: sqlite3.Connection) -> list[OwnSize]:
    """All own sizes, in the order in which they were entered."""
    return [OwnSize.model_validate_json(r["body"]) for r in connection.execute("SELECT body FROM own_sizes ORDER BY rowid")]


def put_own_size(connection: sqlite3.Connection, size: OwnSize) -> None:
    """Add or change an own size."""
    connection.execute(
        "INSERT INTO own_sizes VALUES (?, ?, ?) "
        "ON CONFLICT (id) DO UPDATE SET body = excluded.body, updated_at = excluded.updated_at",
        (size.id, size.model_dump_json(), now()),
    )


def drop_own_size(connection: sqlite3.Connection, item: str) -> None:
    """Take an own size out; joints that have its measures keep them."""
    connection.execute("DELETE FROM own_sizes WHERE id = ?", (item,))


def stock(connection: sqlite3.Connection) -> list[StockItem]:
    """What lies in the drawer, by name."""
    rows = connection.execute("SELECT name, count, length_mm FROM stock ORDER BY name")
    return [StockItem.model_validate(dict(row)) for row in rows]


def put_stock(connection: sqlite3.Connection, item: StockItem) -> None:
    """Note how many there are; none at all takes the thing out of the list."""
    if not item.count and not item.length_mm:
        connection.execute("DELETE FROM stock WHERE name = ?", (item.name,))
        return
    connection.execute(
        "INSERT INTO stock VALUES (?, ?, ?, ?) ON CONFLICT (name) DO UPDATE SET count = excluded.count, "
        "length_mm = excluded.length_mm, updated_at = excluded.updated_at",
        (item.name, item.count, item.length_mm, now()),
    )

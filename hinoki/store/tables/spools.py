"""Spools of material: how much is on each."""

import sqlite3

from hinoki.core.errors import NotFound
from hinoki.core.printlog.spools import NewSpool, Spool
from hinoki.store.tables.sources import now


def spools(connection: sqlite3.Connection) -> list[Spool]:
    """All spools, in the order in which they were opened."""
    rows = connection.execute("SELECT id, material_id, name, full_g, left_g FROM spools ORDER BY id")
    return [Spool.model_validate(dict(row)) for row in rows]


def add_spool(connection: sqlite3.Connection, spool: NewSpool) -> int:
    """A spool more; gives its number. Raises NotFound for a material that is not in the workshop."""
    if connection.execute("SELECT 1 FROM materials WHERE id = ?", (spool.material_id,)).fetchone() is None:
        raise NotFound(f"There is no material “{spool.material_id[:60]}” in the workshop.", "material_id")
    left = spool.full_g if spool.left_g is None else spool.left_g
    done = connection.execute(
        "INSERT INTO spools (material_id, name, full_g, left_g, updated_at) VALUES (?, ?, ?, ?, ?)",
        (spool.material_id, spool.name, spool.full_g, left, now()),
    )
    return int(done.lastrowid or 0)


def weigh(connection: sqlite3.Connection, number: int, left_g: float, name: str | None = None) -> None:
    """How much is on a spool, as weighed. Raises NotFound."""
    done = connection.execute(
        "UPDATE spools SET left_g = ?, name = coalesce(?, name), updated_at = ? WHERE id = ?", (left_g, name, now(), number)
    )
    if not done.rowcount:
        raise NotFound("There is no such spool; it may have been taken out in another window.", "spool")


def drop_spool(connection: sqlite3.Connection, number: int) -> None:
    """Take a spool out; prints that used it stay."""
    connection.execute("DELETE FROM spools WHERE id = ?", (number,))


def on_spools(connection: sqlite3.Connection) -> dict[str, float]:
    """Grams of every material that has spools, by its id."""
    rows = connection.execute("SELECT material_id, sum(left_g) AS left_g FROM spools GROUP BY material_id")
    return {row["material_id"]: row["left_g"] for row in rows}

"""The print log: prints and the life of every body on their beds. What a person or a printer says goes through here."""

import sqlite3
import uuid
from collections.abc import Mapping, Sequence
from typing import Any

import orjson

from hinoki.core.batch.estimate.factor import Factor
from hinoki.core.errors import ChangedElsewhere, NotFound
from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.printlog.learning import factor_of
from hinoki.core.printlog.records import Item, PreparedBatch, PreparedItem, Print, Progress
from hinoki.core.printlog.running_totals import Done
from hinoki.core.printlog.states import (
    ACTIVE,
    ENDED,
    LIVE,
    PieceState,
    PrintState,
    Reason,
    Result,
    marked,
    reason_of,
    refuse_piece_step,
    refuse_print_step,
    when_ended,
)
from hinoki.store.slugs import listed, slug, word
from hinoki.store.tables.piece_keys import known_piece, piece_ids
from hinoki.store.tables.sources import now

TEACH = 200
"""prints of one printer and material that are learned from: older ones tell of a printer that has changed since"""
_ITEMS = (
    "SELECT i.print_id, i.item, k.project_id, k.key, i.number, i.name, i.copy_number, i.shape, i.grams, i.minutes, "
    "i.state, i.result, i.reason, i.note, i.version, i.changed_at FROM print_items i JOIN piece_keys k ON k.id = i.piece_id"
)


def add_print(  # noqa: PLR0913 - a row's columns
    connection: sqlite3.Connection,
    project_id: str,
    revision: int,
    batch: PreparedBatch,
    machine: tuple[str | None, str],
    spool_id: int | None = None,
    note: str = "",
) -> Print:
    """A batch that goes out, to a machine (its id and name; none for one printed by hand); it is `sending`."""
    print_id, at = uuid.uuid4().hex, now()
    number = connection.execute(
        "SELECT coalesce(max(number), 0) + 1 FROM prints WHERE project_id = ?", (project_id,)
    ).fetchone()[0]
    progress = Progress(layers=batch.layers)
    connection.execute(
        "INSERT INTO prints (id, project_id, number, revision, state, machine_id, machine, spool_id, batch, sent_at, progress, "
        "note) VALUES (?, ?, ?, ?, 'sending', (SELECT id FROM machines WHERE id = ?), ?, ?, ?, ?, ?, ?)",
        (
            print_id, project_id, number, revision, *machine, spool_id, batch.model_dump_json(), at,
            progress.model_dump_json(), note,
        ),
    )  # fmt: skip
    ids = piece_ids(connection, project_id, (i.key for i in batch.items))
    connection.executemany(
        "INSERT INTO print_items VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, 'in-a-batch', NULL, NULL, '', 1, ?)",
        [
            (print_id, k, ids[i.key], i.number, i.name, i.copy_number, i.shape, i.grams, i.minutes, at)
            for k, i in enumerate(batch.items)
        ],
    )
    return one_print(connection, print_id)


def one_print(connection: sqlite3.Connection, print_id: str) -> Print:
    """A print with its items. Raises NotFound."""
    row = connection.execute(f"{_PRINTS} WHERE p.id = ?", (print_id,)).fetchone()
    if row is None:
        raise NotFound("There is no such print in the log; it may have been deleted in another window.", "print")
    return _print(row, items_of(connection, "print_id", print_id))


def prints_of(
    connection: sqlite3.Connection, project_id: str, most: int = 1_000_000, items: Sequence[Item] | None = None
) -> list[Print]:
    """The last prints of a project (`most` at most), the newest first, with their items (all of the project's, if read)."""
    rows = connection.execute(f"{_PRINTS} WHERE p.project_id = ? ORDER BY p.number DESC LIMIT ?", (project_id, most)).fetchall()
    by_print: dict[str, list[Item]] = {}
    for item in items if items is not None else items_of(connection, "project_id", project_id):
        by_print.setdefault(item.print_id, []).append(item)
    return [_print(row, by_print.get(row["id"], [])) for row in rows]


def done_by(connection: sqlite3.Connection, project_id: str) -> list[Done]:
    """Progress over time, print by print, added up; failed pieces are told apart."""
    rows = connection.execute(
        "SELECT p.ended_at AS at, coalesce(p.minutes, 0) AS minutes, coalesce(p.grams, 0) AS grams, "
        "sum(i.state NOT IN ('not-printed', 'failed')) AS made, sum(i.state = 'failed') AS failed "
        "FROM prints p JOIN print_items i ON i.print_id = p.id WHERE p.project_id = ? AND p.ended_at IS NOT NULL "
        "GROUP BY p.id ORDER BY p.ended_at, p.number",
        (project_id,),
    )
    found: list[Done] = []
    pieces = failed = 0
    grams = hours = 0.0
    for row in rows:
        pieces, failed = pieces + row["made"], failed + row["failed"]
        grams, hours = grams + row["grams"], hours + row["minutes"] / 60
        found.append(Done(at=row["at"], pieces=pieces, failed=failed, grams=round(grams, 1), hours=round(hours, 2)))
    return found


def count_prints(connection: sqlite3.Connection, project_id: str) -> int:
    """How many prints a project has."""
    return int(connection.execute("SELECT count(*) FROM prints WHERE project_id = ?", (project_id,)).fetchone()[0])


def active_prints(connection: sqlite3.Connection) -> list[Print]:
    """All prints of which more is to be heard."""
    rows = connection.execute(f"{_PRINTS} WHERE p.state IN {listed(ACTIVE)} ORDER BY p.sent_at").fetchall()
    return [_print(row, items_of(connection, "print_id", row["id"])) for row in rows]


def items_of(connection: sqlite3.Connection, column: str, value: str) -> list[Item]:
    """Items of one print or project (`column` is print_id or project_id)."""
    rows = connection.execute(f"{_ITEMS} WHERE {column} = ? ORDER BY i.print_id, i.item", (value,))
    return [_item(row) for row in rows]


def live(connection: sqlite3.Connection, project_id: str) -> int:
    """How many pieces of a project are there or under way."""
    row = connection.execute(
        "SELECT count(*) FROM piece_keys k JOIN print_items i ON i.piece_id = k.id "
        f"WHERE k.project_id = ? AND i.state IN {listed(LIVE)}",
        (project_id,),
    )
    return int(row.fetchone()[0])


def come_to(  # noqa: PLR0913 - what is said of a print, by name
    connection: sqlite3.Connection,
    print_id: str,
    state: PrintState,
    fell: Mapping[str, Reason] | None = None,
    minutes: float | None = None,
    grams: float | None = None,
    why: str = "",
    needed: Mapping[str, int] | None = None,
) -> Print:
    """A print comes into another state, and its pieces with it; its material goes off the spool when it has ended.

    `fell` names what the printer noticed to have failed, `needed` how many of each thing the model needs: what is printed
    beyond that is a spare. Raises NotSo where the state cannot follow, NotFound.
    """
    one = one_print(connection, print_id)
    refuse_print_step(one.number, one.state, state)
    if state == one.state:
        return one
    at = max(now(), one.sent_at)  # the clock may have been set back
    ended = state in ENDED
    begun = one.begun_at or (at if state in ("printing", "paused", "done", "stopped", "broke off") else None)
    if state in ("stopped", "broke off") and one.state in ("sending", "sent"):
        begun = None
    connection.execute(
        "UPDATE prints SET state = ?, begun_at = ?, ended_at = ?, minutes = coalesce(?, minutes), grams = coalesce(?, grams), "
        "why = CASE WHEN ? = '' THEN why ELSE ? END, gone_since = CASE WHEN ? THEN NULL ELSE gone_since END WHERE id = ?",
        (slug(state), begun, at if ended else None, minutes, grams, why, why, ended, print_id),
    )
    spare = _spares(connection, one, needed or {}) if state == "done" else set()
    for item in one.items:
        fallen = (fell or {}).get(item.name)
        then = when_ended(state, item.state, fallen is not None)
        if then == item.state:
            continue
        reason = (fallen or reason_of(state)) if then == "failed" else None
        then = "spare" if then == "printed" and item.item in spare else then
        _set_item(connection, item, then, "failed" if then == "failed" else None, reason, item.note)
    used = grams if grams is not None else one.grams
    if ended and used:
        take_from_spool(connection, one.spool_id, used)
    return one_print(connection, print_id)


def _spares(connection: sqlite3.Connection, one: Print, needed: Mapping[str, int]) -> set[int]:
    """Which items of a print are more than the model needs, the last copies first."""
    found: set[int] = set()
    for key in {i.key for i in one.items}:
        if key not in needed:
            continue
        own = sorted((i for i in one.items if i.key == key), key=lambda i: i.copy_number)
        there = connection.execute(
            "SELECT count(*) FROM print_items WHERE piece_id = ? AND shape = ? AND print_id != ? "
            "AND state IN ('printed', 'cleaned', 'fitted', 'finished', 'installed')",
            (known_piece(connection, one.project_id, key), own[0].shape, one.id),
        ).fetchone()[0]
        found |= {i.item for i in own[max(0, needed[key] - there) :]}
    return found


def heard(
    connection: sqlite3.Connection,
    print_id: str,
    progress: Progress,
    gone_since: str | None,
    minutes: float | None = None,
    grams: float | None = None,
) -> None:
    """Note how far a print is, and since when its printer has been silent; nothing once it has ended."""
    connection.execute(
        "UPDATE prints SET progress = ?, gone_since = ?, minutes = coalesce(?, minutes), grams = coalesce(?, grams) "
        f"WHERE id = ? AND state IN {listed(ACTIVE)}",
        (progress.model_dump_json(), gone_since, minutes, grams, print_id),
    )


def mark(  # noqa: PLR0913 - what is said of a piece, by name
    connection: sqlite3.Connection,
    print_id: str,
    item: int,
    version: int,
    state: PieceState | None = None,
    result: Result | None = None,
    reason: Reason | None = None,
    note: str | None = None,
) -> Item:
    """What a person says of a piece. Raises ChangedElsewhere where another window was first, NotSo, NotFound."""
    row = connection.execute(f"{_ITEMS} WHERE i.print_id = ? AND i.item = ?", (print_id, item)).fetchone()
    if row is None:
        raise NotFound("There is no such piece in this print.", "item")
    now_is = _item(row)
    if now_is.version != version:
        raise ChangedElsewhere(
            f"{now_is.name} was marked elsewhere: it is {now_is.state} now. It has been loaded anew; mark it again.", "version"
        )
    then, kept, why = marked(now_is.state, now_is.result, state, result, reason or now_is.reason)
    refuse_piece_step(now_is.name, now_is.state, then)
    _set_item(connection, now_is, then, kept, why, now_is.note if note is None else note)
    return _item(connection.execute(f"{_ITEMS} WHERE i.print_id = ? AND i.item = ?", (print_id, item)).fetchone())


def same_shape(connection: sqlite3.Connection, project_id: str, key: str, was: str, shape: str) -> None:
    """Printed ones of a piece turned out to be of the shape it has now, only described otherwise."""
    connection.execute(
        "UPDATE print_items SET shape = ?, version = version + 1 WHERE piece_id = ? AND shape = ?",
        (shape, known_piece(connection, project_id, key), was),
    )


def annotate(
    connection: sqlite3.Connection, print_id: str, note: str | None, minutes: float | None, grams: float | None
) -> Print:
    """A note to a print, and figures measured by hand; a spool follows a change of grams."""
    one = one_print(connection, print_id)
    if grams is not None and one.state in ENDED:
        take_from_spool(connection, one.spool_id, grams - (one.grams or 0.0))
    connection.execute(
        "UPDATE prints SET note = coalesce(?, note), minutes = coalesce(?, minutes), grams = coalesce(?, grams) WHERE id = ?",
        (note, minutes, grams, print_id),
    )
    return one_print(connection, print_id)


def delete_print(connection: sqlite3.Connection, print_id: str) -> str:
    """Take an ended print out of the log; gives its project. Raises ChangedElsewhere while it is under way."""
    one = one_print(connection, print_id)
    if one.active:
        raise ChangedElsewhere(f"Print {one.number} is {one.state}: stop it before it is taken out of the log.", "print")
    connection.execute("DELETE FROM prints WHERE id = ?", (print_id,))
    return one.project_id


def learned_factors(connection: sqlite3.Connection) -> dict[str, Factor]:
    """What the last TEACH finished prints teach, by “printer/material”."""
    rows = connection.execute(
        "SELECT printer_id, material_id, est_minutes, minutes, est_grams, grams FROM ("
        " SELECT printer_id, material_id, est_minutes, minutes, est_grams, grams,"
        " row_number() OVER (PARTITION BY printer_id, material_id ORDER BY ended_at DESC) AS back"
        " FROM prints WHERE state = 'done') WHERE back <= ?",
        (TEACH,),
    )
    groups: dict[str, list[tuple[float, float | None, float, float | None]]] = {}
    for row in rows:
        took = row["est_minutes"], row["minutes"], row["est_grams"], row["grams"]
        groups.setdefault(f"{row['printer_id']}/{row['material_id']}", []).append(took)
    return {group: factor_of(own) for group, own in groups.items()}


def take_from_spool(connection: sqlite3.Connection, spool_id: int | None, grams: float) -> None:
    """What was used goes off its spool, never below nothing."""
    if spool_id is not None:
        connection.execute(
            "UPDATE spools SET left_g = max(0.0, left_g - ?), updated_at = ? WHERE id = ?", (grams, now(), spool_id)
        )


_PRINTS = "SELECT p.*, f.sha256 AS photo FROM prints p LEFT JOIN print_photos f ON f.print_id = p.id"


def _print(row: sqlite3.Row, items: Sequence[Item]) -> Print:
    facts: dict[str, Any] = {name: row[name] for name in Print.model_fields if name != "items"}
    facts["state"] = word(row["state"])
    facts["batch"] = _batch(row["batch"])
    facts["progress"] = Progress.model_construct(**orjson.loads(row["progress"]))
    return Print.model_construct(**facts, items=list(items))


def _item(row: sqlite3.Row) -> Item:
    words = {name: word(row[name]) for name in ("state", "result", "reason")}
    return Item(**{**dict(row), **words})


def _batch(text: str) -> PreparedBatch:
    """A batch as it was checked when it was saved: not checked again, for a log of hundreds is read at once."""
    told = orjson.loads(text)
    told["settings"] = PrintSettings.model_construct(**told["settings"])
    told["items"] = tuple(PreparedItem(**one) for one in told["items"])
    return PreparedBatch.model_construct(**told)


def _set_item(
    connection: sqlite3.Connection, item: Item, state: PieceState, result: Result | None, reason: Reason | None, note: str
) -> None:
    connection.execute(
        "UPDATE print_items SET state = ?, result = ?, reason = ?, note = ?, version = version + 1, changed_at = ? "
        "WHERE print_id = ? AND item = ?",
        (
            slug(state),
            result and slug(result),
            reason and slug(reason),
            note,
            max(now(), item.changed_at),
            item.print_id,
            item.item,
        ),
    )

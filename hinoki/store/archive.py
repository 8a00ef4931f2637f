"""A project with everything, as one ZIP: its revisions, model files, print log and photographs. Out here, in elsewhere.

Layout: `project.json` (schema hinoki-project/1: all that is small), `revisions/N.json` (plans, as they were saved),
`sources/SHA256` (model files, as they came), `prints/N.jpg` and `steps/N.jpg` (photographs). Equal projects give equal bytes:
what only names rows here (ids of projects, prints, spools and printers) stays here.
"""

import errno
import logging
import re
import shutil
import sqlite3
import uuid
import zipfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from hinoki.core.errors import HinokiError, TooLarge, explain
from hinoki.core.plan.plan import read_plan
from hinoki.core.printlog.photographs import is_photograph
from hinoki.core.printlog.records import PreparedBatch, Progress
from hinoki.store.archive_schema import Kept, PrintRow, RevisionRow, SourceRow
from hinoki.store.slugs import slug, word
from hinoki.store.tables.piece_keys import piece_ids
from hinoki.store.tables.prints import items_of
from hinoki.store.tables.projects import keep_shapes, piece_numbers, project, remember_numbers, shapes
from hinoki.store.tables.sources import SourceFacts, add_source, sha256_of, source_bytes, source_facts
from hinoki.store.tables.step_photos import photo as photo_at

SCHEMA = "hinoki-project/1"
LARGEST = 2_000_000_000
"""bytes in all once unpacked"""
MOST_FILES = 50_000
_EPOCH = (1980, 1, 1, 0, 0, 0)
_NAMES = re.compile(r"project\.json|revisions/[0-9]{1,7}\.json|sources/[0-9a-f]{64}|(prints|steps)/[0-9]{1,7}\.jpg")
LARGEST_JSON = 50_000_000
"""bytes of one JSON file once unpacked"""
ALL_JSON = 1_000_000_000
DENSEST = 200
"""how many times its packed size a JSON file may have; ours have ten to thirty"""
DENSE_FROM = 1_000_000
LOG = logging.getLogger(__name__)
Row = dict[str, Any]


_ITEM = ("item", "key", "number", "name", "copy_number", "shape", "grams", "minutes", "state", "result", "reason", "note",
         "version", "changed_at")  # fmt: skip
_PRINT = ("number", "revision", "state", "machine", "sent_at", "begun_at", "ended_at", "minutes", "grams", "gone_since", "why",
          "note")  # fmt: skip
_ANSWER = ("printer_id", "material_id", "joint", "fit", "clearance_mm", "answer", "note", "made_at")


def write_archive(connection: sqlite3.Connection, project_id: str, path: Path) -> None:
    """Write a project with everything into a ZIP at `path`. Raises NotFound."""
    owner = project(connection, project_id)
    plans = connection.execute(
        "SELECT number, coalesce(parent, 0) AS parent, label, name, created_at, plan FROM revisions WHERE project_id = ? "
        "ORDER BY number",
        (project_id,),
    ).fetchall()
    uses = {use.source for row in plans for use in read_plan(row["plan"]).all_kept}

    def of(columns: str, table: str, order: str) -> list[Row]:
        return _rows(connection, f"SELECT {columns} FROM {table} WHERE project_id = ? ORDER BY {order}", project_id)

    kept = Kept(
        schema=SCHEMA,
        **{f: getattr(owner, f) for f in ("name", "created_at", "updated_at", "head", "tip", "archived_at")},
        revisions=[RevisionRow(**{f: row[f] for f in RevisionRow.model_fields}) for row in plans],
        sources=[_source(source_facts(connection, sha)) for sha in sorted(uses)],
        numbers=dict(sorted(piece_numbers(connection, project_id).items())),
        shapes=dict(sorted(shapes(connection, project_id).items())),
        went_out=of("revision, at, wish, held", "went_out", "id"),
        ticked=of("key AS unit, at", "ticked_steps JOIN piece_keys ON id = piece_id", "at, key"),
        step_photos=of("key AS unit, at, sha256", "step_photos JOIN piece_keys ON id = piece_id", "key"),
        prints=_prints(connection, project_id),
        print_photos=_rows(
            connection,
            "SELECT p.number, f.at, f.sha256 FROM print_photos f JOIN prints p ON p.id = f.print_id WHERE p.project_id = ? "
            "ORDER BY p.number",
            project_id,
        ),
        fit_answers=of(", ".join(_ANSWER), "fit_answers", "made_at, id"),
    )  # fmt: skip
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:
        _add(archive, "project.json", kept.model_dump_json(by_alias=True, indent=1).encode())
        for row in plans:
            _add(archive, f"revisions/{row['number']}.json", row["plan"].encode())
        for one in kept.sources:
            _add(archive, f"sources/{one.sha256}", source_bytes(connection, one.sha256))
        for k, at_step in enumerate(kept.step_photos):
            _add(archive, f"steps/{k}.jpg", photo_at(connection, project_id, at_step.unit) or b"")
        for photo in kept.print_photos:
            row = connection.execute(
                "SELECT f.jpeg FROM print_photos f JOIN prints p ON p.id = f.print_id WHERE p.project_id = ? AND p.number = ?",
                (project_id, photo.number),
            ).fetchone()
            _add(archive, f"prints/{photo.number}.jpg", row["jpeg"])


@dataclass(frozen=True)
class Unpacked:
    """An archive that was unpacked and looked at: nothing of it can be refused any more but by the database."""

    kept: Kept
    plans: dict[int, Path]
    sources: dict[str, Path]
    photos: dict[str, Path]


def unpacked(path: Path, folder: Path) -> Unpacked:
    """Unpack a ZIP into `folder` and check all of it. Raises HinokiError for what is no archive, or damaged."""
    try:
        with zipfile.ZipFile(path) as archive:
            _refuse_odd(archive)
            return _checked(archive, folder)
    except HinokiError:
        raise
    except ValidationError as error:
        sentence, place = explain(error)
        raise HinokiError(f"The archive is damaged: {sentence}", place) from error
    except Exception as error:  # a ZIP can be wrong in more ways than its reader has errors for
        if isinstance(error, OSError) and error.errno == errno.ENOSPC:
            raise
        LOG.info("an archive was refused", exc_info=True)
        raise HinokiError("This is no project archive, or it is damaged. Choose a ZIP that Hinoki saved.", "archive") from error


def _checked(archive: zipfile.ZipFile, folder: Path) -> Unpacked:
    kept = Kept.model_validate_json(archive.read("project.json"))
    known = {s.sha256 for s in kept.sources}
    plans = {}
    for number in sorted({r.number for r in kept.revisions}):
        plans[number] = _member(archive, f"revisions/{number}.json", folder / f"{number}.json")
        for use in read_plan(plans[number].read_bytes()).all_kept:
            if use.source not in known:
                raise HinokiError(f"The archive is damaged: the file {use.file_name} is missing.", "sources")
    names = [f"steps/{k}.jpg" for k in range(len(kept.step_photos))]
    names += [f"prints/{p.number}.jpg" for p in kept.print_photos]
    photos = {name: _photo(archive, name, folder / name.replace("/", "-")) for name in names}
    return Unpacked(kept, plans, {s.sha256: _unpacked_source(archive, s, folder) for s in kept.sources}, photos)


def take_in(connection: sqlite3.Connection, found: Unpacked, name: str | None = None, with_log: bool = True) -> str:
    """Take a project in, under its own name or another, with or without its print log; gives its new id.

    Raises HinokiError where the rows contradict each other; then nothing is taken in.
    """
    kept, project_id = found.kept, uuid.uuid4().hex
    try:
        for source in kept.sources:
            path = found.sources[source.sha256]
            size, many = source.size, source.triangles
            add_source(connection, path, SourceFacts(source.sha256, source.file_name, path.stat().st_size, many, size))
        own = {f: getattr(kept, f) for f in ("created_at", "updated_at", "archived_at")}
        _insert(connection, "projects", {"id": project_id, "name": name or kept.name, **own})
        for one in sorted(kept.revisions, key=lambda r: r.number):  # a parent before what came from it
            row = {
                "project_id": project_id,
                **one.model_dump(),
                "parent": one.parent or None,
                "plan": found.plans[one.number].read_text("utf-8"),
            }
            _insert(connection, "revisions", row)
        connection.execute("UPDATE projects SET head = ?, tip = ? WHERE id = ?", (kept.head, kept.tip, project_id))
        remember_numbers(connection, project_id, kept.numbers)
        keep_shapes(connection, project_id, kept.shapes)
        if with_log:
            _take_log(connection, found, project_id)
    except (sqlite3.IntegrityError, sqlite3.DataError, KeyError) as error:
        raise HinokiError(f"The archive contradicts itself ({error}); nothing was taken in.", "archive") from error
    return project_id


def _take_log(connection: sqlite3.Connection, found: Unpacked, project_id: str) -> None:
    """The print log, what went out, and what was done at the bench."""
    kept = found.kept
    own = {"project_id": project_id}
    for gone in kept.went_out:
        _insert(connection, "went_out", own | gone.model_dump())
    items = [item for one in kept.prints for item in one.items]
    keys = [*(row.unit for row in (*kept.ticked, *kept.step_photos)), *(item.key for item in items)]
    pieces = piece_ids(connection, project_id, keys)
    for tick in kept.ticked:
        _insert(connection, "ticked_steps", {"piece_id": pieces[tick.unit], "at": tick.at})
    for k, at_step in enumerate(kept.step_photos):
        facts = {"piece_id": pieces[at_step.unit], "at": at_step.at, "sha256": at_step.sha256}
        _insert(connection, "step_photos", facts | {"jpeg": found.photos[f"steps/{k}.jpg"].read_bytes()})
    ids: dict[int, str] = {}
    for one in kept.prints:
        ids[one.number] = uuid.uuid4().hex
        facts = {f: getattr(one, f) for f in _PRINT} | {"state": slug(one.state)}
        _insert(
            connection,
            "prints",
            {
                "id": ids[one.number], **own, **facts, "batch": one.batch.model_dump_json(),
                "progress": one.progress.model_dump_json(),
            },
        )  # fmt: skip
        for item in one.items:
            states = {f: (kept_as := getattr(item, f)) and slug(kept_as) for f in ("state", "result", "reason")}
            row = item.model_dump(exclude={"key"}) | states
            _insert(connection, "print_items", {"print_id": ids[one.number], "piece_id": pieces[item.key]} | row)
    for of_print in kept.print_photos:
        jpeg = found.photos[f"prints/{of_print.number}.jpg"].read_bytes()
        row = {"print_id": ids[of_print.number], "at": of_print.at, "sha256": of_print.sha256, "jpeg": jpeg}
        _insert(connection, "print_photos", row)
    for answer in kept.fit_answers:
        _insert(connection, "fit_answers", own | answer.model_dump(exclude={"id"}))


def _unpacked_source(archive: zipfile.ZipFile, source: SourceRow, folder: Path) -> Path:
    """A model file, unpacked piece by piece and checked against its name."""
    path = _member(archive, f"sources/{source.sha256}", folder / source.sha256)
    if sha256_of(path) != source.sha256:
        raise HinokiError(f"The archive is damaged: {source.file_name} is not what it was when it was packed.", "sources")
    return path


def _refuse_odd(archive: zipfile.ZipFile) -> None:
    """Raises HinokiError for archives with files of other names, and TooLarge for those that would fill the disk."""
    infos = archive.infolist()
    odd = next((i.filename for i in infos if not _NAMES.fullmatch(i.filename)), None)
    if odd is not None:
        raise HinokiError(f"This is no project archive: it holds “{odd[:60]}”. Choose a ZIP that Hinoki saved.", "archive")
    if len(infos) > MOST_FILES or sum(i.file_size for i in infos) > LARGEST:
        raise TooLarge(f"The archive holds more than {LARGEST / 1e9:g} GB or {MOST_FILES} files.", "archive")
    written = [i for i in infos if i.filename.endswith(".json")]
    large = next((i for i in written if i.file_size > LARGEST_JSON), None)
    if large or sum(i.file_size for i in written) > ALL_JSON:
        says = f"{large.filename} in the archive is" if large else "What the archive tells of its revisions is"
        raise TooLarge(f"{says} larger than {(LARGEST_JSON if large else ALL_JSON) / 1e6:g} MB.", "archive")
    dense = next((i for i in written if i.file_size > max(DENSE_FROM, DENSEST * i.compress_size)), None)
    if dense:
        says = f"{dense.filename} in the archive unpacks to over {DENSEST} times its size. Choose a ZIP that Hinoki saved."
        raise TooLarge(says, "archive")


def _member(archive: zipfile.ZipFile, name: str, path: Path) -> Path:
    """A file of the archive, unpacked piece by piece."""
    with archive.open(name) as packed, path.open("wb") as file:
        shutil.copyfileobj(packed, file)
    return path


def _photo(archive: zipfile.ZipFile, name: str, path: Path) -> Path:
    if not is_photograph(_member(archive, name, path).read_bytes()):
        raise HinokiError(f"The archive is damaged: {name} is no photograph.", name)
    return path


def _prints(connection: sqlite3.Connection, project_id: str) -> list[PrintRow]:
    found = []
    for row in connection.execute("SELECT * FROM prints WHERE project_id = ? ORDER BY number", (project_id,)).fetchall():
        items = items_of(connection, "print_id", row["id"])
        found.append(
            PrintRow(
                **({f: row[f] for f in _PRINT} | {"state": word(row["state"])}),
                batch=PreparedBatch.model_validate_json(row["batch"]),
                progress=Progress.model_validate_json(row["progress"]),
                items=[{f: getattr(item, f) for f in _ITEM} for item in items],
            )
        )
    return found


def _source(facts: SourceFacts) -> SourceRow:
    return SourceRow(sha256=facts.sha256, file_name=facts.file_name, triangles=facts.triangles, size=facts.size)


def _rows(connection: sqlite3.Connection, query: str, project_id: str) -> list[Row]:
    return [dict(row) for row in connection.execute(query, (project_id,))]


def _insert(connection: sqlite3.Connection, table: str, row: Row) -> None:
    """Add a row; table and columns are names written here."""
    names, marks = ", ".join(row), ", ".join("?" * len(row))
    connection.execute(f"INSERT INTO {table} ({names}) VALUES ({marks})", list(row.values()))


def _add(archive: zipfile.ZipFile, name: str, content: bytes) -> None:
    method = zipfile.ZIP_STORED if name.endswith(".jpg") else zipfile.ZIP_DEFLATED
    archive.writestr(zipfile.ZipInfo(name, _EPOCH), content, method)

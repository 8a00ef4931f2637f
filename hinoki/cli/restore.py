"""`hinoki restore`: take everything back from a backup, also where the database there is damaged."""

import argparse
import shutil
import sqlite3
import tempfile
from contextlib import closing
from datetime import datetime
from pathlib import Path

from hinoki.cli.shared.output import add_output, output_of


def declare(parser: argparse.ArgumentParser) -> None:
    """Add what `restore` takes."""
    parser.add_argument("file", type=Path, nargs="?", help="the backup; none with --back")
    parser.add_argument("--data", type=Path, default=None, help="folder of the database")
    parser.add_argument("--back", action="store_true", help="take back what was there before the last restore")
    add_output(parser, "what was done")
    parser.set_defaults(run=_restore)


def _restore(options: argparse.Namespace) -> int:
    from hinoki.core.errors import BadPlan
    from hinoki.store.backups import BEFORE, looked_through
    from hinoki.store.data_folder import data_folder
    from hinoki.store.database import Database
    from hinoki.store.folder_lock import locked

    folder = data_folder(options.data, demo=False)
    if options.back == (options.file is not None):
        raise BadPlan("Name the backup, or --back for what was there before the last restore.", "FILE")
    source = folder / BEFORE if options.back else options.file
    if not source.exists():
        raise FileNotFoundError(2, "there is no such file", str(source))
    (folder / "incoming").mkdir(parents=True, exist_ok=True)  # what is left there is cleared at the next start
    with locked(folder), tempfile.TemporaryDirectory(dir=folder / "incoming") as place:
        looked = Path(place) / "looked.sqlite"
        looked_through(source, looked)
        kept = _put_aside(folder, folder / BEFORE)
        with closing(Database(folder / "hinoki.sqlite")) as database:
            database.replace(looked)
    for name in ("builds", "exports", "answers"):
        shutil.rmtree(folder / "cache" / name, ignore_errors=True)
    put_aside = f"; what was there is kept as {kept.name}" if kept else ""
    output_of(options).say(f"Restored from {source} into {folder}{put_aside}")
    done = {"schema": "hinoki-restore/1", "from": str(source), "folder": str(folder), "kept_as": kept.name if kept else None}
    output_of(options).document(done)
    return 0


def _put_aside(folder: Path, before: Path) -> Path | None:
    """Keep what is there: as what was before this restore, or, where it is damaged, under a name that says so."""
    from hinoki.store.backups import backup

    there = folder / "hinoki.sqlite"
    if not there.exists():
        return None
    try:
        new = before.with_suffix(".new")
        new.unlink(missing_ok=True)
        backup(there, new)
        with closing(sqlite3.connect(new)) as copy:
            state = copy.execute("PRAGMA integrity_check").fetchone()[0]
        if state != "ok":
            raise sqlite3.DatabaseError(state)
        new.replace(before)
        return before
    except sqlite3.DatabaseError:
        new.unlink(missing_ok=True)
        damaged = folder / f"damaged-{datetime.now():%Y%m%d-%H%M%S}.sqlite"
        for end in ("", "-wal", "-shm"):
            part = folder / f"hinoki.sqlite{end}"
            if part.exists():
                part.replace(f"{damaged}{end}")
        return damaged

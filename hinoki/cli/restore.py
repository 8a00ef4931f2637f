"""`hinoki restore`: take everything back from a backup."""

import argparse
import shutil
from contextlib import closing
from pathlib import Path


def declare(parser: argparse.ArgumentParser) -> None:
    """Add what `restore` takes."""
    parser.add_argument("file", type=Path)
    parser.add_argument("--data", type=Path, default=None)
    parser.set_defaults(run=_restore)


def _restore(options: argparse.Namespace) -> int:
    from hinoki.api.server import data_folder
    from hinoki.store.database import Database, usable_backup

    usable_backup(options.file)
    folder = data_folder(options.data, demo=False)
    with closing(Database(folder / "hinoki.sqlite")) as database:
        database.replace(options.file)
    for name in ("builds", "exports"):
        shutil.rmtree(folder / "cache" / name, ignore_errors=True)
    print(f"Restored from {options.file} into {folder}")
    return 0

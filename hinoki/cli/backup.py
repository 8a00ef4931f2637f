"""`hinoki backup`: copy the database into one file."""

import argparse
from pathlib import Path


def declare(parser: argparse.ArgumentParser) -> None:
    """Add what `backup` takes."""
    parser.add_argument("file", type=Path)
    parser.add_argument("--data", type=Path, default=None)
    parser.set_defaults(run=_backup)


def _backup(options: argparse.Namespace) -> int:
    from hinoki.api.server import data_folder
    from hinoki.store.backups import backup

    backup(data_folder(options.data, demo=False) / "hinoki.sqlite", options.file)
    print(f"Backed up to {options.file} ({options.file.stat().st_size / 1e6:.1f} MB)")
    return 0

"""`hinoki backup`: copy the database into one file."""

import argparse
from pathlib import Path

from hinoki.cli.shared.output import add_output, output_of


def declare(parser: argparse.ArgumentParser) -> None:
    """Add what `backup` takes."""
    parser.add_argument("file", type=Path)
    parser.add_argument("--data", type=Path, default=None)
    add_output(parser, "what was saved")
    parser.set_defaults(run=_backup)


def _backup(options: argparse.Namespace) -> int:
    from hinoki.store.backups import backup
    from hinoki.store.data_folder import data_folder

    backup(data_folder(options.data, demo=False) / "hinoki.sqlite", options.file)
    size = options.file.stat().st_size
    output_of(options).say(f"Backed up to {options.file} ({size / 1e6:.1f} MB)")
    output_of(options).document({"schema": "hinoki-backup/1", "file": str(options.file), "bytes": size})
    return 0

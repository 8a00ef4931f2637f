"""`hinoki serve`: start the application."""

import argparse
from pathlib import Path


def declare(parser: argparse.ArgumentParser) -> None:
    """Add what `serve` takes."""
    parser.add_argument("--data", type=Path, default=None, help="folder for the database and the cache")
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument("--port", type=int, default=8462)
    parser.add_argument("--access-phrase", default=None, help="needed when --host is not this machine")
    parser.set_defaults(run=_serve, demo=False, print_speed=None)


def _serve(options: argparse.Namespace) -> int:
    from hinoki.api.server import serve

    return serve(options.data, options.host, options.port, options.access_phrase, options.demo, options.print_speed or None)

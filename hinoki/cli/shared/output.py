"""What commands say: lines for people, or one JSON document; nothing but that with --quiet."""

import argparse
import json
import sys
from collections.abc import Mapping
from typing import Any


class Output:
    """Where a command tells what it does and what came of it."""

    def __init__(self, quiet: bool = False, as_json: bool = False) -> None:
        self.quiet, self.as_json = quiet, as_json

    def say(self, text: str) -> None:
        """A line for people on stdout; none where JSON or quiet is asked for."""
        if not self.quiet and not self.as_json:
            print(text)

    def note(self, text: str) -> None:
        """A line for people on stderr."""
        if not self.quiet:
            print(text, file=sys.stderr)

    def document(self, content: Mapping[str, Any]) -> None:
        """All that came of it as JSON on stdout, where that is asked for."""
        if self.as_json:
            print(json.dumps(content, indent=2, ensure_ascii=False))


def add_output(parser: argparse.ArgumentParser, result: str | None = None) -> None:
    """Add how much a command says, and JSON where it has a `result`."""
    parser.add_argument("--quiet", "-q", action="store_true", help="no progress and no notes")
    if result is not None:
        parser.add_argument("--json", action="store_true", help=f"{result} as JSON on stdout")


def output_of(options: argparse.Namespace) -> Output:
    """How much is said, as the command line asks."""
    return Output(options.quiet, getattr(options, "json", False))

"""`hinoki demo`: start the application with the demo project and simulated printers."""

import argparse

from hinoki.cli import serve


def declare(parser: argparse.ArgumentParser) -> None:
    """Add what `demo` takes: all that `serve` does, and how fast the simulated printers print."""
    serve.declare(parser)
    text = "how fast the simulated printers print; 0: none"
    parser.add_argument("--print-speed", type=_speed, default=1200.0, help=text)
    parser.set_defaults(demo=True)


def _speed(text: str) -> float:
    speed = float(text)
    if not 0 <= speed <= 1e6:
        raise argparse.ArgumentTypeError("between 0 (no simulated printers) and 1000000")
    return speed

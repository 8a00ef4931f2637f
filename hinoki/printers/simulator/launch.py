"""Starts simulated printers as processes of their own, and ends them."""

import os
import socket
import subprocess
import sys
from collections.abc import Iterator, Sequence
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass

DEMO_SPEED = 1200.0
"""seconds of printing in one: an hour in three seconds"""


@dataclass(frozen=True)
class StandIn:
    """A simulated printer to be started."""

    name: str
    room_mm: tuple[float, float, float]
    seed: int
    filament_g: float = 1000.0


@contextmanager
def running(printers: Sequence[StandIn], speed: float = DEMO_SPEED) -> Iterator[list[str]]:
    """The addresses of printers that run until this is left."""
    with ExitStack() as stack:
        addresses = []
        for printer in printers:
            port = _free_port()
            room = [f"{side:g}" for side in printer.room_mm]
            command = [
                *(sys.executable, "-m", "hinoki.printers.simulator", "--parent", str(os.getpid())),
                *("--port", str(port), "--name", printer.name),
                *(
                    "--room",
                    *room,
                    "--speed",
                    f"{speed:g}",
                    "--seed",
                    str(printer.seed),
                    "--filament",
                    f"{printer.filament_g:g}",
                ),
            ]
            process = subprocess.Popen(command, stdout=subprocess.DEVNULL)
            stack.callback(process.wait)
            stack.callback(process.terminate)
            addresses.append(f"http://127.0.0.1:{port}")
        yield addresses


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])

"""Processes that run units beside each other; whichever is free takes the longest one that is left."""

import contextlib
import json
import multiprocessing
import os
import shutil
import signal
import sys
import tempfile
import warnings
from collections.abc import Iterator, Sequence
from multiprocessing.connection import Connection, wait
from multiprocessing.context import BaseContext
from pathlib import Path

from tests.running.ending import ENDING
from tests.running.outcome import Outcome, run
from tests.running.units import Unit

WAIT_S = 0.2
MEETING = "HINOKI_TEST_RUN"
"""names the folder in which the lanes of one run meet"""


@contextlib.contextmanager
def meeting_place() -> Iterator[None]:
    """A folder for what the lanes of a run have in common; a server that is noted there is stopped at the end."""
    folder = Path(tempfile.mkdtemp(prefix="hinoki-run-"))
    os.environ[MEETING] = str(folder)
    try:
        yield
    finally:
        end_server(folder)
        shutil.rmtree(folder, ignore_errors=True)


def end_server(folder: Path) -> None:
    """Stop the server that is noted in a meeting place."""
    known = folder / "server.json"
    if known.exists():
        with contextlib.suppress(ProcessLookupError):
            os.kill(json.loads(known.read_text())["pid"], signal.SIGTERM)


def context() -> BaseContext:
    """Lanes are copies of this process where the system can copy, so that what was imported once is there in all."""
    return multiprocessing.get_context("fork" if sys.platform == "linux" else "spawn")


def run_all(units: Sequence[Unit], lanes: int, screens: Path | None) -> Iterator[Outcome]:
    """Run `units` in their order in so many lanes; gives what came of each as it ends.

    What needs the screens waits until the file `screens` is there (None: they are there already).
    """
    waiting, pipes = list(units), {}
    for number in range(min(lanes, len(units))):
        here, there = context().Pipe()
        process = context().Process(target=_lane, args=(there, here), name=f"lane {number}")  # type: ignore[attr-defined]
        process.start()
        there.close()
        pipes[here] = process
    idle, busy = list(pipes), {}
    try:
        while waiting or busy:
            while idle and (unit := _next(waiting, screens)) is not None:
                pipe = idle.pop()
                pipe.send(unit)
                busy[pipe] = unit
            for pipe in wait(list(busy), WAIT_S):
                unit = busy.pop(pipe)  # type: ignore[arg-type]
                try:
                    yield pipe.recv()  # type: ignore[union-attr]
                except EOFError:
                    yield Outcome(unit.name, failed=len(unit.tests) or 1, said=f"{unit.name}: its process ended suddenly")
                else:
                    idle.append(pipe)  # type: ignore[arg-type]
            if not busy and not idle and waiting:
                for unit in waiting:
                    yield Outcome(unit.name, failed=len(unit.tests) or 1, said=f"{unit.name}: no process is left to run it")
                return
    finally:
        for pipe in pipes:
            with contextlib.suppress(OSError):  # it may have ended already
                pipe.send(None)
        for pipe, process in pipes.items():
            process.join(timeout=30)
            pipe.close()
            if process.is_alive():
                process.terminate()


def _next(waiting: list[Unit], screens: Path | None) -> Unit | None:
    ready = screens is None or screens.exists()
    for unit in waiting:
        if ready or not unit.needs_screens:
            waiting.remove(unit)
            return unit
    return None


def _lane(pipe: Connection, parents: Connection) -> None:
    parents.close()
    ENDING.pop_all()  # what the process it was copied from will close is not this one's to close
    warnings.simplefilter("default")
    while True:
        try:
            unit = pipe.recv()
        except (EOFError, OSError):
            unit = None
        if unit is None:
            ENDING.close()  # a copied process does not run what is registered for its exit
            return
        pipe.send(run(unit))

"""Simulated printers for tests: the real service over real HTTP, in a thread, in time that runs as fast as wanted."""

import contextlib
import threading
import time
from collections.abc import Iterator

import uvicorn

from hinoki.printers.simulator.print_job import Simulation
from hinoki.printers.simulator.service import make_printer
from tests.api.serving import free_port


@contextlib.contextmanager
def simulated(
    speed: float = 20_000.0,
    room: tuple[float, float, float] = (220.0, 220.0, 250.0),
    seed: int = 1,
    filament_g: float = 5000.0,
    failures: bool = False,
) -> Iterator[tuple[str, Simulation]]:
    """The address of a printer, and what it simulates."""
    simulation = Simulation("Sim", room, time.monotonic, speed, seed, filament_g, failures)
    port = free_port()
    server = uvicorn.Server(
        uvicorn.Config(make_printer(simulation), host="127.0.0.1", port=port, log_level="error", lifespan="off")
    )
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.01)
    try:
        yield f"http://127.0.0.1:{port}", simulation
    finally:
        server.should_exit = True
        server.force_exit = True
        thread.join(timeout=5)

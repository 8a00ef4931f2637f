"""Starting the application."""

import socket
import sys
from contextlib import ExitStack
from pathlib import Path

import uvicorn
from fastapi import FastAPI

from hinoki.api.app import WEB, make_app
from hinoki.api.shared.state import State
from hinoki.core.errors import BadPlan
from hinoki.core.printlog.printer_connection import Machine
from hinoki.core.printlog.spools import NewSpool
from hinoki.logs import configure
from hinoki.printers.simulator.launch import DEMO_SPEED, StandIn, running
from hinoki.store.cache_files import LIMIT
from hinoki.store.data_folder import data_folder
from hinoki.store.tables import printers as machines
from hinoki.store.tables import spools

LOCAL = ("127.0.0.1", "localhost", "::1")


DEMO_PRINTERS = (
    (StandIn("Printer by the window", (220.0, 220.0, 250.0), seed=7), "bench-220"),
    (StandIn("Printer under the stairs", (220.0, 220.0, 250.0), seed=12), "bench-220"),
)
"""the simulated printers of the demo, and which printer of the workshop each is"""


def serve(  # noqa: PLR0913 - the options of the command
    chosen: Path | None,
    host: str,
    port: int,
    phrase: str | None,
    demo: bool,
    print_speed: float | None = DEMO_SPEED,
    cache_limit: int | None = None,
) -> int:
    """Run the application until it is stopped; gives the exit code. The demo has simulated printers, `print_speed` times
    as fast as real ones (none for None). Raises BadPlan for unsafe or taken addresses."""
    if host not in LOCAL and not phrase:
        raise BadPlan(
            "Another address than this machine's own needs --access-phrase-file, so that strangers stay out.", "--host"
        )
    configure()
    _refuse_taken(host, port)
    folder = data_folder(chosen, demo)
    state = State(folder, cache_limit=cache_limit or LIMIT)
    if not (WEB / "index.html").exists():
        print("note: the screens are not built; run 'python3 run.py setup' first", file=sys.stderr)
    hosts = ("127.0.0.1", "localhost", "[::1]") if host in LOCAL else ("*",)
    print(
        f"Hinoki is at http://{'localhost' if host in LOCAL else host}:{port}  (data in {folder}; stop with Ctrl+C)", flush=True
    )
    if demo:
        begin_demos(state)
    with ExitStack() as stack:
        if demo and print_speed is not None:
            addresses = stack.enter_context(running([one for one, _ in DEMO_PRINTERS], print_speed))
            add_demo_printers(state, addresses)
        uvicorn.run(make_app(state, hosts, phrase), host=host, port=port, log_level="warning", timeout_graceful_shutdown=2)
    return 0


def development() -> FastAPI:
    """The application with the demo projects, for a server that starts anew at every change (`python3 run.py dev`)."""
    configure()
    state = State(data_folder(None, demo=True))
    begin_demos(state)
    return make_app(state)


def begin_demos(state: State) -> None:
    """Begin to put the demo projects on the shelf that it does not have yet."""
    from hinoki.api.demo_shelf import DemoShelf

    DemoShelf(state).begin()


def add_demo_printers(state: State, addresses: list[str]) -> None:
    """The simulated printers at their addresses of this start, each with a spool."""
    with state.database.reading() as connection:
        there = {m.id: m for m in machines.machines(connection)}
    for number, ((one, printer_id), address) in enumerate(zip(DEMO_PRINTERS, addresses, strict=True), start=1):
        machine_id = f"simulated-{number}"
        spool = there[machine_id].spool_id if machine_id in there else None
        if machine_id not in there:
            new = NewSpool(material_id="pla", name=f"Sand, reel {number}", full_g=one.filament_g)
            spool = state.database.write(lambda c, new=new: spools.add_spool(c, new))  # type: ignore[misc]
        machine = Machine(id=machine_id, name=one.name, address=address, printer_id=printer_id, spool_id=spool)
        state.database.write(lambda c, machine=machine: machines.put_machine(c, machine))  # type: ignore[misc]


def _refuse_taken(host: str, port: int) -> None:
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    with socket.socket(family) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as error:
            raise BadPlan(
                f"Port {port} on {host} cannot be used: {error.strerror}. Choose another with --port.", "--port"
            ) from None

"""Starting the application. What takes long to read is read behind the front door, which answers meanwhile."""

import socket
import sys
from pathlib import Path
from typing import TYPE_CHECKING

import uvicorn
from fastapi import FastAPI

from hinoki.api import screens
from hinoki.api.front_door import FrontDoor, pages
from hinoki.api.shared.access import LOCAL_NAMES
from hinoki.core.errors import BadPlan
from hinoki.logs import configure
from hinoki.printers.simulator.launch import DEMO_SPEED
from hinoki.store.cache_files import LIMIT
from hinoki.store.data_folder import data_folder

if TYPE_CHECKING:
    from hinoki.api.shared.state import State
    from hinoki.jobs.cluster import ClusterAddress

LOCAL = ("127.0.0.1", "localhost", "::1")


def serve(  # noqa: PLR0913 - the options of the command
    chosen: Path | None,
    host: str,
    port: int,
    phrase: str | None,
    demo: bool,
    print_speed: float | None = DEMO_SPEED,
    cache_limit: int | None = None,
    cluster: "ClusterAddress | None" = None,
) -> int:
    """Run the application until it is stopped; gives the exit code. The demo has simulated printers, `print_speed` times
    as fast as real ones (none for None). Raises BadPlan for unsafe or taken addresses, and what the application raises
    where it cannot be made."""
    if host not in LOCAL and not phrase:
        raise BadPlan(
            "Another address than this machine's own needs --access-phrase-file, so that strangers stay out.", "--host"
        )
    configure()
    _refuse_taken(host, port)
    folder = data_folder(chosen, demo)
    if not screens.built():
        print("note: the screens are not built; run 'python3 run.py setup' first", file=sys.stderr)
    hosts = LOCAL_NAMES if host in LOCAL else ("*",)

    def make() -> FastAPI:
        return _application(folder, hosts, phrase, cache_limit or LIMIT, (print_speed or 0.0) if demo else None, cluster)

    door = FrontDoor(make, None if phrase else pages(hosts), lambda: setattr(server, "should_exit", True))
    how = uvicorn.Config(door, host=host, port=port, log_level="warning", timeout_graceful_shutdown=2)
    server = uvicorn.Server(how)
    named = "localhost" if host in LOCAL else host
    print(f"Hinoki is at http://{named}:{port}  (data in {folder}; stop with Ctrl+C)", flush=True)
    server.run()
    if door.failed is not None:
        raise door.failed
    return 0


def _application(
    folder: Path,
    hosts: tuple[str, ...],
    phrase: str | None,
    cache_limit: int,
    demo_speed: float | None,
    cluster: "ClusterAddress | None" = None,
) -> FastAPI:
    """The whole application over a data folder; with `demo_speed` that of the demo, whose printers print so many times as fast
    (0: without printers)."""
    from hinoki.api.app import make_app
    from hinoki.api.shared.state import State

    state = State(folder, cache_limit=cache_limit, cluster=cluster)
    try:
        app = make_app(state, hosts, phrase)
        if demo_speed is not None:
            _begin_demo(state, demo_speed)
        return app
    except BaseException:
        state.close()
        raise


def development() -> FastAPI:
    """The application with the demo projects, for a server that starts anew at every change (`python3 run.py dev`)."""
    configure()
    return _application(data_folder(None, demo=True), LOCAL_NAMES, None, LIMIT, 0.0)


def _begin_demo(state: "State", speed: float) -> None:
    """Begin to put the demo projects on the shelf that it does not have yet, and its printers to work."""
    from hinoki.api.demo_printers import run_demo_printers
    from hinoki.api.demo_shelf import DemoShelf

    DemoShelf(state).begin()
    if speed:
        run_demo_printers(state, speed)


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

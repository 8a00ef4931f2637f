"""The print log and the shelf: 500 projects, 20 000 prints, 60 pieces, 20 open windows."""

import contextlib
import json
import socket
import statistics
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import httpx
import uvicorn

from hinoki.api.app import make_app
from hinoki.api.shared.state import State
from hinoki.core.plan.plan import Plan
from hinoki.core.printlog.project_status import Needed, standing_of
from hinoki.core.printlog.records import Item
from hinoki.store.tables import prints, projects
from tests.printed import item, prepared
from tests.shapes import level

PROJECTS, PRINTS, WINDOWS, PIECES = 500, 20_000, 20, 60
ROUNDS = 9


def table() -> str:
    """The table of docs/performance.md: what, Hinoki's seconds, the floor's (reading the same answer as JSON), the ratio."""
    rows = ["| what | Hinoki s | floor s | ratio | wanted |", "| --- | ---: | ---: | ---: | --- |"]
    with tempfile.TemporaryDirectory() as folder, _running(Path(folder)) as (state, address):
        busiest = _fill(state)
        with httpx.Client(base_url=address, timeout=30) as http:
            for what, path in (
                (f"shelf with {PROJECTS} projects", "/api/projects"),
                (f"log of a project with 40 of {PRINTS} prints", f"/api/projects/{busiest[1]}/log"),
                ("log of a project with 500 prints", f"/api/projects/{busiest[0]}/log"),
                ("what all prints teach", "/api/log/factors"),
                ("revisions of a project", f"/api/projects/{busiest[1]}/history"),
            ):
                content = http.get(path).content
                took = _median(lambda path=path: http.get(path))  # type: ignore[misc]
                floor = _median(lambda content=content: json.loads(content))  # type: ignore[misc]
                rows.append(_row(what, took, floor, "under 0.1 s"))
            told = _windows(http, address, busiest[1], state)
        rows.append(_row(f"a change told to {WINDOWS} open windows", told, None, ""))
    needed, items = _sixty()
    rows.append(
        _row(f"out of date: {PIECES} pieces after an edit", _median(lambda: standing_of(needed, items)), None, "under 0.05 s")
    )
    return "\n".join(rows)


def _row(what: str, took: float, floor: float | None, wanted: str) -> str:
    beside = f"{floor:.4f} | {took / floor:.2f}" if floor else " | "
    return f"| {what} | {took:.4f} | {beside} | {wanted} |"


def _median(action: Callable[[], object]) -> float:
    times = []
    for _ in range(ROUNDS):
        begun = time.perf_counter()
        action()
        times.append(time.perf_counter() - begun)
    return statistics.median(times)


@contextlib.contextmanager
def _running(folder: Path) -> Iterator[tuple[State, str]]:
    state = State(folder)
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = int(probe.getsockname()[1])
    how = uvicorn.Config(make_app(state), host="127.0.0.1", port=port, log_level="error", timeout_graceful_shutdown=1)
    server = uvicorn.Server(how)
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.02)
    try:
        yield state, f"http://127.0.0.1:{port}"
    finally:
        server.should_exit = True
        thread.join(timeout=10)


def _fill(state: State) -> tuple[str, str]:
    """Projects with prints, all ended; gives the one with 500, and one with the usual 40."""
    batch = prepared(*(f"p{k}" for k in range(6)))

    def fill(connection) -> tuple[str, str]:  # type: ignore[no-untyped-def]
        ids = [projects.add_project(connection, f"Project {k}", Plan(partings=(level(1, 10.0),))) for k in range(PROJECTS)]
        owners = [ids[0]] * 500 + [ids[k % PROJECTS] for k in range(PRINTS - 500)]
        for number, owner in enumerate(owners):
            one = prints.add_print(connection, owner, 1, batch, (None, "by hand"))
            connection.execute(
                "UPDATE prints SET state = 'done', ended_at = sent_at, minutes = ?, grams = 52 WHERE id = ?",
                (110.0 + number % 9, one.id),
            )
        connection.execute("UPDATE print_items SET state = 'printed'")
        return ids[0], ids[1]

    return state.database.write(fill)


def _windows(http: httpx.Client, address: str, project: str, state: State) -> float:
    """Seconds until all open windows have heard of a change."""
    heard = threading.Barrier(WINDOWS + 1)
    ready = threading.Barrier(WINDOWS + 1)

    def listen() -> None:
        with httpx.Client(base_url=address, timeout=60) as own, own.stream("GET", f"/api/projects/{project}/events") as lines:
            ready.wait()
            for line in lines.iter_lines():
                if line.startswith("event: print"):
                    heard.wait()
                    return

    threads = [threading.Thread(target=listen, daemon=True) for _ in range(WINDOWS)]
    for thread in threads:
        thread.start()
    ready.wait()
    time.sleep(0.5)
    with state.database.reading() as connection:
        one = prints.prints_of(connection, project, 1)[0]
    begun = time.perf_counter()
    http.patch(f"/api/prints/{one.id}", json={"note": "seen"})
    heard.wait()
    took = time.perf_counter() - begun
    for thread in threads:
        thread.join(timeout=5)
    return took


def _sixty() -> tuple[list[Needed], list[Item]]:
    """Pieces, and three of each on the log; every seventh has changed since."""
    needed = [Needed(f"p{k}", k + 1, "", 1, "t" if k % 7 == 0 else "s") for k in range(PIECES)]
    return needed, [item(f"p{k}", "printed", k + 1, item=n) for k in range(PIECES) for n in range(3)]


if __name__ == "__main__":
    print(table())

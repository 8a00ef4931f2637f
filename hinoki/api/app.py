"""The application: routers, safety, the built screens."""

import base64
import hmac
from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.staticfiles import StaticFiles
from starlette.responses import FileResponse, Response

from hinoki import __version__
from hinoki.api import (
    assembly,
    builds,
    divide,
    exports,
    hardware,
    join,
    keeping,
    ladders,
    machines,
    models,
    orient,
    printlog,
    prints,
    problems,
    projects,
    surface,
    workshop,
)
from hinoki.api.state import State

WEB = Path(__file__).parents[2] / "web" / "dist"
Next = Callable[[Request], Awaitable[Response]]


def make_app(state: State, hosts: tuple[str, ...] = ("127.0.0.1", "localhost", "[::1]"), phrase: str | None = None) -> FastAPI:
    """The application over `state`; requests for other `hosts` are refused, and all without `phrase` when there is one."""

    @asynccontextmanager
    async def lifespan(_app: FastAPI) -> AsyncIterator[None]:
        yield
        state.close()

    app = FastAPI(
        title="Hinoki",
        version=__version__,
        lifespan=lifespan,
        generate_unique_id_function=lambda route: route.name,
        responses={422: {"model": problems.Problem}},
    )
    app.state.hinoki = state
    problems.install(app)

    @app.middleware("http")
    async def guard(request: Request, call_next: Next) -> Response:
        host = request.headers.get("host", "")
        name = host.rsplit(":", 1)[0] if not host.endswith("]") else host
        if "*" not in hosts and name not in hosts:
            return problems.problem(421, f"This Hinoki does not answer to the name {name[:80]!r}.", "host")
        origin = request.headers.get("origin")
        if origin and request.method not in ("GET", "HEAD") and origin.split("://", 1)[-1] != host:
            return problems.problem(403, "This request came from another site's page and was refused.", "origin")
        if phrase is not None and not _knows(request, phrase):
            answer = problems.problem(401, "The access phrase is needed (as password, with any name).", "access")
            answer.headers["WWW-Authenticate"] = 'Basic realm="Hinoki"'
            return answer
        return await call_next(request)

    stations = (projects, keeping, models, builds, exports, surface, divide, join, hardware, ladders, orient, assembly)
    for station in (*stations, prints, printlog, machines, workshop):
        app.include_router(station.router)
    if (WEB / "index.html").exists():
        app.mount("/assets", StaticFiles(directory=WEB / "assets"), name="assets")

        @app.get("/{path:path}", include_in_schema=False)
        def screens(path: str) -> Response:
            if path.startswith("api/"):
                return problems.problem(404, "There is nothing under this address.", "not-found")
            icon = WEB / "icon.svg"
            if path == "icon.svg" and icon.exists():
                return FileResponse(icon)
            return FileResponse(WEB / "index.html", headers={"Cache-Control": "no-cache"})

    return app


def _knows(request: Request, phrase: str) -> bool:
    scheme, _, coded = request.headers.get("authorization", "").partition(" ")
    if scheme.lower() != "basic":
        return False
    try:
        given = base64.b64decode(coded, validate=True).decode().partition(":")[2]
    except ValueError:
        return False
    return hmac.compare_digest(given.encode(), phrase.encode())

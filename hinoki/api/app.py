"""The application: routers, safety, the built screens."""

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from functools import partial

from fastapi import FastAPI

from hinoki import __version__
from hinoki.api.routers import (
    assemble,
    batch,
    builds,
    divide,
    fit_ladders,
    kinds,
    languages,
    model,
    model_upload,
    printers,
    printlog,
    prints,
    projects,
    shelf,
    workshop,
)
from hinoki.api.routers.operations import operations_router
from hinoki.api.screens import hand_out_screens
from hinoki.api.shared import access, problems
from hinoki.api.shared.access import LOCAL_NAMES, Phrase
from hinoki.api.shared.problem_statuses import document
from hinoki.api.shared.state import State


def make_app(state: State, hosts: tuple[str, ...] = LOCAL_NAMES, phrase: str | None = None) -> FastAPI:
    """The application over `state`; requests for other `hosts` are refused, and all without `phrase` when there is one."""

    @asynccontextmanager
    async def lifespan(_app: FastAPI) -> AsyncIterator[None]:
        yield
        state.close()

    app = FastAPI(
        title="Hinoki",
        version=__version__,
        lifespan=lifespan,
        docs_url=None,  # its page would load scripts from elsewhere
        redoc_url=None,
        generate_unique_id_function=lambda route: route.name,
    )
    app.openapi = partial(document, app)  # type: ignore[method-assign]
    app.state.hinoki = state
    problems.install(app)

    access.install(app, hosts, Phrase(phrase) if phrase else None)
    kept = (projects, shelf, workshop, kinds, languages, printers)
    for subject in (*kept, model_upload, model, builds, divide, fit_ladders, batch, assemble, prints, printlog):
        app.include_router(subject.router)
    app.include_router(operations_router())
    hand_out_screens(app)
    return app

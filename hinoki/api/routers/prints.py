"""Prints: batches sent out, followed, stopped, annotated."""

import sqlite3
from collections.abc import Callable
from typing import Literal

from fastapi import APIRouter, Request
from pydantic import BaseModel, Field
from starlette.concurrency import run_in_threadpool
from starlette.responses import FileResponse, Response

from hinoki.api.routers.projects import Shared, shown
from hinoki.api.shared.photographs import read_photo
from hinoki.api.shared.state import State
from hinoki.api.shared.strict_route import Heeding, file_of
from hinoki.core.errors import ChangedElsewhere, HinokiError, NotFound
from hinoki.core.printlog.records import NOTE, Grams, Minutes, PreparedBatch, Print
from hinoki.core.printlog.states import ENDED, PrintState, refuse_print_step
from hinoki.printers.base import Adapter, MachineProblem, Unknown
from hinoki.store.tables import print_photos, printers, prints

router = APIRouter(prefix="/api", route_class=Heeding)


class NewPrint(BaseModel):
    """A prepared batch that goes out: to a printer, or, without one, by hand."""

    prepared: str = Field(max_length=80, description="name of the prepared batch")
    revision: int
    machine_id: str | None = Field(None, max_length=60)
    spool_id: int | None = None
    note: str = Field("", max_length=NOTE)


class Said(BaseModel):
    """What a person says of a print that no printer follows, or that is out of sight."""

    state: PrintState
    minutes: Minutes | None = None
    grams: Grams | None = None


class Annotation(BaseModel):
    """A note, and figures measured by hand."""

    note: str | None = Field(None, max_length=NOTE)
    minutes: Minutes | None = None
    grams: Grams | None = None


@router.get("/prepared/{name}/file", response_class=FileResponse, responses=file_of("model/3mf"))
def prepared_file(name: str, state: Shared) -> FileResponse:
    """The 3MF of a batch that is ready."""
    content = state.questions.answer("prepare-batch", name)
    path = state.cache / "exports" / PreparedBatch.model_validate_json(content).file if content else None
    if path is None or not path.exists():
        raise NotFound("This batch is not there any more; prepare it again.", "prepared")
    return FileResponse(path, media_type="model/3mf", filename=f"{path.stem}.3mf")


@router.post("/projects/{project_id}/prints", status_code=201)
def send_out(project_id: str, body: NewPrint, state: Shared) -> Print:
    """Send a prepared batch out; it is in the log from now on, whatever happens to the printer."""
    content = state.questions.answer("prepare-batch", body.prepared)
    if content is None:
        raise NotFound("This batch is not there any more; prepare it again.", "prepared")
    if shown(state, project_id).revision != body.revision:
        raise ChangedElsewhere(
            "The plan was changed while the batch was made ready. Look at it again, and send it then.", "revision"
        )
    batch = PreparedBatch.model_validate_json(content)
    with state.database.reading() as connection:
        machine = printers.machine(connection, body.machine_id) if body.machine_id else None
    spool = body.spool_id if body.spool_id is not None else machine.spool_id if machine else None
    to = (machine.id, machine.name) if machine else (None, "by hand")

    def add(connection: sqlite3.Connection) -> Print:
        one = prints.add_print(connection, project_id, body.revision, batch, to, spool, body.note)
        return one if machine else prints.come_to(connection, one.id, "sent")

    one = state.database.write(add)
    state.watch.look_now()
    state.tell_print(one)
    return one


@router.post("/prints/{print_id}/{what}")
def tell_printer(print_id: str, what: Literal["pause", "resume", "stop"], state: Shared) -> Print:
    """Pause, go on with, or stop a print at its printer."""
    one = _one(state, print_id)
    if one.state in ENDED:
        raise ChangedElsewhere(f"Print {one.number} is {one.state} already.", "print")
    adapter = _adapter(state, one)
    if adapter is None:
        raise HinokiError("No printer follows this print; say yourself how it went.", "print")
    if one.state == "sending" and what == "stop":
        return _stop_sending(state, one, adapter)
    try:
        {"pause": adapter.pause, "resume": adapter.resume, "stop": adapter.cancel}[what](print_id)
    except MachineProblem as problem:
        raise HinokiError(
            f"{one.machine}: {problem.says} Nothing was changed; try again, or say yourself how it ended.", "printer"
        ) from problem
    state.watch.look_now()
    return _one(state, print_id)


@router.put("/prints/{print_id}/state")
def say_state(print_id: str, body: Said, state: Shared) -> Print:
    """What a person says of a print that no printer follows, or whose printer is gone."""
    one = _one(state, print_id)
    followed = _adapter(state, one)
    if followed is not None and one.gone_since is None and one.state not in ENDED:
        raise HinokiError(f"{one.machine} tells by itself how this print goes. Stop it there, or wait.", "print")
    refuse_print_step(one.number, one.state, body.state)
    needed = state.needed(one.project_id) if body.state == "done" else {}
    why = "said by hand" if one.machine_id else ""
    return _written(state, lambda c: prints.come_to(c, print_id, body.state, None, body.minutes, body.grams, why, needed))


@router.patch("/prints/{print_id}")
def annotate_print(print_id: str, body: Annotation, state: Shared) -> Print:
    """A note to a print, and what was measured by hand."""
    return _written(state, lambda c: prints.annotate(c, print_id, body.note, body.minutes, body.grams))


@router.delete("/prints/{print_id}", status_code=204)
def delete_print(print_id: str, state: Shared) -> Response:
    """Take an ended print out of the log, with all that was said of its pieces."""
    project_id = state.database.write(lambda c: prints.delete_print(c, print_id))
    state.listeners.tell(project_id, "print", {"id": print_id, "state": "deleted"})
    return Response(status_code=204)


@router.put("/prints/{print_id}/photo")
async def add_print_photo(print_id: str, request: Request, state: Shared) -> Print:
    """Keep a photograph (the request's body) of a print; it is made small."""
    jpeg = await read_photo(request)

    def keep(connection: sqlite3.Connection) -> Print:
        prints.one_print(connection, print_id)
        print_photos.keep_print_photo(connection, print_id, jpeg)
        return prints.one_print(connection, print_id)

    return await run_in_threadpool(_written, state, keep)


@router.get("/prints/{print_id}/photo", response_class=Response, responses=file_of("image/jpeg"))
def get_print_photo(print_id: str, state: Shared) -> Response:
    """The photograph of a print."""
    with state.database.reading() as connection:
        content = print_photos.print_photo(connection, print_id)
    if content is None:
        raise NotFound("There is no photograph of this print.", "photograph")
    return Response(content, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=31536000, immutable"})


@router.delete("/prints/{print_id}/photo")
def drop_print_photo(print_id: str, state: Shared) -> Print:
    """Take the photograph of a print away."""
    state.database.write(lambda c: print_photos.drop_print_photo(c, print_id))
    return _written(state, lambda c: prints.one_print(c, print_id))


def _stop_sending(state: State, one: Print, adapter: Adapter) -> Print:
    """Stop a print that is on its way: at its printer, too, should it have got there."""
    why = "stopped before it was sent"
    try:
        adapter.cancel(one.id)
    except Unknown:
        pass
    except MachineProblem:
        why = "stopped before it was sent, as far as is known: the printer did not answer"
    return _written(state, lambda c: prints.come_to(c, one.id, "stopped", why=why))


def _one(state: State, print_id: str) -> Print:
    with state.database.reading() as connection:
        return prints.one_print(connection, print_id)


def _written(state: State, act: Callable[[sqlite3.Connection], Print]) -> Print:
    """A print after a change to it, of which all windows are told."""
    one = state.database.write(act)
    state.tell_print(one)
    return one


def _adapter(state: State, one: Print) -> Adapter | None:
    """The adapter of the printer that follows a print; None where none does."""
    if one.machine_id is None:
        return None
    with state.database.reading() as connection:
        known = {m.id: m for m in printers.machines(connection)}
    machine = known.get(one.machine_id)
    adapter = state.watch.adapter(machine) if machine else None
    return adapter if adapter and adapter.follows else None

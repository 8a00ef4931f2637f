"""Printers that batches are sent to, and spools."""

import re
import sqlite3
from concurrent.futures import ThreadPoolExecutor
from typing import Annotated

from fastapi import APIRouter, Request
from pydantic import BaseModel, Field
from starlette.responses import Response

from hinoki.api.routers.projects import Shared
from hinoki.api.shared.state import State
from hinoki.api.shared.strict_route import Heeding
from hinoki.core.errors import NotFound
from hinoki.core.printlog.printer_connection import Machine, refuse_bad_address
from hinoki.core.printlog.spools import NewSpool, Spool
from hinoki.printers.base import MachineProblem, Status
from hinoki.store.tables import printers as kept
from hinoki.store.tables import prints, spools
from hinoki.store.tables import workshop as shelf

router = APIRouter(prefix="/api", route_class=Heeding)
MOST_AT_ONCE = 8


class MachineView(BaseModel):
    """A printer, how it is now, and what it prints for which project."""

    machine: Machine
    answers: bool
    says: str = Field(description="how it is, or why it does not answer")
    nozzle_c: float | None = None
    bed_c: float | None = None
    filament_g: float | None = None
    print_id: str | None = Field(None, description="the print of the log it is busy with")
    project_id: str | None = None
    strange: bool = Field(False, description="whether it is busy with a job that was not sent from here")


class SpoolWeighed(BaseModel):
    """How much is on a spool, and its name."""

    left_g: Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)]
    name: str | None = Field(None, min_length=1, max_length=80)


@router.get("/machines")
def machines(state: Shared) -> list[MachineView]:
    """All printers, asked how they are."""
    with state.database.reading() as connection:
        known = kept.machines(connection)
        under_way = {p.id: p.project_id for p in prints.active_prints(connection)}
    if not known:
        return []
    with ThreadPoolExecutor(MOST_AT_ONCE) as hands:  # one that hangs delays the answer by its time-out, once
        return list(hands.map(lambda m: _view(state, m, under_way), known))


def _view(state: State, machine: Machine, under_way: dict[str, str]) -> MachineView:
    try:
        told: Status = state.watch.status(machine)
    except MachineProblem as problem:
        return MachineView(machine=machine, answers=False, says=problem.says)
    own = told.job if told.job in under_way else None
    strange = told.job is not None and own is None
    says = "busy with a job that was not sent from here" if strange else told.state
    return MachineView(
        machine=machine, answers=True, says=says, nozzle_c=told.nozzle_c, bed_c=told.bed_c, filament_g=told.filament_g,
        print_id=own, project_id=under_way.get(own) if own else None, strange=strange,
    )  # fmt: skip


@router.post("/machines", status_code=201)
def add_machine(body: Machine, request: Request, state: Shared) -> Machine:
    """A printer more."""
    refuse_bad_address(body, request.headers.get("host", ""))

    def add(connection: sqlite3.Connection) -> Machine:
        _refuse_unknown(connection, body)
        stem = re.sub(r"[^a-z0-9]+", "-", body.name.lower()).strip("-")[:40] or "printer"
        taken = {m.id for m in kept.machines(connection)}
        name = next(n for k in range(1, 10_000) if (n := stem if k == 1 else f"{stem}-{k}") not in taken)
        one = body.model_copy(update={"id": name})
        kept.put_machine(connection, one)
        return one

    return state.database.write(add)


@router.put("/machines/{machine_id}")
def put_machine(machine_id: str, body: Machine, request: Request, state: Shared) -> Machine:
    """Change a printer: its name, its address, what is loaded."""
    refuse_bad_address(body, request.headers.get("host", ""))
    one = body.model_copy(update={"id": machine_id})

    def put(connection: sqlite3.Connection) -> None:
        kept.machine(connection, machine_id)
        _refuse_unknown(connection, one)
        kept.put_machine(connection, one)

    state.database.write(put)
    state.watch.look_now()
    return one


@router.delete("/machines/{machine_id}", status_code=204)
def drop_machine(machine_id: str, state: Shared) -> Response:
    """Take a printer out; its prints stay in the log."""
    state.database.write(lambda c: kept.drop_machine(c, machine_id))
    return Response(status_code=204)


@router.get("/spools")
def all_spools(state: Shared) -> list[Spool]:
    """All spools."""
    with state.database.reading() as connection:
        return spools.spools(connection)


@router.post("/spools", status_code=201)
def add_spool(body: NewSpool, state: Shared) -> list[Spool]:
    """A spool more."""
    state.database.write(lambda c: spools.add_spool(c, body))
    return all_spools(state)


@router.put("/spools/{number}")
def weigh_spool(number: int, body: SpoolWeighed, state: Shared) -> list[Spool]:
    """A spool as weighed."""
    state.database.write(lambda c: spools.weigh(c, number, body.left_g, body.name))
    return all_spools(state)


@router.delete("/spools/{number}")
def drop_spool(number: int, state: Shared) -> list[Spool]:
    """Take a spool out."""
    state.database.write(lambda c: spools.drop_spool(c, number))
    return all_spools(state)


def _refuse_unknown(connection: sqlite3.Connection, machine: Machine) -> None:
    """Raises NotFound where the printer of the workshop or the spool is not there."""
    if all(p.id != machine.printer_id for p in shelf.workshop(connection).printers):
        raise NotFound("Say which printer of the workshop this is; that one is not there any more.", "printer_id")
    if machine.spool_id is not None and all(s.id != machine.spool_id for s in spools.spools(connection)):
        raise NotFound("The spool that is loaded is not there any more. Choose another.", "spool_id")

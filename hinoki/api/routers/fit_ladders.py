"""Fit ladders: made for a joint of a project, answered, kept, and taken over into the fits."""

import sqlite3
from typing import Annotated, Literal

from fastapi import APIRouter
from pydantic import BaseModel, Field
from starlette.responses import FileResponse

from hinoki.api.routers.builds import JobView
from hinoki.api.routers.projects import Shared
from hinoki.api.shared.state import job_view
from hinoki.api.shared.strict_route import Heeding, file_of
from hinoki.core.errors import NotFound
from hinoki.core.join.ladders.fit_ladder import Tried, clearances, least_for
from hinoki.core.plan.plan import Plan
from hinoki.core.workshop.fit_ladder_answers import Answers, LadderEntry, Learned, learned
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.workshop import FitEntry, Workshop
from hinoki.operations.context import Situation
from hinoki.operations.join import LadderAsked, LadderView
from hinoki.operations.registry import find
from hinoki.store.tables import ladders as kept
from hinoki.store.tables import workshop as shelf

router = APIRouter(prefix="/api", route_class=Heeding)
Clearance = Annotated[float, Field(ge=0, le=2, allow_inf_nan=False)]


class AnyLadder(BaseModel):
    """What to try, a joint with its measures or a hole, for which printer and material, and at which clearances."""

    of: Tried
    printer_id: str = Field(max_length=60)
    material_id: str = Field(max_length=60)
    from_mm: Annotated[float, Field(ge=-0.5, le=2, allow_inf_nan=False)] = 0.05
    to_mm: Clearance = 0.3
    rungs: int = Field(6, ge=3, le=9)


class TakenOver(BaseModel):
    """Clearances of a ladder that become the fits of its printer and material."""

    printer_id: str = Field(max_length=60)
    material_id: str = Field(max_length=60)
    clearances_mm: dict[Fit, Clearance]
    note: str = Field("", max_length=200)


@router.post("/workshop/ladders/make", status_code=202)
def make_any(wish: AnyLadder, state: Shared) -> JobView:
    """Make a ladder of any joint, or of a hole for something that is there, for a printer of the workshop."""
    clearances(wish.from_mm, wish.to_mm, wish.rungs, least_for(wish.of))
    with state.database.reading() as connection:
        all_ = shelf.workshop(connection)
    printer = next((p for p in all_.printers if p.id == wish.printer_id), None)
    material = next((m for m in all_.materials if m.id == wish.material_id), None)
    if printer is None or material is None:
        raise NotFound("This printer or material is not in the workshop. Choose one that is.", "ladder")
    plan = Plan(printer=printer, material=material).json_text()
    asked = LadderAsked(of=wish.of, from_mm=wish.from_mm, to_mm=wish.to_mm, rungs=wish.rungs)
    return JobView.model_validate(job_view(state.questions.ask(find("ladder"), asked, Situation(plan=plan))))


@router.get("/ladders/{name}/{ending}", response_class=FileResponse, responses=file_of("application/octet-stream"))
def ladder_file(name: str, ending: Literal["3mf", "stl"], state: Shared) -> FileResponse:
    """Its pieces as one 3MF, or a ZIP of STL files."""
    content = state.questions.answer("ladder", name)
    stem = LadderView.model_validate_json(content).file if content else ""
    path = state.cache / "exports" / f"{stem}.{'3mf' if ending == '3mf' else 'zip'}"
    if not content or not path.exists():
        raise NotFound("This ladder is not there any more; make it again.", "ladder")
    return FileResponse(path, media_type="application/octet-stream", filename=f"fit-ladder{path.suffix}")


@router.post("/workshop/ladders/told")
def told(answers: Answers) -> list[Learned]:
    """What answers tell, before they are kept."""
    return learned(answers)


@router.get("/workshop/ladders")
def every(state: Shared) -> list[LadderEntry]:
    """All answered ladders, the newest first."""
    with state.database.reading() as connection:
        return kept.ladders(connection)


@router.post("/workshop/ladders", status_code=201)
def keep(entry: LadderEntry, state: Shared) -> list[LadderEntry]:
    """Keep an answered ladder beside those there are."""
    with state.database.reading() as connection:
        all_ = shelf.workshop(connection)
    if entry.printer_id not in {p.id for p in all_.printers} or entry.material_id not in {m.id for m in all_.materials}:
        raise NotFound("This printer or material is not in the workshop. Choose one that is.", "ladder")
    state.database.write(lambda c: kept.add_ladder(c, entry))
    return every(state)


@router.delete("/workshop/ladders/{number}")
def drop(number: int, state: Shared) -> list[LadderEntry]:
    """Take an answered ladder out."""
    state.database.write(lambda c: kept.drop_ladder(c, number))
    return every(state)


@router.post("/workshop/ladders/fits")
def take_over(body: TakenOver, state: Shared) -> Workshop:
    """Make the clearances of a ladder the fits of its printer and material."""

    def put(connection: sqlite3.Connection) -> None:
        for fit, clearance in body.clearances_mm.items():
            entry = FitEntry(
                printer_id=body.printer_id, material_id=body.material_id, fit=fit, clearance_mm=clearance, origin="ladder",
                note=body.note,
            )  # fmt: skip
            shelf.put_fit(connection, entry)

    state.database.write(put)
    with state.database.reading() as connection:
        return shelf.workshop(connection)

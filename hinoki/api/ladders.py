"""Fit ladders: made for a joint of a project, answered, kept, and taken over into the fits."""

import sqlite3
from typing import Annotated, Literal

import orjson
from fastapi import APIRouter
from pydantic import BaseModel, Field
from starlette.responses import FileResponse

from hinoki.api.builds import JobView
from hinoki.api.projects import Shared
from hinoki.api.surface import asked
from hinoki.core.errors import NotFound
from hinoki.core.fits import Fit
from hinoki.core.ladder import clearances
from hinoki.core.ladder_answers import Answers, Learned, learned
from hinoki.core.workshop import FitEntry, Workshop
from hinoki.store import ladders as kept
from hinoki.store import workshop as shelf

router = APIRouter(prefix="/api")
Clearance = Annotated[float, Field(ge=0, le=2, allow_inf_nan=False)]


class LadderWish(BaseModel):
    """Which joint, by its name in the plan, and at which clearances."""

    joint: str = Field(max_length=10)
    from_mm: Clearance = 0.05
    to_mm: Clearance = 0.3
    rungs: int = Field(6, ge=3, le=9)


class LadderView(BaseModel):
    """A ladder that was made: its clearances, how many pieces, and estimates of mass and time."""

    label: str
    clearances_mm: list[float]
    pieces: list[str]
    mass_g: float
    minutes: float
    file: str


class TakenOver(BaseModel):
    """Clearances of a ladder that become the fits of its printer and material."""

    printer_id: str = Field(max_length=60)
    material_id: str = Field(max_length=60)
    clearances_mm: dict[Fit, Clearance]
    note: str = Field("", max_length=200)


@router.post("/projects/{project_id}/ladders", status_code=202)
def make(project_id: str, wish: LadderWish, state: Shared) -> JobView:
    """Make a ladder of a joint of the plan that is shown."""
    clearances(wish.from_mm, wish.to_mm, wish.rungs)  # senseless ones are refused at once
    return asked(state, "ladder", project_id, wish=wish.model_dump())


@router.get("/ladders/{name}")
def ladder(name: str, state: Shared) -> LadderView:
    """What was made."""
    content = state.answer("ladder", name)
    if content is None:
        raise NotFound("This ladder is not there any more; make it again.", "ladder")
    return LadderView.model_validate_json(content)


@router.get("/ladders/{name}/{ending}")
def ladder_file(name: str, ending: Literal["3mf", "stl"], state: Shared) -> FileResponse:
    """Its pieces as one 3MF, or a ZIP of STL files."""
    content = state.answer("ladder", name)
    stem = orjson.loads(content)["file"] if content else ""
    path = state.cache / "exports" / f"{stem}.{'3mf' if ending == '3mf' else 'zip'}"
    if not content or not path.exists():
        raise NotFound("This ladder is not there any more; make it again.", "ladder")
    return FileResponse(path, media_type="application/octet-stream", filename=f"fit-ladder{path.suffix}")


@router.post("/workshop/ladders/told")
def told(answers: Answers) -> list[Learned]:
    """What answers tell, before they are kept."""
    return learned(answers)


@router.get("/workshop/ladders")
def every(state: Shared) -> list[kept.LadderEntry]:
    """All answered ladders, the newest first."""
    with state.database.reading() as connection:
        return kept.ladders(connection)


@router.post("/workshop/ladders", status_code=201)
def keep(entry: kept.LadderEntry, state: Shared) -> list[kept.LadderEntry]:
    """Keep an answered ladder beside those there are."""
    with state.database.reading() as connection:
        all_ = shelf.workshop(connection)
    if entry.printer_id not in {p.id for p in all_.printers} or entry.material_id not in {m.id for m in all_.materials}:
        raise NotFound("This printer or material is not in the workshop. Choose one that is.", "ladder")
    state.database.write(lambda c: kept.add_ladder(c, entry))
    return every(state)


@router.delete("/workshop/ladders/{number}")
def drop(number: int, state: Shared) -> list[kept.LadderEntry]:
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

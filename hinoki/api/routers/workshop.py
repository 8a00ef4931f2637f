"""The workshop: printers, materials, fits, money; in and out as JSON."""

from typing import Annotated, Any, Literal

from fastapi import APIRouter
from pydantic import BaseModel, Field
from starlette.responses import Response

from hinoki.api.routers.projects import Shared
from hinoki.api.shared.state import State
from hinoki.api.shared.strict_route import Heeding
from hinoki.core.errors import BadPlan
from hinoki.core.workshop.fits import Fit
from hinoki.core.workshop.hardware import Hardware
from hinoki.core.workshop.inventory import OwnSize, StockItem, ToBuy, to_buy
from hinoki.core.workshop.materials import Material
from hinoki.core.workshop.printers import Printer
from hinoki.core.workshop.workshop import SCHEMA, FitEntry, Settings, Workshop
from hinoki.present.schemas.build import HardwareView
from hinoki.store.tables import inventory as drawer
from hinoki.store.tables import workshop as shelf

router = APIRouter(prefix="/api/workshop", route_class=Heeding)


class Clearance(BaseModel):
    """A clearance on each side; none goes back to the common one."""

    clearance_mm: Annotated[float, Field(ge=0, le=2, allow_inf_nan=False)] | None
    note: str = Field("", max_length=200)
    origin: Literal["typed", "pieces"] = "typed"


@router.get("", response_model_by_alias=True)
def everything(state: Shared) -> Workshop:
    """The whole workshop."""
    return _all(state)


@router.put("/printers/{item}")
def put_printer(item: str, body: Printer, state: Shared) -> Workshop:
    """Add or change a printer."""
    state.database.write(lambda c: shelf.put_printer(c, body.model_copy(update={"id": item})))
    return _all(state)


@router.delete("/printers/{item}")
def delete_printer(item: str, state: Shared) -> Workshop:
    """Take a printer out, unless a project uses it."""
    state.database.write(lambda c: shelf.delete_printer(c, item))
    return _all(state)


@router.put("/materials/{item}")
def put_material(item: str, body: Material, state: Shared) -> Workshop:
    """Add or change a material."""
    state.database.write(lambda c: shelf.put_material(c, body.model_copy(update={"id": item})))
    return _all(state)


@router.delete("/materials/{item}")
def delete_material(item: str, state: Shared) -> Workshop:
    """Take a material out, unless a project uses it."""
    state.database.write(lambda c: shelf.delete_material(c, item))
    return _all(state)


@router.put("/fits/{printer}/{material}/{fit}")
def put_fit(printer: str, material: str, fit: Fit, body: Clearance, state: Shared) -> Workshop:
    """Type a clearance for a printer with a material, or go back to the common one."""
    if body.clearance_mm is None:
        state.database.write(lambda c: shelf.drop_fit(c, printer, material, fit))
    else:
        entry = FitEntry(
            printer_id=printer, material_id=material, fit=fit, clearance_mm=body.clearance_mm, note=body.note,
            origin=body.origin,
        )  # fmt: skip
        state.database.write(lambda c: shelf.put_fit(c, entry))
    return _all(state)


@router.put("/own-sizes/{item}")
def put_own_size(item: str, body: OwnSize, state: Shared) -> Workshop:
    """Add or change a size of the maker's own."""
    state.database.write(lambda c: drawer.put_own_size(c, body.model_copy(update={"id": item})))
    return _all(state)


@router.delete("/own-sizes/{item}")
def drop_own_size(item: str, state: Shared) -> Workshop:
    """Take a size of the maker's own out; joints keep the measures they have."""
    state.database.write(lambda c: drawer.drop_own_size(c, item))
    return _all(state)


@router.put("/stock")
def put_stock(body: StockItem, state: Shared) -> Workshop:
    """Note how many of a thing lie in the drawer; none takes it out of the list."""
    state.database.write(lambda c: drawer.put_stock(c, body))
    return _all(state)


@router.post("/to-buy")
def lacking(needed: Annotated[list[HardwareView], Field(max_length=5000)], state: Shared) -> list[ToBuy]:
    """What of a hardware list the drawer lacks."""
    with state.database.reading() as connection:
        there = {item.name: item for item in drawer.stock(connection)}
    return to_buy([Hardware(h.name, h.count, h.length_mm) for h in needed], there)


@router.put("/settings")
def put_settings(body: Settings, state: Shared) -> Workshop:
    """Currency and price of power."""
    state.database.write(lambda c: shelf.put_settings(c, body))
    return _all(state)


@router.get("/workshop.json")
def exported(state: Shared) -> Response:
    """The workshop as a file."""
    text = _all(state).model_dump_json(by_alias=True, indent=1)
    headers = {"Content-Disposition": 'attachment; filename="workshop.json"'}
    return Response(text, media_type="application/json", headers=headers)


@router.post("/import")
def take_in(body: dict[str, Any], state: Shared) -> Workshop:
    """Take in an exported workshop; what has the same name is replaced, nothing is taken out."""
    if body.get("schema") != SCHEMA:
        said = str(body.get("schema", "nothing"))[:40]
        raise BadPlan(f"This is not an exported workshop: its schema says {said!r}, not '{SCHEMA}'.", "schema")
    given = Workshop.model_validate(body)
    state.database.write(lambda c: shelf.take_in(c, given))
    return _all(state)


def _all(state: State) -> Workshop:
    with state.database.reading() as connection:
        return shelf.workshop(connection)

"""What kinds there are, with the forms of all that is edited, and the sizes on sale."""

from dataclasses import asdict

from fastapi import APIRouter
from pydantic import BaseModel

from hinoki.api.routers.projects import Shared
from hinoki.api.shared.strict_route import Heeding
from hinoki.core.join.turning.screw_threads import thread_sizes
from hinoki.core.workshop.hardware import magnets
from hinoki.core.workshop.inventory import bearings_on_sale, hole_patterns, rods_on_sale
from hinoki.present.forms import FormsView, forms_view
from hinoki.store.tables.inventory import own_sizes

router = APIRouter(prefix="/api", route_class=Heeding)


class SizeView(BaseModel):
    """A size to choose: its name, and the measures a joint gets with it."""

    name: str
    values: dict[str, float | str]


@router.get("/forms")
def forms() -> FormsView:
    """The kinds of joint, parting, step and way there are, and what their forms and those of settings are drawn from."""
    return forms_view()


@router.get("/sizes")
def sizes(state: Shared) -> dict[str, list[SizeView]]:
    """The sizes of hardware and threads, by the kind of joint or way that has them; the maker's own first."""
    with state.database.reading() as connection:
        kept = own_sizes(connection)
    own: dict[str, list[SizeView]] = {"magnet": [], "rod": [], "insert": [], "pattern": []}
    for size in kept:
        own[size.size.kind].append(SizeView(name=f"{size.name} (own)", values=size.size.values))
    rods = [SizeView(name=name, values=values) for name, values in rods_on_sale()]
    threads = [SizeView(name=s.name, values=asdict(s)) for s in reversed(thread_sizes())]
    discs = [
        SizeView(
            name=m.name.removeprefix("magnet "),
            values={
                "shape": m.shape,
                "diameter_mm": m.diameter_mm,
                "thick_mm": m.thick_mm,
                **({"width_mm": m.width_mm} if m.shape == "block" else {}),
                **({"hole_mm": m.hole_mm} if m.shape == "ring" else {}),
            },
        )
        for m in magnets()
    ]
    patterns = [SizeView(name=name, values=values) for name, values in hole_patterns()]
    bearings = [SizeView(name=name, values=values) for name, values in bearings_on_sale()]
    return {
        "bearing": bearings,
        "thread": threads,
        "magnet": own["magnet"] + discs,
        "rod": own["rod"] + rods,
        "screw": own["insert"],
        "pattern": own["pattern"] + patterns,
    }

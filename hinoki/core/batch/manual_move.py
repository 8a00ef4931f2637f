"""Moving one thing by hand: where it would lie is tried against what lies there, by the batches as they are shown."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field
from shapely.geometry import MultiPolygon

from hinoki.core.batch.packing.item import Item, Placement, centred, turned
from hinoki.core.batch.packing.manual_placements import meets
from hinoki.core.batch.packing.raster_bed import Bed, Surface
from hinoki.core.errors import NotFound, Overlap
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.plan.batch_settings import Key, Laid, Offset

SIMPLER_MM = 0.2
"""outlines are kept simpler than they are by so much"""


class Move(BaseModel):
    """A thing (its key) to another bed of its group, a place or a turn; without a place Hinoki looks for a free one."""

    key: Key
    bed: Annotated[int, Field(ge=1, le=1000)]
    x_mm: Offset | None = None
    y_mm: Offset | None = None
    turn_deg: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)] = 0.0


@dataclass(frozen=True)
class LaidThing:
    """A thing where it lies on a bed: its outline there, about the middle of the bed, and its height."""

    key: str
    name: str
    outline: MultiPolygon
    height_mm: float
    x_mm: float
    y_mm: float
    turn_deg: float
    pinned: bool


@dataclass(frozen=True)
class LaidBed:
    """A bed of a group (a printer and a material): its number in the group, what may be used of it, and what lies on it."""

    number: int
    group: str
    bed: int
    room: Surface
    things: tuple[LaidThing, ...]


class Moved(BaseModel):
    """What then lies where it lies: the thing moved, pinned, and what shares a bed with it, as it was."""

    laid: dict[str, Laid]


def moved(beds: Sequence[LaidBed], move: Move, gap_mm: float, turn_step_deg: float) -> Moved:
    """Try a move. Raises Overlap saying what it meets, NotFound where the thing is not laid out."""
    home = next((b for b in beds if any(t.key == move.key for t in b.things)), None)
    if home is None:
        raise NotFound("This is not on any bed any more. Lay the batches out again.", "batches")
    thing = next(t for t in home.things if t.key == move.key)
    target = next((b for b in beds if b.group == home.group and b.bed == move.bed), None)
    others = [t for t in (target.things if target else []) if t.key != move.key]
    surface, item = home.room, _item(thing)
    if move.x_mm is None or move.y_mm is None:
        place = _free(surface, item, others, gap_mm, turn_step_deg, move)
    else:
        place = Placement(move.key, move.bed - 1, move.turn_deg, move.x_mm, move.y_mm)
    # outlines are drawn simpler than they are: as much more is kept between them
    wider = [(t.name, as_multi(t.outline.buffer(2 * SIMPLER_MM))) for t in others]
    against = meets(surface, item, place, wider)
    if against is not None:
        raise Overlap(f"There {thing.name} {against}. It stays where it was; drop it on a free place.", "batches")
    laid = {t.key: _as_it_lies(t, b.bed) for b in {home.number: home, **({target.number: target} if target else {})}.values()
            for t in b.things}  # fmt: skip
    laid[move.key] = Laid(bed=move.bed, x_mm=place.x_mm, y_mm=place.y_mm, turn_deg=place.turn_deg)
    return Moved(laid=laid)


def _free(
    surface: Surface, item: Item, others: Sequence[LaidThing], gap_mm: float, turn_step_deg: float, move: Move
) -> Placement:
    bed = Bed(surface, gap_mm)
    for other in others:
        bed.put(_item(other), Placement(other.key, 0, other.turn_deg, other.x_mm, other.y_mm))
    turns = np.arange(0.0, 360.0, turn_step_deg) if turn_step_deg > 0 else np.zeros(1)
    found = bed.free_for(item, turns)
    if found is None:
        raise Overlap(f"There is no room for {item.group} on this bed. Move something off it first.", "batches")
    return Placement(move.key, move.bed - 1, found[2], found[0], found[1])


def _as_it_lies(thing: LaidThing, bed: int) -> Laid:
    return Laid(bed=bed, x_mm=thing.x_mm, y_mm=thing.y_mm, turn_deg=thing.turn_deg, pinned=thing.pinned)


def _item(thing: LaidThing) -> Item:
    """The thing not turned; its `group` is what people call it."""
    return Item(thing.key, turned(centred(thing.outline), -thing.turn_deg), thing.height_mm, thing.name)

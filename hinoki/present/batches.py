"""Batches told in figures, for screens and reports."""

from collections.abc import Sequence

import shapely
from pydantic import BaseModel, Field
from shapely.geometry import MultiPolygon

from hinoki.core.batch.batches import Batch, Batches, on_bed
from hinoki.core.batch.estimate.estimate import Estimate, summed
from hinoki.core.batch.manual_move import SIMPLER_MM, LaidBed, LaidThing
from hinoki.core.batch.packing.item import Placement, rings
from hinoki.core.batch.packing.raster_bed import Surface
from hinoki.core.batch.print_items import Printable
from hinoki.core.batch.scenarios import WhatIfLine
from hinoki.core.batch.schedule import timetable
from hinoki.core.batch.spares import SpareView, spares
from hinoki.core.export.own_settings import own_words
from hinoki.core.plan.batch_settings import LADDER
from hinoki.core.plan.plan import Plan

Ring = list[tuple[float, float]]


class TookView(BaseModel):
    """What printing takes."""

    mass_g: float
    support_g: float
    filament_m: float
    minutes: float
    minutes_low: float
    minutes_high: float
    kwh: float
    cost: float


class BodyView(BaseModel):
    """A body of a thing and where it is on the bed: 3 × 4, row by row."""

    mesh: str
    number: int | None
    matrix: list[float]


class LaidView(BaseModel):
    """One thing on a bed: its key, the numbers of its pieces (none for a loose part), where, and its outline there."""

    key: str
    name: str
    pieces: list[int]
    x_mm: float
    y_mm: float
    turn_deg: float
    pinned: bool
    height_mm: float
    otherwise: str = Field("", description="what of it is printed otherwise than the project says, in words")
    took: TookView
    outline: list[list[Ring]]
    bodies: list[BodyView]


class RunView(BaseModel):
    """When a batch prints, and on which machine: day (from 1) and o'clock."""

    batch: int
    machine: str
    starts_day: int
    starts_hour: float
    ends_day: int
    ends_hour: float


class BatchView(BaseModel):
    """A batch in figures, its bed seen from above about its middle."""

    number: int
    group: str
    bed: int
    printer: str
    material: str
    layers: str = Field("", description="its layers, where they are not the project's")
    colour: str
    round_bed: bool
    bed_mm: tuple[float, float]
    room: list[list[Ring]] = Field(description="what may be used of the bed: less its margin and corners kept free")
    room_height_mm: float
    height_mm: float
    things: list[LaidView]
    took: TookView
    rests_on: str = Field("", description="what its estimate rests on")
    enough: bool = Field(True, description="whether the material is enough up to and with this batch")


class MaterialSum(BaseModel):
    """What is needed of one material, and what that costs; `short_g` of it are not in stock."""

    name: str
    colour: str
    mass_g: float
    cost: float
    stock_g: float
    short_g: float


class PieceTook(BaseModel):
    """What one kind of thing takes: all its copies together."""

    key: str
    name: str
    pieces: list[int]
    copies: int
    batches: list[int]
    material: str
    took: TookView


class BatchesView(BaseModel):
    """All batches, what fits none, what to know, when what is done, and sums."""

    batches: list[BatchView]
    each: list[PieceTook]
    materials: list[MaterialSum]
    runs: list[RunView]
    spares: list[SpareView]
    left_over: list[str]
    said: list[str]
    took: TookView


def batches_view(found: Batches, plan: Plan) -> BatchesView:
    """The answer for screens and reports."""
    runs = timetable(found.each, plan)
    short = _short(found)
    return BatchesView(
        batches=[_view(b, number not in short) for number, b in enumerate(found.each)],
        each=_each(found),
        materials=_materials(found),
        runs=[
            RunView(
                batch=r.batch,
                machine=r.machine,
                starts_day=int(r.starts // 1440) + 1,
                starts_hour=round(r.starts % 1440 / 60, 2),
                ends_day=int(r.ends // 1440) + 1,
                ends_hour=round(r.ends % 1440 / 60, 2),
            )
            for r in runs
        ],
        spares=spares(found.every),
        left_over=[thing.name for thing, _ in found.left_over],
        said=said(found, plan),
        took=took_view(summed([b.took for b in found.each])),
    )


def said(found: Batches, plan: Plan) -> list[str]:
    """What to know: settings that print nothing, what fits no bed, what cannot lie where it was laid, stock that runs out,
    time that ran out."""
    how = plan.printing
    hollow = how.walls == 0 and how.skins == 0 and how.infill_percent == 0
    lines = (
        ["Nothing would be printed: there are no walls, no skins and no infill. Set some under Estimates."] if hollow else []
    )
    lines += [f"{thing.name} fits no bed: {why}." for thing, why in found.left_over]
    lines += [
        f"{thing.name} was laid by hand on bed {laid.bed}, but there it {why}; it was laid anew."
        for thing, laid, why in found.refused
    ]
    lines += [
        f"{t.thing.material.name} is for {t.thing.material.process}, and {t.thing.printer.name} prints "
        f"{t.thing.printer.process}: choose another material for {t.name}."
        for t in found.every
        if t.copy == 1 and t.thing.material.process != t.thing.printer.process
    ]
    lines += [
        f"The fit ladder of joint {asked.joint} waits: that joint is not there now, or has no clearance to be tried."
        for asked in plan.batching.ladders
        if not any(t.key.startswith(f"{LADDER}{asked.joint} ") for t in found.every)
    ]
    if found.cut_short:
        lines.append("Time ran out before all layouts were tried; this is the best so far.")
    left: dict[str, float] = {}
    told: set[str] = set()
    for batch in found.each:
        name = batch.material.id
        left[name] = left.get(name, found.known.left_g(batch.material)) - batch.took.mass_g
        if left[name] < 0 and name not in told:
            told.add(name)
            lines.append(f"{batch.material.name} will run out in batch {batch.number}: {-left[name]:.0f} g short.")
    return lines


def _materials(found: Batches) -> list[MaterialSum]:
    sums: dict[str, MaterialSum] = {}
    for batch in found.each:
        stuff = batch.material
        there = found.known.left_g(stuff)
        one = sums.setdefault(
            stuff.id,
            MaterialSum(name=stuff.name, colour=stuff.colour, mass_g=0, cost=0, stock_g=round(there, 1), short_g=0),
        )
        one.mass_g = round(one.mass_g + batch.took.mass_g, 1)
        one.cost = round(one.cost + batch.took.cost, 2)
        one.short_g = round(max(0.0, one.mass_g - one.stock_g), 1)
    return list(sums.values())


def _each(found: Batches) -> list[PieceTook]:
    where: dict[str, list[int]] = {}
    for batch in found.each:
        for thing, _ in batch.things:
            where.setdefault(thing.thing.key, []).append(batch.number)
    return [
        PieceTook(
            key=t.thing.key,
            name=t.thing.name,
            pieces=list(t.thing.numbers),
            copies=t.thing.wanted,
            batches=sorted(set(where.get(t.thing.key, []))),
            material=t.thing.material.name,
            took=took_view(summed([t.took] * t.thing.wanted)),
        )
        for t in found.every
        if t.copy == 1
    ]


def took_view(took: Estimate) -> TookView:
    """Rounded as it is told."""
    low, high = took.minutes_range
    return TookView(
        mass_g=round(took.mass_g, 1),
        support_g=round(took.support_g, 1),
        filament_m=round(took.filament_m, 1),
        minutes=round(took.minutes, 1),
        minutes_low=round(low, 0),
        minutes_high=round(high, 0),
        kwh=round(took.kwh, 2),
        cost=round(took.cost, 2),
    )


def _short(found: Batches) -> set[int]:
    """Which batches, by their places in the list, the material does not reach for, when they print in order."""
    left: dict[str, float] = {}
    short = set()
    for number, batch in enumerate(found.each):
        name = batch.material.id
        left[name] = left.get(name, found.known.left_g(batch.material)) - batch.took.mass_g
        if left[name] < 0:
            short.add(number)
    return short


def _view(batch: Batch, enough: bool) -> BatchView:
    printer = batch.printer
    return BatchView(
        number=batch.number,
        group=batch.group,
        bed=batch.bed,
        printer=printer.name,
        material=batch.material.name,
        layers=batch.things[0][0].thing.own.layers or "",
        colour=batch.material.colour,
        round_bed=printer.bed_shape == "round",
        bed_mm=printer.bed_mm,
        room=rings(batch.surface.room),
        room_height_mm=batch.surface.height_mm,
        height_mm=round(batch.height_mm, 2),
        things=[
            LaidView(
                key=thing.key,
                name=thing.name,
                pieces=list(thing.thing.numbers),
                x_mm=round(place.x_mm, 3),
                y_mm=round(place.y_mm, 3),
                turn_deg=place.turn_deg,
                pinned=place.pinned,
                otherwise=own_words(thing.thing.own),
                height_mm=round(thing.item.height_mm, 2),
                took=took_view(thing.took),
                outline=rings(place.outline(thing.item), SIMPLER_MM),
                bodies=_bodies(thing, place),
            )
            for thing, place in batch.things
        ],
        took=took_view(batch.took),
        rests_on=batch.factor.rests_on,
        enough=enough,
    )


def _bodies(thing: Printable, place: Placement) -> list[BodyView]:
    numbers = thing.thing.numbers or (None,) * len(thing.thing.bodies)
    return [
        BodyView(mesh=body.mesh, number=number, matrix=[round(float(v), 6) for v in matrix.ravel()])
        for number, (body, matrix) in zip(numbers, on_bed(thing, place), strict=True)
    ]


class WhatIfLineView(BaseModel):
    """One option: what all takes, each thing printed by itself."""

    name: str
    took: TookView
    stock_lacks_g: float = Field(description="what the stock of its material lacks; 0 where it is enough")
    fits: bool = Field(description="whether all still fit their printers at this size")


class WhatIfView(BaseModel):
    """All options, in the order asked."""

    lines: list[WhatIfLineView]


def what_if_view(lines: Sequence[WhatIfLine]) -> WhatIfView:
    """The options side by side."""
    return WhatIfView(
        lines=[
            WhatIfLineView(name=one.name, took=took_view(one.took), stock_lacks_g=round(one.stock_lacks_g, 1), fits=one.fits)
            for one in lines
        ]
    )


def beds_of(view: BatchesView) -> list[LaidBed]:
    """The beds as they are shown, to try a move on."""
    return [
        LaidBed(
            batch.number,
            batch.group,
            batch.bed,
            Surface(_shape(batch.room), batch.room_height_mm),
            tuple(map(_laid, batch.things)),
        )
        for batch in view.batches
    ]


def _laid(thing: LaidView) -> LaidThing:
    return LaidThing(
        thing.key, thing.name, _shape(thing.outline), thing.height_mm, thing.x_mm, thing.y_mm, thing.turn_deg, thing.pinned
    )


def _shape(parts: list[list[Ring]]) -> MultiPolygon:
    return MultiPolygon([shapely.Polygon(rings[0], rings[1:]) for rings in parts])

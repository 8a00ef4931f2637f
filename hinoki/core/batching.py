"""Batches: pieces and loose parts estimated, laid on the beds of their printers, and told in figures."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Annotated

import numpy as np
import shapely
from pydantic import BaseModel, Field
from shapely.geometry import MultiPolygon

from hinoki.core.cache import Cache, key_of
from hinoki.core.engine import Built
from hinoki.core.estimating.estimate import Estimate, estimate, together
from hinoki.core.estimating.settings import PrintSettings
from hinoki.core.frames import shifted
from hinoki.core.mesh import Points
from hinoki.core.orienting.support import support_of
from hinoki.core.orienting.surface import surface_of
from hinoki.core.packing.bed import surface_of as bed_of
from hinoki.core.packing.item import Item, Placement, centred
from hinoki.core.packing.pack import Packed, pack
from hinoki.core.plan import Plan
from hinoki.core.printers import Printer
from hinoki.core.progress import Tell, quiet
from hinoki.core.solid import Solid, as_multi

ROUGH_MM = 0.1
"""outlines for the bed are drawn outwards by this much, and simpler"""


class BatchWish(BaseModel):
    """How to lay out: the gap, the steps of turning, the longest a batch may print; and the price of power."""

    gap_mm: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] = 4.0
    turn_deg: Annotated[float, Field(ge=0, le=90, allow_inf_nan=False)] = 45.0
    most_hours: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)] | None = None
    power_price: Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)] = 0.0


@dataclass(frozen=True)
class Printable:
    """One thing to print: pieces that come off the bed together, or one copy of a loose part, as it lies."""

    name: str
    numbers: tuple[int, ...]
    solids: tuple[tuple[str, Solid, Points], ...]
    """name in the file, body, and matrix (3, 4) onto the bed"""
    printer: Printer
    item: Item
    took: Estimate


@dataclass
class Batch:
    """One bed's worth, in the order in which batches print."""

    number: int
    printer: Printer
    things: list[tuple[Printable, Placement]]
    took: Estimate


@dataclass
class Batches:
    """All batches, and what fits none."""

    each: list[Batch] = field(default_factory=list)
    left_over: list[str] = field(default_factory=list)
    cut_short: bool = False


def printables(
    plan: Plan, built: Built, settings: PrintSettings, power_price: float, cache: Cache, tell: Tell = quiet
) -> list[Printable]:
    """Everything that is printed, with its estimate: pieces by number, then loose parts, each copy of its own."""
    found: list[Printable] = []
    parts = {p.key: p for p in built.parts}
    done: set[int] = set()
    for step, piece in enumerate(built.view.pieces):
        tell(step / max(1, len(built.view.pieces)), f"Estimating {piece.name}")
        if piece.number in done or piece.key not in parts:
            continue
        group = [p for p in built.view.pieces if p.number == piece.number or p.number in piece.prints_with]
        done |= {p.number for p in group}
        bodies = tuple((f"{p.number} {p.name}", parts[p.key].solid, np.array(p.rest.matrix).reshape(3, 4)) for p in group)
        name = " + ".join(f"{p.number} {p.name}" for p in group)
        printer = plan.printer_of(piece.key)
        keys = [parts[p.key].made_by for p in group]
        found.append(
            _printable(plan, name, tuple(p.number for p in group), bodies, printer, settings, power_price, keys, cache)
        )
    for loose in built.view.loose:
        body = built.loose[loose.name]
        low, _ = body.bounds
        matrix = shifted(0.0, 0.0, -float(low[2]))
        for copy in range(loose.printed):
            name = loose.name if loose.printed == 1 else f"{loose.name}, {copy + 1} of {loose.printed}"
            found.append(
                _printable(plan, name, (), ((name, body, matrix),), plan.printer, settings, power_price, [loose.mesh], cache)
            )
    return found


def _printable(
    plan: Plan,
    name: str,
    numbers: tuple[int, ...],
    bodies: tuple[tuple[str, Solid, Points], ...],
    printer: Printer,
    settings: PrintSettings,
    power_price: float,
    keys: Sequence[str],
    cache: Cache,
) -> Printable:
    matrices = [m.round(6).tolist() for _, _, m in bodies]
    key = key_of("printable", keys, matrices, printer, plan.material, settings, power_price)
    outline, took = cache.get(key, lambda: _measured(plan, bodies, printer, settings, power_price))
    height = max(float(body.placed(m).bounds[1][2]) for _, body, m in bodies)
    item = Item(name, outline, height, printer.id, took.minutes, took.mass_g)
    return Printable(name, numbers, bodies, printer, item, took)


def _measured(
    plan: Plan, bodies: Sequence[tuple[str, Solid, Points]], printer: Printer, settings: PrintSettings, power_price: float
) -> tuple[MultiPolygon, Estimate]:
    shadows, estimates = [], []
    for _, body, matrix in bodies:
        shadow = body.placed(matrix).silhouette()
        shadows.append(shapely.simplify(shadow, ROUGH_MM / 2).buffer(ROUGH_MM / 2, join_style="mitre"))
        support = support_of(surface_of(body), matrix, printer.overhang_deg).volume_mm3
        estimates.append(estimate(body, matrix, support, printer, plan.material, settings, power_price))
    outline = centred(as_multi(shapely.union_all(shadows)))
    return outline, together(estimates, printer, plan.material, power_price)


def batched(plan: Plan, built: Built, wish: BatchWish, cache: Cache, tell: Tell = quiet) -> Batches:
    """All that is printed, laid out on the beds of its printers: large batches first."""
    settings = plan.printing
    things = printables(plan, built, settings, wish.power_price, cache, lambda f, p: tell(0.5 * f, p))
    found = Batches()
    most = None if wish.most_hours is None else 60 * wish.most_hours
    printers: dict[str, Printer] = {t.printer.id: t.printer for t in things}
    for k, (name, printer) in enumerate(printers.items()):
        own = {t.name: t for t in things if t.printer.id == name}
        within: Tell = lambda f, p, k=k: tell(0.5 + 0.5 * (k + f) / len(printers), p)  # type: ignore[misc]  # noqa: E731
        packed: Packed = pack([t.item for t in own.values()], bed_of(printer), wish.gap_mm, wish.turn_deg, most, None, within)
        found.left_over += [i.name for i in packed.left_over]
        found.cut_short = found.cut_short or packed.cut_short
        for bed in packed.beds:
            laid = [(own[p.item], p) for p in bed.placed]
            took = together([t.took for t, _ in laid], printer, plan.material, wish.power_price)
            found.each.append(Batch(len(found.each) + 1, printer, laid, took))
    return found


class LaidView(BaseModel):
    """One thing on a bed: the numbers of its pieces (none for a loose part), where, and its outline there."""

    name: str
    pieces: list[int]
    x_mm: float
    y_mm: float
    turn_deg: float
    height_mm: float
    mass_g: float
    minutes: float
    outline: list[list[list[tuple[float, float]]]]


class BatchView(BaseModel):
    """A batch in figures, its bed seen from above about its middle."""

    number: int
    printer: str
    round_bed: bool
    bed_mm: tuple[float, float]
    height_mm: float
    things: list[LaidView]
    mass_g: float
    support_g: float
    filament_m: float
    minutes: float
    minutes_low: float
    minutes_high: float
    kwh: float
    cost: float


class BatchesView(BaseModel):
    """All batches, what fits none, what to know, and sums."""

    batches: list[BatchView]
    left_over: list[str]
    said: list[str]
    mass_g: float
    minutes: float
    cost: float


def batches_view(found: Batches, plan: Plan) -> BatchesView:
    """The answer for screens and reports."""
    batches = [_view(b) for b in found.each]
    said = [f"{name} fits no bed of its printer." for name in found.left_over]
    if found.cut_short:
        said.append("Time ran out before all layouts were tried; this is the best so far.")
    left = plan.material.stock_g
    for batch in batches:
        left -= batch.mass_g
        if left < 0:
            said.append(f"{plan.material.name} will run out in batch {batch.number}: {-left:.0f} g short.")
            break
    return BatchesView(
        batches=batches,
        left_over=found.left_over,
        said=said,
        mass_g=round(sum(b.mass_g for b in batches), 1),
        minutes=round(sum(b.minutes for b in batches), 1),
        cost=round(sum(b.cost for b in batches), 2),
    )


def _view(batch: Batch) -> BatchView:
    room, took = batch.printer.room_mm, batch.took
    low, high = took.minutes_range
    return BatchView(
        number=batch.number,
        printer=batch.printer.name,
        round_bed=batch.printer.bed_shape == "round",
        bed_mm=(float(room[0]), float(room[1])),
        height_mm=round(max(t.item.height_mm for t, _ in batch.things), 2),
        things=[
            LaidView(
                name=thing.name,
                pieces=list(thing.numbers),
                x_mm=round(place.x_mm, 3),
                y_mm=round(place.y_mm, 3),
                turn_deg=place.turn_deg,
                height_mm=round(thing.item.height_mm, 2),
                mass_g=round(thing.took.mass_g, 1),
                minutes=round(thing.took.minutes, 1),
                outline=_rings(place.outline(thing.item)),
            )
            for thing, place in batch.things
        ],
        mass_g=round(took.mass_g, 1),
        support_g=round(took.support_g, 1),
        filament_m=round(took.filament_m, 1),
        minutes=round(took.minutes, 1),
        minutes_low=round(low, 0),
        minutes_high=round(high, 0),
        kwh=round(took.kwh, 2),
        cost=round(took.cost, 2),
    )


def _rings(shape: MultiPolygon) -> list[list[list[tuple[float, float]]]]:
    thin = as_multi(shapely.simplify(shape, 0.3))
    return [
        [[(round(float(x), 2), round(float(y), 2)) for x, y in ring.coords] for ring in (part.exterior, *part.interiors)]
        for part in thin.geoms
    ]


def on_bed(thing: Printable, place: Placement) -> Mapping[str, tuple[Solid, Points]]:
    """For every body of a thing the matrix (3, 4) that brings it from the model to its place on the bed, by its name."""
    boxes = [body.placed(m).bounds for _, body, m in thing.solids]
    low = np.min([b[0] for b in boxes], axis=0)
    high = np.max([b[1] for b in boxes], axis=0)
    # as Placement does: turned about the middle of its box, and set about the middle of the turned one
    angle = np.radians(place.turn_deg)
    c, s = np.cos(angle), np.sin(angle)
    spin = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])
    middle = np.array([(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, 0.0])
    spun = [body.placed(np.column_stack([spin @ m[:, :3], spin @ (m[:, 3] - middle)])) for _, body, m in thing.solids]
    lows, highs = np.min([b.bounds[0] for b in spun], axis=0), np.max([b.bounds[1] for b in spun], axis=0)
    back = np.array([place.x_mm - (lows[0] + highs[0]) / 2, place.y_mm - (lows[1] + highs[1]) / 2, 0.0])
    return {
        name: (body, np.column_stack([spin @ m[:, :3], spin @ (m[:, 3] - middle) + back])) for name, body, m in thing.solids
    }

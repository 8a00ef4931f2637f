"""Batches: everything that is printed, laid on the beds of its printers."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from hinoki.core.batch.estimate.estimate import Estimate, together
from hinoki.core.batch.estimate.factor import PLAIN, Factor
from hinoki.core.batch.packing.item import Placement
from hinoki.core.batch.packing.manual_placements import held
from hinoki.core.batch.packing.pack import Packed, Rules, pack
from hinoki.core.batch.packing.raster_bed import Surface
from hinoki.core.batch.packing.raster_bed import surface_of as bed_of
from hinoki.core.batch.print_items import NOTHING_KNOWN, Body, Known, Printable, bounds_of, group_of, printables
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.geometry.frames import composed
from hinoki.core.geometry.mesh import Points
from hinoki.core.plan.batch_settings import Batching, Laid
from hinoki.core.plan.plan import Plan
from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.core.workshop.materials import Material
from hinoki.core.workshop.printers import Printer


@dataclass(frozen=True)
class Batch:
    """One bed's worth, in the order in which batches print. `bed` counts from 1 among those of its group."""

    number: int
    group: str
    bed: int
    printer: Printer
    material: Material
    surface: Surface
    things: list[tuple[Printable, Placement]]
    took: Estimate
    raw: Estimate | None = None
    """before anything was learned"""
    factor: Factor = PLAIN

    @property
    def height_mm(self) -> float:
        """Of the highest thing on it."""
        return max(thing.item.height_mm for thing, _ in self.things)

    def settings(self, of: PrintSettings) -> PrintSettings:
        """The project's settings with the layers of this bed."""
        layers = self.things[0][0].thing.own.layers
        return of.model_copy(update={"layers": layers}) if layers else of


@dataclass
class Batches:
    """All batches, what fits none and what cannot lie where it was laid by hand (with why), and all that is printed."""

    each: list[Batch] = field(default_factory=list)
    left_over: list[tuple[Printable, str]] = field(default_factory=list)
    refused: list[tuple[Printable, Laid, str]] = field(default_factory=list)
    every: list[Printable] = field(default_factory=list)
    cut_short: bool = False
    known: Known = NOTHING_KNOWN


def batched(
    plan: Plan, built: Build, cache: Cache, power_price: float = 0.0, tell: Tell = quiet, known: Known = NOTHING_KNOWN
) -> Batches:
    """All that is printed, laid out as `plan.batching` says. Raises BadPlan where there is too much of it."""
    every = printables(plan, built, power_price, cache, part_of(tell, 0.0, 0.5), known)
    found = Batches(every=every, known=known)
    groups = list(dict.fromkeys(t.group for t in every))
    for k, group in enumerate(groups):
        share = 0.5 / len(groups)
        _group(found, group, plan.batching, power_price, part_of(tell, 0.5 + k * share, 0.5 + (k + 1) * share))
    return found


def _group(found: Batches, group: str, wish: Batching, power_price: float, tell: Tell) -> None:
    """The beds of one printer and material."""
    own = {t.key: t for t in found.every if t.group == group}
    first = next(iter(own.values())).thing
    surface = bed_of(first.printer)
    stays, refused = held(surface, {k: t.item for k, t in own.items()}, wish.laid, {k: t.name for k, t in own.items()})
    rules = Rules(wish.gap_mm, wish.turn_deg, wish.most_minutes, wish.aim == "even", wish.tall_together)
    packed: Packed = pack([t.item for t in own.values()], surface, rules, stays, tell)
    found.refused += [(own[key], wish.laid[key], why) for key, why in refused]
    found.left_over += [(own[i.name], _why_left(own[i.name], surface)) for i in packed.left_over]
    found.cut_short = found.cut_short or packed.cut_short
    for number, bed in enumerate(packed.beds, start=1):
        if not bed.placed:
            continue
        laid = [(own[p.item], p) for p in bed.placed]
        raw = together([t.raw for t, _ in laid], first.printer, first.material, power_price)
        factor = found.known.factors.get(group_of(first.printer, first.material), PLAIN)
        took, at = raw.corrected(factor), len(found.each) + 1
        found.each.append(Batch(at, group, number, first.printer, first.material, surface, laid, took, raw, factor))


def _why_left(thing: Printable, surface: Surface) -> str:
    """Why a thing lies on no bed."""
    printer = thing.thing.printer
    if surface.room.is_empty:
        return f"the bed of {printer.name} has no room left beside its margin and the corners kept free"
    if thing.item.height_mm > surface.height_mm + 1e-6:
        return f"it is {thing.item.height_mm:.0f} mm high as it lies, and {printer.name} prints {surface.height_mm:.0f} mm"
    x, y = surface.size
    return f"as it lies it is larger than what may be used of the bed of {printer.name}, {x:.0f} × {y:.0f} mm"


def on_bed(thing: Printable, place: Placement) -> Sequence[tuple[Body, Points]]:
    """For every body of a thing the matrix (3, 4) that brings it from the model to its place on the bed."""
    # as Placement does: turned, and set about the middle of the turned box
    angle = np.radians(place.turn_deg)
    c, s = np.cos(angle), np.sin(angle)
    spin = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])
    about = np.column_stack([spin, np.zeros(3)])
    spun = [(b, composed(about, b.matrix)) for b in thing.thing.bodies]
    lows, highs = bounds_of([b.solid.placed(m).bounds for b, m in spun])
    back = np.array([place.x_mm - (lows[0] + highs[0]) / 2, place.y_mm - (lows[1] + highs[1]) / 2, 0.0])
    return [(b, np.column_stack([m[:, :3], m[:, 3] + back])) for b, m in spun]


def prints_on(batches: Batches) -> Mapping[str, int]:
    """The batch of every piece by its key in the project; of several copies the first."""
    found: dict[str, int] = {}
    for batch in batches.each:
        for thing, _ in batch.things:
            for body in thing.thing.bodies if thing.thing.numbers else ():
                found.setdefault(body.key, batch.number)
    return found

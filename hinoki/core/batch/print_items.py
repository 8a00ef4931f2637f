"""Everything that is printed: pieces and loose parts, each copy of its own, as they lie, measured and estimated."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
from pydantic import BaseModel
from shapely.geometry import MultiPolygon

from hinoki.core.batch.estimate.estimate import Estimate, estimate, together
from hinoki.core.batch.estimate.factor import PLAIN, Factor
from hinoki.core.batch.packing.item import ROUGH_MM, Item, centred
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.frames import shifted
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.polygons import as_multi
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.ladders.fit_ladder import Ladder, clearances, ladder, least_for
from hinoki.core.join.supplies.loose_parts import LoosePart
from hinoki.core.orient.resting.piece import Piece
from hinoki.core.orient.support import support_of
from hinoki.core.orient.surface import surface_of
from hinoki.core.plan.batch_settings import LADDER, LadderAsked, copy_key, loose_key
from hinoki.core.plan.parts import MIRRORED, project_key
from hinoki.core.plan.plan import Plan
from hinoki.core.plan.print_settings import AS_THE_PROJECT, OwnSettings, PrintSettings
from hinoki.core.progress import Tell, along, quiet
from hinoki.core.project import project_loose
from hinoki.core.stages import key_of, stage
from hinoki.core.workshop.materials import Material
from hinoki.core.workshop.printers import Printer

MOST_THINGS = 2000
"""more are not laid out"""
MIRROR = np.diag([-1.0, 1.0, 1.0])
"""brings what lies on the bed to its mirror image there"""


@dataclass(frozen=True)
class Body:
    """One body of what is printed: its name in files, the key of its piece (of a loose part its name), where it is drawn, and
    the matrix (3, 4) that brings it onto the bed."""

    name: str
    key: str
    solid: Solid
    mesh: str
    matrix: Points

    @property
    def fingerprint(self) -> object:
        """What made it, and how it lies."""
        return self.mesh, self.matrix


@dataclass(frozen=True)
class Thing:
    """What is printed as one: pieces that come off the bed together, or a loose part, with how many of it are wanted."""

    key: str
    name: str
    numbers: tuple[int, ...]
    bodies: tuple[Body, ...]
    made_by: tuple[str, ...]
    printer: Printer
    material: Material
    wanted: int
    foot_mm2: float
    """area with which it stands on the bed; of a loose part that of its outline"""
    own: OwnSettings = AS_THE_PROJECT
    """what of it is printed otherwise than the project says"""

    @property
    def fingerprint(self) -> object:
        """What made it, how it lies, and what it is printed on, of and how."""
        return self.made_by, self.bodies, self.printer, self.material, self.own


@dataclass(frozen=True)
class Printable:
    """One copy of a thing; `item.name` is its key. `copy` counts from 1."""

    thing: Thing
    copy: int
    item: Item
    raw: Estimate
    """before anything was learned"""
    factor: Factor = PLAIN

    @property
    def took(self) -> Estimate:
        """What it takes, as prints before it show."""
        return self.raw.corrected(self.factor)

    @property
    def key(self) -> str:
        """Unique among all that is printed."""
        return self.item.name

    @property
    def name(self) -> str:
        """As people call it."""
        return self.thing.name if self.thing.wanted == 1 else f"{self.thing.name}, {self.copy} of {self.thing.wanted}"

    @property
    def group(self) -> str:
        """The printer and the material it shares beds by, and layers that are not the project's."""
        layers = self.thing.own.layers
        return group_of(self.thing.printer, self.thing.material) + (f"/{layers}" if layers else "")


def group_of(printer: Printer, material: Material) -> str:
    """Name of the beds that things of one printer and material share."""
    return f"{printer.id}/{material.id}"


def printed_matrix(plan: Plan, piece: Piece, mirrored: bool = False) -> Points:
    """(3, 4) from a piece in the model to how it prints: laid on the bed, and larger by what its material shrinks, about the
    middle of the bed; or to how its mirror image does."""
    matrix = np.asarray(plan.material_of(piece.key).enlarged * piece.rest.matrix)
    return MIRROR @ matrix if mirrored else matrix


def things(plan: Plan, built: Build) -> Iterator[Thing]:
    """Pieces part by part and by number, what prints together as one, then loose parts, then fit ladders asked for.

    Raises ValueError where the project has other parts that were not built.
    """
    for part in built.all_parts:
        own = plan.alone(part.plan.part_id)
        for mirrored, often in ((False, own.count_plain), (True, own.count_mirrored)):
            if often:
                yield from _pieces_of(own, part, mirrored)
    for loose in project_loose(built):
        yield _loose_thing(plan, loose)
    for asked in plan.batching.ladders:
        yield from _ladder_things(plan.alone(asked.part) if asked.part in plan.part_ids else plan, asked)


def _pieces_of(plan: Plan, built: Build, mirrored: bool) -> Iterator[Thing]:
    """The pieces of a part by number, or their mirror images; what comes off the bed as one stands once."""
    parts = {p.key: p for p in built.parts}
    done: set[int] = set()
    for piece in built.pieces:
        if piece.number in done or piece.key not in parts:
            continue
        group = [p for p in built.pieces if p.number == piece.number or p.number in piece.prints_with]
        done |= {p.number for p in group}
        ending = MIRRORED if mirrored else ""
        key, made = f"{built.project_key(piece.key)}{ending}", plan.count_mirrored if mirrored else plan.count_plain
        yield Thing(
            key=key,
            name=" + ".join(f"{p.number} {p.name}" for p in group) + ending,
            numbers=tuple(p.number for p in group),
            bodies=tuple(
                Body(
                    f"{p.number} {p.name}{ending}",
                    f"{built.project_key(p.key)}{ending}",
                    parts[p.key].solid,
                    p.made_by,
                    printed_matrix(plan, p, mirrored),
                )
                for p in group
            ),
            made_by=tuple(parts[p.key].made_by + ending for p in group),
            printer=plan.printer_of(piece.key),
            material=plan.material_of(piece.key),
            wanted=made + plan.batching.copies.get(key, 1) - 1,
            foot_mm2=sum(p.rest.contact_mm2 for p in group[:1]),
            own=plan.own_settings(piece.key),
        )


def _loose_thing(plan: Plan, loose: LoosePart) -> Thing:
    body, key = loose.solid, loose_key(loose.name)
    low, high = body.bounds
    matrix = plan.material_of("").enlarged * shifted(0.0, 0.0, -float(low[2]))
    return Thing(
        key=key,
        name=loose.name,
        numbers=(),
        bodies=(Body(loose.name, loose.name, body, loose.made_by, matrix),),
        made_by=(loose.made_by,),
        printer=plan.printer,
        material=plan.material_of(""),
        wanted=loose.printed + plan.batching.copies.get(key, 1) - 1,
        foot_mm2=float((high[0] - low[0]) * (high[1] - low[1])),
    )


def _ladder_things(plan: Plan, asked: LadderAsked) -> Iterator[Thing]:
    made = asked_ladder(plan, asked)
    for rung in made.pieces if made else ():
        low, high = rung.solid.bounds
        name = f"ladder of {made.label if made else ''}, {rung.name}"
        mesh = key_of("ladder piece", asked, rung.name, plan.joints, plan.printer, plan.least_wall_mm)
        yield Thing(
            key=f"{LADDER}{project_key(asked.part, asked.joint)} {rung.name}",
            name=name,
            numbers=(),
            bodies=(Body(name, name, rung.solid, mesh, shifted(0.0, 0.0, -float(low[2]))),),
            made_by=(mesh,),
            printer=plan.printer,
            material=plan.material_of(""),
            wanted=1,
            foot_mm2=float((high[0] - low[0]) * (high[1] - low[1])),
        )


def asked_ladder(plan: Plan, asked: LadderAsked) -> Ladder | None:
    """The ladder of a joint that is printed along; None where the joint is not there now, or has nothing to be tried."""
    joint = next((j for j in plan.joints if j.id == asked.joint), None)
    if joint is None:
        return None
    try:
        steps = clearances(asked.from_mm, asked.to_mm, asked.rungs, least_for(joint))
        return ladder(joint, steps, plan.least_wall_mm, plan.printer.line_mm, float(plan.printer.room_mm[0]))
    except BadPlan:  # said with the batches
        return None


class Known(BaseModel, frozen=True):
    """What the workshop knows besides the plan: factors of estimates by group, grams of materials on spools by their ids, and,
    for a reprint, what alone is to be printed: how many by key."""

    factors: dict[str, Factor] = {}
    stock_g: dict[str, float] = {}
    only: dict[str, int] | None = None

    def left_g(self, material: Material) -> float:
        """How much of a material there is."""
        return self.stock_g.get(material.id, material.stock_g)


NOTHING_KNOWN = Known()


def printables(
    plan: Plan, built: Build, power_price: float, cache: Cache, tell: Tell = quiet, known: Known = NOTHING_KNOWN
) -> list[Printable]:
    """Every copy of everything with its outline and estimate. Raises BadPlan where there are too many."""
    every = list(things(plan, built))
    if known.only is not None:
        every = [replace(t, wanted=many) for t in every if (many := _wanted(t, known.only))]
    count = sum(t.wanted for t in every)
    if count > MOST_THINGS:
        most = max(every, key=lambda t: t.wanted)
        raise BadPlan(
            f"{count} things are to be printed, most of them {most.name} ({most.wanted}); Hinoki lays out {MOST_THINGS}. "
            "Ask for fewer copies, and print the batches more than once.",
            "batching.copies",
        )
    found: list[Printable] = []
    for thing in along(every, tell, lambda k: f"Estimating {every[k].name}"):
        item, took = _measured(plan, thing, power_price, cache)
        factor = known.factors.get(group_of(thing.printer, thing.material), PLAIN)
        own = replace(item, minutes=item.minutes * factor.time, height_minutes=item.height_minutes * factor.time)
        for copy in range(1, thing.wanted + 1):
            found.append(Printable(thing, copy, replace(own, name=copy_key(thing.key, copy)), took, factor))
    return found


def _wanted(thing: Thing, only: Mapping[str, int]) -> int:
    """How many of a thing are asked for; what prints as one is printed as often as any of its pieces is wanted."""
    return max(only.get(key, 0) for key in {thing.key, *(b.key for b in thing.bodies if thing.numbers)})


def _measured(plan: Plan, thing: Thing, power_price: float, cache: Cache) -> tuple[Item, Estimate]:
    """A thing's outline and height, and what it takes."""
    outline, took = _outline_and_estimate(cache, thing, thing.own.over(plan.printing), power_price)
    height = max(float(b.solid.placed(b.matrix).bounds[1][2]) for b in thing.bodies)
    by_height = took.layers * thing.printer.layer_time_s / 60
    return Item(thing.key, outline, height, minutes=took.minutes, height_minutes=min(by_height, took.minutes)), took


@stage("printable")
def _outline_and_estimate(thing: Thing, printing: PrintSettings, power_price: float) -> tuple[MultiPolygon, Estimate]:
    """A thing's outline on the bed, and what it takes."""
    shadows = [shapely.simplify(b.solid.placed(b.matrix).silhouette(), ROUGH_MM / 2) for b in thing.bodies]
    outline = centred(as_multi(shapely.union_all([s.buffer(ROUGH_MM / 2, join_style="mitre") for s in shadows])))
    estimates = [_estimated(b, printing, thing.printer, thing.material, power_price) for b in thing.bodies]
    return outline, together(estimates, thing.printer, thing.material, power_price)


def estimated(body: Body, plan: Plan, printer: Printer, material: Material, power_price: float) -> Estimate:
    """What one body takes as it lies."""
    return _estimated(body, plan.printing, printer, material, power_price)


def _estimated(body: Body, printing: PrintSettings, printer: Printer, material: Material, power_price: float) -> Estimate:
    support = support_of(surface_of(body.solid), body.matrix, printer.overhang_deg).volume_mm3
    return estimate(body.solid, body.matrix, support, printer, material, printing, power_price)


def bounds_of(boxes: Sequence[tuple[Points, Points]]) -> tuple[Points, Points]:
    """The box around boxes."""
    return np.min([b[0] for b in boxes], axis=0), np.max([b[1] for b in boxes], axis=0)

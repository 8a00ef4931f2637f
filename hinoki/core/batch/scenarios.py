"""What if: all that is printed estimated with other settings, another material or another size, side by side."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.batch.estimate.estimate import Estimate, estimate, summed
from hinoki.core.batch.print_items import Body, Thing, things
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.orient.support import support_of
from hinoki.core.orient.surface import surface_of
from hinoki.core.plan.plan import Plan
from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.progress import Tell, quiet
from hinoki.core.project import project_pieces
from hinoki.core.stages import stage
from hinoki.core.workshop.materials import Material
from hinoki.core.workshop.printers import Printer

MOST = 6


class Option(BaseModel, frozen=True):
    """One way to print everything; without a material that of each piece."""

    name: str = Field("", max_length=60)
    printing: PrintSettings = PrintSettings()
    material: Material | None = None
    scale: Annotated[float, Field(ge=0.1, le=10, allow_inf_nan=False)] = 1.0


class WhatIf(BaseModel):
    """The options to compare."""

    options: Annotated[list[Option], Field(min_length=1, max_length=MOST)]


@dataclass(frozen=True)
class WhatIfLine:
    """One option: what all takes, each thing printed by itself."""

    name: str
    took: Estimate
    stock_lacks_g: float
    """what the stock of its material lacks; 0 where it is enough"""
    fits: bool
    """whether all still fit their printers at this size"""


def what_if(
    plan: Plan, built: Build, options: Sequence[Option], power_price: float, cache: Cache, tell: Tell = quiet
) -> list[WhatIfLine]:
    """Everything the plan prints, for every option."""
    every = list(things(plan, built))
    lines = []
    for k, option in enumerate(options):
        took: list[Estimate] = []
        lacks = 0.0
        used: dict[str, float] = {}
        for n, thing in enumerate(every):
            tell((k + n / max(1, len(every))) / len(options), f"Estimating {thing.name}")
            material = option.material or thing.material
            each = summed([_estimated(body, thing, material, option, power_price, cache) for body in thing.bodies])
            took += [each] * thing.wanted
            used[material.id] = used.get(material.id, 0.0) + each.mass_g * thing.wanted
            lacks = max(lacks, used[material.id] - material.stock_g)
        fits = all(p.piece.fits for p in project_pieces(built)) and all(_fits(thing, option.scale) for thing in every)
        lines.append(WhatIfLine(option.name, summed(took), lacks, fits))
    return lines


def _estimated(body: Body, thing: Thing, material: Material, option: Option, power_price: float, cache: Cache) -> Estimate:
    support = _support_mm3(cache, body, thing.printer.overhang_deg) * option.scale**3
    return _what_if(cache, body, option.scale, support, thing.printer, material, thing.own.over(option.printing), power_price)


@stage("support of")
def _support_mm3(body: Body, overhang_deg: float) -> float:
    """The volume of support under a body as it lies."""
    return support_of(surface_of(body.solid), body.matrix, overhang_deg).volume_mm3


@stage("what if")
def _what_if(  # noqa: PLR0913 - what a formula takes
    body: Body,
    scale: float,
    support_mm3: float,
    printer: Printer,
    material: Material,
    printing: PrintSettings,
    power_price: float,
) -> Estimate:
    """What a body takes, so much larger."""
    return estimate(body.solid, scale * body.matrix, support_mm3, printer, material, printing, power_price)


def _fits(thing: Thing, scale: float) -> bool:
    return all(thing.printer.holds(np.asarray(b.solid.placed(scale * b.matrix).size)) for b in thing.bodies)

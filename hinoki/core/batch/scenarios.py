"""What if: all that is printed estimated with other settings, another material or another size, side by side."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.batch.estimate.estimate import Estimate, estimate, summed
from hinoki.core.batch.print_items import Body, Thing, things
from hinoki.core.build import Build
from hinoki.core.cache import Cache, key_of
from hinoki.core.orient.support import support_of
from hinoki.core.orient.surface import surface_of
from hinoki.core.plan.plan import Plan
from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.progress import Tell, quiet
from hinoki.core.workshop.materials import Material

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
        fits = all(p.fits for p in built.pieces) and all(_fits(thing, option.scale) for thing in every)
        lines.append(WhatIfLine(option.name, summed(took), lacks, fits))
    return lines


def _estimated(body: Body, thing: Thing, material: Material, option: Option, power_price: float, cache: Cache) -> Estimate:
    printer = thing.printer
    own = key_of("support of", body.mesh, body.matrix.round(6).tolist(), printer)
    support = cache.get(own, lambda: support_of(surface_of(body.solid), body.matrix, printer.overhang_deg).volume_mm3)
    asked = key_of("what if", own, material, option.printing, option.scale, power_price)

    def work_out() -> Estimate:
        matrix = option.scale * body.matrix
        return estimate(body.solid, matrix, support * option.scale**3, printer, material, option.printing, power_price)

    return cache.get(asked, work_out)


def _fits(thing: Thing, scale: float) -> bool:
    return all(thing.printer.holds(np.asarray(b.solid.placed(scale * b.matrix).size)) for b in thing.bodies)

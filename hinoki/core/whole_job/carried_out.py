"""A build carried to its end: its beds, its assembly, and all that is found about it."""

from collections.abc import Sequence
from dataclasses import dataclass

from hinoki.core.assemble.assembled import Assembled, assembled
from hinoki.core.assemble.findings import assembly_findings
from hinoki.core.batch.batches import Batches, batched
from hinoki.core.batch.print_items import NOTHING_KNOWN, Known
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check_project
from hinoki.core.findings import Finding
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet


@dataclass(frozen=True)
class CarriedOut:
    """What comes after a build: what prints on which bed, the order in which it goes together, and the findings of both."""

    batches: Batches
    together: Assembled
    findings: Sequence[Finding]


def carried_out(
    plan: Plan, built: Build, cache: Cache, tell: Tell = quiet, power_price: float = 0.0, known: Known = NOTHING_KNOWN
) -> CarriedOut:
    """Lay out the beds of a build and plan its assembly. Raises BadPlan where there is too much to print."""
    batches = batched(plan, built, cache, power_price, part_of(tell, 0.0, 0.4), known)
    together = assembled(plan, built, cache, part_of(tell, 0.4, 1.0))
    return CarriedOut(batches, together, [*check_project(built, cache).findings, *assembly_findings(plan, together)])

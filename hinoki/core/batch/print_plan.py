"""How a build prints, in one: the batches, and each piece measured as it lies."""

from collections.abc import Mapping
from dataclasses import dataclass

from hinoki.core.batch.batches import Batches, batched
from hinoki.core.batch.print_items import NOTHING_KNOWN, Known
from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.orient.pieces import groups_of, lies_now
from hinoki.core.orient.search import Candidate
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, along, part_of, quiet


@dataclass(frozen=True)
class Printing:
    """The batches, and by piece key how it lies; what prints as one lies as one."""

    batches: Batches
    lying: Mapping[str, Candidate]


def printing_of(
    plan: Plan, built: Build, cache: Cache, power_price: float = 0.0, tell: Tell = quiet, known: Known = NOTHING_KNOWN
) -> Printing:
    """Measure all pieces as they lie, and lay them out. Raises BadPlan where there is too much of it."""
    groups = groups_of(plan, built, cache)
    lying: dict[str, Candidate] = {}
    for group in along(groups, part_of(tell, 0.0, 0.3), lambda k: f"Measuring piece {k + 1} of {len(groups)}"):
        now = lies_now(built, group, cache)
        lying |= {key: group.for_piece(key, now) for key in group.keys}
    return Printing(batched(plan, built, cache, power_price, part_of(tell, 0.3, 1.0), known), lying)

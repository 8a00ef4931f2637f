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
    """The batches, and by a piece's key in the project how it lies; what prints as one lies as one."""

    batches: Batches
    lying: Mapping[str, Candidate]


def printing_of(
    plan: Plan, built: Build, cache: Cache, power_price: float = 0.0, tell: Tell = quiet, known: Known = NOTHING_KNOWN
) -> Printing:
    """Measure all pieces as they lie, and lay them out. Raises BadPlan where there is too much of it."""
    parts = [(plan.alone(part.plan.part_id), part) for part in built.all_parts]
    groups = [(part, group) for own, part in parts for group in groups_of(own, part, cache)]
    lying: dict[str, Candidate] = {}
    for part, group in along(groups, part_of(tell, 0.0, 0.3), lambda k: f"Measuring piece {k + 1} of {len(groups)}"):
        now = lies_now(part, group, cache)
        lying |= {part.project_key(key): group.for_piece(key, now) for key in group.keys}
    return Printing(batched(plan, built, cache, power_price, part_of(tell, 0.3, 1.0), known), lying)

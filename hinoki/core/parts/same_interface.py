"""A part that is given the sides of another one's modules, so that the two meet: the figures are kept, and every pair tried."""

from collections.abc import Callable

from hinoki.core.build import build
from hinoki.core.cache import Cache
from hinoki.core.errors import BadPlan
from hinoki.core.join.tiles.polarity import meets
from hinoki.core.join.tiles.put_together import Tried, try_pair
from hinoki.core.join.tiles.tiles import Modules
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet


def with_interface_of(
    plan: Plan, part_id: str, source_of: Callable[[str], bytes], cache: Cache, tell: Tell = quiet
) -> tuple[Plan, tuple[str, ...]]:
    """The plan with the modules of another part in the open one, their figures as they are there, and what trying them showed.

    Raises BadPlan where the other has none, this one has no sides for them, or the two do not go together.
    """
    other = plan.working_on(part_id)
    if part_id == plan.part_id or not other.modules:
        raise BadPlan(f"{other.label} has no modules whose sides this part could get. Make it a module first.", "part")
    there = build(other.alone(), source_of, cache, part_of(tell, 0.0, 0.4)).modules[0]
    resolved = there.wanted.model_copy(
        update={"pieces": None, "apart_mm": there.apart_mm or None, "high_mm": there.high_mm or None}
    )
    both = plan.model_copy(update={"modules": (resolved, *(m for m in plan.modules if m.id != resolved.id))})
    here = build(both.alone(), source_of, cache, part_of(tell, 0.4, 0.8)).modules[0]
    if not here.many or not there.many or here.each[0].narrow or here.each[0].weak:
        raise BadPlan("This part has no three flat, upright sides wide enough for what the other one has.", "part")
    found = _each_other(here, there)
    if not found.pairs or not found.good:
        raise BadPlan(
            f"Sides of this part do not go together with those of {other.label}: they run into each other. Its sides are too "
            "narrow, or at another height.",
            "part",
        )
    if resolved.by == "magnets":
        return both, (f"all {found.pairs} pairs of its sides and those of {other.label} pull each other",)
    return both, (f"{found.pairs} pairs of its sides and those of {other.label} were put together with the real bodies",)


def _each_other(here: Modules, there: Modules) -> Tried:
    """Every side of the first module of one set against every side of the first of the other."""
    found = Tried(0)
    for i, own in enumerate(here.pattern):
        for j, other in enumerate(there.pattern):
            if not meets(own, other):
                continue
            if here.wanted.by == "magnets":
                found = Tried(found.pairs + 1)
                continue
            one, two = (here.each[0], here.each[0].sides[i]), (there.each[0], there.each[0].sides[j])
            found = try_pair(here, one, two, (0, i, 0, j), found)
    return found

"""A path carved: the part that is in the way of what moves gets a step that clears it, done and measured before it is kept."""

from collections.abc import Callable

from hinoki.core.cache import Cache
from hinoki.core.errors import BadPlan
from hinoki.core.model.prepared_model import prepared
from hinoki.core.model.steps import ClearPathStep
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell


def path_carved(  # noqa: PLR0913 - what moves, past what, with how much room
    plan: Plan,
    movement: str,
    moved: str,
    other: str,
    by_mm: float,
    source_of: Callable[[str], bytes],
    cache: Cache,
    tell: Tell,
) -> tuple[Plan, str]:
    """The plan with a step in the other part that carves the path of an instance (such as `q2 #1`), and what came of it.

    A step of the same kind that is there already is given the room. Raises BadPlan where nothing can be carved.
    """
    part, _, instance = moved.partition(" #")
    carved = other.partition(" #")[0]
    if carved == part:
        raise BadPlan("A part cannot be carved by itself: each instance would be. Move one of them.", "other")
    wanted = ClearPathStep(id="s1", part=part, instance=int(instance), movement=movement, by_mm=by_mm)
    host = plan.working_on(carved)
    known = [s for s in host.prepare if isinstance(s, ClearPathStep) and s.fingerprint == wanted.fingerprint]
    if known:
        raise BadPlan("This path is carved already. Give the step more room at Model → Prepare.", "movement")
    cut = host.with_step(wanted)
    done = prepared(cut, source_of, cache, tell).done[-1]
    if done.refused:
        raise BadPlan(f"It cannot be carved: {done.findings[0].params['why']}", "movement")
    return cut.working_on(plan.part_id), "; ".join(done.said)

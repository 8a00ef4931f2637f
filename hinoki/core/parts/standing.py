"""A part's body where one of its instances stands in the project."""

from collections.abc import Callable

from hinoki.core.cache import Cache
from hinoki.core.errors import BadPlan, OpenSurface
from hinoki.core.geometry.solid import Solid
from hinoki.core.model.prepared_model import prepared
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, quiet
from hinoki.core.stages import Keyed


def standing_at(
    plan: Plan, part_id: str, which: int, source_of: Callable[[str], bytes], cache: Cache, tell: Tell = quiet
) -> Keyed[Solid]:
    """The prepared body of a part as its instance `which` (from 0) stands in the project. Raises BadPlan, OpenSurface."""
    part = plan.working_on(part_id)
    name = part.label
    if which >= len(part.instances):
        raise BadPlan(f"There is no {name} {which + 1}; it stands {len(part.instances)} times.", "instance")
    ready = prepared(part, source_of, cache, tell)
    if ready.solid is None:
        raise OpenSurface(f"The surface of {name} is not closed, so nothing can be measured at it. Make it right.", part_id)
    matrix = part.instances[which].matrix
    return Keyed(ready.solid.placed(matrix), [ready.key, matrix])

"""A part that Hinoki makes put into a project: made and tried first, placed where it belongs, its seat cut if it needs one."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from pydantic import BaseModel, Field

from hinoki.core.cache import Cache
from hinoki.core.errors import BadPlan
from hinoki.core.geometry.frames import composed, plane_frame, shifted
from hinoki.core.geometry.mesh import Points, placed_box
from hinoki.core.make import Maker, NotMade
from hinoki.core.model.prepared_model import Prepared, prepared
from hinoki.core.model.steps.base import Facing, Spot
from hinoki.core.model.steps.seat import SeatStep
from hinoki.core.parts.take_apart import free_ids, with_part
from hinoki.core.plan.parts import BESIDE_MM, FIRST, MOST_INSTANCES, Instance, KeptPart
from hinoki.core.plan.plan import Plan
from hinoki.core.progress import Tell, part_of, quiet


class Place(BaseModel, frozen=True):
    """A place on the open part, in its coordinates, and the way its surface looks there."""

    at_mm: Spot
    facing: Facing = Field((0.0, 0.0, 1.0))

    @property
    def matrix(self) -> Points:
        """(3, 4): Z out of the surface."""
        return plane_frame(np.array(self.at_mm), np.array(self.facing)).to_world


@dataclass(frozen=True)
class WithMade:
    """The plan with the new part, its id, and what was told while it was made."""

    plan: Plan
    part_id: str
    said: tuple[str, ...]


def with_made(
    plan: Plan,
    maker: Maker,
    places: Sequence[Place],
    source_of: Callable[[str], bytes],
    cache: Cache,
    tell: Tell = quiet,
) -> WithMade:
    """The plan with a part made for the open one: a fitted one wherever that stands, else one at each place of each instance.

    Where it slides in grooves, the open part gets their seat as its last step. Nothing is added that cannot be made: then it
    raises NotMade or BadPlan.
    """
    (part_id,) = free_ids(plan, 1)
    own = maker.model_copy(update={"for_part": plan.part_id if plan.begun else None})
    instances = plan.instances if maker.fitted else _on(plan, places)
    more = with_part(plan, KeptPart(id=FIRST, made=own, instances=instances))
    ready = prepared(more.working_on(part_id), source_of, cache, part_of(tell, 0.0, 0.6))
    if not maker.fitted and not places and plan.begun:
        there = _beside(plan, ready, source_of, cache)
        more = with_part(plan, KeptPart(id=FIRST, made=own, instances=(there,)))
    for name, companion, count in own.goes_with():
        with_it = companion.model_copy(update={"comes_with": part_id})
        more = _along_with(more, part_id, ready, KeptPart(id=FIRST, name=name, made=with_it), count, source_of, cache)
    seat = own.seat_in_host(part_id)
    if seat is None:
        return WithMade(more, part_id, ready.said)
    seated, told = _seated(more, seat, source_of, cache, part_of(tell, 0.6, 1.0))
    return WithMade(seated, part_id, (*ready.said, *told))


def _on(plan: Plan, places: Sequence[Place]) -> tuple[Instance, ...]:
    """An instance at each place of each instance of the open part; one where no place is said."""
    if not places:
        return (Instance(),)
    count = len(plan.instances) * len(places)
    if count > MOST_INSTANCES:
        raise BadPlan(f"That would be {count} of them; a part stands {MOST_INSTANCES} times at the most.", "places")
    return tuple(Instance.of(composed(whole.matrix, place.matrix)) for whole in plan.instances for place in places)


def _beside(plan: Plan, made: Prepared, source_of: Callable[[str], bytes], cache: Cache) -> Instance:
    """A place to the right of all instances of the open part."""
    open_part = prepared(plan, source_of, cache, quiet).shape
    right = max(float(placed_box(*open_part.bounds, one.matrix)[1][0]) for one in plan.instances)
    return Instance(at_mm=(round(right + BESIDE_MM - float(made.shape.bounds[0][0]), 3), 0.0, 0.0))


def _along_with(  # noqa: PLR0913 - the two parts, how many, and what they are made from
    plan: Plan, part_id: str, ready: Prepared, part: KeptPart, count: int, source_of: Callable[[str], bytes], cache: Cache
) -> Plan:
    """The plan with a part that is made along with another: so many in a row to the right of each instance of that one."""
    (own_id,) = free_ids(plan, 1)
    made = prepared(with_part(plan, part).working_on(own_id), source_of, cache, quiet)
    low, high = made.shape.bounds
    off, step = float(ready.shape.bounds[1][0]) + BESIDE_MM - float(low[0]), float(high[0] - low[0]) + BESIDE_MM
    beside = [shifted(round(off + k * step, 3), 0.0, 0.0) for k in range(count)]
    instances = tuple(Instance.of(composed(one.matrix, at)) for one in plan.working_on(part_id).instances for at in beside)
    return with_part(plan, part.model_copy(update={"instances": instances}))


def _seated(
    plan: Plan, seat: SeatStep, source_of: Callable[[str], bytes], cache: Cache, tell: Tell
) -> tuple[Plan, tuple[str, ...]]:
    cut = plan.with_step(seat)
    done = prepared(cut, source_of, cache, tell).done[-1]
    if done.refused:
        raise NotMade(str(done.findings[0].params["why"]), "made")
    return cut, done.said


def _shared(plan: Plan, own: Maker) -> Plan:
    """The plan with the figures of the open part in those that were made along with it."""
    first = own.comes_with or plan.part_id

    def followed(part: KeptPart) -> KeptPart:
        made = part.made
        if made is None or made.kind != own.kind or first not in (part.id, made.comes_with):
            return part
        return part.model_copy(update={"made": made.like(own)})

    return plan.model_copy(update={"parts": tuple(followed(part) for part in plan.parts)})


def with_figures(plan: Plan, maker: Maker) -> Plan:
    """The plan with other figures for the open part, which is made; what was made along with it follows, and what it needs cut
    into the part it is for. Raises BadPlan where the open part is not made. Figures that give nothing are kept: a finding says
    what is wrong with them."""
    was = plan.made
    if was is None:
        raise BadPlan(f"{plan.label} is not made by Hinoki; it has no figures to change.", "made")
    own = maker.model_copy(update={"for_part": was.for_part, "comes_with": was.comes_with})
    changed = _shared(plan.model_copy(update={"made": own}), own)
    if was.for_part not in plan.part_ids or was.for_part == plan.part_id:
        return changed
    had, wanted = was.seat_in_host(plan.part_id), own.seat_in_host(plan.part_id)
    if had == wanted:
        return changed
    host = changed.working_on(was.for_part or "")
    seats = [step for step in host.prepare if isinstance(step, SeatStep) and step.part == plan.part_id]
    if wanted is None:
        host = host.model_copy(update={"prepare": tuple(step for step in host.prepare if step not in seats)})
    elif not seats:
        host = host.with_step(wanted)
    else:
        now = seats[0].model_copy(update={"fit": wanted.fit, "way": wanted.way})
        host = host.model_copy(update={"prepare": tuple(now if step is seats[0] else step for step in host.prepare)})
    return host.working_on(plan.part_id)

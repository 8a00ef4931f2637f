"""Where a part is while it moves past another one: positions close to each other, in the coordinates of that one."""

import itertools
import math

import numpy as np

from hinoki.core.errors import BadPlan
from hinoki.core.geometry.frames import composed, inverted
from hinoki.core.geometry.mesh import Points
from hinoki.core.model.steps.clear_path import ClearPathStep
from hinoki.core.moving.mechanism import Mechanism, OutOfReach, place_of
from hinoki.core.plan.plan import Plan

FEW, MOST = 48, 400
"""positions by which it is seen how far a part goes; and into how many its way is divided at most"""


def places_past(plan: Plan, step: ClearPathStep, bounds: tuple[Points, Points]) -> list[Points] | str:
    """The (3, 4) matrices of the instance that moves, no further from each other than the room that is wanted, seen from
    the first instance of the open part; why there are none. `bounds` are those of the part that moves."""
    other = plan.working_on(step.part)
    if step.instance > len(other.instances):
        return "the instance that moves past is not there any more"
    names = f"{step.part} #{step.instance}", f"{plan.part_id} #1"
    moved, own = (next((m.id for m in plan.movements if name in m.moves), None) for name in names)
    if moved is None:
        return "what moves past it does not move any more"
    try:
        mechanism = Mechanism(plan.movements)
        driver = next((one for one in mechanism.drivers if one.id == step.movement), None)
        if driver is None:
            return "the movement that drives it is not there any more"
        begins = other.instances[step.instance - 1].matrix
        still = plan.instances[0].matrix

        def at(share: float) -> Points:
            places = mechanism.state({driver.id: driver.begin + share * (driver.end - driver.begin)})[1]
            here = composed(place_of(own, places), still)
            return composed(inverted(here), composed(places[moved], begins))

        corners = np.array(list(itertools.product(*zip(*bounds, strict=True))))
        few = [at(k / FEW) for k in range(FEW + 1)]
        paths = np.array([corners @ place[:, :3].T + place[:, 3] for place in few])
        long = float(np.linalg.norm(np.diff(paths, axis=0), axis=2).max(axis=1).sum())
        many = min(MOST, max(2, math.ceil(long / step.by_mm)))
        return [at(k / many) for k in range(many + 1)]
    except BadPlan as error:
        return error.message
    except OutOfReach as error:
        return f"{mechanism.by_id[error.movement].label} cannot follow the rod that pulls it"

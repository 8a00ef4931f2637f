"""The movements of a project tried: what is tried, what came of it, what is wrong."""

from collections.abc import Sequence
from dataclasses import dataclass

from hinoki.core.build import Build
from hinoki.core.cache import Cache
from hinoki.core.errors import BadPlan
from hinoki.core.findings import Finding, told_apart
from hinoki.core.moving.bodies import Body, bodies_of
from hinoki.core.moving.findings import moving_findings
from hinoki.core.moving.mechanism import Mechanism
from hinoki.core.moving.movements import Movement
from hinoki.core.moving.together import Both, both_tried
from hinoki.core.moving.trial import Tried, tried
from hinoki.core.progress import Tell, part_of, quiet
from hinoki.core.stages import stage


@dataclass(frozen=True)
class Moving:
    """What moves in a project: its bodies, each driver tried, every two at once, and the findings. Without a mechanism where it
    cannot be one: then the only finding says why."""

    bodies: tuple[Body, ...]
    mechanism: Mechanism | None
    tried: tuple[Tried, ...] = ()
    both: tuple[Both, ...] = ()
    findings: tuple[Finding, ...] = ()


def moving(built: Build, cache: Cache, tell: Tell = quiet) -> Moving:
    """The movements of the plan tried on the finished parts. Raises ValueError where other parts were not built."""
    plan = built.plan
    try:
        bodies = tuple(bodies_of(built, plan.movements))
        mechanism = Mechanism(plan.movements)
    except BadPlan as error:
        why = Finding(
            severity="must-fix",
            code="moves-unclear",
            station="assemble",
            params={"why": error.message},
            about=error.where,
            whole=True,
        )
        return Moving(tuple(bodies_of(built, ())), None, findings=(why,))
    alone, together = _tried(cache, plan.movements, bodies, tell)
    found = moving_findings(mechanism, bodies, alone, together, plan.fits.sliding)
    return Moving(bodies, mechanism, alone, together, tuple(told_apart(found)))


@stage("moving", weigh=lambda found: 2000 * len(found[0]) + 100)
def _tried(movements: Sequence[Movement], bodies: Sequence[Body], tell: Tell) -> tuple[tuple[Tried, ...], tuple[Both, ...]]:
    """Each driver through its travel, and every two at once."""
    mechanism = Mechanism(movements)
    alone = tuple(tried(mechanism, bodies, part_of(tell, 0.0, 0.6)))
    return alone, tuple(both_tried(mechanism, bodies, part_of(tell, 0.6, 1.0)))

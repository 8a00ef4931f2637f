"""Changes to a pinned order: a step moved, steps grouped, a group resolved."""

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from hinoki.core.errors import BadPlan
from hinoki.core.plan.assembly_settings import PinnedStep, UnitId


class MoveStep(BaseModel, frozen=True):
    """Put a step before another one; at the end without one."""

    kind: Literal["move"] = "move"
    unit: UnitId
    before: UnitId | None = None


class GroupSteps(BaseModel, frozen=True):
    """Build some units first, as a group, then bring them in where the last of them went."""

    kind: Literal["group"] = "group"
    units: tuple[UnitId, ...] = Field(min_length=2, max_length=500)


class Ungroup(BaseModel, frozen=True):
    """Bring in the units of a group one by one, where the group went."""

    kind: Literal["ungroup"] = "ungroup"
    unit: UnitId = Field(description="the unit its group began with")


Change = Annotated[MoveStep | GroupSteps | Ungroup, Field(discriminator="kind")]


def rearranged(steps: Sequence[PinnedStep], change: Change) -> tuple[PinnedStep, ...]:
    """The steps after a change. Raises BadPlan where it names what has no step, or the order would go round in a circle."""
    known = {s.unit: s for s in steps}
    if isinstance(change, MoveStep):
        _known(known, change.unit, *([change.before] if change.before else []))
        left = [s for s in steps if s.unit != change.unit]
        at = len(left) if change.before is None else next(k for k, s in enumerate(left) if s.unit == change.before)
        moved = known[change.unit]
        if at == 0:  # it begins now; what began goes onto it
            first = left[0]
            onto = first.onto if first.onto not in (None, first.unit) else change.unit
            return (PinnedStep(unit=change.unit), PinnedStep(unit=first.unit, onto=onto), *left[1:])
        if moved.onto is None:  # the first one no longer begins
            first, rest = left[0], left[1:]
            begins = PinnedStep(unit=first.unit)
            return (begins, *rest[: at - 1], PinnedStep(unit=change.unit, onto=first.unit), *rest[at - 1 :])
        return (*left[:at], moved, *left[at:])
    if isinstance(change, GroupSteps):
        return _grouped(steps, known, change.units)
    return _ungrouped(steps, known, change.unit)


def members(steps: Sequence[PinnedStep], unit: str) -> list[str]:
    """What is moved together at the step of `unit`: it, and all that was joined to it before."""
    group: dict[str, set[str]] = {}
    for step in steps:
        own = group.setdefault(step.unit, {step.unit})
        if step.unit == unit:
            return [s.unit for s in steps if s.unit in own]
        if step.onto is not None:
            both = own | group.setdefault(step.onto, {step.onto})
            group |= dict.fromkeys(both, both)
    return [unit]


def _grouped(steps: Sequence[PinnedStep], known: dict[str, PinnedStep], units: Sequence[str]) -> tuple[PinnedStep, ...]:
    _known(known, *units)
    chosen = [s for s in steps if s.unit in units]
    if any(s.onto is None for s in chosen):
        raise BadPlan("The piece that everything begins with cannot be part of a group that is brought in later.", "group")
    outside = next((s.onto for s in chosen if s.onto not in units), None)
    if outside is None:
        raise BadPlan("These go onto each other in a circle: one of them must go onto something else.", "group")
    # the one that goes onto the rest leads; the others go onto it
    lead = next(s.unit for s in chosen if s.onto == outside)
    rest = [s for s in chosen if s.unit != lead]
    inner = [PinnedStep(unit=s.unit, onto=s.onto if s.onto in units else lead) for s in rest]
    last = max(k for k, s in enumerate(steps) if s.unit in units)
    before = [s for s in steps[: last + 1] if s.unit not in units]
    return (*before, *inner, PinnedStep(unit=lead, onto=outside), *steps[last + 1 :])


def _ungrouped(steps: Sequence[PinnedStep], known: dict[str, PinnedStep], unit: str) -> tuple[PinnedStep, ...]:
    _known(known, unit)
    inner = set(members(steps, unit)) - {unit}
    if not inner:
        raise BadPlan("This step moves one thing only: there is no group to resolve.", "group")
    own = known[unit]
    at = next(k for k, s in enumerate(steps) if s.unit == unit)
    before = [s for s in steps[:at] if s.unit not in inner]
    one_by_one = [s for s in steps[:at] if s.unit in inner]
    return (*before, own, *one_by_one, *steps[at + 1 :])


def _known(known: dict[str, PinnedStep], *units: str) -> None:
    for unit in units:
        if unit not in known:
            raise BadPlan(f"There is no step for {unit} in this order. Look at the newest order and try again.", "unit")

"""When what is done: batches shared out among the machines that can print them, beds changed only while someone is there."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from hinoki.core.batch.batches import Batch
from hinoki.core.plan.batch_settings import Batching
from hinoki.core.plan.plan import Plan
from hinoki.core.workshop.printers import Printer

CHANGE_MINUTES = 15.0
"""to clear a bed and start the next batch (common practice)"""
DAY = 24 * 60.0


@dataclass(frozen=True)
class Run:
    """One batch on one machine, in minutes from midnight of the first day."""

    batch: int
    machine: str
    starts: float
    ends: float


def timetable(batches: Sequence[Batch], plan: Plan) -> list[Run]:
    """Runs in the order in which they start; a start falls into the hours when someone is there, from the first morning on.

    The machine that is free first takes the next batch it can print: over what is left of the day the longest that ends
    before everyone leaves; where none does, the longest of all, which then runs over night (longest processing time first,
    Graham 1969). A batch goes to its own printer, or to one of the same kind and room whose fits are the same.
    """
    wish = plan.batching
    machines = _machines(plan, batches)
    free = {name: _there(0.0, wish) for name in machines}
    waiting = list(batches)
    runs: list[Run] = []
    while waiting:
        name = min((m for m in machines if any(_can(machines[m], b, plan) for b in waiting)), key=lambda m: (free[m], m))
        own = [b for b in waiting if _can(machines[name], b, plan)]
        now = free[name]
        today = [b for b in own if now % DAY + b.took.minutes <= wish.to_hour * 60 + 1e-6]
        chosen = max(today or own, key=lambda b: (b.took.minutes, -b.number))
        ends = now + chosen.took.minutes
        runs.append(Run(chosen.number, name, now, ends))
        free[name] = _there(ends + CHANGE_MINUTES, wish)
        waiting.remove(chosen)
    return sorted(runs, key=lambda r: (r.starts, r.machine))


def _there(minute: float, wish: Batching) -> float:
    """The first minute from this one on in which someone is there."""
    begin, end = wish.from_hour * 60, wish.to_hour * 60
    if begin == end:
        return minute
    day, now = divmod(minute, DAY)
    if begin < end:
        if begin <= now <= end:
            return minute
        return day * DAY + begin if now < begin else (day + 1) * DAY + begin
    return minute if now >= begin or now <= end else day * DAY + begin


def _machines(plan: Plan, batches: Sequence[Batch]) -> Mapping[str, Printer]:
    """All machines by name: those of the plan's printers, numbered where there are several of a kind."""
    printers = {p.id: p for p in (plan.printer, *plan.more_printers, *(b.printer for b in batches))}
    return {
        p.name if p.machines == 1 else f"{p.name}, {k + 1} of {p.machines}": p
        for p in printers.values()
        for k in range(p.machines)
    }


def _can(machine: Printer, batch: Batch, plan: Plan) -> bool:
    """Whether a machine can print a batch as it was laid out and estimated."""
    own = batch.printer
    if machine.id == own.id:
        return True
    same = machine.model_dump(exclude={"id", "name", "machines", "watts", "hourly_cost"}) == own.model_dump(
        exclude={"id", "name", "machines", "watts", "hourly_cost"}
    )
    return same and plan.more_fits.get(machine.id, plan.fits) == plan.more_fits.get(own.id, plan.fits)

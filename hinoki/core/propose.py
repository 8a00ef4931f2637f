"""A simple division: evenly along each axis that does not fit, until every piece fits with its joints."""

from typing import Literal

import numpy as np

from hinoki.core.cache import Cache
from hinoki.core.engine import Built, SourceOf, build, settled, suggested
from hinoki.core.errors import BadPlan
from hinoki.core.fits import Fit
from hinoki.core.mesh import Points
from hinoki.core.partings import EvenParting, Parting
from hinoki.core.plan import Plan
from hinoki.core.progress import Tell, quiet

JointKind = Literal["pin", "dowel", "none"]
AXES: tuple[Literal["x", "y", "z"], ...] = ("x", "y", "z")
MOST_PIECES = 600
MOST_ROUNDS = 40


def divide_evenly(
    plan: Plan,
    source_of: SourceOf,
    cache: Cache,
    kind: JointKind,
    fit: Fit,
    progress: Tell = quiet,
    seconds: dict[str, float] | None = None,
) -> tuple[Plan, Built]:
    """The plan with even partings and joints such that every piece fits the printer, and its build.

    Starts at the least number of parts on each axis and adds one on the axis whose parts fit worst, until all do.
    Raises BadPlan when that takes more than MOST_PIECES pieces.
    """
    whole = build(plan, source_of, cache, for_screen=False, seconds=seconds)
    if whole.prepared is None or whole.prepared.solid is None:
        return plan, whole
    size, room = whole.prepared.solid.size, plan.printer.room_mm
    counts = np.maximum(1, np.ceil(size / room - 1e-9)).astype(int)
    if all(piece.fits for piece in whole.view.pieces):
        counts[:] = 1
    for turn in range(MOST_ROUNDS):
        if int(counts.prod()) > MOST_PIECES:
            raise BadPlan(
                f"A bed of {' × '.join(f'{v:g}' for v in room)} mm would need more than {MOST_PIECES} pieces for a model of "
                f"{' × '.join(f'{v:.0f}' for v in size)} mm. Use a larger printer or a smaller scale.",
                "bed",
            )
        progress(min(0.9, turn / 8), f"Trying {' × '.join(map(str, counts))} parts")
        tried, built = _try(plan, counts, source_of, cache, kind, fit, seconds)
        if all(piece.fits for piece in built.view.pieces):
            return tried, built
        counts = _one_more(counts, size, room, built)
    return tried, built


def _try(
    plan: Plan,
    counts: "np.ndarray",
    source_of: SourceOf,
    cache: Cache,
    kind: JointKind,
    fit: Fit,
    seconds: dict[str, float] | None,
) -> tuple[Plan, Built]:
    wanted = [(axis, int(n)) for axis, n in zip(AXES, counts, strict=True) if n > 1]
    wanted.sort(key=lambda pair: pair[0] != "z")  # level partings first: fewer faces to compute
    partings: tuple[Parting, ...] = tuple(
        EvenParting(id=f"p{i}", axis=axis, parts=n) for i, (axis, n) in enumerate(wanted, start=1)
    )
    divided = plan.model_copy(update={"partings": partings, "joints": ()})
    built = build(divided, source_of, cache, for_screen=False, seconds=seconds)
    if kind == "none" or not built.faces:
        return divided, built
    joined = suggested(built, divided, kind, fit, seconds)
    joined = settled(joined, build(joined, source_of, cache, for_screen=False, seconds=seconds))
    return joined, build(joined, source_of, cache, for_screen=False, seconds=seconds)


def _one_more(counts: "np.ndarray", size: Points, room: Points, built: Built) -> "np.ndarray":
    """One more part along the axis on which the pieces that do not fit are most over."""
    excess = np.zeros(3)
    for piece in built.view.pieces:
        if not piece.fits:
            excess = np.maximum(excess, np.array(piece.size_mm) / room)
    excess = np.where(excess > 0, excess, size / counts / room)
    more = counts.copy()
    more[int(np.argmax(excess))] += 1
    return more

"""What the log teaches: how long prints really take and how heavy they are, by printer and material; why pieces fail."""

import statistics
from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from typing import Literal

from pydantic import BaseModel, Field

from hinoki.core.batch.estimate.factor import Factor
from hinoki.core.printlog.records import Item, Print
from hinoki.core.printlog.states import REASONS, Reason

Took = tuple[float, float | None, float, float | None]
"""minutes estimated and measured, grams estimated and measured"""
LEAST, MOST = 0.2, 5.0
"""a ratio outside is a slip (an estimate of something else), not a lesson"""
BEFORE = ("in a batch", "printing", "not printed")
"""states of what has not come off a bed"""
OFTEN = 2
"""pieces that must have failed of one cause before something is proposed"""
SMALL_FOOT_MM2 = 60.0
SLENDER = 8.0
"""height by the root of the footprint, over which a piece counts as tall and thin"""


class LearnedFactor(BaseModel):
    """The factor of one printer with one material."""

    printer_id: str
    printer: str
    material_id: str
    material: str
    factor: Factor
    says: str


class Shot(BaseModel):
    """One finished print: estimated and measured."""

    print: int
    printer: str
    material: str
    minutes: float
    measured_minutes: float
    grams: float
    measured_grams: float | None


class Cause(BaseModel):
    """How many pieces failed of one cause, of how many that were printed, and the highest rate that is still likely."""

    reason: Reason
    failed: int
    of: int
    rate: float
    at_most: float


Do = Literal["brim", "spare", "rest", "fit", "spool", "look"]


class Remedy(BaseModel):
    """What may help against a cause that repeats: what can be done about it, and for which things.

    `failed` is how often it happened; `name` is that of the first thing, for those that have no number.
    """

    reason: Reason
    do: Do
    failed: int
    name: str
    stands_on_little: bool = Field(False, description="these are the ones among them that stand on little")
    keys: list[str] = []
    numbers: list[int] = []


class Lessons(BaseModel):
    """All that the log teaches."""

    factors: list[LearnedFactor]
    shots: list[Shot]
    causes: list[Cause]
    remedies: list[Remedy]
    made: int
    failed: int


def group_of(one: Print) -> tuple[str, str]:
    """What a print teaches about: its printer and material."""
    return one.batch.printer_id, one.batch.material_id


def factor_of(took: Iterable[Took]) -> Factor:
    """The factor that finished prints of one printer and material show: medians, which one odd print does not move."""
    every = list(took)
    times = _ratios((minutes, estimated) for estimated, minutes, _, _ in every)
    masses = _ratios((grams, estimated) for _, _, estimated, grams in every)
    return Factor(
        time=round(statistics.median(times), 4) if times else 1.0,
        mass=round(statistics.median(masses), 4) if masses else 1.0,
        time_spread=round(_spread(times), 4),
        mass_spread=round(_spread(masses), 4),
        prints=len(times),
        weighed=len(masses),
    )


def _ratios(pairs: Iterable[tuple[float | None, float]]) -> list[float]:
    found = [measured / estimated for measured, estimated in pairs if measured and estimated > 0]
    return [r for r in found if LEAST <= r <= MOST]


def _spread(ratios: Sequence[float]) -> float:
    """Half the distance between the quartiles."""
    if len(ratios) < 2:
        return 0.0
    low, _, high = statistics.quantiles(ratios, n=4, method="inclusive")
    return (high - low) / 2


def factors_of(prints: Sequence[Print]) -> list[LearnedFactor]:
    """The factor of every printer with every material."""
    groups: dict[tuple[str, str], list[Print]] = defaultdict(list)
    for one in prints:
        groups[group_of(one)].append(one)
    found = []
    for (printer_id, material_id), own in sorted(groups.items()):
        factor = factor_of((p.batch.minutes, p.minutes, p.batch.grams, p.grams) for p in own if p.state == "done")
        if factor.prints or factor.weighed:
            last = own[-1].batch
            found.append(
                LearnedFactor(
                    printer_id=printer_id,
                    printer=last.printer,
                    material_id=material_id,
                    material=last.material,
                    factor=factor,
                    says=factor.rests_on,
                )
            )
    return found


def shots_of(prints: Sequence[Print]) -> list[Shot]:
    """All finished prints whose time is known, the oldest first."""
    return [
        Shot(
            print=p.number,
            printer=p.batch.printer,
            material=p.batch.material,
            minutes=p.batch.minutes,
            measured_minutes=p.minutes,
            grams=p.batch.grams,
            measured_grams=p.grams,
        )
        for p in sorted(prints, key=lambda p: p.sent_at)
        if p.state == "done" and p.minutes
    ]


def causes_of(items: Sequence[Item]) -> list[Cause]:
    """How often pieces failed, by cause, the most frequent first; with the upper end of Wilson's interval (E. B. Wilson 1927,
    JASA 22:209, at 90 %), since three prints do not prove a printer good."""
    ended = [i for i in items if i.state not in BEFORE]
    counts = Counter(i.reason or "other" for i in ended if i.state == "failed")
    return [
        Cause(
            reason=reason,
            failed=counts[reason],
            of=len(ended),
            rate=counts[reason] / len(ended),
            at_most=wilson_upper(counts[reason], len(ended)),
        )
        for reason in sorted(REASONS, key=lambda r: -counts[r])
        if counts[reason]
    ]


def wilson_upper(hits: int, of: int, z: float = 1.6449) -> float:
    """Upper end of Wilson's score interval of a share, two-sided 90 % for the given `z`."""
    if of == 0:
        return 1.0
    p = hits / of
    middle = p + z * z / (2 * of)
    half = z * (p * (1 - p) / of + z * z / (4 * of * of)) ** 0.5
    return float(min(1.0, (middle + half) / (1 + z * z / of)))


AGAINST: dict[Reason, Do] = {
    "came loose": "brim",
    "warped": "brim",
    "support scar": "rest",
    "ran out": "spool",
    "too tight": "fit",
    "broke": "rest",
    "printer stopped": "look",
}


def remedies_of(
    items: Sequence[Item], tall: dict[str, float] | None = None, feet: dict[str, float] | None = None
) -> list[Remedy]:
    """What may help where a cause repeats. `feet` (mm²) and `tall` (mm) tell the footprint and height of things by key."""
    failed: dict[Reason, list[Item]] = defaultdict(list)
    for item in items:
        if item.state == "failed":
            failed[item.reason or "other"].append(item)
    found = []
    for reason, own in sorted(failed.items(), key=lambda pair: -len(pair[1])):
        if reason == "other" or len(own) < OFTEN:
            continue
        keys = sorted({i.key for i in own})
        numbers = sorted({i.number for i in own if i.number is not None})
        one = Remedy(
            reason=reason, do=AGAINST[reason], failed=len(own), name=own[0].name, keys=keys, numbers=numbers
        )  # fmt: skip
        found.append(one)
        if reason in ("came loose", "broke"):
            small = [k for k in keys if (feet or {}).get(k, 1e9) < SMALL_FOOT_MM2 or _slender(k, tall, feet)]
            if small:
                own_numbers = sorted({i.number for i in own if i.number is not None and i.key in small})
                found.append(
                    one.model_copy(update={"do": "spare", "keys": small, "numbers": own_numbers, "stands_on_little": True})
                )
    return found


def _slender(key: str, tall: dict[str, float] | None, feet: dict[str, float] | None) -> bool:
    foot = (feet or {}).get(key, 0.0)
    return foot > 0 and (tall or {}).get(key, 0.0) / foot**0.5 > SLENDER


def learned_from(prints: Sequence[Print], items: Sequence[Item]) -> Lessons:
    """All that prints and pieces teach."""
    tall = {i.key: i.height_mm for p in prints for i in p.batch.items}
    feet = {i.key: i.foot_mm2 for p in prints for i in p.batch.items if i.foot_mm2 > 0}
    failed = sum(i.state == "failed" for i in items)
    return Lessons(
        factors=factors_of(prints),
        shots=shots_of(prints),
        causes=causes_of(items),
        remedies=remedies_of(items, tall, feet),
        made=sum(i.state not in BEFORE for i in items),
        failed=failed,
    )

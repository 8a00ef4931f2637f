"""What changed between two plans: their parts, by name."""

from collections.abc import Iterable, Sequence
from typing import Any, Literal

from pydantic import BaseModel

from hinoki.core.plan.plan import Plan

How = Literal["added", "taken out", "changed"]


class PlanChange(BaseModel):
    """One thing that is not as it was: what kind it is, its name, how, and what of it."""

    what: str
    name: str
    how: How
    told: str = ""


_LISTS = (("parting", "partings"), ("joint", "joints"), ("prepare step", "prepare"), ("mark", "marks"), ("way", "ways"),
          ("set of modules", "modules"), ("variant", "variants"), ("part", "parts"), ("movement", "movements"),
          ("picture", "pictures"), ("version of a joint", "joint_tries"), ("group of pieces", "groups"))  # fmt: skip
_PARTS = (
    ("model", "model"), ("model", "also"), ("printer", "printer"), ("printer", "more_printers"), ("material", "material"),
    ("material", "more_materials"), ("settings", "printing"),
    ("settings", "own_printing"), ("beds", "batching"), ("least wall", "least_wall_mm"),
    ("fits", "fits"), ("fits", "more_fits"), ("pieces joined again", "together"), ("mating marks", "mating_marks"),
    ("assembly", "assembling"), ("assembly", "project_assembling"), ("part", "part_name"),
    ("part", "instances"), ("accepted findings", "accepted"), ("accepted findings", "project_accepted"),
    ("division", "division_name"),
)  # fmt: skip


def differences(before: Plan, after: Plan) -> list[PlanChange]:
    """What changed from one plan to another."""
    changes: list[PlanChange] = []
    if after.part_id != before.part_id and before.part_id in after.part_ids:  # the same part is looked at in both
        told = f"{before.part_id} → {after.part_id}"
        changes.append(PlanChange(what="part", name="the one worked on", how="changed", told=told))
        after = after.working_on(before.part_id)
    for what, field in _LISTS:
        changes += _listed(what, getattr(before, field), getattr(after, field))
    for what, field in _PARTS:
        one, two = _plain(getattr(before, field)), _plain(getattr(after, field))
        if one != two:
            name = _name_of(getattr(after, field), what)
            changes.append(PlanChange(what=what, name=name, how="changed", told=_told(one, two)))
    changes += _notes(before, after)
    return changes


def _listed(what: str, before: Sequence[Any], after: Sequence[Any]) -> Iterable[PlanChange]:
    was, now = {one.id: one for one in before}, {one.id: one for one in after}
    for key, one in now.items():
        if key not in was:
            yield PlanChange(what=what, name=_label(one), how="added")
        elif was[key] != one:
            yield PlanChange(what=what, name=_label(one), how="changed", told=_told(_plain(was[key]), _plain(one)))
    for key, one in was.items():
        if key not in now:
            yield PlanChange(what=what, name=_label(one), how="taken out")
    if list(was) != list(now) and set(was) == set(now):
        yield PlanChange(what=what, name="order", how="changed", told=", ".join(now))


def _notes(before: Plan, after: Plan) -> Iterable[PlanChange]:
    """What was set for single pieces."""
    for key in sorted({*before.pieces, *after.pieces}):
        one, two = before.pieces.get(key), after.pieces.get(key)
        if one != two:
            name = (two and two.name) or (one and one.name) or key
            yield PlanChange(what="piece", name=name, how="changed", told=_told(_plain(one), _plain(two)))


def _label(one: Any) -> str:
    label = getattr(one, "label", None)
    text = str(label()) if callable(label) else label or getattr(one, "name", "")
    return f"{one.id} {text}".strip()


def _name_of(value: Any, what: str) -> str:
    return str(getattr(value, "name", None) or getattr(value, "file_name", None) or what)


def _plain(value: Any) -> Any:
    if isinstance(value, BaseModel):
        return value.model_dump(mode="json")
    if isinstance(value, tuple | list):
        return [_plain(v) for v in value]
    if isinstance(value, dict):
        return {k: _plain(v) for k, v in value.items()}
    return value


def _told(before: Any, after: Any) -> str:
    """The fields that differ, each from … to …; at most six."""
    if not (isinstance(before, dict) and isinstance(after, dict)):
        long = isinstance(before, dict | list) or isinstance(after, dict | list)
        return "" if long else f"{_short(before)} → {_short(after)}"
    parts = [
        f"{_words(key)} {_short(before.get(key))} → {_short(after.get(key))}"
        for key in {**before, **after}
        if before.get(key) != after.get(key)
    ]
    more = f" and {len(parts) - 6} more" if len(parts) > 6 else ""
    return ", ".join(parts[:6]) + more


def _words(field: str) -> str:
    return field.removesuffix("_mm").removesuffix("_deg").removesuffix("_percent").replace("_", " ")


def _short(value: Any) -> str:
    if value is None:
        return "none"
    if isinstance(value, bool):
        return "on" if value else "off"
    if isinstance(value, float):
        return f"{value:g}"
    if isinstance(value, dict):
        return f"{len(value)} set"
    text = ", ".join(_short(v) for v in value) if isinstance(value, list) else str(value)
    return text if len(text) <= 40 else f"{text[:37]}…"

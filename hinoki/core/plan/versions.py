"""Plans as older releases wrote them, brought to what is written now, before they are read.

Every step changes parsed JSON and says with which release what it changes went away. Fields that are new have defaults, so that
only what is gone or renamed needs a step. `tests/releases` holds a plan of every release.
"""

from collections.abc import Callable
from typing import Any

Step = Callable[[dict[str, Any]], dict[str, Any]]


def upgraded(data: dict[str, Any]) -> dict[str, Any]:
    """A plan of any release as one of today; what is given stays as it was."""
    for step in STEPS:
        data = step(data)
    return data


def _without_leave_out(data: dict[str, Any]) -> dict[str, Any]:
    """Until 0.1 a model could name objects of its file that were not used. They are used now, which is said with the model."""
    files = {key: data[key] for key in ("model", "also") if data.get(key)}
    found = {
        key: _used_again(value) if isinstance(value, dict) else [_used_again(one) for one in value]
        for key, value in files.items()
        if isinstance(value, dict | list)
    }
    return data | found


def _used_again(use: Any) -> Any:
    if not isinstance(use, dict) or "leave_out" not in use:
        return use
    names = use["leave_out"] if isinstance(use["leave_out"], list) else []
    told = [f"objects that an older plan left out are used again: {', '.join(map(str, names))}"[:300]] if names else []
    kept = {key: value for key, value in use.items() if key != "leave_out"}
    return kept | {"left_out": [*(use.get("left_out") or ()), *told]}


STEPS: tuple[Step, ...] = (_without_leave_out,)

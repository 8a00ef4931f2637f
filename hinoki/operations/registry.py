"""The declarations of operations, and where they are found by name."""

from collections.abc import Callable
from dataclasses import dataclass
from importlib import import_module
from typing import Any, Literal, TypeVar, get_type_hints

from pydantic import BaseModel

from hinoki.core.findings import Station
from hinoki.core.plan.plan import Plan
from hinoki.operations.context import Context, Need

Lane = Literal["interactive", "background"]
"""interactive: somebody waits with the hand on the mouse, so a spare worker does it where the project's own is busy"""
Q = TypeVar("Q", bound=BaseModel)
R = TypeVar("R", bound=BaseModel)
STATIONS = (
    "assemble",
    "batch",
    "build",
    "divide",
    "export",
    "join",
    "model",
    "moving",
    "orient",
    "parts",
    "printed",
    "printlog",
    "whole_job",
)
"""the modules that declare operations"""


class Nothing(BaseModel):
    """The request of an operation that is asked nothing."""


@dataclass(frozen=True)
class Operation:
    """One thing that can be asked.

    `needs` names what it uses besides its request: a result is used again as long as request, plan and needs are the same.
    `asked_by_url` makes an endpoint of its own for it; without, something in the web interface asks it for another reason.
    `kept` results are files that are found again; the others are told once. Of `newest_only` operations of a project those that
    were asked before are stopped. `refuse` raises at once for what makes no sense on the plan that is shown. One that `edits`
    makes another plan, which the server saves (see `operations.edits`).
    """

    name: str
    station: Station
    phrase: str
    run: Callable[[Any, Context], BaseModel]
    request: type[BaseModel]
    result: type[BaseModel]
    lane: Lane = "background"
    needs: frozenset[Need] = frozenset()
    asked_by_url: bool = True
    kept: bool = True
    newest_only: bool = False
    refuse: Callable[[Any, Plan], None] | None = None
    edits: bool = False

    @property
    def summary(self) -> str:
        """What it does, in a sentence."""
        return (self.run.__doc__ or "").strip().split("\n\n")[0]


_OPERATIONS: dict[str, Operation] = {}


def operation(  # noqa: PLR0913 - a declaration, by name
    name: str,
    station: Station,
    phrase: str,
    *,
    lane: Lane = "background",
    needs: tuple[Need, ...] = (),
    asked_by_url: bool = True,
    kept: bool = True,
    newest_only: bool = False,
    refuse: Callable[[Any, Plan], None] | None = None,
    edits: bool = False,
) -> Callable[[Callable[[Q, Context], R]], Callable[[Q, Context], R]]:
    """Declare a function (request, context) → result an operation; its types are read from its annotations.

    Raises ValueError for a name that is taken.
    """

    def declare(run: Callable[[Q, Context], R]) -> Callable[[Q, Context], R]:
        if name in _OPERATIONS:
            raise ValueError(f"two operations are named {name}")
        hints = get_type_hints(run)
        asked = next(kind for key, kind in hints.items() if key != "return")
        _OPERATIONS[name] = Operation(
            name, station, phrase, run, asked, hints["return"], lane, frozenset(needs), asked_by_url, kept, newest_only, refuse,
            edits,
        )  # fmt: skip
        return run

    return declare


def operations() -> dict[str, Operation]:
    """All operations by name."""
    for station in STATIONS:
        import_module(f"hinoki.operations.{station}")
    return dict(_OPERATIONS)


def withdraw(name: str) -> None:
    """Take an operation back, as tests do with their own."""
    _OPERATIONS.pop(name, None)


def find(name: str) -> Operation:
    """An operation by its name. Raises KeyError where there is none."""
    if name not in _OPERATIONS:
        operations()
    return _OPERATIONS[name]

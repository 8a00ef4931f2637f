"""Findings: what Hinoki noticed, as codes with figures. Words are found by `hinoki.present.words`."""

import hashlib
import json
import math
from collections import Counter
from collections.abc import Iterable, Mapping
from typing import Any, Literal

from pydantic import BaseModel, Field

Severity = Literal["must-fix", "look-at", "note"]
Station = Literal["model", "divide", "join", "check", "orient", "batch", "assemble", "log"]
Param = str | int | float | bool | None | list[str] | list[int] | list[float]
Params = dict[str, Param]
SAME_FIGURE = 0.01
"""figures that differ by less than this share of them say the same to a maker; so do millimetres that differ by less"""


class Fix(BaseModel, frozen=True):
    """Something that puts a finding right with one click: pieces joined again, a joint changed or added,
    a parting shifted, a piece laid otherwise; or where a rod is looked for. `code` and `params` tell what it is called."""

    kind: Literal["together", "joint", "add-joint", "shift", "rest", "rod", "carve"]
    code: str
    params: Params = {}
    pieces: tuple[str, ...] = ()
    joint: dict[str, Any] | None = Field(None, description="the joint as it would be")
    parting: str | None = None
    face: str | None = Field(None, description="the mating face, by its id, through which a rod is looked for")
    by_mm: float = Field(0.0, description="how far the parting is shifted along its normal; how much room is carved")
    movement: str | None = Field(None, description="the driver whose path is carved: of the first of `pieces` in the second")
    down: tuple[float, float, float] | None = Field(None, description="the way the piece is to look down on the bed")


class Accepted(BaseModel, frozen=True):
    """Why a finding may stay, and what it was then: its sentence, and its figures. Up to 0.8 there were no figures."""

    reason: str = Field(min_length=1, max_length=200)
    message: str = Field("", max_length=1000)
    params: Params | None = Field(None, max_length=40)


class Finding(BaseModel, frozen=True):
    """One thing noticed: what (code), how much (params, lengths in mm), where, and what puts it right."""

    severity: Severity
    code: str
    params: Params = {}
    station: Station = "check"
    piece: int | None = None
    face: str | None = None
    joint: str | None = None
    parting: str | None = None
    step: str | None = None
    about: str | None = Field(None, description="which of several in the same place: an element, a channel, what waits")
    at_mm: tuple[float, float, float] | None = None
    fixes: tuple[Fix, ...] = ()
    whole: bool = Field(False, description="about the whole project, not the part worked on")

    @property
    def id(self) -> str:
        """A hash of its code and its place: the same however it is worded, and whatever its figures are."""
        place = [self.code, self.piece, self.face, self.joint, self.parting, self.step, self.about]
        return hashlib.sha256(json.dumps(place).encode()).hexdigest()[:16]


def told_apart(findings: Iterable[Finding]) -> list[Finding]:
    """The findings, with a number where several have the same code and place: no two have the same id."""
    often: Counter[str] = Counter()
    out = []
    for one in findings:
        often[one.id] += 1
        many = often[one.id]
        out.append(one if many == 1 else one.model_copy(update={"about": f"{one.about or ''} {many}".strip()}))
    return out


def says_the_same(before: Mapping[str, Param], now: Mapping[str, Param]) -> bool:
    """Whether the figures of a finding are still what they were. Words and names are not compared."""
    return _same(_figures(before), _figures(now))


def _figures(params: Mapping[str, Param]) -> dict[str, Param]:
    return {k: v for k, v in params.items() if not isinstance(v, str) and v is not None and v != []}


def _same(a: Any, b: Any) -> bool:
    if isinstance(a, dict):
        return isinstance(b, dict) and a.keys() == b.keys() and all(_same(a[k], b[k]) for k in a)
    if isinstance(a, list):
        return isinstance(b, list) and len(a) == len(b) and all(_same(x, y) for x, y in zip(a, b, strict=True))
    if isinstance(a, str) or isinstance(b, str):
        return isinstance(a, str) and isinstance(b, str)
    return math.isclose(a, b, rel_tol=SAME_FIGURE, abs_tol=SAME_FIGURE)
